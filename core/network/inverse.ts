/** Inverse of a small symmetric positive definite matrix (row-major n×n) by Gauss–Jordan. */
export function positiveInverse(matrix: Float64Array, n: number): Float64Array {
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
