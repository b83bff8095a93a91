import type { Suspect } from '../faults';

/**
 * A suspect's unknowns are split into cells: an interval of resistance each, so that one wide unknown becomes
 * a few narrow ones. t = log10(ohm + 0.1) inside a cell; an open cell has no resistance.
 */
export interface Cells {
  readonly count: number;
  readonly suspect: Int32Array;
  /** Whose formulas it is read by: the suspect's own, or those of it with switches otherwise than recorded (its number among `asTheyStand`). */
  readonly answer: Int32Array;
  readonly logPrior: Float64Array;
  /** Centre and s.d. of t; NaN centre: the resistance is not unknown here. */
  readonly tCentre: Float64Array;
  readonly tSd: Float64Array;
  /** Fixed resistance where t does not apply: Infinity (open) or 0. */
  readonly fixedOhm: Float64Array;
  /** 1 where the place along the cable is unknown too. */
  readonly along: Uint8Array;
}

const CELL_WIDTH = 1.05;

/** log10 of the ohms between which a contact of line and neutral burns out, trips, or is damp that somebody would feel elsewhere first; and how rarely it is met there. */
const BURNS = [0.6, 6.4] as const;
const BURNT_OUT = 0.05;

export const ohmOfT = (t: number): number => Math.max(0, Math.exp(t * Math.LN10) - 0.1);
export const tOfOhm = (ohm: number): number => Math.log10(ohm + 0.1);

/** Likeliest ohms of a cell after readings; Infinity: open. */
export const ohmOfCell = ({ cells, t }: { readonly cells: Pick<Cells, 'tCentre' | 'fixedOhm'>; readonly t: ArrayLike<number> }, c: number): number => (Number.isNaN(cells.tCentre[c]) ? (cells.fixedOhm[c] as number) : ohmOfT(t[c] as number));

interface Draft { suspect: number; answer: number; prior: number; centre: number; sd: number; fixed: number; along: number }

export function cellsOf(suspects: readonly Suspect[]): Cells {
  let other = suspects.length;
  const drafts = suspects.flatMap((s, i) => {
    if (s.beyond === undefined) return draftsOf(s, i).map((d): Draft => ({ ...d, answer: i }));
    const each = draftsOf(s, i);
    const seen = { answer: i, share: 1 - s.beyond.reduce((sum, b) => sum + b.share, 0) };
    return [seen, ...s.beyond.map(({ share }) => ({ answer: other++, share }))].flatMap(({ answer, share }) => each.map((d): Draft => ({ ...d, answer, prior: d.prior * share })));
  });
  return {
    count: drafts.length,
    suspect: Int32Array.from(drafts, (d) => d.suspect),
    answer: Int32Array.from(drafts, (d) => d.answer),
    logPrior: Float64Array.from(drafts, (d) => Math.log(d.prior)),
    tCentre: Float64Array.from(drafts, (d) => d.centre),
    tSd: Float64Array.from(drafts, (d) => d.sd),
    fixedOhm: Float64Array.from(drafts, (d) => d.fixed),
    along: Uint8Array.from(drafts, (d) => d.along),
  };
}

type Sized = Omit<Draft, 'answer'>;

function draftsOf(s: Suspect, suspect: number): Sized[] {
  const fixed = (ohm: number, prior: number): Sized => ({ suspect, prior, centre: NaN, sd: 0, fixed: ohm, along: 0 });
  const { unknown } = s;
  if (unknown.of === 'nothing') return [fixed(0, s.prior)];
  if (unknown.of === 'shunt') {
    const cells = spread(suspect, s.prior, unknown.ohm, unknown.alongCable ? 1 : 0);
    const burnt = cells.map((c) => (unknown.burns && c.centre > BURNS[0] && c.centre < BURNS[1] ? BURNT_OUT : 1));
    const total = burnt.reduce((x, y) => x + y, 0);
    return cells.map((c, i) => ({ ...c, prior: ((s.prior * (burnt[i] as number)) / total) * (s.felt?.(ohmOfT(c.centre)) ?? 1) }));
  }
  const openShare = !unknown.open ? 0 : unknown.ohm === null ? 1 : 0.5;
  return [
    ...(openShare > 0 ? [fixed(Infinity, s.prior * openShare)] : []),
    ...(unknown.ohm === null ? [] : spread(suspect, s.prior * (1 - openShare), unknown.ohm, 0)),
  ];
}

function spread(suspect: number, prior: number, ohm: readonly [number, number], along: number): Sized[] {
  const low = tOfOhm(ohm[0]);
  const width = tOfOhm(ohm[1]) - low;
  const n = Math.max(1, Math.round(width / CELL_WIDTH));
  return Array.from({ length: n }, (_, i): Sized => ({
    suspect, prior: prior / n, centre: low + ((i + 0.5) * width) / n, sd: width / n / Math.sqrt(12), fixed: 0, along,
  }));
}
