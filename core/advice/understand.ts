import type { BeliefEngine } from '../belief';
import { isFact, type Suspect } from '../faults';
import type { Installation } from '../installation';
import { factOf, PLAIN, settleFacts } from './facts';
import type { Now } from './now';
import { doubting, recordDoubts } from './recorded';
import { findTwo } from './two';

export type Understanding = Pick<Now, 'engine' | 'belief' | 'two' | 'facts'>;

/** Facts that are found one after another, at the most. */
const MOST_ROUNDS = 3;

/**
 * The belief that the readings leave: with the facts that are plain, or that stand beside a fault, in the network; of one fault, or of
 * the second of two; and with what the record may be wrong in beside it.
 */
export function understand(map: Installation, plain: BeliefEngine, observations: Now['observations'], readings: Now['readings']): Understanding {
  let { engine, belief, facts } = settleFacts(plain, plain.believe(observations), observations);
  let doubts = recordDoubts(map, engine, belief, observations);
  for (let i = 0; i < MOST_ROUNDS; i++) {
    const wrong = doubts.find((d) => d.share > PLAIN && facts.every((f) => f.id !== engine.suspects[d.suspect]?.id));
    if (!wrong) break;
    facts = [...facts, factOf(engine.suspects[wrong.suspect] as Suspect, wrong.share, 0)];
    ({ engine, belief, facts } = settleFacts(wrong.engine, wrong.engine.believe(observations), observations, facts));
    doubts = recordDoubts(map, engine, belief, observations);
  }
  for (let i = 0; i < MOST_ROUNDS - 1; i++) {
    const found = findTwo(map, engine, belief, observations, readings);
    const first = found && engine.suspects[found.two.suspect];
    if (!found || !first) break;
    if (!isFact(first)) return { ...found, facts };
    ({ engine, belief, facts } = settleFacts(found.engine, found.belief, observations, [...facts, factOf(first, found.two.share, found.two.ohm)]));
    doubts = recordDoubts(map, engine, belief, observations);
  }
  return { engine, belief: doubting(belief, doubts), facts, two: null };
}
