import type { Forest } from './forest';
import { positiveInverse } from './inverse';
import type { Skeleton } from './skeleton';

/** How many pieces of metal have been solved so far: the benchmark's count of factorisations. */
export const solved = { pieces: 0 };

/** Potential matrix of one piece (ohms, row-major, root held at zero): the tree first, then each chord as a change of rank one. */
export function potentialsOf({ metal }: Skeleton, { piece, local, size, first, order, up, upBranch, isTree }: Forest, k: number): Float64Array {
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
export function ohmAcross({ metal }: Skeleton, forest: Forest, a: number, b: number): number {
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
