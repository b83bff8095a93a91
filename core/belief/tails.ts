import { rootOfSquares } from '../numeric';
import { determinant3, quadraticForm, solve3 } from './solve3';

// A plan is a plan: now and then one cable is far longer or shorter than drawn, in all its cores, and on some circuits the protective
// conductors have another area than the usual one. Each such thing moves all readings over it together.

/** Chance that a cable's length is far off, and how far then, s.d. in ln; where somebody measured it, and where it was guessed. */
export const LENGTH_TAIL = { known: { share: 0.01, sd: 0.7 }, guessed: { share: 0.04, sd: 0.9 } } as const;
/** Chance that all protective conductors of a circuit are of another area than usual, and how far off then. */
export const CPC_TAIL = { share: 0.15, sd: 0.5 };

/** One thing of a plan that may be far off: its chance against that of all as drawn, and its variance in ln. */
export interface Tail { readonly share: number; readonly variance: number }

/** The readings that count, at the unknowns where a climb ended: predicted ohms and the ohms of their scale by row; C⁻¹, C⁻¹[r, J] by rows of four, gradient and precision of the unknowns. */
export interface Gaussian {
  readonly count: number;
  readonly stride: number;
  readonly ohm: Float64Array;
  readonly scaleOhm: Float64Array;
  readonly inverse: Float64Array;
  readonly solved: Float64Array;
  readonly g: Float64Array;
  readonly h: Float64Array;
}

const STEPS = 5;
const LONGEST_STEP = 0.7;
/** Up to so small a factor, in ln, and so small a gain what the meter shows grows as its slope says. */
const STRAIGHT_LN = 0.3;
const STRAIGHT_GAIN = 1;

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
  /** Rows that grow with the thing; by these: how far each residual is moved, and its slope with ln of the factor. */
  private rows: number[] = [];
  change = new Float64Array(0);
  slope = new Float64Array(0);

  /** `share`: ohms of each row that grow with the thing. The other unknowns follow linearly; the factor is found by Gauss and Newton. */
  along(all: Gaussian, share: Float64Array, variance: number): void {
    const { h } = all;
    this.take(all, share);
    const before = this.square(all);
    let [after, curve] = [before, 1 / variance];
    for (let i = 0; ; i++) {
      solve3(h, this.j, this.back);
      curve = this.norm(all, this.slope, this.slope) - dot(this.j, this.back) + 1 / variance;
      if (i === STEPS) break;
      const pull = this.withResidual(all, this.slope) - this.norm(all, this.slope, this.change) - dot(this.back, this.g) - this.w / variance;
      const move = Math.max(-LONGEST_STEP, Math.min(LONGEST_STEP, pull / curve));
      this.w += move;
      this.moveTo(all, share);
      after = this.square(all);
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

  /** The gain alone, from the first step where that is a small one. */
  gainAlong(all: Gaussian, share: Float64Array, variance: number): number {
    this.take(all, share);
    solve3(all.h, this.j, this.back);
    const curve = this.norm(all, this.slope, this.slope) - dot(this.j, this.back) + 1 / variance;
    const pull = this.withResidual(all, this.slope) - dot(this.back, this.g);
    const gain = (0.5 * pull * pull) / curve;
    if (Math.abs(pull) < STRAIGHT_LN * curve && gain < STRAIGHT_GAIN) return gain - 0.5 * Math.log(Math.max(1, variance * curve));
    this.along(all, share, variance);
    return this.gain;
  }

  /** Rows that grow, and nothing moved yet. */
  private take(all: Gaussian, share: Float64Array): void {
    const { count } = all;
    if (this.change.length < count) [this.change, this.slope] = [new Float64Array(count), new Float64Array(count)];
    this.rows.length = 0;
    for (let a = 0; a < count; a++) if (share[a] !== 0) this.rows.push(a);
    this.w = 0;
    this.moveTo(all, share);
  }

  /** Changes, slopes and gradients at the factor in hand. */
  private moveTo(all: Gaussian, share: Float64Array): void {
    const { ohm, scaleOhm, solved } = all;
    const grown = Math.exp(this.w);
    this.g.set(all.g);
    this.j.fill(0);
    for (const a of this.rows) {
      const [k, x, o] = [scaleOhm[a] as number, share[a] as number, ohm[a] as number];
      const now = Math.max(0, o + x * (grown - 1));
      const change = this.w === 0 ? 0 : Math.asinh(now / k) - Math.asinh(o / k);
      const slope = (x * grown) / rootOfSquares(now, k);
      this.change[a] = change;
      this.slope[a] = slope;
      for (let i = 0; i < 3; i++) {
        const c = solved[4 * a + 1 + i] as number;
        this.g[i] = (this.g[i] as number) - c * change;
        this.j[i] = (this.j[i] as number) + c * slope;
      }
    }
  }

  /** rᵀC⁻¹r, against that of the residuals unmoved, with the unknowns where they suit best. */
  private square(all: Gaussian): number {
    return this.norm(all, this.change, this.change) - 2 * this.withResidual(all, this.change) - quadraticForm(all.h, 0, this.g[0] as number, this.g[1] as number, this.g[2] as number);
  }

  /** uᵀC⁻¹r. */
  private withResidual({ solved }: Gaussian, u: Float64Array): number {
    let sum = 0;
    for (const a of this.rows) sum += (u[a] as number) * (solved[4 * a] as number);
    return sum;
  }

  /** uᵀC⁻¹v over the rows that grow. */
  private norm({ stride, inverse }: Gaussian, u: Float64Array, v: Float64Array): number {
    let sum = 0;
    for (const a of this.rows) {
      let row = 0;
      for (const b of this.rows) row += (inverse[a * stride + b] as number) * (v[b] as number);
      sum += (u[a] as number) * row;
    }
    return sum;
  }
}

/** C⁻¹ of the first `count` rows from its Cholesky factor, into `out`; both by rows of `stride`. */
export function invert(out: Float64Array, factor: Float64Array, count: number, stride: number): void {
  // The factor's own inverse first, in the lower triangle; then its square.
  for (let c = 0; c < count; c++)
    for (let a = c; a < count; a++) {
      let sum = a === c ? 1 : 0;
      for (let k = c; k < a; k++) sum -= (factor[a * stride + k] as number) * (out[k * stride + c] as number);
      out[a * stride + c] = sum / (factor[a * stride + a] as number);
    }
  for (let a = 0; a < count; a++)
    for (let b = 0; b <= a; b++) {
      let sum = 0;
      for (let k = a; k < count; k++) sum += (out[k * stride + a] as number) * (out[k * stride + b] as number);
      out[b * stride + a] = sum;
    }
  for (let a = 0; a < count; a++) for (let b = 0; b < a; b++) out[a * stride + b] = out[b * stride + a] as number;
}

const dot = (x: Float64Array, y: Float64Array): number => (x[0] as number) * (y[0] as number) + (x[1] as number) * (y[1] as number) + (x[2] as number) * (y[2] as number);
