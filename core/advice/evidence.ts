import { couldShow, type BeliefEngine, type Observation } from '../belief';
import type { Suspect } from '../faults';
import { observationOf, usableReadings, type JobView, type LiveReadingView, type ReadingView } from '../job';

/**
 * Readings that speak about the installation as it now is. A repair ends an epoch for the thing it touches: an earlier
 * reading still counts for everything else, as long as the mended fault could not be seen in it.
 */
export function evidenceOf(view: JobView, engine: BeliefEngine): { observations: Observation[]; readings: ReadingView[] } {
  const readings = usableReadings(view).filter((r) => view.mends.slice(r.epoch).every((m) => !couldShow(engine, m.event.suspect, observationOf(r))));
  return { observations: readings.map(observationOf), readings };
}

/** What was put right is less likely to be wrong again: a repair speaks for that suspect, a replacement for everything at its place. */
const AGAIN = 0.1;

export function afterMends(suspects: readonly Suspect[], mends: JobView['mends']): Suspect[] {
  const done = mends.map((m) => m.event).filter((e) => e.how !== 'left safe');
  if (!done.length) return [...suspects];
  const weighed = suspects.map((s) => s.prior * (done.some((e) => e.suspect === s.id || (e.how === 'replaced' && e.place === s.place)) ? AGAIN : 1));
  const total = weighed.reduce((sum, w) => sum + w, 0);
  return suspects.map((s, i) => ({ ...s, prior: (weighed[i] as number) / total }));
}

/** Live tests that count: not struck out, and made since the last repair, for a trip is a trip of everything at once. */
export const liveEvidenceOf = (view: JobView): LiveReadingView[] => view.liveReadings.filter((r) => !r.struck && r.epoch === view.epoch);
