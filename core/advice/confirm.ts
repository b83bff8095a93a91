import { supportOf } from '../belief';
import { pullsByPlug } from '../planning';
import type { Action, Costs } from '../planning';
import type { Probe } from '../probes';
import type { Now } from './now';

/** ln of the support from which a reading speaks for what it is read again for. */
const SPEAKS = 0.3;

export interface Confirmation { readonly actions: Action[]; readonly probes: Probe[]; readonly minutes: number }

/**
 * An appliance that carries the verdict and is still in: it is taken out and what spoke for it read again, before anything is said.
 * Null where it is no appliance, comes out by no plug, or is out already.
 */
export function confirmation({ view, map, engine, belief, observations }: Now, place: string, costs: Costs): Confirmation | null {
  if (!place.includes('.') || view.state.loadsOut.includes(place) || !pullsByPlug(map, place)) return null;
  const best = belief.weight.indexOf(Math.max(...belief.weight));
  const support = supportOf(engine, belief, observations, [best])[0] ?? [];
  const telling = observations.map((o, i) => ({ o, x: support[i] as number })).filter(({ x, o }) => x > SPEAKS && !o.state.loadsOut.includes(place)).at(-1);
  if (!telling) return null;
  const [point = ''] = place.split('.');
  return { actions: [{ do: 'unplug', point, parts: [place] }], probes: [telling.o.probe], minutes: costs.walk + costs.unplug + costs.walk + costs.reading };
}
