import { rootIn, type Forest } from './forest';
import { positiveInverse } from './inverse';
import type { Skeleton } from './skeleton';

/** Separate islands still sit in the same building: this tie keeps "no path" a figure beyond every meter. */
export const ISLAND_TIE_OHM = 1e13;

/** Potentials between n pieces over insulation (ohms, row-major), one piece of each island held at zero. */
export interface Insulation {
  readonly n: number;
  readonly ohm: Float64Array;
  readonly island: Int32Array;
}

export function insulationOf({ leaks }: Skeleton, { piece, pieces: n }: Forest): Insulation {
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
