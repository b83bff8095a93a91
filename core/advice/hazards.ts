import { ohmOfCell } from '../belief';
import { isBreak, isFault, touches, type Suspect } from '../faults';
import { bestCell, unseenShares, type Now } from './now';

/** Share from which a suspect stands between the job and power. */
const STILL_POSSIBLE = 0.05;
/** Line to earth below it passes 100 mA and more at 230 V; line to neutral below it no device holds. Ohms. */
const EARTH_FAULT_OHM = 2300;
const SHORT_OHM = 20;

export type HazardKind = 'live metal' | 'earth fault' | 'short' | 'no earth' | 'burns';

/** Something still possible that power would make dangerous. */
export interface HazardView { readonly id: string; readonly kind: Suspect['kind']; readonly place: string; readonly conductors: readonly string[]; readonly share: number; readonly does: HazardKind }

const isLine = (c: string): boolean => c !== 'N' && c !== 'E';

/** What a suspect of so many ohms does with the supply on; null where nothing is hurt by it. */
export function hazardOf(s: Pick<Suspect, 'kind' | 'conductors'>, ohm: number): HazardKind | null {
  const has = (c: string): boolean => s.conductors.includes(c);
  if (s.kind === 'crossed') return has('E') ? 'live metal' : null;
  if (s.kind === 'supplyLost') return 'live metal';
  if (isBreak(s)) return has('E') ? 'no earth' : null;
  if (s.kind === 'resistiveEnd') return has('E') ? 'no earth' : 'burns';
  if (!touches(s)) return null;
  if (!s.conductors.some(isLine)) return null;
  if (has('E')) return ohm < EARTH_FAULT_OHM ? 'earth fault' : null;
  return ohm < SHORT_OHM ? 'short' : null;
}

/** What must be mended, left safe or answered for before power goes on; nothing before any reading. */
export function hazardsOf({ view, engine, belief, observations, two }: Now): HazardView[] {
  if (!observations.length) return [];
  // What lies behind a switch that is off has no power on it until somebody uses that.
  const unseen = unseenShares(engine, belief, view.state);
  const shares = engine.suspects.map((s, i) => (isFault(s) ? (belief.suspectShare[i] as number) - (unseen[i] as number) : 0));
  if (two) shares[two.suspect] = Math.max(shares[two.suspect] as number, two.placeShare);
  return engine.suspects.flatMap((s, i): HazardView[] => {
    const share = shares[i] as number;
    if (share < STILL_POSSIBLE) return [];
    const c = bestCell(belief, i);
    const does = hazardOf(s, two?.suspect === i ? two.ohm : ohmOfCell(belief, c));
    return does ? [{ id: s.id, kind: s.kind, place: s.place, conductors: s.conductors, share, does }] : [];
  }).sort((a, b) => b.share - a.share).slice(0, 5);
}
