const LOG_SQRT_2PI = 0.9189385332046727;

/** Log density of a normal with the given mean and standard deviation. */
export function logNormalDensity(x: number, mean: number, sd: number): number {
  const z = (x - mean) / sd;
  return -0.5 * z * z - Math.log(sd) - LOG_SQRT_2PI;
}

/** P(Z <= z) for a standard normal; absolute error below 1.5e-7 (Abramowitz & Stegun 7.1.26). */
export function normalCdf(z: number): number {
  const x = Math.abs(z) / Math.SQRT2;
  const t = 1 / (1 + 0.3275911 * x);
  const poly = t * (0.254829592 + t * (-0.284496736 + t * (1.421413741 + t * (-1.453152027 + t * 1.061405429))));
  const erf = 1 - poly * Math.exp(-x * x);
  return z >= 0 ? 0.5 * (1 + erf) : 0.5 * (1 - erf);
}

/** Bits in "is it so?" at a chance of 0 to 1. */
export const bitsOf = (p: number): number => (p <= 0 || p >= 1 ? 0 : -(p * Math.log2(p) + (1 - p) * Math.log2(1 - p)));

/** log(sum(exp(x))) without overflow; -Infinity for an empty list. */
export function logSumExp(values: ArrayLike<number>): number {
  let top = -Infinity;
  for (let i = 0; i < values.length; i++) if ((values[i] as number) > top) top = values[i] as number;
  if (top === -Infinity) return top;
  let sum = 0;
  for (let i = 0; i < values.length; i++) sum += Math.exp((values[i] as number) - top);
  return top + Math.log(sum);
}

/** √(x² + y²), much faster than `Math.hypot`: no guard against squares that overflow. */
export const rootOfSquares = (x: number, y: number): number => Math.sqrt(x * x + y * y);
