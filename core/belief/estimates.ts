import type { Cells } from './cells';

/** The likeliest unknowns of every cell, their posterior precision (packed tt, td, dd, ts, ds, ss) and ln of the cell's weight, not yet made to sum to 1. */
export class Estimates {
  readonly t: Float64Array;
  readonly d: Float64Array;
  readonly s: Float64Array;
  readonly precision: Float64Array;
  readonly logWeight: Float64Array;
  /** What ln of the weight may gain at the most where the plan is off: readings in cable that fit badly, but for one reason. */
  readonly hope: Float64Array;

  constructor(count: number) {
    this.t = new Float64Array(count);
    this.d = new Float64Array(count);
    this.s = new Float64Array(count);
    this.precision = new Float64Array(6 * count);
    this.logWeight = new Float64Array(count).fill(-Infinity);
    this.hope = new Float64Array(count);
  }

  /** The middle of the cell. */
  startFrom(c: number, cells: Cells): void {
    const centre = cells.tCentre[c] as number;
    this.t[c] = Number.isNaN(centre) ? 0 : centre;
    this.d[c] = 0.5;
    this.s[c] = 0;
  }
}
