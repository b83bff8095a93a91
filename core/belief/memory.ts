import type { Estimates } from './estimates';
import type { Group } from './group';

// What a further reading does not touch is not worked out again. Nothing here is belief: each entry follows from the readings
// that it is kept under, whatever was read before or beside them.

/** Where a cell stands: its unknowns, their precision and its hope (all as in `Estimates`), and ln evidence of the readings in hand there. */
export interface Standing {
  readonly t: number;
  readonly d: number;
  readonly s: number;
  readonly precision: Float64Array;
  readonly evidence: number;
  readonly hope: number;
}

/** The evidence with what readings share: of so many readings, in their order. */
export interface Weighed extends Standing {
  readonly of: string;
  /** It was weighed as far as matters for what is so far, in ln, behind the best; -Infinity: in full. */
  readonly reach: number;
  /** Of these readings, by their order, those that do not count. */
  readonly passed: readonly number[];
}

/** Of one cell with the readings that matter in it. */
export interface Kept {
  rough: Standing | null;
  settled: Standing | null;
  weighed: Weighed | null;
  /** Columns of the slopes that its readings touch there. */
  columns: readonly number[] | null;
}

/** Some readings in the sound circuit: ln of their evidence, what is far off on the plan for them, what that evidence gains where slopes are drawn there, on the drawing's, and which of them, by their order, do not count then. */
export interface SoundPart { readonly worth: number; readonly apart: readonly number[]; readonly gained: number; readonly passed: readonly number[] }

/** What the cells were worth with some readings. */
export interface Weighing {
  /** The readings, by their names. */
  readonly readings: ReadonlySet<string>;
  /** ln evidence by cell, and what it is at the most; not a number where nothing is known. */
  readonly evidence: Float64Array;
  readonly atMost: Float64Array;
  /** So far behind the best, in ln, a cell need not be weighed further than it was. */
  readonly reach: Float64Array;
}

/** Weighings that are kept: the one before the last reading is gone on from. */
const KEPT_WEIGHINGS = 8;
/** Entries of one generation: what is not asked for through two of them is forgotten. */
const GENERATION = 40_000;
/** Readings, each with what it refers to, that are told apart before all is forgotten. */
const MOST_READINGS = 2000;

/** What an engine worked out of its cells, kept for as long as it is asked for. */
export class Memory {
  private readonly numbers = new Map<string, number>();
  private next = 0;
  private now = new Map<string, Kept>();
  private before = new Map<string, Kept>();
  readonly soundParts = new Map<string, SoundPart>();
  private readonly seen = new Map<string, Int8Array>();
  private readonly answers = new Map<number, Float64Array>();
  private weighings: readonly Weighing[] = [];

  /** A number for a reading as the sums take it: the same wherever it is the same. `others`: the readings that it refers to. */
  numberOf(g: Omit<Group, 'number'>, others: readonly Group[]): number {
    const named = (list: readonly number[]): string => list.map((n) => others[n]?.names.join()).join(';');
    const key = `${g.names.join()} ${g.y} ${g.alike} ${g.slip} ${g.steady} ${g.floorOhm} ${g.again} | ${named(g.before)} | ${named(g.repeats)}`;
    let number = this.numbers.get(key);
    if (number === undefined) {
      if (this.numbers.size >= MOST_READINGS) this.forget();
      this.numbers.set(key, (number = this.next++));
    }
    return number;
  }

  /** No number is given twice: what is still in hand stays what it is. */
  private forget(): void {
    for (const map of [this.numbers, this.now, this.before, this.soundParts, this.seen, this.answers]) map.clear();
    this.weighings = [];
  }

  /** What is known of a cell with just these readings, by their name; to be filled. */
  kept(cell: number, readings: string): Kept {
    const key = `${cell} ${readings}`;
    let kept = this.now.get(key);
    if (kept) return kept;
    kept = this.before.get(key) ?? { rough: null, settled: null, weighed: null, columns: null };
    if (this.now.size >= GENERATION) [this.before, this.now] = [this.now, new Map<string, Kept>()];
    this.now.set(key, kept);
    return kept;
  }

  weighed(weighing: Weighing): void {
    this.weighings = [weighing, ...this.weighings].slice(0, KEPT_WEIGHINGS);
  }

  /** The fullest weighing of which every reading is among these. */
  weighedBefore(readings: ReadonlySet<string>): Weighing | null {
    const within = this.weighings.filter((w) => w.readings.size > 0 && [...w.readings].every((n) => readings.has(n)));
    return within.reduce<Weighing | null>((most, w) => (most === null || w.readings.size > most.readings.size ? w : most), null);
  }

  /** By cell, the name of what it answers to a reading; not a number where nobody asked yet. */
  answersIn(reading: number, cells: number): Float64Array {
    let answers = this.answers.get(reading);
    if (!answers) this.answers.set(reading, (answers = new Float64Array(cells).fill(NaN)));
    return answers;
  }

  /** By cell, whether it shows in a reading: 1 or 0, or -1 where nobody asked yet. `scale`: the insulation that it is compared at. */
  showsIn(reading: number, scale: number, cells: number): Int8Array {
    const key = `${reading} ${scale}`;
    let seen = this.seen.get(key);
    if (!seen) this.seen.set(key, (seen = new Int8Array(cells).fill(-1)));
    return seen;
  }
}

/** Takes down where a cell stands. */
export function standingOf(e: Estimates, c: number, evidence: number): Standing {
  return { t: e.t[c] as number, d: e.d[c] as number, s: e.s[c] as number, precision: e.precision.slice(6 * c, 6 * c + 6), evidence, hope: e.hope[c] as number };
}

/** Puts a cell where it stood; `logWeight`: of the evidence, and all else that its weight has. */
export function standAgain(e: Estimates, c: number, standing: Standing, logWeight: number): void {
  e.t[c] = standing.t;
  e.d[c] = standing.d;
  e.s[c] = standing.s;
  e.precision.set(standing.precision, 6 * c);
  e.hope[c] = standing.hope;
  e.logWeight[c] = logWeight;
}

/** Name of some readings in their order. */
export function nameOfReadings(groups: readonly Group[], rows: ArrayLike<number>): string {
  let name = '';
  for (let i = 0; i < rows.length; i++) name += `${(groups[rows[i] as number] as Group).number} `;
  return name;
}
