import { againstSound, ohmOfCell, type Observation } from '../belief';
import { endKeyOf, faceKey, findPoint, parsePlace, pointOfPlace, roleOfPlace, sectionOfEnd, terminalKey, type Installation } from '../installation';
import { plugMin, pullsByPlug, stepKey, type Action, type Costs } from '../planning';
import { probeKey, type Probe } from '../probes';
import type { Now } from './now';

/** ln by which a reading speaks against a circuit with nothing wrong where it has shown the fault. */
const SPEAKS = 0.7;

/** What is believed by which readings, and how things are joined now. */
type Stood = Pick<Now, 'map' | 'engine' | 'belief' | 'observations'> & { readonly view: Pick<Now['view'], 'state'> };

export interface Confirmation { readonly actions: Action[]; readonly probes: Probe[]; readonly minutes: number; readonly code: 'confirm' | 'compare' }

/**
 * An appliance that carries the verdict, before anything is said: where it is still in it is taken out, and what spoke for it must come
 * right; where it is out and no dead reading ever showed it, it is put in again and must show. Null where it is no appliance that comes
 * out by a plug, or has proved itself, or had its chance to.
 */
export function confirmation({ view, map, engine, belief, observations }: Stood, place: string, costs: Costs): Confirmation | null {
  if (!place.includes('.') || !pullsByPlug(map, place)) return null;
  const best = belief.weight.indexOf(Math.max(...belief.weight));
  const speaks = againstSound(engine, belief, observations, best);
  const shown = observations.filter((o, i) => (speaks[i] as number) > SPEAKS && !o.state.loadsOut.includes(place)).at(-1);
  const out = view.state.loadsOut.includes(place);
  if (out && shown) return null;
  const conductors = engine.suspects[belief.cells.suspect[best] as number]?.conductors ?? [];
  // As things are joined now the leads must reach it: beyond a cut any reading "comes right".
  const answer = belief.cells.answer[best] as number;
  const asNow = { ...view.state, loadsOut: view.state.loadsOut.filter((k) => k !== place) };
  const reaches = ({ probe }: Observation): boolean => {
    const answers = engine.formulas.of(asNow, probe);
    return answers !== null && answers.to(answer) !== answers.sound;
  };
  const telling = [...(shown ? [shown] : []), ...observations.filter((o) => between(map, o, conductors)).reverse()].find(reaches);
  if (!telling) return null;
  // What no dead reading showed with it in, read once with it out as well, is not shown by the same again: it was told by other means.
  const wasRead = (apart: boolean): boolean => observations.some((o) => probeKey(o.probe) === probeKey(telling.probe) && o.state.loadsOut.includes(place) === apart);
  if (!shown && wasRead(true) && wasRead(false)) return null;
  const [point = ''] = place.split('.');
  return { actions: [{ do: out ? 'plugIn' : 'unplug', point, parts: [place] }], probes: [telling.probe], minutes: plugMin(map, place, costs) + costs.walk + costs.reading, code: 'confirm' };
}

/** A cable of a guessed length that is longer than drawn has so many times its ohms at the most; what has more is no length. */
const LONGER = 6;

/**
 * A poor end that carries the verdict, where a longer cable would read so too: another conductor of that cable is read over the same
 * stretch, which a longer cable shows in both and a poor end in one. Null where that was read, or where no length could be it.
 */
export function comparison({ view, map, engine, belief, observations }: Now, costs: Costs): Confirmation | null {
  const best = belief.weight.indexOf(Math.max(...belief.weight));
  const suspect = engine.suspects[belief.cells.suspect[best] as number];
  const end = suspect?.kind === 'resistiveEnd' && suspect.site.on === 'branch' && suspect.site.endKey ? parsePlace(suspect.site.endKey) : null;
  const section = end?.at === 'end' ? sectionOfEnd(map, end)?.section : undefined;
  const own = section?.cores.find((c) => end?.at === 'end' && c.id === end.core);
  if (!section || !own || section.lengthKnown || ohmOfCell(belief, best) > LONGER * section.lengthM * engine.options.physics.ohmPerM(own.csaMm2, section.flexible ?? false)) return null;
  const ends = [section.a, section.b];
  const over = ({ probe }: Observation): boolean => {
    const places = [...probe.from, ...probe.to];
    return probe.fn === 'continuity' && probe.from.length === 1 && probe.to.length === 1 && places.every((k) => roleOfPlace(map, k) !== own.role) && ends.every((p) => places.some((k) => pointOfPlace(map, k) === p));
  };
  const other = section.cores.find((c) => c.role.startsWith('L') && c.role !== own.role) ?? section.cores.find((c) => c.role === 'N' && c.role !== own.role);
  if (!other || observations.some(over) || ends.some((p) => view.unreachable.includes(p))) return null;
  const at = (side: 'a' | 'b'): string => {
    const point = findPoint(map, section[side]);
    const key = endKeyOf(section, side, other.id);
    const [face] = point?.faces ?? [];
    if (view.state.out.includes(key)) return key;
    return point && face && point.reach === 'face' && !view.state.opened.includes(point.id) ? faceKey(point.id, face.id, other[side]) : terminalKey(section[side], other[side]);
  };
  const probes: Probe[] = [{ fn: 'continuity', from: [at('a')], to: [at('b')] }];
  return view.notNow.includes(stepKey({ actions: [], probes })) ? null : { actions: [], probes, minutes: costs.walk + costs.reading, code: 'compare' };
}

/** Was it read between these conductors? */
const between = (map: Installation, { probe }: Observation, conductors: readonly string[]): boolean => {
  const role = (k: string): string => roleOfPlace(map, k).charAt(0).replace('S', 'L');
  const roles = [...probe.from, ...probe.to].map(role);
  return conductors.length > 1 && conductors.every((c) => roles.includes(c.charAt(0).replace('S', 'L')));
};
