/** No cable is further from its plan than this, in ln. */
const FURTHEST = 2;
/** Parallel leaks cannot take more than this of a reading away. */
const LEAST = 0.05;

/**
 * What the readings share: ln length and ln insulation of every section against the plan, at their likeliest for one cell.
 * Readings are followed there as what they are, not as a tangent at the plan: copper adds its ohms, leaks add their siemens.
 */
export class Shared {
  /** ln against the plan, by section. */
  readonly length: Float64Array;
  readonly insulation: Float64Array;
  private readonly times: Float64Array;
  private readonly leaks: Float64Array;

  constructor(sections: number) {
    this.length = new Float64Array(sections);
    this.insulation = new Float64Array(sections);
    this.times = new Float64Array(sections).fill(1);
    this.leaks = new Float64Array(sections).fill(1);
  }

  set(from: Shared): void {
    this.length.set(from.length);
    this.insulation.set(from.insulation);
    this.times.set(from.times);
    this.leaks.set(from.leaks);
  }

  /** Takes new values; the largest change of any. */
  move(insulation: boolean, to: (section: number) => number): number {
    const values = insulation ? this.insulation : this.length;
    const factors = insulation ? this.leaks : this.times;
    let most = 0;
    for (let i = 0; i < values.length; i++) {
      const u = Math.min(FURTHEST, Math.max(-FURTHEST, to(i)));
      most = Math.max(most, Math.abs(u - (values[i] as number)));
      values[i] = u;
      factors[i] = Math.exp(insulation ? -u : u);
    }
    return most;
  }

  /**
   * The reading in ohms where the sections stand, from what it is by the plan and its slopes there (d ohms / d ln, by section).
   * `out`, from `at` on, takes the slopes where the sections stand; the second value is Σ slope × ln against the plan.
   */
  follow(insulation: boolean, ohm: number, slopes: Float64Array, out: Float64Array, at: number): { ohm: number; back: number } {
    const values = insulation ? this.insulation : this.length;
    const factors = insulation ? this.leaks : this.times;
    let sum = 0;
    for (let i = 0; i < values.length; i++) sum += (slopes[i] as number) * ((factors[i] as number) - 1);
    const q = insulation ? Math.max(LEAST, 1 + sum / ohm) : 1;
    let back = 0;
    for (let i = 0; i < values.length; i++) {
      const slope = ((slopes[i] as number) * (factors[i] as number)) / (q * q);
      out[at + i] = slope;
      back += slope * (values[i] as number);
    }
    return { ohm: insulation ? ohm / q : Math.max(0, ohm + sum), back };
  }
}
