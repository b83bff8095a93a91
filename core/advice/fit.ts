import { misfitOf, secondWorst, STRANGE_FROM_SD } from '../belief';
import { againstRecord } from './facts';
import { shareOfKind, type Now } from './now';
import type { Fit } from './types';

/** From here on the share that goes to what no map shows keeps any place from being named. */
const POOR_SD = STRANGE_FROM_SD + 0.5;

/** How well the best suspect explains the readings, and which doubt of the record would do better. */
export function fitOf({ engine, belief, observations, readings }: Now): Fit {
  const misfit = misfitOf(belief, observations);
  const worst = misfit.indexOf(Math.max(...misfit));
  const doubts = engine.suspects.flatMap((s, i) => {
    const share = belief.suspectShare[i] as number;
    return s.place.startsWith('state ') && share > 0.03 && againstRecord(s, observations) ? [{ id: s.id, kind: s.kind, place: s.place, conductors: s.conductors, share }] : [];
  });
  const unknown = shareOfKind({ engine, belief }, 'unknown');
  return {
    poor: observations.length > 1 && (secondWorst([...belief.misfit.values()]) > POOR_SD || unknown > 0.4), doubts: doubts.sort((a, b) => b.share - a.share).slice(0, 3),
    worstReading: (misfit[worst] ?? 0) > STRANGE_FROM_SD ? (readings[worst]?.event.id ?? null) : null,
  };
}
