import { engineGiven, ohmOfCell, type BeliefEngine, twoFaults, type Belief, type Observation, misfitOf, secondWorst, supportOf } from '../belief';
import { isFact, isFault } from '../faults';
import type { Installation } from '../installation';
import type { ReadingView } from '../job';
import { placeNames, shareByPlace } from '../planning';
import { bestCell, shareOfKind, type TwoView } from './now';

/** A single fault that leaves this much to "not on this map", or misfits by so many standard deviations, is not enough. */
const UNEXPLAINED = 0.05;
const MISFIT_SD = 3;
const FEWEST_READINGS = 3;
/** From here on the job is told as two faults. */
const TWO = 0.8;

/** A first whose own place is less likely than this, with the second given, is no first. */
const KNOWN_AT_ALL = 0.15;

export interface Found { readonly engine: BeliefEngine; readonly belief: Belief; readonly two: TwoView }

/** Two faults, where one does not explain the readings: the belief about the second beside a known first. Null where one is enough. */
export function findTwo(map: Installation, engine: BeliefEngine, belief: Belief, observations: readonly Observation[], readings: readonly ReadingView[]): Found | null {
  if (observations.length < FEWEST_READINGS || !unexplained(engine, belief, observations)) return null;
  const name = placeNames(map);
  const placeOf = (i: number): string => name(engine.suspects[i]?.place ?? '');
  const found = twoFaults(engine, belief, observations, placeOf);
  if (!found || found.share < TWO) return null;
  const then = found.engine.believe(observations);
  const fact = engine.suspects[found.first.suspect];
  // What is no fault is company for one, not the first of two.
  if (fact && isFact(fact)) return { engine: found.engine, belief: then, two: { share: found.share, ...found.first, placeShare: found.share, speakFor: [] } };
  const second = strongestOf(found.engine, then);
  const s = engine.suspects[second];
  if (!s) return null;
  // How sure is the first, with the second in its place?
  const c = bestCell(then, second);
  const other = engineGiven(engine, s, ohmOfCell(then, c), then.d[c] as number);
  const back = other.believe(observations);
  const first = strongestOf(other, back, placeOf(found.first.suspect), placeOf);
  const known = shareByPlace(map, other.suspects, back).find((p) => p.place === placeOf(first))?.share ?? 0;
  if (known < KNOWN_AT_ALL) return null;
  // It is no surer than over all pairs that explain the readings.
  const placeShare = Math.min(known, found.among(placeOf(first)));
  const support = supportOf(other, back, observations, [bestCell(back, first)])[0] ?? [];
  return {
    engine: found.engine, belief: then,
    two: { share: found.share, suspect: first, ohm: found.first.ohm, fraction: found.first.fraction, placeShare, speakFor: support.flatMap((x, i) => (x > 0.5 ? [readings[i]?.event.id ?? ''] : [])).slice(0, 3) },
  };
}

/** One odd reading is a slip before it is a second fault: it is read again first. */
function unexplained(engine: BeliefEngine, belief: Belief, observations: readonly Observation[]): boolean {
  if (shareOfKind({ engine, belief }, 'unknown') > UNEXPLAINED) return true;
  return secondWorst(misfitOf(belief, observations)) > MISFIT_SD;
}

/** The likeliest suspect that is a fault; at one place only, where that is given. */
function strongestOf(engine: BeliefEngine, belief: Belief, place?: string, placeOf?: (i: number) => string): number {
  let best = -1;
  for (const [i, s] of engine.suspects.entries()) {
    if (!isFault(s) || (place !== undefined && placeOf?.(i) !== place)) continue;
    if (best < 0 || (belief.suspectShare[i] as number) > (belief.suspectShare[best] as number)) best = i;
  }
  return best;
}
