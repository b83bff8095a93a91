import type { BeliefEngine } from './belief';
import type { Group } from './group';
import type { Weighing } from './memory';

/** So far behind the best, in ln, a cell that was weighed in full is not weighed again. */
const FAR_BEHIND = 10;
/** What it may make, in ln, of the readings that it was weighed with, when those since bear on what else showed them. */
const SEEN_ANEW = 4;

/**
 * How the cells come through reading after reading: what was far behind stays there, unless the readings since, at their very likeliest in it,
 * could have brought it forward. A reading is nowhere likelier than by the error of the instrument alone.
 */
export class Course {
  /** ln weight of the best cell so far. */
  best = -Infinity;
  private bestCell = 0;
  private readonly before: Weighing | null;
  /** What the readings since add to a cell at the most, in ln. */
  private readonly most: number;
  private readonly now: Weighing;

  constructor(private readonly engine: BeliefEngine, groups: readonly Group[]) {
    const readings = new Set(groups.map(nameOf));
    const { count } = engine.cells;
    this.now = { readings, evidence: new Float64Array(count).fill(NaN), reach: new Float64Array(count).fill(FAR_BEHIND) };
    this.before = engine.memory.weighedBefore(readings);
    this.most = groups.reduce((sum, g) => (this.before?.readings.has(nameOf(g)) ? sum : sum + likeliest(engine, g)), SEEN_ANEW);
    engine.memory.weighed(this.now);
  }

  /** A cell was weighed: ln evidence, and how far behind the best, in ln, it need not be weighed further. */
  weighed(c: number, evidence: number, reach: number): void {
    this.now.evidence[c] = evidence;
    this.now.reach[c] = Math.max(FAR_BEHIND, reach);
    const weight = evidence + this.prior(c);
    if (weight <= this.best) return;
    this.best = weight;
    this.bestCell = c;
  }

  /** Is a cell too far behind, whatever it makes of the readings since? Then it counts as so far behind as before. */
  isHopeless(c: number): boolean {
    if (!this.before) return false;
    const atMost = (this.before.evidence[c] as number) + this.most;
    if (!(atMost + this.prior(c) < this.best - (this.before.reach[c] as number))) return false;
    this.now.evidence[c] = atMost;
    this.now.reach[c] = this.before.reach[c] as number;
    return true;
  }

  /** ln weight of a hopeless cell: it fared in the readings since as the best did. */
  weightBehind(c: number): number {
    const { before } = this;
    return before ? (before.evidence[c] as number) + this.prior(c) + this.best - this.prior(this.bestCell) - (before.evidence[this.bestCell] as number) : -Infinity;
  }

  private prior(c: number): number {
    return this.engine.cells.logPrior[c] as number;
  }
}

const nameOf = (g: Group): string => g.names.join();

/** ln of the density that a reading has at the most. */
const likeliest = (engine: BeliefEngine, g: Group): number => (g.above ? 0 : -Math.log(engine.noiseSd(g.fn, g.ohm, 0, 0, 0) * Math.sqrt(2 * Math.PI)));
