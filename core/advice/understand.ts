import type { BeliefEngine } from '../belief';
import { isFact } from '../faults';
import type { Installation } from '../installation';
import { factOf, settleFacts } from './facts';
import type { Now } from './now';
import { findTwo } from './two';

export type Understanding = Pick<Now, 'engine' | 'belief' | 'two' | 'facts'>;

/** The belief that the readings leave: with the facts that are plain, or that stand beside a fault, in the network; of one fault, or of the second of two. */
export function understand(map: Installation, plain: BeliefEngine, observations: Now['observations'], readings: Now['readings']): Understanding {
  let { engine, belief, facts } = settleFacts(plain, plain.believe(observations), observations);
  for (let i = 0; i < 2; i++) {
    const found = findTwo(map, engine, belief, observations, readings);
    const first = found && engine.suspects[found.two.suspect];
    if (!found || !first) break;
    if (!isFact(first)) return { ...found, facts };
    ({ engine, belief, facts } = settleFacts(found.engine, found.belief, observations, [...facts, factOf(first, found.two.share, found.two.ohm)]));
  }
  return { engine, belief, facts, two: null };
}
