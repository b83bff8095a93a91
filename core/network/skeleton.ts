import { allEnds, endKeyOf, isSwitched, metalPaths, terminalKey, type Installation, type PlaceKey } from '../installation';
import { elementKey, isClosed, type WorkState } from '../workstate';
import type { Physics } from './physics';

/** Branches in columns: metal of more or less ohms, or insulation. An ohm of Infinity or a siemens of 0 is not there. */
export interface Metal {
  readonly part: readonly string[];
  readonly section: readonly string[];
  /** The conductor ends that land at a and b; '' for what is no core. */
  readonly endA: readonly PlaceKey[];
  readonly endB: readonly PlaceKey[];
  readonly a: Int32Array;
  readonly b: Int32Array;
  readonly ohm: Float64Array;
}

export interface Leaks {
  readonly section: readonly string[];
  readonly endA: readonly PlaceKey[];
  readonly endB: readonly PlaceKey[];
  readonly a: Int32Array;
  readonly b: Int32Array;
  readonly siemens: Float64Array;
}

/** Nodes, metal (least resistance first) and insulation of one state, before solving; structures are small changes of it. */
export interface Skeleton {
  readonly count: number;
  readonly index: ReadonlyMap<PlaceKey, number>;
  /** Node where each conductor end lands; `moved` overrides it. */
  readonly landing: ReadonlyMap<PlaceKey, number>;
  readonly moved: ReadonlyMap<PlaceKey, number>;
  readonly metal: Metal;
  readonly leaks: Leaks;
}

/** Changes of the map that no single branch can express; each has a field of its own. */
export type Structure =
  | { readonly kind: 'crossed'; readonly section: string; readonly cores: readonly [string, string] }
  | { readonly kind: 'terminal'; readonly point: string; readonly terminal: string }
  | { readonly kind: 'notLanded'; readonly point: string; readonly terminal: string }
  | { readonly kind: 'missingSection'; readonly section: string }
  | { readonly kind: 'landed'; readonly end: PlaceKey; readonly terminal: PlaceKey }
  /** A two-way switch on its other throw: two contacts that share their first terminal, by part, each with its second. */
  | { readonly kind: 'thrown'; readonly parts: readonly [string, string]; readonly throws: readonly [PlaceKey, PlaceKey] };

/** A fault taken as known: part of the network in which others are looked for. Ohms; Infinity: open. */
export type Assumed =
  | { readonly kind: 'shunt'; readonly a: PlaceKey; readonly b: PlaceKey; readonly ohm: number }
  | { readonly kind: 'series'; readonly part: string; readonly endKey: PlaceKey; readonly ohm: number }
  | { readonly kind: 'structure'; readonly structure: Structure };

interface MetalRow { part: string; section: string; a: number; b: number; ohm: number; endA: PlaceKey; endB: PlaceKey }
interface LeakRow { section: string; a: number; b: number; siemens: number; endA: PlaceKey; endB: PlaceKey }

const NOT_MOVED: ReadonlyMap<PlaceKey, number> = new Map();

/** Node of a terminal or an end that is out; of an end that is in: its terminal's node. -1: not there. */
export const nodeIn = (s: Skeleton, place: PlaceKey): number => s.moved.get(place) ?? s.landing.get(place) ?? s.index.get(place) ?? -1;

export function skeletonOf(installation: Installation, state: WorkState, physics: Physics): Skeleton {
  const index = new Map<PlaceKey, number>();
  const add = (key: PlaceKey): number => {
    const known = index.get(key);
    if (known !== undefined) return known;
    index.set(key, index.size);
    return index.size - 1;
  };
  const metal: MetalRow[] = [];
  const leaks: LeakRow[] = [];
  const notCore = { section: '', endA: '', endB: '' };
  const off = new Set(state.off);
  const loadsOut = new Set(state.loadsOut);
  const out = new Set(state.out);
  for (const p of installation.points) {
    const nodes = p.terminals.map((t) => add(terminalKey(p.id, t.id)));
    if (p.kind !== 'board')
      for (const [i, t] of p.terminals.entries())
        for (let j = 0; j < i; j++)
          if (!isSwitched(t.role) && !isSwitched(p.terminals[j]?.role)) leaks.push({ ...notCore, a: nodes[i] as number, b: nodes[j] as number, siemens: 1 / physics.pointInsulationOhm });
    for (const e of p.elements) {
      const part = elementKey(p.id, e.id);
      if (e.kind === 'load' ? loadsOut.has(part) || e.loadClass === 'arrester' || e.implied : !isClosed(off, p.id, e)) continue;
      const ohm = e.kind === 'load' ? e.ohm : e.kind === 'way' ? physics.wayOhm : physics.switchOhm;
      metal.push({ ...notCore, part, a: add(terminalKey(p.id, e.a)), b: add(terminalKey(p.id, e.b)), ohm });
    }
  }
  const landing = new Map<PlaceKey, number>();
  for (const end of allEnds(installation)) landing.set(end.key, add(out.has(end.key) ? end.key : terminalKey(end.point, end.terminal)));
  for (const s of installation.sections) {
    const siemens = s.lengthM / (2 * physics.insulationOhmM(s.id));
    for (const [i, c] of s.cores.entries()) {
      const [endA, endB] = [endKeyOf(s, 'a', c.id), endKeyOf(s, 'b', c.id)];
      const [a, b] = [landing.get(endA) as number, landing.get(endB) as number];
      const joints = (out.has(endA) ? 0 : physics.terminationOhm(endA)) + (out.has(endB) ? 0 : physics.terminationOhm(endB));
      metal.push({ part: `${s.id}:${c.id}`, section: s.id, a, b, ohm: physics.ohmPerM(c.csaMm2, s.flexible ?? false) * s.lengthM + joints, endA, endB });
      for (const d of s.cores.slice(0, i)) {
        const [otherA, otherB] = [endKeyOf(s, 'a', d.id), endKeyOf(s, 'b', d.id)];
        leaks.push(
          { section: s.id, a, b: landing.get(otherA) as number, siemens, endA, endB: otherA },
          { section: s.id, a: b, b: landing.get(otherB) as number, siemens, endA: endB, endB: otherB },
        );
      }
    }
  }
  for (const m of metalPaths(installation)) metal.push({ ...notCore, part: `metalwork:${m.point}`, a: add(m.a), b: add(m.b), ohm: m.ohm });
  for (const l of state.links) {
    const a = landing.get(l.a) ?? index.get(l.a);
    const b = landing.get(l.b) ?? index.get(l.b);
    if (a !== undefined && b !== undefined) metal.push({ ...notCore, part: `link:${l.id}`, a, b, ohm: physics.linkOhm });
  }
  // Least resistance first: chords then always carry less than the tree path they close.
  metal.sort((x, y) => x.ohm - y.ohm);
  return { count: index.size, index, landing, moved: NOT_MOVED, metal: { part: metal.map((r) => r.part), ohm: Float64Array.from(metal, (r) => r.ohm), ...columns(metal) }, leaks: { siemens: Float64Array.from(leaks, (r) => r.siemens), ...columns(leaks) } };
}

/** The skeleton with a known fault in it. What its state keeps from acting (an end that is out) leaves it as it was. */
export function assume(skeleton: Skeleton, fault: Assumed, out: ReadonlySet<string>): Skeleton {
  if (fault.kind === 'structure') return changed(skeleton, fault.structure);
  const { metal } = skeleton;
  if (fault.kind === 'series') {
    const i = out.has(fault.endKey) ? -1 : metal.part.indexOf(fault.part);
    return i < 0 ? skeleton : { ...skeleton, metal: sorted({ ...metal, ohm: metal.ohm.map((x, k) => (k === i ? x + fault.ohm : x)) }) };
  }
  const [a, b] = [nodeIn(skeleton, fault.a), nodeIn(skeleton, fault.b)];
  if (a < 0 || b < 0 || a === b) return skeleton;
  return {
    ...skeleton,
    metal: sorted({
      part: [...metal.part, 'known fault'], section: [...metal.section, ''], endA: [...metal.endA, ''], endB: [...metal.endB, ''],
      a: Int32Array.from([...metal.a, a]), b: Int32Array.from([...metal.b, b]), ohm: Float64Array.from([...metal.ohm, Math.max(fault.ohm, 1e-4)]),
    }),
  };
}

/** The skeleton with one end off its terminal, on a node of its own. An end that is out is where it was. */
export function endOff(skeleton: Skeleton, end: PlaceKey): Skeleton {
  if (skeleton.landing.get(end) === skeleton.index.get(end)) return skeleton;
  return { ...onNode(skeleton, end, skeleton.count), count: skeleton.count + 1 };
}

/** Least resistance first, as the tree of the field asks for. */
function sorted(metal: Metal): Metal {
  const order = [...metal.ohm.keys()].sort((i, j) => (metal.ohm[i] as number) - (metal.ohm[j] as number));
  const pick = <T>(list: ArrayLike<T>): T[] => order.map((i) => list[i] as T);
  return { part: pick(metal.part), section: pick(metal.section), endA: pick(metal.endA), endB: pick(metal.endB), a: Int32Array.from(pick(metal.a)), b: Int32Array.from(pick(metal.b)), ohm: Float64Array.from(pick(metal.ohm)) };
}

function columns(rows: readonly { section: string; a: number; b: number; endA: PlaceKey; endB: PlaceKey }[]): Pick<Leaks, 'section' | 'endA' | 'endB' | 'a' | 'b'> {
  return { section: rows.map((r) => r.section), endA: rows.map((r) => r.endA), endB: rows.map((r) => r.endB), a: Int32Array.from(rows, (r) => r.a), b: Int32Array.from(rows, (r) => r.b) };
}

/** The skeleton of a changed map. */
export function changed(skeleton: Skeleton, structure: Structure): Skeleton {
  if (structure.kind === 'missingSection') return without(skeleton, structure.section);
  if (structure.kind === 'crossed') return crossed(skeleton, structure.section, structure.cores);
  if (structure.kind === 'landed') return landedAt(skeleton, structure.end, structure.terminal);
  if (structure.kind === 'thrown') return thrown(skeleton, structure);
  return apart(skeleton, terminalKey(structure.point, structure.terminal), structure.kind === 'terminal');
}

/** Nodes at which a structure changes the map: all else hangs together as before. */
export function changedAt(skeleton: Skeleton, structure: Structure): number[] {
  if (structure.kind === 'thrown') return structure.throws.map((t) => nodeIn(skeleton, t));
  if (structure.kind === 'landed') return [nodeIn(skeleton, structure.end), nodeIn(skeleton, structure.terminal)];
  if (structure.kind === 'terminal' || structure.kind === 'notLanded') return [nodeIn(skeleton, terminalKey(structure.point, structure.terminal))];
  const { section, part, a, b } = skeleton.metal;
  const changes = (i: number): boolean => (structure.kind === 'missingSection' ? section[i] === structure.section : structure.cores.some((c) => part[i] === `${structure.section}:${c}`));
  return part.flatMap((_, i) => (changes(i) ? [a[i] as number, b[i] as number] : []));
}

function without(skeleton: Skeleton, section: string): Skeleton {
  const { metal, leaks } = skeleton;
  return {
    ...skeleton,
    metal: { ...metal, ohm: metal.ohm.map((x, i) => (metal.section[i] === section ? Infinity : x)) },
    leaks: { ...leaks, siemens: leaks.siemens.map((x, i) => (leaks.section[i] === section ? 0 : x)) },
  };
}

function crossed(skeleton: Skeleton, section: string, cores: readonly [string, string]): Skeleton {
  const { metal } = skeleton;
  const i = metal.part.indexOf(`${section}:${cores[0]}`);
  const j = metal.part.indexOf(`${section}:${cores[1]}`);
  if (i < 0 || j < 0) return skeleton;
  const b = metal.b.slice();
  b[i] = metal.b[j] as number;
  b[j] = metal.b[i] as number;
  return { ...skeleton, metal: { ...metal, b } };
}

/** The contact that is made, on the other throw. */
function thrown(skeleton: Skeleton, { parts, throws }: Extract<Structure, { kind: 'thrown' }>): Skeleton {
  const { metal } = skeleton;
  const made = metal.part.includes(parts[0]) ? 0 : 1;
  const row = metal.part.indexOf(parts[made]);
  const to = skeleton.index.get(throws[made === 0 ? 1 : 0]);
  if (row < 0 || to === undefined) return skeleton;
  return { ...skeleton, metal: { ...metal, part: metal.part.map((part, i) => (i === row ? parts[made === 0 ? 1 : 0] : part)), b: metal.b.map((n, i) => (i === row ? to : n)) } };
}

/** One end in another terminal. An end that is out is where it was. */
function landedAt(skeleton: Skeleton, end: PlaceKey, terminal: PlaceKey): Skeleton {
  const to = skeleton.index.get(terminal);
  return to === undefined || skeleton.landing.get(end) === skeleton.index.get(end) ? skeleton : onNode(skeleton, end, to);
}

/** One end, and what its half of the cable leaks, on another node. */
function onNode(skeleton: Skeleton, end: PlaceKey, to: number): Skeleton {
  const { metal, leaks } = skeleton;
  const follow = (rows: Metal | Leaks): { a: Int32Array; b: Int32Array } => ({
    a: rows.a.map((n, i) => (rows.endA[i] === end ? to : n)),
    b: rows.b.map((n, i) => (rows.endB[i] === end ? to : n)),
  });
  return { ...skeleton, metal: { ...metal, ...follow(metal) }, leaks: { ...leaks, ...follow(leaks) }, moved: new Map([[end, to]]) };
}

/** The ends of a terminal off it: joined to each other, or (`scattered`) each on a node of its own. */
function apart(skeleton: Skeleton, place: PlaceKey, scattered: boolean): Skeleton {
  const { metal, leaks } = skeleton;
  const terminal = skeleton.index.get(place) ?? -1;
  const moved = new Map<PlaceKey, number>();
  let count = skeleton.count + (scattered ? 0 : 1);
  const nodeFor = (node: number, end: PlaceKey): number => {
    if (node !== terminal || end === '') return node;
    let at = moved.get(end);
    if (at === undefined) moved.set(end, (at = scattered ? count++ : skeleton.count));
    return at;
  };
  const follow = (rows: Metal | Leaks): { a: Int32Array; b: Int32Array } => ({
    a: rows.a.map((n, i) => nodeFor(n, rows.endA[i] as string)),
    b: rows.b.map((n, i) => nodeFor(n, rows.endB[i] as string)),
  });
  return { ...skeleton, metal: { ...metal, ...follow(metal) }, leaks: { ...leaks, ...follow(leaks) }, moved, count };
}
