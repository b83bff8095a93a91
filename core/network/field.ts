import type { PlaceKey } from '../installation';
import { nodeIn, type Skeleton } from './skeleton';
import { positiveInverse } from './inverse';
import { leakTableOf, Parting, type LeakTable, type PartedPotentials } from './parted';

/** Up to so many pieces (one circuit that is taken apart) every detour over insulation counts. */
const FEW_PIECES = 12;

/**
 * A fast picture of one work state, for belief and planning. Conductances fall in two groups five decades
 * apart: metal (cores, terminations, links, loads) and insulation. The field solves them one inside the
 * other: each piece of metal by its own spanning tree and chords, then the pieces joined by insulation.
 * Against the exact network the error is below 1e-3 of a reading (tested), far below any meter's.
 *
 * Any two-terminal change is then a closed formula over *transfers*: the voltage across one pair of nodes
 * for one ampere through another. A transfer has a metal part (ohms) and an insulation part (ohms, to be
 * multiplied by the circuit's unknown insulation scale); they are kept apart so that nothing cancels.
 *
 * Pieces are solved when first asked for: most fields of a changed map answer one reading only.
 */
export class Field {
  readonly nodeCount: number;
  private readonly forest: Forest;
  private readonly potentials: (Float64Array | undefined)[] = [];
  private between: Insulation | null = null;
  private branches: Map<string, MetalBranch> | null = null;
  private readonly partings = new Map<MetalBranch, Map<PlaceKey, Parting>>();
  private leakTable: LeakTable | null = null;

  constructor(private readonly skeleton: Skeleton) {
    this.nodeCount = skeleton.count;
    this.forest = forestOf(skeleton);
  }

  /** Node of a terminal or an end that is out; of an end that is in: its terminal's node. -1: not there. */
  node(place: PlaceKey): number {
    return nodeIn(this.skeleton, place);
  }

  piece(node: number): number {
    return this.forest.piece[node] as number;
  }

  /** Metal branch by part: `s3:N` (core), `p2.k1` (switch, way or load), `link:k0`. Undefined when not in the circuit. */
  branch(part: string): MetalBranch | undefined {
    return (this.branches ??= this.allBranches()).get(part);
  }

  /** `metal(a, b, a, b)`: ohms of metal between two nodes, or from each to the root of its piece. A piece that has not been solved is not solved for this alone. */
  metalAcross(a: number, b: number): number {
    const { piece, order, first } = this.forest;
    const [k, l] = [piece[a] as number, piece[b] as number];
    if (this.potentials[k] && this.potentials[l]) return this.metal(a, b, a, b);
    if (k === l) return ohmAcross(this.skeleton, this.forest, a, b);
    const toRoot = (x: number, p: number): number => ohmAcross(this.skeleton, this.forest, x, order[first[p] as number] as number);
    return toRoot(a, k) + toRoot(b, l);
  }

  /** Metal part of the transfer between pairs (a, b) and (c, d), ohms. */
  metal(a: number, b: number, c: number, d: number): number {
    return this.potential(a, c) - this.potential(a, d) - this.potential(b, c) + this.potential(b, d);
  }

  /** Insulation part of the same, ohms at nominal insulation. */
  insulation(a: number, b: number, c: number, d: number): number {
    const { piece } = this.forest;
    return this.betweenPieces(piece[a] as number, piece[b] as number, piece[c] as number, piece[d] as number);
  }

  private betweenPieces(p: number, q: number, r: number, s: number): number {
    if (p === q || r === s) return 0;
    const { ohm, island, n } = (this.between ??= insulationOf(this.skeleton, this.forest));
    const at = (x: number, y: number): number => ohm[x * n + y] as number;
    const tied = (x: number, y: number): number => (island[x] === island[y] ? 1 : 0);
    return at(p, r) - at(p, s) - at(q, r) + at(q, s) + ISLAND_TIE_OHM * (tied(p, r) - tied(p, s) - tied(q, r) + tied(q, s));
  }

  /** Which side of an opened bridge a node is on: true beyond it, away from the tree's root. */
  beyond(branch: MetalBranch, node: number): boolean {
    const { piece, enter, leave } = this.forest;
    const child = this.forest.up[branch.a] === branch.b ? branch.a : branch.b;
    const at = enter[node] as number;
    return piece[node] === branch.piece && at >= (enter[child] as number) && at <= (leave[child] as number);
  }

  /** Insulation conductance of the piece on the near and the far side of a bridge, in siemens. `endKey`: opened at this end, so that its half of the cable stays with the cable. */
  leakage(branch: MetalBranch, endKey: PlaceKey = ''): { readonly near: number; readonly beyond: number } {
    return this.parting(branch, endKey);
  }

  /** Insulation in ohms between one side of an opened bridge and another piece (`other`: any node of it; -1: the other side), with every detour over further pieces. */
  behindOpen(branch: MetalBranch, beyond: boolean, other: number, endKey: PlaceKey = ''): number {
    return this.parting(branch, endKey).ohmTo(beyond, other < 0 ? -1 : this.piece(other));
  }

  /** Insulation in ohms between two nodes of other pieces beside an opened bridge; null where it is not felt. */
  besideOpen(branch: MetalBranch, a: number, b: number, endKey: PlaceKey = ''): number | null {
    const [p, q] = [this.piece(a), this.piece(b)];
    const parting = this.parting(branch, endKey);
    return (this.forest.pieces <= FEW_PIECES && parting.parts) || parting.feltBetween(p, q) ? parting.ohmBetween(p, q) : null;
  }

  potentialsBesideOpen(branch: MetalBranch, a: number, b: number, endKey: PlaceKey): PartedPotentials {
    return this.parting(branch, endKey).potentialsBetween(this.piece(a), this.piece(b), this.forest.pieces);
  }

  /** Potentials for one ampere from one side of an opened bridge. */
  potentialsBehindOpen(branch: MetalBranch, beyond: boolean, other: number, endKey: PlaceKey): PartedPotentials {
    return this.parting(branch, endKey).potentials(beyond, other < 0 ? -1 : this.piece(other), this.forest.pieces);
  }

  /** Volts of every piece over insulation for one ampere in at one node and out at another, against any zero. */
  piecePotentials(from: number, to: number): Float64Array {
    const { piece } = this.forest;
    const { ohm, n } = (this.between ??= insulationOf(this.skeleton, this.forest));
    const [a, b] = [piece[from] as number, piece[to] as number];
    return Float64Array.from({ length: n }, (_, x) => (ohm[x * n + a] as number) - (ohm[x * n + b] as number));
  }

  /** Insulation between pieces by section (`index`: number of each section). */
  leaksBetween(index: ReadonlyMap<string, number>): LeakList {
    const { piece } = this.forest;
    const { leaks } = this.skeleton;
    const rows = new Map<string, { section: number; p: number; q: number; siemens: number }>();
    for (let i = 0; i < leaks.siemens.length; i++) {
      const section = index.get(leaks.section[i] ?? '');
      const [p, q] = [piece[leaks.a[i] as number] as number, piece[leaks.b[i] as number] as number].sort((x, y) => x - y) as [number, number];
      if (section === undefined || p === q || leaks.siemens[i] === 0) continue;
      const key = `${section} ${p} ${q}`;
      const row = rows.get(key) ?? { section, p, q, siemens: 0 };
      row.siemens += leaks.siemens[i] as number;
      rows.set(key, row);
    }
    const list = [...rows.values()];
    return { count: list.length, section: Int32Array.from(list, (r) => r.section), p: Int32Array.from(list, (r) => r.p), q: Int32Array.from(list, (r) => r.q), siemens: Float64Array.from(list, (r) => r.siemens) };
  }

  private readonly againstGround = (i: number, j: number, ground: number): number => this.betweenPieces(i, ground, j, ground);

  private parting(branch: MetalBranch, endKey: PlaceKey): Parting {
    const byEnd = this.partings.get(branch) ?? new Map<PlaceKey, Parting>();
    if (byEnd.size === 0) this.partings.set(branch, byEnd);
    let parting = byEnd.get(endKey);
    if (!parting) {
      const { piece, enter, leave, order, first, size, up } = this.forest;
      const table = (this.leakTable ??= leakTableOf(this.skeleton, order));
      // The end of a tree branch that lies away from the root.
      const child = up[branch.a] === branch.b ? branch.a : branch.b;
      const [from, to, start] = [enter[child] as number, (leave[child] as number) + 1, first[branch.piece] as number];
      const inPiece = (v: number): boolean => piece[v] === branch.piece;
      const isBeyond = (v: number): boolean => inPiece(v) && (enter[v] as number) >= from && (enter[v] as number) < to;
      const side = { own: branch.piece, from, to, start, end: start + (size[branch.piece] as number), endKey, bridgeEnd: (endKey === '' ? undefined : table.ofEnd.get(endKey)) ?? [], order, isBeyond, inPiece, pieceOf: (v: number) => piece[v] as number };
      byEnd.set(endKey, (parting = new Parting(side, table, this.againstGround)));
    }
    return parting;
  }

  /** Potential at `x` for one ampere in at `y` and out at the root of their piece; 0 between pieces. */
  private potential(x: number, y: number): number {
    const { piece, local, size } = this.forest;
    const k = piece[x] as number;
    if (k !== piece[y]) return 0;
    const phi = (this.potentials[k] ??= potentialsOf(this.skeleton, this.forest, k));
    return phi[(local[x] as number) * (size[k] as number) + (local[y] as number)] as number;
  }

  private allBranches(): Map<string, MetalBranch> {
    const { part, a, b, ohm } = this.skeleton.metal;
    const { isTree, piece } = this.forest;
    const covered = coveredBy(this.skeleton, this.forest);
    const found = new Map<string, MetalBranch>();
    for (let i = 0; i < ohm.length; i++) {
      const [u, v, r] = [a[i] as number, b[i] as number, ohm[i] as number];
      if (r === Infinity) continue;
      const bridge = isTree[i] === 1 && covered[i] === 0;
      const across = bridge ? r : this.metal(u, v, u, v);
      const slack = r - across;
      found.set(part[i] as string, { part: part[i] as string, a: u, b: v, ohm: r, piece: piece[u] as number, bridge, restOhm: bridge || slack <= 0 ? Infinity : (r * across) / slack });
    }
    return found;
  }
}

/** Insulation between pieces of metal by section: what a reading owes to each cable is a sum over it. */
export interface LeakList {
  readonly count: number;
  readonly section: Int32Array;
  /** Pieces on both sides. */
  readonly p: Int32Array;
  readonly q: Int32Array;
  readonly siemens: Float64Array;
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

/** Spanning trees of the metal, least resistance first, and every node's place in them. Nodes of a piece stand together in `order`, parents first. */
interface Forest {
  readonly pieces: number;
  readonly piece: Int32Array;
  /** Number of a node within its piece, and nodes and first position in `order` by piece. */
  readonly local: Int32Array;
  readonly size: number[];
  readonly first: number[];
  readonly order: Int32Array;
  readonly up: Int32Array;
  readonly upBranch: Int32Array;
  readonly enter: Int32Array;
  readonly leave: Int32Array;
  readonly isTree: Uint8Array;
}

function forestOf({ count: n, metal }: Skeleton): Forest {
  const { a, b, ohm } = metal;
  const isTree = new Uint8Array(ohm.length);
  // Neighbours over tree branches as linked lists: head per node, two entries per branch.
  const head = new Int32Array(n).fill(-1);
  const next = new Int32Array(2 * ohm.length);
  const sets = new Int32Array(n);
  for (let i = 0; i < n; i++) sets[i] = i;
  for (let i = 0; i < ohm.length; i++) {
    if (ohm[i] === Infinity) continue;
    const u = a[i] as number;
    const v = b[i] as number;
    const x = rootIn(sets, u);
    const y = rootIn(sets, v);
    if (x === y) continue;
    sets[x] = y;
    isTree[i] = 1;
    next[2 * i] = head[u] as number;
    head[u] = 2 * i;
    next[2 * i + 1] = head[v] as number;
    head[v] = 2 * i + 1;
  }
  const forest = {
    piece: new Int32Array(n).fill(-1), local: new Int32Array(n), size: [] as number[], first: [] as number[], order: new Int32Array(n),
    up: new Int32Array(n).fill(-1), upBranch: new Int32Array(n).fill(-1), enter: new Int32Array(n), leave: new Int32Array(n), isTree,
  };
  const { piece, local, size, first, order, up, upBranch, enter, leave } = forest;
  const stack = sets; // done with
  let clock = 0;
  for (let start = 0; start < n; start++) {
    if (piece[start] !== -1) continue;
    const k = size.length;
    const from = clock;
    let depth = 0;
    stack[depth++] = start;
    piece[start] = k;
    while (depth) {
      const v = stack[--depth] as number;
      local[v] = clock - from;
      enter[v] = clock;
      leave[v] = clock;
      order[clock++] = v;
      for (let e = head[v] as number; e >= 0; e = next[e] as number) {
        const to = (e & 1 ? a[e >> 1] : b[e >> 1]) as number;
        if (piece[to] !== -1) continue;
        piece[to] = k;
        up[to] = v;
        upBranch[to] = e >> 1;
        stack[depth++] = to;
      }
    }
    for (let i = clock - 1; i > from; i--) {
      const v = order[i] as number;
      const p = up[v] as number;
      if ((leave[p] as number) < (leave[v] as number)) leave[p] = leave[v] as number;
    }
    size.push(clock - from);
    first.push(from);
  }
  return { pieces: size.length, ...forest };
}

/** How many pieces of metal have been solved so far: the benchmark's count of factorisations. */
export const solved = { pieces: 0 };

/** Potential matrix of one piece (ohms, row-major, root held at zero): the tree first, then each chord as a change of rank one. */
function potentialsOf({ metal }: Skeleton, { piece, local, size, first, order, up, upBranch, isTree }: Forest, k: number): Float64Array {
  solved.pieces++;
  const m = size[k] as number;
  const from = first[k] as number;
  const phi = new Float64Array(m * m);
  for (let i = 1; i < m; i++) {
    const v = order[from + i] as number;
    const p = (local[up[v] as number] as number) * m;
    for (let j = 0; j < i; j++) {
      const x = phi[p + j] as number;
      phi[i * m + j] = x;
      phi[j * m + i] = x;
    }
    phi[i * m + i] = (phi[p + (local[up[v] as number] as number)] as number) + (metal.ohm[upBranch[v] as number] as number);
  }
  const w = new Float64Array(m);
  for (let i = 0; i < metal.ohm.length; i++) {
    const a = metal.a[i] as number;
    const b = metal.b[i] as number;
    if (isTree[i] === 1 || piece[a] !== k || a === b || metal.ohm[i] === Infinity) continue;
    const u = local[a] as number;
    const v = local[b] as number;
    for (let j = 0; j < m; j++) w[j] = (phi[u * m + j] as number) - (phi[v * m + j] as number);
    const scale = 1 / ((metal.ohm[i] as number) + (w[u] as number) - (w[v] as number));
    for (let x = 0; x < m; x++) {
      const f = (w[x] as number) * scale;
      if (f === 0) continue;
      for (let y = 0; y < m; y++) phi[x * m + y] = (phi[x * m + y] as number) - f * (w[y] as number);
    }
  }
  return phi;
}

/** Ohms between two nodes of a piece: along the tree, then what the chords take over (their loops as one small system). */
function ohmAcross({ metal }: Skeleton, forest: Forest, a: number, b: number): number {
  const { piece, isTree } = forest;
  if (a === b) return 0;
  const k = piece[a] as number;
  const drop = dropAlongTree(metal, forest, a, b);
  const chords: { readonly a: number; readonly b: number; readonly ohm: number; readonly drop: Float64Array }[] = [];
  for (let i = 0; i < metal.ohm.length; i++) {
    const [u, v, r] = [metal.a[i] as number, metal.b[i] as number, metal.ohm[i] as number];
    if (isTree[i] === 1 || piece[u] !== k || u === v || r === Infinity) continue;
    chords.push({ a: u, b: v, ohm: r, drop: dropAlongTree(metal, forest, u, v) });
  }
  const across = (volts: Float64Array, u: number, v: number): number => (volts[forest.local[u] as number] as number) - (volts[forest.local[v] as number] as number);
  const whole = across(drop, a, b);
  if (chords.length === 0) return whole;
  const n = chords.length;
  const loops = new Float64Array(n * n);
  chords.forEach((x, i) => chords.forEach((y, j) => (loops[i * n + j] = across(y.drop, x.a, x.b) + (i === j ? x.ohm : 0))));
  const inverse = positiveInverse(loops, n);
  const emf = chords.map((c) => across(drop, c.a, c.b));
  return emf.reduce((ohm, x, i) => ohm - x * emf.reduce((current, y, j) => current + (inverse[i * n + j] as number) * y, 0), whole);
}

/** Volts of the nodes of a piece (by local number, against its root) for one ampere from `a` to `b` along the tree alone. */
function dropAlongTree(metal: Skeleton['metal'], { piece, local, size, first, order, up, upBranch, enter }: Forest, a: number, b: number): Float64Array {
  const k = piece[a] as number;
  const from = first[k] as number;
  const volts = new Float64Array(size[k] as number);
  // Amperes up each tree branch on the way: +1 from a, -1 towards b.
  const through = (start: number, stop: number, amp: number): void => {
    for (let v = start; v !== stop; v = up[v] as number) volts[local[v] as number] = amp;
  };
  let [x, y] = [a, b];
  while (x !== y) {
    if ((enter[x] as number) > (enter[y] as number)) x = up[x] as number;
    else y = up[y] as number;
  }
  through(a, x, 1);
  through(b, x, -1);
  for (let i = 1; i < volts.length; i++) {
    const v = order[from + i] as number;
    volts[i] = (volts[local[up[v] as number] as number] as number) + (volts[i] as number) * (metal.ohm[upBranch[v] as number] as number);
  }
  return volts;
}

/** Branches that lie on a loop: chords, and the tree branches that they close over. */
function coveredBy({ metal }: Skeleton, { up, upBranch, enter, isTree }: Forest): Uint8Array {
  const covered = new Uint8Array(metal.ohm.length);
  for (let i = 0; i < covered.length; i++) {
    if (isTree[i] === 1 || metal.ohm[i] === Infinity) continue;
    covered[i] = 1;
    let x = metal.a[i] as number;
    let y = metal.b[i] as number;
    while (x !== y) {
      const deeper = (enter[x] as number) > (enter[y] as number) ? x : y;
      covered[upBranch[deeper] as number] = 1;
      if (deeper === x) x = up[x] as number;
      else y = up[y] as number;
    }
  }
  return covered;
}

/** Separate islands still sit in the same building: this tie keeps "no path" a figure beyond every meter. */
const ISLAND_TIE_OHM = 1e13;

/** Potentials between n pieces over insulation (ohms, row-major), one piece of each island held at zero. */
interface Insulation {
  readonly n: number;
  readonly ohm: Float64Array;
  readonly island: Int32Array;
}

function insulationOf({ leaks }: Skeleton, { piece, pieces: n }: Forest): Insulation {
  const sets = Int32Array.from({ length: n }, (_, i) => i);
  const g = new Float64Array(n * n);
  for (let i = 0; i < leaks.siemens.length; i++) {
    const siemens = leaks.siemens[i] as number;
    const a = piece[leaks.a[i] as number] as number;
    const b = piece[leaks.b[i] as number] as number;
    if (a === b || siemens === 0) continue;
    if (g[a * n + b] === 0) {
      const x = rootIn(sets, a);
      const y = rootIn(sets, b);
      sets[Math.max(x, y)] = Math.min(x, y);
    }
    g[a * n + a] = (g[a * n + a] as number) + siemens;
    g[b * n + b] = (g[b * n + b] as number) + siemens;
    g[a * n + b] = (g[a * n + b] as number) - siemens;
    g[b * n + a] = (g[b * n + a] as number) - siemens;
  }
  const island = sets.map((_, i) => rootIn(sets, i));
  for (let i = 0; i < n; i++) if (island[i] === i) g[i * n + i] = (g[i * n + i] as number) + 1;
  return { n, ohm: positiveInverse(g, n), island };
}

/** Root of a set in a union–find forest, shortening the path. */
function rootIn(sets: Int32Array, i: number): number {
  let r = i;
  while (sets[r] !== r) r = sets[r] as number;
  while (sets[i] !== r) {
    const next = sets[i] as number;
    sets[i] = r;
    i = next;
  }
  return r;
}
