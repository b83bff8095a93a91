import { misfitOf } from '../belief';
import { againstRecord } from './facts';
import { shareOfKind, type Now } from './now';
import type { Fit } from './types';

/** How well the best suspect explains the readings, and which doubt of the record would do better. */
export function fitOf({ engine, belief, observations, readings }: Now): Fit {
  const misfit = misfitOf(belief, observations);
  const sum = misfit.reduce((s, z) => s + z * z, 0);
  const probability = chiSquareTail(sum, Math.max(1, observations.length));
  const worst = misfit.indexOf(Math.max(...misfit));
  const doubts = engine.suspects.flatMap((s, i) => {
    const share = belief.suspectShare[i] as number;
    return s.place.startsWith('state ') && share > 0.03 && againstRecord(s, observations) ? [{ id: s.id, kind: s.kind, place: s.place, conductors: s.conductors, share }] : [];
  });
  const unknown = shareOfKind({ engine, belief }, 'unknown');
  return {
    probability, poor: observations.length > 1 && (probability < 0.001 || unknown > 0.4), doubts: doubts.sort((a, b) => b.share - a.share).slice(0, 3),
    worstReading: (misfit[worst] ?? 0) > 3 ? (readings[worst]?.event.id ?? null) : null,
  };
}

/** P(χ² with n degrees of freedom > x), Wilson and Hilferty's approximation. */
function chiSquareTail(x: number, n: number): number {
  const z = (Math.cbrt(x / n) - (1 - 2 / (9 * n))) / Math.sqrt(2 / (9 * n));
  return 0.5 * Math.exp(-0.717 * z - 0.416 * z * z) * (z > 0 ? 1 : 0) + (z > 0 ? 0 : 1 - 0.5 * Math.exp(0.717 * z - 0.416 * z * z));
}
