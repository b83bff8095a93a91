import type { Forest } from './forest';
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
