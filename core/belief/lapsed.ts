import { probeKey } from '../probes';
import { stateSignature } from '../workstate';
import type { Belief, Observation } from './belief';

/** The most that one more reading can lift a cell against the best one, in ln: a sharp hit against a slip. */
const MOST_PER_READING = 12;
/** Below this, in ln of probability, a cell cannot matter. */
const NOTHING = -22;

/**
 * Cells that the readings before have buried so deep that the new ones cannot bring them back: an upper bound of their
 * ln probability, or NaN for a cell that has to be worked out. Null when the belief before is of other readings.
 */
export function lapsedCells(before: Belief, observations: readonly Observation[]): Float64Array | null {
  const left = new Map<string, number>();
  for (const o of before.observations) left.set(nameOf(o), (left.get(nameOf(o)) ?? 0) + 1);
  let added = 0;
  for (const o of observations) {
    const n = left.get(nameOf(o)) ?? 0;
    if (n > 0) left.set(nameOf(o), n - 1);
    else added++;
  }
  for (const n of left.values()) if (n > 0) return null;
  return before.weight.map((w) => {
    const most = Math.log(w) + MOST_PER_READING * added;
    return most < NOTHING ? Math.max(most, -700) : NaN;
  });
}

const nameOf = (o: Observation): string => `${stateSignature(o.state)} ${probeKey(o.probe)} ${JSON.stringify(o.displayed)} ${(o.remade ?? []).join()} ${(o.unlinked ?? []).join()}`;
