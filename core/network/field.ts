import { allEnds, endKeyOf, terminalKey, type Installation, type PlaceKey } from '../installation';
import { elementKey, type WorkState } from '../workstate';
import type { Physics } from './physics';

/**
 * A fast picture of one work state, for belief and planning. Conductances fall in two groups five decades
 * apart: metal (cores, terminations, links, loads) and insulation. The field solves them one inside the
 * other: each piece of metal by its own spanning tree and chords, then the pieces joined by insulation.
 * Against the exact network the error is below 1e-3 of a reading (tested), far below any meter's.
 *
 * Any two-terminal change is then a closed formula over *transfers*: the voltage across one pair of nodes
 * for one ampere through another. A transfer has a metal part (ohms) and an insulation part (ohms, to be
 * multiplied by the circuit's unknown insulation scale); they are kept apart so that nothing cancels.
 */
export interface Field {
  readonly nodeCount: number;
  /** Node of a terminal or an end that is out; of an end that is in: its terminal's node. -1: not there. */
  node(place: PlaceKey): number;
  /** Metal branch by part: `s3:N` (core), `p2.k1` (switch, way or load), `link:k0`. Undefined when not in the circuit. */
  branch(part: string): MetalBranch | undefined;
  piece(node: number): number;
  /** Metal part of the transfer between pairs (a, b) and (c, d), ohms. */
  metal(a: number, b: number, c: number, d: number): number;
  /** Insulation part of the same, ohms at nominal insulation. */
  insulation(a: number, b: number, c: number, d: number): number;
  /** Which side of an opened bridge a node is on: true beyond it, away from the tree's root. */
  beyond(branch: MetalBranch, node: number): boolean;
  /** Insulation conductance of the piece on the near and the far side of a bridge, in siemens. */
  leakage(branch: MetalBranch): { near: number; beyond: number };
}

export interface MetalBranch {
  readonly part: string;
  readonly a: number;
  readonly b: number;
  readonly ohm: number;
  readonly piece: number;
  /** True when nothing else metallic joins its two sides. */
  readonly bridge: boolean;
  /** Resistance of the rest of the metal as seen from the branch; Infinity for a bridge. */
  readonly restOhm: number;
}

/** Changes of the map that no single branch can express; each has a field of its own. */
export type Structure =
  | { readonly kind: 'crossed'; readonly section: string; readonly cores: readonly [string, string] }
  | { readonly kind: 'terminal'; readonly point: string; readonly terminal: string }
  | { readonly kind: 'notLanded'; readonly point: string; readonly terminal: string }
  | { readonly kind: 'missingSection'; readonly section: string };

/** Separate islands still sit in the same building: this tie keeps "no path" a figure beyond every meter. */
const ISLAND_TIE_OHM = 1e13;

interface RawBranch { readonly part: string; readonly a: number; readonly b: number; readonly ohm: number; readonly endA: PlaceKey; readonly endB: PlaceKey; readonly section: string }
interface Leak { readonly a: number; readonly b: number; readonly siemens: number; readonly section: string; readonly endA: PlaceKey; readonly endB: PlaceKey }

/** Nodes, metal (least resistance first) and insulation of one state, before solving; structures are small changes of it. */
export interface Skeleton {
  readonly count: number;
  readonly index: ReadonlyMap<PlaceKey, number>;
  readonly landing: ReadonlyMap<PlaceKey, number>;
  readonly metal: readonly RawBranch[];
  readonly leaks: readonly Leak[];
}

export function skeletonOf(installation: Installation, state: WorkState, physics: Physics): Skeleton {
  const index = new Map<PlaceKey, number>();
  const add = (key: PlaceKey): number => {
    const known = index.get(key);
    if (known !== undefined) return known;
    index.set(key, index.size);
    return index.size - 1;
  };
  const metal: RawBranch[] = [];
  const leaks: Leak[] = [];
  const off = new Set(state.off);
  const loadsOut = new Set(state.loadsOut);
  const out = new Set(state.out);
  for (const p of installation.points) {
    const nodes = p.terminals.map((t) => add(terminalKey(p.id, t.id)));
    if (p.kind !== 'board')
      for (const [i, t] of p.terminals.entries())
        for (let j = 0; j < i; j++)
          if (t.role !== 'SL' && p.terminals[j]?.role !== 'SL') leaks.push({ a: nodes[i] as number, b: nodes[j] as number, siemens: 1 / physics.pointInsulationOhm, section: '', endA: '', endB: '' });
    for (const e of p.elements) {
      const part = elementKey(p.id, e.id);
      if (e.kind === 'load' ? loadsOut.has(part) : off.has(part)) continue;
      const ohm = e.kind === 'load' ? e.ohm : e.kind === 'way' ? physics.wayOhm : physics.switchOhm;
      metal.push({ part, a: add(terminalKey(p.id, e.a)), b: add(terminalKey(p.id, e.b)), ohm, endA: '', endB: '', section: '' });
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
      metal.push({ part: `${s.id}:${c.id}`, a, b, ohm: physics.ohmPerM(c.csaMm2, s.flexible ?? false) * s.lengthM + joints, endA, endB, section: s.id });
      for (const d of s.cores.slice(0, i)) {
        const [otherA, otherB] = [endKeyOf(s, 'a', d.id), endKeyOf(s, 'b', d.id)];
        leaks.push(
          { a, b: landing.get(otherA) as number, siemens, section: s.id, endA, endB: otherA },
          { a: b, b: landing.get(otherB) as number, siemens, section: s.id, endA: endB, endB: otherB },
        );
      }
    }
  }
  for (const l of state.links) {
    const a = landing.get(l.a) ?? index.get(l.a);
    const b = landing.get(l.b) ?? index.get(l.b);
    if (a !== undefined && b !== undefined) metal.push({ part: `link:${l.id}`, a, b, ohm: physics.linkOhm, endA: '', endB: '', section: '' });
  }
  // Least resistance first: chords then always carry less than the tree path they close.
  metal.sort((x, y) => x.ohm - y.ohm);
  return { count: index.size, index, landing, metal, leaks };
}

/** The field of a changed map. */
export function structuralField(skeleton: Skeleton, structure: Structure): Field {
  const { metal, leaks } = skeleton;
  if (structure.kind === 'missingSection')
    return solveField({ ...skeleton, metal: metal.filter((b) => b.section !== structure.section), leaks: leaks.filter((l) => l.section !== structure.section) });
  if (structure.kind === 'crossed') {
    const [i, j] = structure.cores.map((c) => metal.find((b) => b.part === `${structure.section}:${c}`));
    if (!i || !j) return solveField(skeleton);
    return solveField({ ...skeleton, metal: metal.map((b) => (b === i ? { ...b, b: j.b } : b === j ? { ...b, b: i.b } : b)) });
  }
  const terminal = skeleton.index.get(terminalKey(structure.point, structure.terminal));
  const landing = new Map(skeleton.landing);
  let count = skeleton.count;
  if (structure.kind === 'notLanded') count++;
  // An end that was in the terminal gets a node of its own (all ends off) or shares one with the others (twisted through).
  const apart = (node: number, end: PlaceKey): number => {
    if (node !== terminal || end === '') return node;
    const at = structure.kind === 'notLanded' ? skeleton.count : count++;
    landing.set(end, at);
    return at;
  };
  const moved = metal.map((b) => (b.a !== terminal && b.b !== terminal ? b : { ...b, a: apart(b.a, b.endA), b: apart(b.b, b.endB) }));
  const followed = leaks.map((l) => (l.endA !== '' && (l.a === terminal || l.b === terminal) ? { ...l, a: landing.get(l.endA) as number, b: landing.get(l.endB) as number } : l));
  return solveField({ ...skeleton, count, landing, metal: moved, leaks: followed });
}

export function solveField(skeleton: Skeleton): Field {
  const { count: n, metal: raw, leaks } = skeleton;
  const nodeOf = (place: PlaceKey): number => skeleton.landing.get(place) ?? skeleton.index.get(place) ?? -1;
  const m0 = raw.length;
  const parent = new Int32Array(n);
  for (let i = 0; i < n; i++) parent[i] = i;
  const root = (i: number): number => {
    let r = i;
    while (parent[r] !== r) r = parent[r] as number;
    while (parent[i] !== r) {
      const next = parent[i] as number;
      parent[i] = r;
      i = next;
    }
    return r;
  };
  const isTree = new Uint8Array(m0);
  // Neighbours over tree branches as linked lists: head per node, two entries per branch.
  const head = new Int32Array(n).fill(-1);
  const nextOf = new Int32Array(2 * m0).fill(-1);
  for (let i = 0; i < m0; i++) {
    const { a, b } = raw[i] as RawBranch;
    const x = root(a);
    const y = root(b);
    if (x === y) continue;
    parent[x] = y;
    isTree[i] = 1;
    nextOf[2 * i] = head[a] as number;
    head[a] = 2 * i;
    nextOf[2 * i + 1] = head[b] as number;
    head[b] = 2 * i + 1;
  }

  const piece = new Int32Array(n).fill(-1);
  const local = new Int32Array(n);
  const enter = new Int32Array(n);
  const leave = new Int32Array(n);
  const up = new Int32Array(n).fill(-1);
  const upBranch = new Int32Array(n).fill(-1);
  const potentials: Float64Array[] = [];
  const sizes: number[] = [];
  const order = new Int32Array(n);
  const stack = new Int32Array(n);
  let clock = 0;
  for (let start = 0; start < n; start++) {
    if (piece[start] !== -1) continue;
    const k = potentials.length;
    let m = 0;
    let depth = 0;
    stack[depth++] = start;
    piece[start] = k;
    while (depth) {
      const v = stack[--depth] as number;
      local[v] = m;
      enter[v] = clock;
      leave[v] = clock++;
      order[m++] = v;
      for (let e = head[v] as number; e >= 0; e = nextOf[e] as number) {
        const branch = e >> 1;
        const { a, b } = raw[branch] as RawBranch;
        const to = e & 1 ? a : b;
        if (piece[to] !== -1) continue;
        piece[to] = k;
        up[to] = v;
        upBranch[to] = branch;
        stack[depth++] = to;
      }
    }
    for (let i = m - 1; i > 0; i--) {
      const v = order[i] as number;
      const p = up[v] as number;
      if ((leave[p] as number) < (leave[v] as number)) leave[p] = leave[v] as number;
    }
    const phi = new Float64Array(m * m);
    for (let i = 1; i < m; i++) {
      const v = order[i] as number;
      const p = (local[up[v] as number] as number) * m;
      for (let j = 0; j < i; j++) {
        const x = phi[p + j] as number;
        phi[i * m + j] = x;
        phi[j * m + i] = x;
      }
      phi[i * m + i] = (phi[p + (local[up[v] as number] as number)] as number) + (raw[upBranch[v] as number] as RawBranch).ohm;
    }
    potentials.push(phi);
    sizes.push(m);
  }

  const covered = new Uint8Array(m0);
  for (let i = 0; i < m0; i++) {
    if (isTree[i]) continue;
    const b = raw[i] as RawBranch;
    covered[i] = 1;
    if (b.a === b.b) continue;
    markPath(b.a, b.b);
    const k = piece[b.a] as number;
    const m = sizes[k] as number;
    const phi = potentials[k] as Float64Array;
    const u = local[b.a] as number;
    const v = local[b.b] as number;
    const w = new Float64Array(m);
    for (let j = 0; j < m; j++) w[j] = (phi[u * m + j] as number) - (phi[v * m + j] as number);
    const scale = 1 / (b.ohm + (w[u] as number) - (w[v] as number));
    for (let x = 0; x < m; x++) {
      const f = (w[x] as number) * scale;
      if (f === 0) continue;
      for (let y = 0; y < m; y++) phi[x * m + y] = (phi[x * m + y] as number) - f * (w[y] as number);
    }
  }
  function markPath(a: number, b: number): void {
    let x = a;
    let y = b;
    while (x !== y) {
      if ((enter[x] as number) > (enter[y] as number)) {
        covered[upBranch[x] as number] = 1;
        x = up[x] as number;
      } else {
        covered[upBranch[y] as number] = 1;
        y = up[y] as number;
      }
    }
  }

  const metal = (a: number, b: number, c: number, d: number): number => {
    const p = piece[a] as number;
    const q = piece[b] as number;
    const r = piece[c] as number;
    const s = piece[d] as number;
    let sum = 0;
    if (p === r) sum += (potentials[p] as Float64Array)[(local[a] as number) * (sizes[p] as number) + (local[c] as number)] as number;
    if (p === s) sum -= (potentials[p] as Float64Array)[(local[a] as number) * (sizes[p] as number) + (local[d] as number)] as number;
    if (q === r) sum -= (potentials[q] as Float64Array)[(local[b] as number) * (sizes[q] as number) + (local[c] as number)] as number;
    if (q === s) sum += (potentials[q] as Float64Array)[(local[b] as number) * (sizes[q] as number) + (local[d] as number)] as number;
    return sum;
  };

  const pieces = potentials.length;
  const pieceLeaks = leaks.map((l) => ({ a: piece[l.a] as number, b: piece[l.b] as number, siemens: l.siemens }));
  const island = islandsOf(pieces, pieceLeaks);
  const between = insulationPotentials(pieces, pieceLeaks, island);
  const zAt = (p: number, q: number): number => between[p * pieces + q] as number;
  const tied = (p: number, q: number): number => (island[p] === island[q] ? 1 : 0);
  const insulation = (a: number, b: number, c: number, d: number): number => {
    const p = piece[a] as number;
    const q = piece[b] as number;
    const r = piece[c] as number;
    const s = piece[d] as number;
    if (p === q || r === s) return 0;
    return zAt(p, r) - zAt(p, s) - zAt(q, r) + zAt(q, s) + ISLAND_TIE_OHM * (tied(p, r) - tied(p, s) - tied(q, r) + tied(q, s));
  };

  let byPart: Map<string, MetalBranch> | null = null;
  const branchMap = (): Map<string, MetalBranch> => {
    byPart ??= new Map(raw.map((b, i): [string, MetalBranch] => {
      const bridge = isTree[i] === 1 && covered[i] === 0;
      const across = bridge ? b.ohm : metal(b.a, b.b, b.a, b.b);
      const slack = b.ohm - across;
      return [b.part, { part: b.part, a: b.a, b: b.b, ohm: b.ohm, piece: piece[b.a] as number, bridge, restOhm: bridge || slack <= 0 ? Infinity : (b.ohm * across) / slack }];
    }));
    return byPart;
  };
  const leakages = new Map<string, { near: number; beyond: number }>();
  const beyond = (b: MetalBranch, node: number): boolean => {
    const child = up[b.a] === b.b ? b.a : b.b;
    return piece[node] === b.piece && (enter[node] as number) >= (enter[child] as number) && (enter[node] as number) <= (leave[child] as number);
  };
  return {
    nodeCount: n,
    node: nodeOf,
    branch: (part) => branchMap().get(part),
    piece: (node) => piece[node] as number,
    metal,
    insulation,
    beyond,
    leakage: (b) => {
      const known = leakages.get(b.part);
      if (known) return known;
      let near = 0;
      let far = 0;
      for (const l of leaks)
        for (const v of [l.a, l.b]) {
          if (piece[v] !== b.piece) continue;
          if (beyond(b, v)) far += l.siemens;
          else near += l.siemens;
        }
      const found = { near, beyond: far };
      leakages.set(b.part, found);
      return found;
    },
  };
}

/** Potential matrix of the pieces over insulation (ohms), one piece of each island held at zero. */
function insulationPotentials(n: number, leaks: readonly { a: number; b: number; siemens: number }[], island: Int32Array): Float64Array {
  const g = new Float64Array(n * n);
  for (let i = 0; i < n; i++) if (island[i] === i) g[i * n + i] = 1;
  for (const { a, b, siemens } of leaks) {
    if (a === b) continue;
    g[a * n + a] = (g[a * n + a] as number) + siemens;
    g[b * n + b] = (g[b * n + b] as number) + siemens;
    g[a * n + b] = (g[a * n + b] as number) - siemens;
    g[b * n + a] = (g[b * n + a] as number) - siemens;
  }
  return invertSymmetric(g, n);
}

/** For each piece the first piece that insulation joins it to. */
function islandsOf(n: number, leaks: readonly { a: number; b: number }[]): Int32Array {
  const parent = Int32Array.from({ length: n }, (_, i) => i);
  const root = (i: number): number => (parent[i] === i ? i : (parent[i] = root(parent[i] as number)));
  for (const { a, b } of leaks) {
    const x = root(a);
    const y = root(b);
    parent[Math.max(x, y)] = Math.min(x, y);
  }
  return Int32Array.from({ length: n }, (_, i) => root(i));
}

/** Inverse of a small symmetric positive definite matrix (row-major n×n) by Gauss–Jordan. */
function invertSymmetric(matrix: Float64Array, n: number): Float64Array {
  const a = matrix.slice();
  const inverse = new Float64Array(n * n);
  for (let i = 0; i < n; i++) inverse[i * n + i] = 1;
  for (let k = 0; k < n; k++) {
    const pivot = a[k * n + k] as number;
    if (!(pivot > 0)) continue;
    for (let j = 0; j < n; j++) {
      a[k * n + j] = (a[k * n + j] as number) / pivot;
      inverse[k * n + j] = (inverse[k * n + j] as number) / pivot;
    }
    for (let i = 0; i < n; i++) {
      const f = a[i * n + k] as number;
      if (i === k || f === 0) continue;
      for (let j = 0; j < n; j++) {
        a[i * n + j] = (a[i * n + j] as number) - f * (a[k * n + j] as number);
        inverse[i * n + j] = (inverse[i * n + j] as number) - f * (inverse[k * n + j] as number);
      }
    }
  }
  return inverse;
}
