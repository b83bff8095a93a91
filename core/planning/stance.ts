import { boardPart, circuitsOf, endsAtPoint, findPoint, isTwoWay, loadsOf, moves, parsePlace, pointOfPlace, terminalKey, faceKey, type EndRef, type InnerElement, type Installation, type PlaceKey, type Point } from '../installation';
import { isDoubtful } from '../belief';
import { behindSwitches, endsAt } from './interest';
import type { Probe } from '../probes';
import { addLink, elementKey, isElementKey, linkKey, removeLink, setCover, setEnds, setLoadOut, setOff, setSwitchesOn, type WorkState } from '../workstate';
import type { Costs } from './costs';

/** One thing the hands do before reading. */
export type Action =
  | { readonly do: 'open'; readonly point: string }
  | { readonly do: 'takeOut'; readonly point: string; readonly ends: readonly string[] }
  | { readonly do: 'putBack'; readonly point: string; readonly ends: readonly string[] }
  | { readonly do: 'switch'; readonly point: string; readonly part: string; readonly off: boolean }
  /** Loads taken out: pulled by their plugs, or by their conductors where they are wired in. Several may hang at several points; `point` is the first. */
  | { readonly do: 'unplug'; readonly point: string; readonly parts: readonly string[] }
  /** Loads that were out go in again: what is faulty in one of them shows. */
  | { readonly do: 'plugIn'; readonly point: string; readonly parts: readonly string[] }
  /** All switches of ways that nobody has drawn are turned on, in one round, or loads plugged in and on that may be out (by `point.element`); `point` is the first. */
  | { readonly do: 'switchesOn'; readonly point: string; readonly ways: readonly string[] }
  | { readonly do: 'link'; readonly point: string; readonly a: PlaceKey; readonly b: PlaceKey }
  | { readonly do: 'unlink'; readonly point: string; readonly link: string };

/** Is it done by hand at loads or switches, with no cover off? What was in reach stays so. */
export const atLoadOrSwitch = (a: Action): boolean => a.do === 'switch' || a.do === 'unplug' || a.do === 'plugIn' || a.do === 'switchesOn';

/** Points where something is done: of loads that are moved in one round, or of ways, each. */
export const pointsOf = (a: Action): readonly string[] => (a.do === 'unplug' || a.do === 'plugIn' ? a.parts.map(pointOfElement) : a.do === 'switchesOn' ? a.ways.map(pointOfElement) : [a.point]);

export function applyAction(state: WorkState, a: Action): WorkState {
  if (a.do === 'open') return setCover(state, a.point, true);
  if (a.do === 'takeOut') return setEnds(state, a.ends, true);
  if (a.do === 'putBack') return setEnds(state, a.ends, false);
  if (a.do === 'switch') return setOff(state, a.part, a.off);
  if (a.do === 'link') return addLink(state, { id: linkKey(a.a, a.b), a: a.a, b: a.b });
  if (a.do === 'unlink') return removeLink(state, a.link);
  if (a.do === 'switchesOn') return setSwitchesOn(state, a.ways, true);
  return a.parts.reduce((s, part) => setLoadOut(s, part, a.do === 'unplug'), state);
}

export function actionMinutes(a: Action, c: Costs): number {
  if (a.do === 'takeOut' || a.do === 'putBack') {
    // Neutrals and earths alone come out of their bars one by one; with the line it is a split.
    const cores = a.ends.map((k) => parsePlace(k)).map((p) => (p?.at === 'end' ? p.core : ''));
    if (cores.every((core) => core === 'N' || core === 'E')) return cores.length * c.bar;
    return a.do === 'takeOut' ? c.split : c.rejoin;
  }
  if (a.do === 'unplug' || a.do === 'plugIn') return a.parts.length * c.unplug;
  if (a.do === 'switchesOn') return a.ways.reduce((sum, w) => sum + (isElementKey(w) ? c.unplug : allSwitchesMin(c)), 0);
  return { open: c.open, switch: c.flick, link: c.link, unlink: c.link }[a.do];
}

/** Switches that a way has, for the minutes. */
const SWITCHES_OF_A_WAY = 5;
/** Minutes to turn on every switch of a way that nobody has drawn. */
export const allSwitchesMin = (c: Costs): number => c.walk + SWITCHES_OF_A_WAY * c.flick;

/** Plugs and lamps that a way has which nobody has drawn, for the minutes: they lie side by side, as its switches do. */
const PLUGS_OF_A_WAY = 3;
/** Minutes to move everything that is plugged in on a way that nobody has drawn. */
export const allPlugsMin = (c: Costs): number => c.walk + PLUGS_OF_A_WAY * c.unplug;
/** Minutes to move a load, with the walk to it: all of a way that nobody has drawn, or the one. */
export const plugMin = (installation: Installation, part: string, c: Costs): number => (findPoint(installation, pointOfElement(part))?.kind === 'undrawn' ? allPlugsMin(c) : c.walk + c.unplug);

/** Where the person stands and what may be reached. */
export interface Situation {
  readonly state: WorkState;
  /** Points where a lead or a hand is now (at most two). */
  readonly at: readonly string[];
  /** Points proved dead since they were last left. */
  readonly proved: ReadonlySet<string>;
  readonly unreachable: ReadonlySet<string>;
  /** Is there a lead that reaches from one point to another? Without it cores are joined by a link at the far end. */
  readonly longLead: boolean;
}

export function canReach(situation: Pick<Situation, 'unreachable'>, point: Point): boolean {
  return point.reach !== 'never' && !situation.unreachable.has(point.id);
}

/** Minutes for actions and probes in this order: every new place is walked to, and proved dead before it is touched. */
export function minutesFor(installation: Installation, situation: Situation, actions: readonly Action[], probes: readonly Probe[], costs: Costs): { minutes: number; at: string[] } {
  let minutes = actions.reduce((sum, a) => sum + actionMinutes(a, costs), 0) + probes.length * costs.reading;
  const here = new Set(situation.at);
  const opened = new Set(situation.state.opened);
  const fresh = new Set<string>();
  const visit = (point: string): void => {
    if (here.has(point)) return;
    here.add(point);
    minutes += costs.walk + (findPoint(installation, point)?.extraMin ?? 0);
  };
  for (const a of actions) {
    if (a.do === 'open') opened.add(a.point);
    const plugs = a.do === 'unplug' || a.do === 'plugIn';
    if (plugs)
      for (const part of a.parts) {
        visit(pointOfElement(part));
        minutes += plugMin(installation, part, costs) - costs.walk - costs.unplug;
      }
    else visit(a.point);
    if (a.do !== 'switch' && a.do !== 'switchesOn' && !(plugs && a.parts.every((part) => pullsByPlug(installation, part)))) fresh.add(a.point);
  }
  for (const p of probes) for (const place of [...p.from, ...p.to]) {
    const point = pointOfPlace(installation, place);
    visit(point);
    fresh.add(point);
  }
  for (const point of fresh) if (!situation.proved.has(point)) minutes += opened.has(point) ? costs.proveOpened : costs.proveClosed;
  const last = probes.at(-1);
  const at = last ? [...new Set([...last.from, ...last.to].map((k) => pointOfPlace(installation, k)))] : actions.map((a) => a.point).slice(-1);
  return { minutes, at: at.slice(0, 2) };
}

/** Point of `point.element`. */
export const pointOfElement = (part: string): string => part.split('.')[0] ?? '';

/** Does a load come out by its plug, or a lamp out of its holder, with no cover off? */
export const pullsByPlug = (installation: Installation, part: string): boolean => findPoint(installation, pointOfElement(part))?.elements.some((e) => e.kind === 'load' && elementKey(pointOfElement(part), e.id) === part && e.unplugs) === true;

/** A place a lead can go, with the lane it belongs to. */
export interface Spot {
  readonly place: PlaceKey;
  readonly role: string;
  /** Spots of one group at a point are joined to the same length of circuit. */
  readonly group: string;
  /** A bar of the board: the sections whose conductors belong in it. */
  readonly of?: ReadonlySet<string>;
}

/** Spots that can be touched at a point in a state. In-place ends are their own group, for reading across. */
export function spotsAt(installation: Installation, state: WorkState, point: Point): { spots: Spot[]; copper: Spot[] } {
  const opened = state.opened.includes(point.id);
  if (point.reach !== 'face' && !opened) return { spots: [], copper: [] };
  const ends = endsAtPoint(installation, point.id);
  const out = new Set(state.out);
  const spots: Spot[] = [];
  const copper: Spot[] = [];
  const face = point.faces[0];
  if (point.kind === 'board') return waysOf(point).length < 2 ? { spots: ends.filter((e) => opened && out.has(e.key)).map((e) => ({ place: e.key, role: e.role, group: e.section.id })), copper: [] } : boardSpots(point, ends, out);
  for (const t of point.terminals) {
    const landed = ends.some((e) => e.terminal === t.id && !out.has(e.key));
    const inner = point.elements.some((e) => e.a === t.id || e.b === t.id);
    if (!landed && !inner && !opened) continue;
    const place = !opened && face ? faceKey(point.id, face.id, t.id) : terminalKey(point.id, t.id);
    spots.push({ place, role: t.role, group: 'terminal' });
  }
  if (opened)
    for (const e of ends) {
      if (out.has(e.key)) spots.push({ place: e.key, role: e.role, group: e.section.id });
      else copper.push({ place: e.key, role: e.role, group: `${e.terminal}` });
    }
  return { spots, copper };
}

export const waysOf = (point: Point): readonly InnerElement[] => point.elements.filter((e) => e.kind === 'way');

/** At a board of several ways: each way's terminal, the bars, and the tails that were pulled; a tail is read against its own way and the bars. */
function boardSpots(point: Point, ends: readonly EndRef[], out: ReadonlySet<string>): { spots: Spot[]; copper: Spot[] } {
  const spots: Spot[] = [];
  for (const t of point.terminals) {
    const sections = [...new Set(ends.filter((e) => e.terminal === t.id).map((e) => e.section.id))];
    const [only] = sections;
    const place = terminalKey(point.id, t.id);
    const part = boardPart(t);
    if (part === 'neutral bar' || part === 'earth bar') spots.push({ place, role: t.role, group: place, of: new Set(sections) });
    else if (only !== undefined) spots.push({ place, role: t.role, group: only });
  }
  for (const e of ends) if (out.has(e.key)) spots.push({ place: e.key, role: e.role, group: e.section.id });
  // Line before neutral before earth, as a pair is said.
  const rank = (s: Spot): number => (s.role === 'E' ? 2 : s.role === 'N' ? 1 : 0);
  return { spots: spots.sort((x, y) => rank(x) - rank(y)), copper: [] };
}

/** One way's own spots, a way with the bars that its conductors land in, and bars with each other. */
export const together = (x: Spot, y: Spot): boolean => x.group === y.group || (x.of !== undefined && y.of !== undefined) || x.of?.has(y.group) === true || y.of?.has(x.group) === true;

/** One plug alone is pulled, or put back, where so much of the suspicion hangs on it, or most of what hangs on its circuit's loads; else all of its circuit. */
const ONE_PLUG = 0.1;
const MOST_OF_IT = 0.6;
/** Half of a circuit's loads where this much hangs on them all. */
const MANY_PLUGS = 0.3;

/** Suspicion on a circuit's ends at the board from which its line is taken out. */
const ITS_OWN_END = 0.05;

/** Changes of state worth thinking about: nothing, open, split, switch, take a load out, rejoin, link. */
export function stances(installation: Installation, situation: Situation, interest: (point: string) => number): Action[][] {
  const { state } = situation;
  const out = new Set(state.out);
  const circuits = circuitsOf(installation);
  const result: Action[][] = [[]];
  const ringLegs = legsOfRings(installation, situation);
  const onLoads = new Map<number | undefined, number>();
  for (const p of installation.points) for (const e of p.elements) if (e.kind === 'load') onLoads.set(circuits.get(p.id), (onLoads.get(circuits.get(p.id)) ?? 0) + interest(`load ${elementKey(p.id, e.id)}`));
  for (const p of installation.points) {
    if (!canReach(situation, p)) continue;
    if (p.kind === 'board') {
      const cover: Action[] = state.opened.includes(p.id) ? [] : [{ do: 'open', point: p.id }];
      const joined = endsAtPoint(installation, p.id).filter((e) => !out.has(e.key));
      // One circuit: everything out at once, away from bars and supply. Several: a neutral, an earth, or both of one way.
      if (waysOf(p).length < 2) {
        if (joined.length) result.push([...cover, { do: 'takeOut', point: p.id, ends: joined.map((e) => e.key) }]);
      } else
        for (const c of new Set(joined.map((e) => circuits.get(e.section.id)))) {
          // Both legs of a ring come out together.
          const bars = joined.filter((e) => circuits.get(e.section.id) === c && (e.role === 'N' || e.role === 'E'));
          const roles = ['N', 'E'].map((r) => bars.filter((e) => e.role === r)).filter((list) => list.length);
          for (const list of roles) result.push([...cover, { do: 'takeOut', point: p.id, ends: list.map((e) => e.key) }]);
          if (roles.length > 1) result.push([...cover, { do: 'takeOut', point: p.id, ends: bars.map((e) => e.key) }]);
          // The line comes out of its device only where its own end there is suspected: read from its copper, the cable is told from the terminal.
          const lines = joined.filter((e) => circuits.get(e.section.id) === c && !bars.includes(e));
          if (lines.length && interest(endsAt(p.id, c)) > ITS_OWN_END) result.push([...cover, { do: 'takeOut', point: p.id, ends: lines.map((e) => e.key) }]);
        }
      continue;
    }
    const opened = state.opened.includes(p.id);
    const open: Action[] = opened ? [] : [{ do: 'open', point: p.id }];
    if (!opened && interest(p.id) > 0.01) result.push(open);
    const ends = endsAtPoint(installation, p.id);
    const joined = ends.filter((e) => !out.has(e.key));
    const bySection = new Map<string, string[]>();
    for (const e of joined) bySection.set(e.section.id, [...(bySection.get(e.section.id) ?? []), e.key]);
    const groups = [...bySection.values()];
    const legs = ringLegs.get(circuits.get(p.id)) ?? [];
    for (const g of groups) result.push([...legs, ...open, { do: 'takeOut', point: p.id, ends: g }]);
    const apart = ends.filter((e) => out.has(e.key)).map((e) => e.key);
    if (apart.length) result.push([{ do: 'putBack', point: p.id, ends: apart }]);
    for (const e of p.elements)
      if (e.kind === 'load' && !state.loadsOut.includes(elementKey(p.id, e.id)) && interest(`load ${elementKey(p.id, e.id)}`) > (e.unplugs && isDoubtful(e) ? Math.min(ONE_PLUG, Math.max(0.003, MOST_OF_IT * (onLoads.get(circuits.get(p.id)) ?? 0))) : 0.003))
        result.push([...(e.unplugs ? [] : open), { do: 'unplug', point: p.id, parts: [elementKey(p.id, e.id)] }]);
  }
  for (const p of installation.points)
    for (const e of p.elements)
      if (e.kind === 'switch' && moves(e)) {
        const part = elementKey(p.id, e.id);
        const move: Action = { do: 'switch', point: p.id, part, off: !state.off.includes(part) };
        result.push([move]);
        // A strapper is only reached at an open switch, and only led to by the other's throw.
        if (isTwoWay(p, e)) for (const box of twoWayBoxes(installation, situation, circuits.get(p.id))) if (interest(box.id) > TWO_WAY_BOX) result.push([{ do: 'open', point: box.id }, move]);
      }
  // Nobody takes out one plug after another to see: all of one circuit, or of the whole board, come out in one round.
  const byCircuit = new Map<number | undefined, string[]>();
  for (const p of installation.points)
    if (p.kind !== 'board' && !situation.unreachable.has(p.id))
      for (const e of p.elements) {
        const part = elementKey(p.id, e.id);
        if (e.kind === 'load' && e.unplugs && !state.loadsOut.includes(part)) byCircuit.set(circuits.get(p.id), [...(byCircuit.get(circuits.get(p.id)) ?? []), part]);
      }
  const outBy = new Map<number | undefined, string[]>();
  for (const part of state.loadsOut)
    if (pullsByPlug(installation, part) && !situation.unreachable.has(pointOfElement(part))) outBy.set(circuits.get(pointOfElement(part)), [...(outBy.get(circuits.get(pointOfElement(part))) ?? []), part]);
  const half = (parts: readonly string[]): string[] => halfOf(parts, (part) => interest(`load ${part}`));
  const some = (what: 'plugIn' | 'unplug', parts: readonly string[]): void => void (parts.length && result.push([{ do: what, point: pointOfElement(parts[0] ?? ''), parts }]));
  for (const parts of outBy.values()) {
    some('plugIn', parts);
    some('plugIn', half(parts));
    if (parts.length > 1) for (const part of parts) if (interest(`load ${part}`) > ONE_PLUG) result.push([{ do: 'plugIn', point: pointOfElement(part), parts: [part] }]);
  }
  const rounds = [...byCircuit.values()];
  if (byCircuit.size > 1) rounds.push([...byCircuit.values()].flat());
  for (const parts of rounds) some('unplug', parts);
  for (const parts of byCircuit.values()) some('unplug', half(parts));
  // One load left in hides behind another: all switches off at once show what each alone would not.
  const oneWay = new Set(installation.points.flatMap((p) => p.elements.filter((e) => !isTwoWay(p, e)).map((e) => elementKey(p.id, e.id))));
  const on = result.filter((a) => a.length === 1 && a[0]?.do === 'switch' && a[0].off && oneWay.has(a[0].part)).flat();
  if (on.length > 1) result.push(on);
  // What hangs behind switches of ways that nobody has drawn: one way after another, or all in one round.
  const isHidden = (key: string): boolean => !state.on?.includes(key) && interest(behindSwitches(key)) > BEHIND_A_SWITCH;
  const behind = installation.points.filter((p) => p.kind === 'undrawn' && isHidden(p.id)).map((p) => p.id);
  // What may be out though nobody said so: a circuit's loads together, or the first half of them.
  const perhapsOut = new Map<number | undefined, string[]>();
  for (const p of installation.points)
    for (const part of loadsOf(p).map((l) => elementKey(p.id, l.id))) if (!state.loadsOut.includes(part) && isHidden(part)) perhapsOut.set(circuits.get(p.id), [...(perhapsOut.get(circuits.get(p.id)) ?? []), part]);
  const halves = [...perhapsOut.values()].map((parts) => parts.slice(0, Math.ceil(parts.length / 2)));
  const rows = [...behind.map((p) => [p]), ...(behind.length > 1 ? [behind] : []), ...perhapsOut.values(), ...halves];
  for (const ways of new Map(rows.map((r) => [r.join(), r])).values()) result.push([{ do: 'switchesOn', point: pointOfElement(ways[0] ?? ''), ways }]);
  return [...result, ...linkStances(installation, situation)];
}

/** Suspicion behind the switches of one way from which somebody walks round and turns them on. */
const BEHIND_A_SWITCH = 0.004;

/** Suspicion on a two-way switch from which its cover comes off for a strapper. */
const TWO_WAY_BOX = 0.05;

/** The two-way switches of a circuit that are still closed. */
const twoWayBoxes = (installation: Installation, situation: Situation, circuit: number | undefined): Point[] => {
  const circuits = circuitsOf(installation);
  return installation.points.filter((p) => circuits.get(p.id) === circuit && !situation.state.opened.includes(p.id) && canReach(situation, p) && p.elements.some((e) => isTwoWay(p, e)));
};

/** The first of some loads, as they hang along the circuit, that hold half of the suspicion; none where little is suspected, or one alone makes the half. */
function halfOf(parts: readonly string[], interest: (part: string) => number): string[] {
  const total = parts.reduce((sum, part) => sum + interest(part), 0);
  let inside = 0;
  const found: string[] = [];
  for (const part of total > MANY_PLUGS ? parts : []) {
    if (inside + interest(part) / 2 > total / 2) break;
    inside += interest(part);
    found.push(part);
  }
  return found.length > 1 ? found : [];
}

/** A ring on a board of ways that is closed there: cut once it is still whole, so its neutrals and earths come out at the board too. By circuit. */
function legsOfRings(installation: Installation, situation: Situation): Map<number | undefined, Action[]> {
  const { state } = situation;
  const out = new Set(state.out);
  const circuits = circuitsOf(installation);
  const found = new Map<number | undefined, Action[]>();
  for (const p of installation.points) {
    if (p.kind !== 'board' || waysOf(p).length < 2 || !canReach(situation, p)) continue;
    const ends = endsAtPoint(installation, p.id);
    for (const c of new Set(ends.map((e) => circuits.get(e.section.id)))) {
      const own = ends.filter((e) => circuits.get(e.section.id) === c);
      const legs = own.filter((e) => (e.role === 'N' || e.role === 'E') && !out.has(e.key));
      if (new Set(own.map((e) => e.section.id)).size < 2 || !legs.length || cutBetween(installation, own.map((e) => e.section.id), p.id, out)) continue;
      const cover: Action[] = state.opened.includes(p.id) ? [] : [{ do: 'open', point: p.id }];
      found.set(c, [...cover, { do: 'takeOut', point: p.id, ends: legs.map((e) => e.key) }]);
    }
  }
  return found;
}

/** Is the circuit of these legs parted somewhere beyond the board already? */
function cutBetween(installation: Installation, legs: readonly string[], board: string, out: ReadonlySet<string>): boolean {
  const circuits = circuitsOf(installation);
  const circuit = circuits.get(legs[0] ?? '');
  return installation.points.some((p) => p.id !== board && circuits.get(p.id) === circuit && endsAtPoint(installation, p.id).some((e) => out.has(e.key)));
}

/** Links at each reachable point, the one that is in taken off first: what stands in for a long lead. */
function linkStances(installation: Installation, situation: Situation): Action[][] {
  const { state } = situation;
  const off = state.links.map((l): Action => ({ do: 'unlink', point: pointOfPlace(installation, l.a), link: l.id }));
  const result: Action[][] = off.length ? [off] : [];
  if (situation.longLead) return result;
  for (const p of installation.points) {
    if (p.kind === 'board' || !canReach(situation, p)) continue;
    const open: Action[] = p.reach === 'face' || state.opened.includes(p.id) ? [] : [{ do: 'open', point: p.id }];
    const { spots } = spotsAt(installation, open.reduce(applyAction, state), p);
    const terminals = spots.filter((s) => s.group === 'terminal');
    for (const [i, x] of terminals.entries())
      for (const y of terminals.slice(0, i))
        if (x.role !== y.role && !state.links.some((l) => l.id === linkKey(x.place, y.place))) result.push([...off, ...open, { do: 'link', point: p.id, a: y.place, b: x.place }]);
  }
  return result;
}

export const pointOf = (installation: Installation, key: PlaceKey): Point | undefined => {
  const parsed = parsePlace(key);
  return parsed ? findPoint(installation, pointOfPlace(installation, key)) : undefined;
};
