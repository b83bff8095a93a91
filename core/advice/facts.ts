import { canBeGiven, engineGiven, ohmOfT, type Belief, type BeliefEngine, type Observation } from '../belief';
import type { Suspect } from '../faults';
import { bestCell } from './now';
import type { SuspectView } from './types';

/** No fault, but plain from the readings: the record is wrong somewhere, or metal helps. Taken as given from then on. */
export type FactView = Pick<SuspectView, 'id' | 'kind' | 'place' | 'conductors' | 'share' | 'ohm'>;

/** Share from which a fact is taken as given. */
const PLAIN = 0.85;
const MOST = 4;

export interface Settled { readonly engine: BeliefEngine; readonly belief: Belief; readonly facts: readonly FactView[] }

/** The belief with every plain fact in the network: what is left is about faults. */
export function settleFacts(engine: BeliefEngine, belief: Belief, observations: readonly Observation[], before: readonly FactView[] = []): Settled {
  const facts = [...before];
  while (facts.length < MOST) {
    const i = belief.suspectShare.findIndex((share, k) => share >= PLAIN && canBeGiven(engine.suspects[k] as Suspect));
    const s = engine.suspects[i];
    if (!s || facts.some((f) => f.id === s.id)) break;
    const c = bestCell(belief, i);
    const ohm = Number.isNaN(belief.cells.tCentre[c]) ? (belief.cells.fixedOhm[c] as number) : ohmOfT(belief.t[c] as number);
    facts.push(factOf(s, belief.suspectShare[i] as number, ohm));
    engine = engineGiven(engine, s, ohm, belief.d[c] as number);
    belief = engine.believe(observations);
  }
  return { engine, belief, facts };
}

export const factOf = (s: Suspect, share: number, ohm: number): FactView => ({ id: s.id, kind: s.kind, place: s.place, conductors: s.conductors, share, ohm: ohm === Infinity ? 'open' : ohm });
