import type { BeliefEngine, Observation } from '../belief';
import { probeKey, type Probe } from '../probes';
import { isAbove, meter } from '../tester';
import { stateSignature, type WorkState } from '../workstate';

/** Digits of the insulation range, beside those that it may be off by, below which a reading may be of any few ohms. */
const NEAR_NOTHING = 3;

/** The last reading, in ohms, where the insulation range showed next to nothing: what it may be, from a dead short up, only the other range tells. Null where that was read as things are joined now. */
export function inOhmsNext(engine: BeliefEngine, observations: readonly Observation[], state: WorkState): Probe | null {
  const last = observations.at(-1);
  if (last?.probe.fn !== 'insulation' || isAbove(last.displayed)) return null;
  const { digits, digitOhm } = meter.insulation;
  if (last.displayed.ohm > (digits + NEAR_NOTHING) * digitOhm(0)) return null;
  const probe: Probe = { ...last.probe, fn: 'continuity' };
  const asNow = stateSignature(state);
  if (stateSignature(last.state) !== asNow || observations.some((o) => probeKey(o.probe) === probeKey(probe) && stateSignature(o.state) === asNow)) return null;
  return engine.formulas.in(state, probe) ? probe : null;
}
