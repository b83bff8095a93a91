import type { Skeleton } from './skeleton';

/** Spanning trees of the metal, least resistance first, and every node's place in them. Nodes of a piece stand together in `order`, parents first. */
export interface Forest {
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

export function forestOf({ count: n, metal }: Skeleton): Forest {
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

/** Branches that lie on a loop: chords, and the tree branches that they close over. */
export function coveredBy({ metal }: Skeleton, { up, upBranch, enter, isTree }: Forest): Uint8Array {
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

/** Root of a set in a union–find forest, shortening the path. */
export function rootIn(sets: Int32Array, i: number): number {
  let r = i;
  while (sets[r] !== r) r = sets[r] as number;
  while (sets[i] !== r) {
    const next = sets[i] as number;
    sets[i] = r;
    i = next;
  }
  return r;
}
