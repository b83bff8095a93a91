import type { Cells } from './cells';

/** The likeliest unknowns of every cell, their posterior precision (packed tt, td, dd, ts, ds, ss) and ln of the cell's weight, not yet made to sum to 1. */
export class Estimates {
  readonly t: Float64Array;
  readonly d: Float64Array;
  readonly s: Float64Array;
  readonly precision: Float64Array;
  readonly logWeight: Float64Array;

  constructor(count: number) {
    this.t = new Float64Array(count);
    this.d = new Float64Array(count);
    this.s = new Float64Array(count);
    this.precision = new Float64Array(6 * count);
    this.logWeight = new Float64Array(count).fill(-Infinity);
  }

  /** Where an earlier belief left the cell; without one, its centre. */
  startFrom(c: number, cells: Cells, before?: Pick<Estimates, 't' | 'd' | 's' | 'precision'>): void {
    const centre = cells.tCentre[c] as number;
    this.t[c] = before ? (before.t[c] as number) : Number.isNaN(centre) ? 0 : centre;
    this.d[c] = before ? (before.d[c] as number) : 0.5;
    this.s[c] = before ? (before.s[c] as number) : 0;
    if (before) for (let i = 6 * c; i < 6 * c + 6; i++) this.precision[i] = before.precision[i] as number;
  }
}
