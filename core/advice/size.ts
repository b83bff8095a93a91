import { ohmOfT, type Belief } from '../belief';

/** Ohms of a suspect as the readings leave them: nine in ten lie between low and high; thirds are those of the middle of each third. Infinity: open. */
export interface Size { readonly low: number; readonly high: number; readonly thirds: readonly [number, number, number] }

const STEPS = 24;
const SHARES = [0.05, 1 / 6, 0.5, 5 / 6, 0.95] as const;

/** Null where the suspect has no ohms. Its cells stand side by side in t = log10(ohm + 0.1), each as wide as the readings leave it. */
export function sizeOf(belief: Belief, suspect: number): Size | null {
  const { cells, weight, precision } = belief;
  const points: { t: number; w: number }[] = [];
  for (let c = 0; c < cells.count; c++) {
    if (cells.suspect[c] !== suspect || !((weight[c] as number) > 0)) continue;
    const w = weight[c] as number;
    if (Number.isNaN(cells.tCentre[c])) {
      if (cells.fixedOhm[c] !== Infinity) return null;
      points.push({ t: Infinity, w });
      continue;
    }
    const half = Math.min(1.73 * (cells.tSd[c] as number), 1.73 / Math.sqrt(precision[6 * c] as number));
    for (let k = 0; k < STEPS; k++) points.push({ t: (belief.t[c] as number) + half * ((2 * k + 1) / STEPS - 1), w: w / STEPS });
  }
  if (!points.length) return null;
  points.sort((a, b) => a.t - b.t);
  const total = points.reduce((sum, p) => sum + p.w, 0);
  const at = SHARES.map((share) => {
    let sum = 0;
    for (const p of points) if ((sum += p.w) >= share * total) return p.t === Infinity ? Infinity : ohmOfT(p.t);
    return ohmOfT((points[points.length - 1] as { t: number }).t);
  });
  return { low: at[0] as number, high: at[4] as number, thirds: [at[1] as number, at[2] as number, at[3] as number] };
}
