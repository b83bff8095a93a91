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
  readonly branches: readonly MetalBranch[];
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

interface RawBranch { part: string; a: number; b: number; ohm: number }

export function buildField(installation: Installation, state: WorkState, physics: Physics, structure?: Structure): Field {
  const index = new Map<PlaceKey, number>();
  const add = (key: PlaceKey): number => {
    const known = index.get(key);
    if (known !== undefined) return known;
    index.set(key, index.size);
    return index.size - 1;
  };
  const raw: RawBranch[] = [];
  const leaks: { a: number; b: number; siemens: number }[] = [];
  const off = new Set(state.off);
  const loadsOut = new Set(state.loadsOut);
  const out = new Set(state.out);

  for (const p of installation.points) {
    const nodes = p.terminals.map((t) => add(terminalKey(p.id, t.id)));
    if (p.kind !== 'board')
      for (const [i, t] of p.terminals.entries())
        for (let j = 0; j < i; j++)
          if (t.role !== 'SL' && p.terminals[j]?.role !== 'SL') leaks.push({ a: nodes[i] as number, b: nodes[j] as number, siemens: 1 / physics.pointInsulationOhm });
    for (const e of p.elements) {
      const part = elementKey(p.id, e.id);
      if (e.kind === 'load' ? loadsOut.has(part) : off.has(part)) continue;
      const ohm = e.kind === 'load' ? e.ohm : e.kind === 'way' ? physics.wayOhm : physics.switchOhm;
      raw.push({ part, a: add(terminalKey(p.id, e.a)), b: add(terminalKey(p.id, e.b)), ohm });
    }
  }
  const landing = new Map<PlaceKey, number>();
  for (const end of allEnds(installation)) {
    const terminal = terminalKey(end.point, end.terminal);
    const here = structure && (structure.kind === 'terminal' || structure.kind === 'notLanded') && terminalKey(structure.point, structure.terminal) === terminal;
    const at = out.has(end.key) ? add(end.key) : !here ? add(terminal) : add(structure.kind === 'terminal' ? end.key : `twisted ${terminal}`);
    landing.set(end.key, at);
  }
  for (const s of installation.sections) {
    if (structure?.kind === 'missingSection' && structure.section === s.id) continue;
    const swap = structure?.kind === 'crossed' && structure.section === s.id ? structure.cores : undefined;
    const far = (core: string): string => (swap === undefined ? core : core === swap[0] ? swap[1] : core === swap[1] ? swap[0] : core);
    const at = (side: 'a' | 'b', core: string): number => landing.get(endKeyOf(s, side, core)) as number;
    for (const [i, c] of s.cores.entries()) {
      const ends = [endKeyOf(s, 'a', c.id), endKeyOf(s, 'b', far(c.id))];
      const joints = ends.reduce((sum, e) => sum + (out.has(e) ? 0 : physics.terminationOhm(e)), 0);
      raw.push({ part: `${s.id}:${c.id}`, a: at('a', c.id), b: at('b', far(c.id)), ohm: physics.ohmPerM(c.csaMm2, s.flexible ?? false) * s.lengthM + joints });
      for (let j = 0; j < i; j++) {
        const d = s.cores[j] as { id: string };
        const siemens = s.lengthM / (2 * physics.insulationOhmM(s.id));
        leaks.push({ a: at('a', c.id), b: at('a', d.id), siemens }, { a: at('b', far(c.id)), b: at('b', far(d.id)), siemens });
      }
    }
  }
  for (const l of state.links) {
    const a = nodeOf(l.a);
    const b = nodeOf(l.b);
    if (a >= 0 && b >= 0) raw.push({ part: `link:${l.id}`, a, b, ohm: physics.linkOhm });
  }
  function nodeOf(place: PlaceKey): number {
    return landing.get(place) ?? index.get(place) ?? -1;
  }
  return solveField(index.size, nodeOf, raw, leaks);
}

function solveField(n: number, nodeOf: (p: PlaceKey) => number, raw: RawBranch[], leaks: readonly { a: number; b: number; siemens: number }[]): Field {
  // Least resistance first: chords then always carry less than the tree path they close.
  raw.sort((x, y) => x.ohm - y.ohm);
  const parent = Int32Array.from({ length: n }, (_, i) => i);
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
  const adjacent: { to: number; ohm: number; branch: number }[][] = Array.from({ length: n }, () => []);
  const isTree = new Uint8Array(raw.length);
  for (const [i, b] of raw.entries()) {
    const x = root(b.a);
    const y = root(b.b);
    if (x === y) continue;
    parent[x] = y;
    isTree[i] = 1;
    (adjacent[b.a] as { to: number; ohm: number; branch: number }[]).push({ to: b.b, ohm: b.ohm, branch: i });
    (adjacent[b.b] as { to: number; ohm: number; branch: number }[]).push({ to: b.a, ohm: b.ohm, branch: i });
  }

  const piece = new Int32Array(n).fill(-1);
  const local = new Int32Array(n);
  const enter = new Int32Array(n);
  const leave = new Int32Array(n);
  const up = new Int32Array(n).fill(-1);
  const upBranch = new Int32Array(n).fill(-1);
  const upOhm = new Float64Array(n);
  const potentials: Float64Array[] = [];
  const sizes: number[] = [];
  let clock = 0;
  for (let start = 0; start < n; start++) {
    if (piece[start] !== -1) continue;
    const k = potentials.length;
    const order: number[] = [];
    const stack = [start];
    piece[start] = k;
    while (stack.length) {
      const v = stack.pop() as number;
      local[v] = order.length;
      enter[v] = clock++;
      order.push(v);
      for (const { to, ohm, branch } of adjacent[v] as { to: number; ohm: number; branch: number }[]) {
        if (piece[to] !== -1) continue;
        piece[to] = k;
        up[to] = v;
        upBranch[to] = branch;
        upOhm[to] = ohm;
        stack.push(to);
      }
    }
    const m = order.length;
    for (let i = m - 1; i >= 0; i--) {
      const v = order[i] as number;
      if ((leave[v] as number) < (enter[v] as number)) leave[v] = enter[v] as number;
      const p = up[v] as number;
      if (p >= 0 && (leave[p] as number) < (leave[v] as number)) leave[p] = leave[v] as number;
    }
    const phi = new Float64Array(m * m);
    for (let i = 1; i < m; i++) {
      const v = order[i] as number;
      const p = local[up[v] as number] as number;
      for (let j = 0; j < i; j++) {
        const x = phi[p * m + j] as number;
        phi[i * m + j] = x;
        phi[j * m + i] = x;
      }
      phi[i * m + i] = (phi[p * m + p] as number) + (upOhm[v] as number);
    }
    potentials.push(phi);
    sizes.push(m);
  }

  const covered = new Uint8Array(raw.length);
  for (const [i, b] of raw.entries()) {
    if (isTree[i]) continue;
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

  const phiAt = (a: number, b: number): number => {
    const k = piece[a] as number;
    if (k !== piece[b]) return 0;
    return (potentials[k] as Float64Array)[(local[a] as number) * (sizes[k] as number) + (local[b] as number)] as number;
  };
  const metal = (a: number, b: number, c: number, d: number): number => phiAt(a, c) - phiAt(a, d) - phiAt(b, c) + phiAt(b, d);

  const pieces = potentials.length;
  const pieceLeaks = leaks.map((l) => ({ a: piece[l.a] as number, b: piece[l.b] as number, siemens: l.siemens }));
  const island = islandsOf(pieces, pieceLeaks);
  const between = insulationPotentials(pieces, pieceLeaks, island);
  const zAt = (p: number, q: number): number => between[p * pieces + q] as number;
  const tied = (p: number, q: number): number => (island[p] === island[q] ? 1 : 0);
  const insulation = (a: number, b: number, c: number, d: number): number => {
    const [p, q, r, s] = [piece[a] as number, piece[b] as number, piece[c] as number, piece[d] as number];
    if (p === q || r === s) return 0;
    return zAt(p, r) - zAt(p, s) - zAt(q, r) + zAt(q, s) + ISLAND_TIE_OHM * (tied(p, r) - tied(p, s) - tied(q, r) + tied(q, s));
  };

  const nodeLeak = new Float64Array(n);
  for (const l of leaks) {
    nodeLeak[l.a] = (nodeLeak[l.a] as number) + l.siemens;
    nodeLeak[l.b] = (nodeLeak[l.b] as number) + l.siemens;
  }
  const branches = raw.map((b, i): MetalBranch => {
    const bridge = isTree[i] === 1 && covered[i] === 0;
    const across = bridge ? b.ohm : metal(b.a, b.b, b.a, b.b);
    const slack = b.ohm - across;
    return { part: b.part, a: b.a, b: b.b, ohm: b.ohm, piece: piece[b.a] as number, bridge, restOhm: bridge || slack <= 0 ? Infinity : (b.ohm * across) / slack };
  });
  const byPart = new Map(branches.map((b) => [b.part, b]));
  const childOf = (b: MetalBranch): number => (up[b.a] === b.b && upOhm[b.a] === b.ohm ? b.a : b.b);
  const beyond = (b: MetalBranch, node: number): boolean => {
    const child = childOf(b);
    return piece[node] === b.piece && (enter[node] as number) >= (enter[child] as number) && (enter[node] as number) <= (leave[child] as number);
  };
  return {
    nodeCount: n,
    node: nodeOf,
    branch: (part) => byPart.get(part),
    branches,
    piece: (node) => piece[node] as number,
    metal,
    insulation,
    beyond,
    leakage: (b) => {
      let near = 0;
      let far = 0;
      for (let v = 0; v < n; v++) {
        if (piece[v] !== b.piece) continue;
        if (beyond(b, v)) far += nodeLeak[v] as number;
        else near += nodeLeak[v] as number;
      }
      return { near, beyond: far };
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
