import type { Belief, BeliefEngine, Observation } from '../belief';
import { asIn, isBreak, isFault, isUnseen, type Suspect } from '../faults';
import type { Installation } from '../installation';
import type { JobView, LiveReadingView, ReadingView } from '../job';
import type { LiveEvidence } from '../live';
import type { WorkState } from '../workstate';
import type { FactView } from './facts';

/** Everything that a piece of advice is drawn from; `readings` stand beside `observations`, one to one. */
export interface Now {
  readonly view: JobView;
  readonly map: Installation;
  readonly engine: BeliefEngine;
  readonly belief: Belief;
  readonly observations: readonly Observation[];
  readonly readings: readonly ReadingView[];
  readonly live: LiveEvidence;
  /** Live tests that count: since the last repair, and not struck out. */
  readonly liveReadings: readonly LiveReadingView[];
  /** Where two faults explain the readings better than one: `engine` and `belief` are then about the second, beside this first. */
  readonly two: TwoView | null;
  /** What is no fault but plain: `engine` and `belief` have it in their network. */
  readonly facts: readonly FactView[];
}

/** The first of two faults: how sure there are two, and how sure this place is, given the second. */
export interface TwoView {
  readonly share: number;
  readonly suspect: number;
  readonly ohm: number;
  readonly fraction: number;
  readonly placeShare: number;
  /** Readings that the first explains, by event id. */
  readonly speakFor: readonly string[];
}

export function shareOfKind({ engine, belief }: Pick<Now, 'engine' | 'belief'>, kind: Suspect['kind']): number {
  return engine.suspects.reduce((sum, s, i) => (s.kind === kind ? sum + (belief.suspectShare[i] as number) : sum), 0);
}

/** Of the suspicion on faults, the part that no dead test tells anything about. */
export function onlyLive({ engine, belief }: Pick<Now, 'engine' | 'belief'>): number {
  let [live, all] = [0, 0];
  for (const [i, s] of engine.suspects.entries()) {
    if (!isFault(s)) continue;
    all += belief.suspectShare[i] as number;
    if (SHOWN_LIVE.has(s.kind)) live += belief.suspectShare[i] as number;
  }
  return all > LEAST_SUSPICION ? live / all : 0;
}
const SHOWN_LIVE: ReadonlySet<Suspect['kind']> = new Set(['supplyLost', 'rcdSensitive', 'rcdBlind', 'standingLeak', 'overload']);
const LEAST_SUSPICION = 0.05;

/** Share that one of prior 1 has where readings say nothing of it, beside the sound circuit: what it has above that, it gained by them. */
export function idleShare({ suspects }: Pick<BeliefEngine, 'suspects'>, belief: Belief): number {
  const sound = suspects.findIndex((s) => s.kind === 'sound');
  return (belief.suspectShare[sound] as number) / (suspects[sound] as Suspect).prior;
}

/** By suspect, how much of its share lies behind a switch of a way that nobody has drawn, where no lead reaches; in a state with the switches of a way on, none of that way's. */
export function unseenShares({ cells, suspects, answering }: BeliefEngine, { weight }: Belief, state?: WorkState): Float64Array {
  const shares = new Float64Array(suspects.length);
  for (let c = 0; c < cells.count; c++) if (isUnseen(asIn(answering[cells.answer[c] as number] as Suspect, state ?? {}))) shares[cells.suspect[c] as number] = (shares[cells.suspect[c] as number] as number) + (weight[c] as number);
  return shares;
}

/** The heaviest cell of a suspect. */
export function bestCell(belief: Belief, suspect: number): number {
  let best = -1;
  for (let c = 0; c < belief.cells.count; c++)
    if (belief.cells.suspect[c] === suspect && (best < 0 || (belief.weight[c] as number) > (belief.weight[best] as number))) best = c;
  return best;
}

/** Could earth or neutral be broken? Then proving dead needs an earth of its own. */
export function doubtOfEarth({ view, engine, belief, observations }: Now): boolean {
  // Somebody felt it: nothing that was read since takes the doubt away.
  if (observations.length === 0 || view.asked.complaint === 'shock' || view.asked.shock) return true;
  return engine.suspects.reduce((sum, s, i) => ((isBreak(s) || s.kind === 'crossed') && s.conductors.some((c) => c === 'E' || c === 'N') ? sum + (belief.suspectShare[i] as number) : sum), 0) > 0.02;
}

/** Is it told, seen, or open still, that a device trips? What is dead, shocks, flickers or heats is looked for without working the devices. */
export const somethingTrips = ({ view: { asked: { complaint } }, liveReadings }: Pick<Now, 'view' | 'liveReadings'>): boolean =>
  (complaint !== 'dead' && complaint !== 'shock' && complaint !== 'flicker or heat') || liveReadings.some(({ event: { test } }) => test.kind === 'closed' && test.tripped !== null);
