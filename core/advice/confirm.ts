import { againstSound, type Observation } from '../belief';
import { roleOfPlace, type Installation } from '../installation';
import { pullsByPlug, type Action, type Costs } from '../planning';
import type { Probe } from '../probes';
import type { Now } from './now';

/** ln by which a reading speaks against a circuit with nothing wrong where it has shown the fault. */
const SPEAKS = 0.7;

export interface Confirmation { readonly actions: Action[]; readonly probes: Probe[]; readonly minutes: number }

/**
 * An appliance that carries the verdict, before anything is said: where it is still in it is taken out, and what spoke for it must come
 * right; where it is out and no dead reading ever showed it, it is put in again and must show. Null where it is no appliance that comes
 * out by a plug, or has proved itself.
 */
export function confirmation({ view, map, engine, belief, observations }: Now, place: string, costs: Costs): Confirmation | null {
  if (!place.includes('.') || !pullsByPlug(map, place)) return null;
  const best = belief.weight.indexOf(Math.max(...belief.weight));
  const speaks = againstSound(engine, belief, observations, best);
  const shown = observations.filter((o, i) => (speaks[i] as number) > SPEAKS && !o.state.loadsOut.includes(place)).at(-1);
  const out = view.state.loadsOut.includes(place);
  if (out && shown) return null;
  const conductors = engine.suspects[belief.cells.suspect[best] as number]?.conductors ?? [];
  const telling = shown ?? observations.filter((o) => between(map, o, conductors)).at(-1);
  if (!telling) return null;
  const [point = ''] = place.split('.');
  return { actions: [{ do: out ? 'plugIn' : 'unplug', point, parts: [place] }], probes: [telling.probe], minutes: 2 * costs.walk + costs.unplug + costs.reading };
}

/** Was it read between these conductors? */
const between = (map: Installation, { probe }: Observation, conductors: readonly string[]): boolean => {
  const role = (k: string): string => roleOfPlace(map, k).charAt(0).replace('S', 'L');
  const roles = [...probe.from, ...probe.to].map(role);
  return conductors.length > 1 && conductors.every((c) => roles.includes(c.charAt(0).replace('S', 'L')));
};
