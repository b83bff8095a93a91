/** Inverse of a small symmetric positive definite matrix (row-major n×n), by Gauss–Jordan in place of a copy. */
export function positiveInverse(matrix: Float64Array, n: number): Float64Array {
  const a = matrix.slice();
  for (let k = 0; k < n; k++) {
    const pivot = a[k * n + k] as number;
    if (!(pivot > 0)) continue;
    a[k * n + k] = 1;
    for (let j = k * n; j < (k + 1) * n; j++) a[j] = (a[j] as number) / pivot;
    for (let i = 0; i < n; i++) {
      const f = a[i * n + k] as number;
      if (i === k || f === 0) continue;
      a[i * n + k] = 0;
      for (let j = 0; j < n; j++) a[i * n + j] = (a[i * n + j] as number) - f * (a[k * n + j] as number);
    }
  }
  return a;
}
