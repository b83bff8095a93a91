import type { Complaint, JobView } from '../job';
import { proofOf, retestResults } from '../retest';
import { suspectsOf } from '../faults';
import { counted } from '../units';
import { devicesFound, leakageMayTrip } from './besides';
import { nothingFoundTitle } from './look';
import { suspectTitle } from './suspects';

export const complaintWords: Readonly<Record<Complaint, string>> = {
  'rcd trips': 'RCD trips', 'mcb trips': 'MCB trips or fuse blows', dead: 'All or part is dead', shock: 'Shock or tingle', 'flicker or heat': 'Flicker or heat', inspection: 'Inspection',
};

/** A job in a list: what is wrong, where it stands, and the stage where it goes on. */
export interface Standing { readonly wrong: string; readonly stands: string; readonly stage: 'ask' | 'map' | 'live' | 'dead' | 'trace' | 'right' | 'over' }

/** From the record alone: what is believed is worked out only once the job is open. */
export function standingOf(view: JobView): Standing {
  const { map, asked } = view;
  const wrong = [asked.complaint ? complaintWords[asked.complaint] : 'Nothing asked yet', asked.notes].filter(Boolean).join(': ');
  const at = (stands: string, stage: Standing['stage']): Standing => ({ wrong, stands, stage });
  if (view.status !== 'open') return at(view.status === 'closed' ? 'Closed' : 'Left safe', 'over');
  if (!map) return at('Not drawn yet', 'map');
  const read = view.readings.filter((r) => !r.struck).length;
  const live = view.liveReadings.filter((r) => !r.struck).length;
  if (view.mends.length) {
    const last = view.mends.at(-1)?.event;
    const s = suspectsOf(map).find((x) => x.id === last?.suspect);
    const found = s ? suspectTitle(map, s) : 'Mended';
    const open = retestResults(view).filter((r) => r.verdict === 'open' || r.verdict === 'not met').length;
    return proofOf(view) === 'proved' ? at(`${found}: mended and proved. Next: close the job`, 'over') : at(`${found}: mended. Next: ${counted(open, 'test', 'tests')} to prove it`, 'right');
  }
  if (view.leftIt !== null) return at(`${nothingFoundTitle(asked.complaint, { leaks: leakageMayTrip(view, devicesFound(view)), mended: view.mends.length > 0 })}, and left. Next: power on, and close the job`, 'right');
  if (read) return at(`${counted(read, 'reading', 'readings')}. Next: ${view.secured ? 'read on' : 'make dead again, then read on'}`, view.secured ? 'trace' : 'dead');
  if (live) return at(`${counted(live, 'test', 'tests')} with the supply on. Next: go on there, or make dead`, 'live');
  if (view.secured) return at('Made dead. Next: the first reading', 'trace');
  if (!asked.complaint) return at('Drawn. Next: ask what is wrong', 'ask');
  return map.shape === 'board' ? at('Drawn. Next: which device trips, and when', 'live') : at('Drawn. Next: make dead', 'dead');
}
