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
  private readonly before: Weighing | null;
  /** What the readings since add to a cell at the most, in ln. */
  private readonly most: number;
  private readonly now: Weighing;
  /** ln weight of the best cell of which is known what it was worth before, and what the readings since added to it. */
  private known = -Infinity;
  private added = 0;

  constructor(private readonly engine: BeliefEngine, groups: readonly Group[]) {
    const readings = new Set(groups.map(nameOf));
    const { count } = engine.cells;
    const unknown = (): Float64Array => new Float64Array(count).fill(NaN);
    this.now = { readings, evidence: unknown(), atMost: unknown(), reach: new Float64Array(count).fill(FAR_BEHIND) };
    this.before = engine.memory.weighedBefore(readings);
    this.most = groups.reduce((sum, g) => (this.before?.readings.has(nameOf(g)) ? sum : sum + likeliest(engine, g)), SEEN_ANEW);
    engine.memory.weighed(this.now);
  }

  /** A cell was weighed: ln evidence, and how far behind the best, in ln, it need not be weighed further. */
  weighed(c: number, evidence: number, reach: number): void {
    const { now, before } = this;
    now.evidence[c] = now.atMost[c] = evidence;
    now.reach[c] = Math.max(FAR_BEHIND, reach);
    const weight = evidence + this.prior(c);
    this.best = Math.max(this.best, weight);
    const was = before?.evidence[c] ?? NaN;
    if (Number.isNaN(was) || weight <= this.known) return;
    this.known = weight;
    this.added = evidence - was;
  }

  /** Is a cell too far behind, whatever it makes of the readings since? Then it counts as so far behind as before. */
  isHopeless(c: number): boolean {
    const { now, before } = this;
    if (!before) return false;
    const atMost = (before.atMost[c] as number) + this.most;
    if (!(atMost + this.prior(c) < this.best - (before.reach[c] as number))) return false;
    now.atMost[c] = atMost;
    now.reach[c] = before.reach[c] as number;
    return true;
  }

  /** ln weight of a hopeless cell, once all others are weighed: in the readings since it fared as the best did. */
  weightBehind(c: number): number {
    const { now, before } = this;
    const evidence = (before?.evidence[c] as number) + this.added;
    now.evidence[c] = evidence;
    return Math.min(evidence, now.atMost[c] as number) + this.prior(c);
  }

  private prior(c: number): number {
    return this.engine.cells.logPrior[c] as number;
  }
}

const nameOf = (g: Group): string => g.names.join();

/** ln of the density that a reading has at the most. */
const likeliest = (engine: BeliefEngine, g: Group): number => (g.above ? 0 : -Math.log(engine.noiseSd(g.fn, g.ohm, 0, 0, 0) * Math.sqrt(2 * Math.PI)));
