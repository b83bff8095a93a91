/** Cholesky factor of a symmetric positive definite matrix (row-major n×n, its lower half is read), in place: lower half, with the inverse of each pivot on the diagonal. A pivot that is not positive counts as infinitely large. */
export function factored(a: Float64Array, n: number): Float64Array {
  for (let i = 0; i < n; i++) {
    const row = i * n;
    for (let j = 0; j < i; j++) {
      const other = j * n;
      let sum = a[row + j] as number;
      for (let k = 0; k < j; k++) sum -= (a[row + k] as number) * (a[other + k] as number);
      a[row + j] = sum * (a[other + j] as number);
    }
    let pivot = a[row + i] as number;
    for (let k = 0; k < i; k++) pivot -= (a[row + k] as number) ** 2;
    a[row + i] = pivot > 0 ? 1 / Math.sqrt(pivot) : 0;
  }
  return a;
}

/** v·M⁻¹·v for the factor of M: the square of what its lower half solves to. */
export function squareOverFactored(factor: Float64Array, v: Float64Array, n: number): number {
  const x = v.slice();
  let square = 0;
  for (let i = 0; i < n; i++) {
    const row = i * n;
    let sum = x[i] as number;
    for (let k = 0; k < i; k++) sum -= (factor[row + k] as number) * (x[k] as number);
    sum *= factor[row + i] as number;
    x[i] = sum;
    square += sum * sum;
  }
  return square;
}
