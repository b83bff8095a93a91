import { isFault } from '../faults';
import type { Belief, BeliefEngine, Observation } from '../belief';
import { circuitsOf, endKeyOf, faceKey, isSwitched, parsePlace, pointOfPlace, roleOfPlace, sectionOfEnd, sectionOfPlace, terminalKey, type Role, type Installation, type Point } from '../installation';
import { probeKey, type Probe } from '../probes';
import { isAbove, type TestFunction } from '../tester';
import { isElementKey, type WorkState } from '../workstate';
import { sectionOfKey } from './interest';
import { atLoadOrSwitch, canReach, pointOfElement, pointsOf, spotsAt, together, waysOf, type Action, type Situation, type Spot } from './stance';

// Which readings are worth weighing in a state.

/** Is the suspicion on contacts that an ohmmeter can follow? */
export function sharesLowContact(engine: BeliefEngine, belief: Belief): boolean {
  let low = 0;
  let high = 0;
  const { cells } = belief;
  for (let c = 0; c < cells.count; c++) {
    const s = engine.suspects[cells.suspect[c] as number];
    // A load that stayed in reads low too; it is no fault to follow.
    if (s?.unknown.of !== 'shunt' || s.site.on === 'nothing' || !isFault(s)) continue;
    if ((belief.t[c] as number) < 4.9) low += belief.weight[c] as number;
    else high += belief.weight[c] as number;
  }
  return low > high;
}

/** Insulation below which an ohmmeter shows where a contact lies. */
const LOW_OHM = 1e5;

/** Which function reads a pair: insulation first; ohms where it has shown something to follow, and both where nothing was shown yet while something is followed elsewhere. */
export type Reader = (a: string, b: string) => readonly TestFunction[];
export const inOhms: Reader = () => ['continuity'];
export const inMegohms: Reader = () => ['insulation'];

/** `follows`: the suspicion is on contacts that an ohmmeter can follow. */
export function readerAfter(installation: Installation, observations: readonly Observation[], follows: boolean): Reader {
  const circuits = circuitsOf(installation);
  const circuitOf = (place: string): number | 'bar' => circuits.get(sectionOfPlace(installation, place)) ?? 'bar';
  const sameRole = (p: Probe): boolean => roleOfPlace(installation, p.from[0] ?? '') === roleOfPlace(installation, p.to[0] ?? '');
  const low = new Set(observations.filter((o) => !isAbove(o.displayed) && o.displayed.ohm < LOW_OHM && !(o.probe.fn === 'continuity' && sameRole(o.probe)) && !acrossLoads(installation, o.state)(o.probe.from[0] ?? '', o.probe.to[0] ?? '')).flatMap((o) => [...o.probe.from, ...o.probe.to].map(circuitOf)));
  if (!low.size || !follows) return inMegohms;
  return (a, b) => {
    const own = [circuitOf(a), circuitOf(b)].filter((c) => c !== 'bar');
    return (own.length ? own : (['bar'] as const)).some((c) => low.has(c)) ? ['continuity'] : ['continuity', 'insulation'];
  };
}

/** Probes worth weighing after the actions: pairs at one point, across its ends, and the long lead to the board or the other lead; from the line of a circuit that `borrows` also to every other neutral bar, and from a `doubted` face to the bare terminal behind it. */
export function probesFor(installation: Installation, situation: Situation, state: WorkState, actions: readonly Action[], reader: Reader, borrows: (circuit: number | undefined) => boolean = () => false, doubted: ReadonlySet<string> = new Set()): Probe[] {
  const reachable = installation.points.filter((p) => canReach(situation, p));
  const board = installation.points.find((p) => p.kind === 'board');
  const oneWay = !board || waysOf(board).length < 2;
  const touched = new Set(actions.map((a) => a.point));
  // A link makes a pair read the cores as far as it: ohms, and not where the link itself is.
  const linked = new Set(state.links.map((l) => pointOfPlace(installation, l.a)));
  const across = acrossLoads(installation, state);
  const read: Reader = linked.size ? inOhms : (a, b) => (across(a, b) ? inOhms(a, b) : reader(a, b));
  const probes = new Map<string, Probe>();
  const add = (probe: Probe): void => void probes.set(probeKey(probe), probe);
  // A way's own terminal or tail at the board is read against its own circuit only.
  const circuits = circuitsOf(installation);
  const sameCircuit = (x: Spot, point: string): boolean => oneWay || !circuits.has(x.group) || circuits.get(x.group) === circuits.get(point);
  const sets = new Map(reachable.map((p) => [p.id, spotsAt(installation, state, p)]));
  // A cable that comes off here and is off at its other end already is read from end to end.
  const far = new Set(actions.flatMap((a) => (a.do === 'takeOut' ? a.ends : [])).flatMap((k) => otherEndOut(installation, state, k)));
  const anchors = situation.longLead ? reachable.filter((p) => p.kind === 'board' || situation.at.includes(p.id) || touched.has(p.id) || far.has(p.id)) : [];
  // What is done in one circuit, or at its conductors in the board, concerns its own way and the bars: all other ways read as before.
  const changed = new Set(actions.flatMap((a) => (a.point === board?.id ? ('ends' in a ? a.ends.map((k) => circuits.get(sectionOfKey(installation, k))) : []) : pointsOf(a).map((p) => circuits.get(p)))));
  // After a change only what it concerns is weighed: its own point, or its circuit where a load or a switch was moved, and where the leads are; and leads to it. What concerns several circuits is read where they meet.
  const everywhere = actions.every((a) => atLoadOrSwitch(a) || a.do === 'unlink');
  const circuitChanged = (p: Point): boolean => (changed.size === 1 || oneWay) && changed.has(circuits.get(p.id));
  const inFocus = (p: Point): boolean => p.kind === 'board' || (everywhere ? actions.length === 0 || circuitChanged(p) || situation.at.includes(p.id) : touched.has(p.id));
  const focus: readonly Point[] = reachable.filter((p) => inFocus(p) && !linked.has(p.id));
  const toOtherNeutral = (line: Spot, bar: Spot): boolean => isLine(line.role) && bar.of !== undefined && bar.role === 'N' && borrows(circuits.get(line.group));
  const concerned = (p: Point, x: Spot, y: Spot): boolean => oneWay || p.kind !== 'board' || changed.size === 0 || changed.has(circuits.get(x.group)) || changed.has(circuits.get(y.group)) || (x.of !== undefined && y.of !== undefined);
  for (const p of focus) {
    const here = sets.get(p.id);
    if (!here) continue;
    for (const [i, x] of here.spots.entries())
      for (const y of here.spots.slice(0, i)) {
        if (!concerned(p, x, y)) continue;
        if (x.role !== y.role && (together(x, y) || toOtherNeutral(x, y) || toOtherNeutral(y, x))) for (const fn of read(y.place, x.place)) add({ fn, from: [y.place], to: [x.place] });
        else if (x.role === y.role && (p.kind !== 'board' || oneWay || together(x, y))) add({ fn: 'continuity', from: [y.place], to: [x.place] });
      }
    for (const { front, terminal } of facesOf(p, state)) if (doubted.has(front)) add({ fn: 'continuity', from: [front], to: [terminal] });
    for (const [i, x] of here.copper.entries())
      for (const y of here.copper.slice(0, i)) if (x.group === y.group) add({ fn: 'continuity', from: [y.place], to: [x.place] });
    for (const a of anchors) {
      if (a.id === p.id) continue;
      for (const x of sets.get(a.id)?.spots ?? []) for (const y of here.spots) if (sameLane(x, y) && sameCircuit(x, p.id) && sameCircuit(y, a.id)) add({ fn: 'continuity', from: [x.place], to: [y.place] });
    }
  }
  return [...probes.values()];
}

/** The contacts of an opened point's face, each with the terminal behind it. */
const facesOf = (p: Point, state: WorkState): { front: string; terminal: string }[] => (state.opened.includes(p.id) ? p.faces.flatMap((f) => p.terminals.map((t) => ({ front: faceKey(p.id, f.id, t.id), terminal: terminalKey(p.id, t.id) }))) : []);

/** The point at the other end of a core that is out at both; nothing where it is not. */
function otherEndOut(installation: Installation, state: WorkState, end: string): string[] {
  const place = parsePlace(end);
  const here = place?.at === 'end' ? sectionOfEnd(installation, place) : undefined;
  if (place?.at !== 'end' || !here) return [];
  const side = here.side === 'a' ? 'b' : 'a';
  return state.out.includes(endKeyOf(here.section, side, place.core)) ? [here.section[side]] : [];
}

/** Is it line to neutral of a circuit whose loads were put in? A kettle is 0.00 MΩ as a short is: ohms tell them apart, and 500 V do electronics no good. */
function acrossLoads(installation: Installation, state: WorkState): (a: string, b: string) => boolean {
  const circuits = circuitsOf(installation);
  const loaded = new Set((state.on ?? []).filter(isElementKey).map((k) => circuits.get(pointOfElement(k))));
  if (!loaded.size) return () => false;
  const role = (k: string): string => roleOfPlace(installation, k) ?? '';
  return (a, b) => {
    const line = isLine(role(a)) && role(b) === 'N' ? a : isLine(role(b)) && role(a) === 'N' ? b : null;
    return line !== null && loaded.has(circuits.get(sectionOfPlace(installation, line)));
  };
}

const isLine = (role: string): boolean => role === 'L' || isSwitched(role as Role);
/** One conductor all the way, or the line through its switches. */
const sameLane = (x: Spot, y: Spot): boolean => x.role === y.role || (isLine(x.role) && isLine(y.role));
