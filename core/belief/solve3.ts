/** Small symmetric systems of the three unknowns of a cell, packed tt, td, dd, ts, ds, ss; unknowns that do not apply count as 1. */
export const clamp = (x: number, most: number): number => Math.min(most, Math.max(-most, x));

export function determinant3(h: Float64Array): number {
  const a = h[0] as number, b = h[1] as number, c = h[2] as number, d = h[3] as number, e = h[4] as number, f = h[5] as number;
  const a1 = a || 1;
  const c1 = c || 1;
  return a1 * (c1 * f - e * e) - b * (b * f - e * d) + d * (b * e - c1 * d);
}

export function solve3(h: Float64Array, g: Float64Array, out: Float64Array): boolean {
  const a0 = h[0] as number, b = h[1] as number, c0 = h[2] as number, d = h[3] as number, e = h[4] as number, f = h[5] as number;
  const a = a0 || 1;
  const c = c0 || 1;
  const det = determinant3(h);
  if (!(Math.abs(det) > 0) || !Number.isFinite(det)) return false;
  const x = g[0] as number, y = g[1] as number, z = g[2] as number;
  out[0] = ((c * f - e * e) * x + (d * e - b * f) * y + (b * e - c * d) * z) / det;
  out[1] = ((d * e - b * f) * x + (a * f - d * d) * y + (b * d - a * e) * z) / det;
  out[2] = ((b * e - c * d) * x + (b * d - a * e) * y + (a * c - b * b) * z) / det;
  return true;
}

/** jᵀ H⁻¹ j for the packed precision at an offset. */
export function quadraticForm(h: Float64Array, at: number, x: number, y: number, z: number): number {
  const a = (h[at] as number) || 1, b = h[at + 1] as number, c = (h[at + 2] as number) || 1;
  const d = h[at + 3] as number, e = h[at + 4] as number, f = (h[at + 5] as number) || 1;
  const det = a * (c * f - e * e) - b * (b * f - e * d) + d * (b * e - c * d);
  if (!(det > 0)) return 0;
  const sum =
    (c * f - e * e) * x * x + (a * f - d * d) * y * y + (a * c - b * b) * z * z + 2 * ((d * e - b * f) * x * y + (b * e - c * d) * x * z + (b * d - a * e) * y * z);
  return Math.max(0, sum / det);
}
