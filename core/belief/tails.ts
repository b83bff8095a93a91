import { determinant3, quadraticForm, solve3 } from './solve3';

// A plan is a plan: now and then one cable is far longer or shorter than drawn, in all its cores, and on some circuits the protective
// conductors have another area than the usual one. Each such thing moves all readings over it together.

/** Chance that a cable's length is far off, and how far then, s.d. in ln; where somebody measured it, and where it was guessed. */
export const LENGTH_TAIL = { known: { share: 0.01, sd: 0.7 }, guessed: { share: 0.04, sd: 0.9 } } as const;
/** Chance that all protective conductors of a circuit are of another area than usual, and how far off then. */
export const CPC_TAIL = { share: 0.15, sd: 0.5 };

/** One thing of a plan that may be far off: its chance against that of all as drawn, and its variance in ln. */
export interface Tail { readonly share: number; readonly variance: number }

/** The readings that count, at the unknowns where a climb ended: rows of residual y, predicted ohms and the ohms of their scale; Cholesky factor of C, C⁻¹[r, J] by rows of four, gradient and precision of the unknowns. */
export interface Gaussian {
  readonly count: number;
  readonly stride: number;
  readonly residual: Float64Array;
  readonly ohm: Float64Array;
  readonly scaleOhm: Float64Array;
  readonly factor: Float64Array;
  readonly solved: Float64Array;
  readonly g: Float64Array;
  readonly h: Float64Array;
}

const STEPS = 5;
const LONGEST_STEP = 0.7;

/** How much better the readings go together when one thing of the plan is as far off as suits them, and what that does to the unknowns of the cell. */
export class Stretch {
  /** ln of the evidence gained, and ln of the factor that suits best. */
  gain = 0;
  w = 0;
  readonly step = new Float64Array(3);
  readonly h = new Float64Array(6);
  private readonly g = new Float64Array(3);
  private readonly j = new Float64Array(3);
  private readonly back = new Float64Array(3);
  private moved = new Float64Array(0);
  private slope = new Float64Array(0);

  /** `share`: ohms of each row that grow with the thing. The other unknowns follow linearly; the factor is found by Gauss and Newton. */
  along(all: Gaussian, share: Float64Array, variance: number): void {
    const { count, h } = all;
    if (this.moved.length < count) [this.moved, this.slope] = [new Float64Array(count), new Float64Array(count)];
    this.w = 0;
    const before = this.square(all, share);
    let [after, curve] = [before, 1 / variance];
    for (let i = 0; ; i++) {
      solve3(h, this.j, this.back);
      curve = this.norm(all, this.slope, this.slope) - dot(this.j, this.back) + 1 / variance;
      if (i === STEPS) break;
      const pull = this.norm(all, this.slope, this.moved) - dot(this.back, this.g) - this.w / variance;
      const move = Math.max(-LONGEST_STEP, Math.min(LONGEST_STEP, pull / curve));
      this.w += move;
      after = this.square(all, share);
      if (Math.abs(move) < 0.01) break;
    }
    this.gain = 0.5 * (before - after - (this.w * this.w) / variance) - 0.5 * Math.log(Math.max(1, variance * curve));
    solve3(h, this.g, this.step);
    const own = this.norm(all, this.slope, this.slope) + 1 / variance;
    const [t = 0, d = 0, s = 0] = this.j;
    this.h.set(h);
    for (const [k, x] of [t * t, t * d, d * d, t * s, d * s, s * s].entries()) this.h[k] = (this.h[k] as number) - x / own;
    if (!(determinant3(this.h) > 0)) this.h.set(h);
  }

  /** rᵀC⁻¹r with the unknowns where they suit these residuals best; leaves residuals, slopes and gradients behind. */
  private square(all: Gaussian, share: Float64Array): number {
    const { count, residual, ohm, scaleOhm, solved } = all;
    const grown = Math.exp(this.w);
    this.g.set(all.g);
    this.j.fill(0);
    for (let a = 0; a < count; a++) {
      const [k, x, o] = [scaleOhm[a] as number, share[a] as number, ohm[a] as number];
      const now = Math.max(0, o + x * (grown - 1));
      const change = x === 0 ? 0 : Math.asinh(now / k) - Math.asinh(o / k);
      this.moved[a] = (residual[a] as number) - change;
      const slope = x === 0 ? 0 : (x * grown) / Math.hypot(now, k);
      this.slope[a] = slope;
      for (let i = 0; i < 3; i++) {
        const c = solved[4 * a + 1 + i] as number;
        this.g[i] = (this.g[i] as number) - c * change;
        this.j[i] = (this.j[i] as number) + c * slope;
      }
    }
    return this.norm(all, this.moved, this.moved) - quadraticForm(all.h, 0, this.g[0] as number, this.g[1] as number, this.g[2] as number);
  }

  private left = new Float64Array(0);
  private right = new Float64Array(0);

  /** uᵀC⁻¹v. */
  private norm({ count, stride, factor }: Gaussian, u: Float64Array, v: Float64Array): number {
    if (this.left.length < count) [this.left, this.right] = [new Float64Array(count), new Float64Array(count)];
    const { left, right } = this;
    let sum = 0;
    for (let a = 0; a < count; a++) {
      let [x, y] = [u[a] as number, v[a] as number];
      for (let k = 0; k < a; k++) {
        const f = factor[a * stride + k] as number;
        x -= f * (left[k] as number);
        y -= f * (right[k] as number);
      }
      const pivot = factor[a * stride + a] as number;
      left[a] = x / pivot;
      right[a] = y / pivot;
      sum += (left[a] as number) * (right[a] as number);
    }
    return sum;
  }
}

const dot = (x: Float64Array, y: Float64Array): number => (x[0] as number) * (y[0] as number) + (x[1] as number) * (y[1] as number) + (x[2] as number) * (y[2] as number);
