import { z } from 'zod';

/** Dead-test functions of a multifunction tester. */
export const TestFunction = z.enum(['continuity', 'insulation']);
export type TestFunction = z.infer<typeof TestFunction>;

/** One range of the person's own meter. Values in ohms. */
export interface MeterRange {
  /** Relative accuracy and the part of it below `coarseBelowOhm`. */
  readonly gain: number;
  readonly coarseGain: number;
  readonly coarseBelowOhm: number;
  /** Lead residual left after nulling, ohms. */
  readonly residualOhm: number;
  readonly digits: number;
  readonly topOhm: number;
  /** Display step at a value, ohms. */
  readonly digitOhm: (valueOhm: number) => number;
  /** Scale of the variance-steadied coordinate y = asinh(R / scaleOhm). */
  readonly scaleOhm: number;
}

export const meter: Readonly<Record<TestFunction, MeterRange>> = {
  continuity: {
    gain: 0.02, coarseGain: 0.02, coarseBelowOhm: 0, residualOhm: 0.02, digits: 2, topOhm: 1e5, scaleOhm: 0.5,
    // 0.01 Ω, or four figures above 99.99 Ω; off scale it hardly matters.
    digitOhm: (v) => (v < 100 ? 0.01 : v < 1e3 ? 0.1 : v < 1e4 ? 1 : v < 1e5 ? 10 : v / 1e3),
  },
  insulation: {
    gain: 0.03, coarseGain: 0.1, coarseBelowOhm: 1e5, residualOhm: 0, digits: 2, topOhm: 999e6, scaleOhm: 2e5,
    digitOhm: (v) => (v < 10e6 ? 0.01e6 : v < 100e6 ? 0.1e6 : 1e6),
  },
};

/** What the display says: a figure in ohms, or beyond the top of the range. */
export type Displayed = { readonly ohm: number } | { readonly above: number };

export const isAbove = (d: Displayed): d is Extract<Displayed, { readonly above: number }> => 'above' in d;

/** The display for a true value, without error: rounded to the meter's digit, or off scale. */
export function displayOf(fn: TestFunction, ohm: number): Displayed {
  const range = meter[fn];
  if (!(ohm <= range.topOhm)) return { above: range.topOhm };
  const digit = range.digitOhm(ohm);
  return { ohm: Math.round(ohm / digit) * digit };
}

/** Variance-steadied coordinate of a reading. */
export function toY(fn: TestFunction, ohm: number): number {
  const x = ohm / meter[fn].scaleOhm;
  return Math.log(x + Math.sqrt(x * x + 1));
}

/** Relative s.d. of a fault's own ohms between two readings with one instrument: what its gain, which they share, leaves. */
export const STEADY_SD = 0.004;
/** The same where the figure would not stand still. */
export const UNSTEADY_SD = 0.05;

/**
 * Standard deviation of the instrument at a value, in ohms: gain, residual and digits as independent uniforms. `own`: the part
 * that is an unknown fault's; one ohmmeter shows it too large or too small by the same share every time, so that readings can
 * be compared more finely than each is true. `steady`: how well that part keeps its value.
 */
export function instrumentSdOhm(fn: TestFunction, ohm: number, own = 0, steady = STEADY_SD): number {
  const r = meter[fn];
  // The ranges of an insulation tester do not share a gain, nor does an ohmmeter with them.
  const common = fn === 'continuity' ? Math.min(Math.max(own, 0), ohm) : 0;
  const gain = (ohm < r.coarseBelowOhm ? r.coarseGain : r.gain) * (ohm - common) * 0.7;
  const digit = r.digitOhm(ohm) * (r.digits * 0.6 + 0.3);
  return Math.sqrt(gain * gain + common * common * steady * steady + r.residualOhm * r.residualOhm * 0.35 + digit * digit);
}
