import { SLIP_DENSITY, type Group } from './group';
import { healthyDensity, seenBefore } from './healthy';
import { addSay, blurs, clearSay, noSay, type Say } from './nuisance';

// What a load, metal or sound insulation showed in one reading it shows again in the next: that is charged once, by how surely it was
// the one that showed it there.

/** What is hardly ever so, as a load that stayed in against the record, is not taken as settled by one reading. */
const SELDOM = 0.1;
/** As sure as it gets that a thing is in, or out, for what another reading showed. */
const SURELY_IN = 0.98;

/** The readings of one cell, met one after another in their order, and by what each was shown. */
export class Earlier {
  /** What else may have shown the reading met last. */
  readonly say = noSay();
  /** The thing that has the largest say in it, by its number, or -1; and the reading with all of it, ohms. */
  by = -1;
  least = 0;
  /** By reading: the chance that something else showed it (not a number: nothing else could), and that sound insulation did. */
  private readonly byOthers: Float64Array;
  private readonly bySound: Float64Array;

  constructor(private readonly groups: readonly Group[]) {
    this.byOthers = new Float64Array(groups.length);
    this.bySound = new Float64Array(groups.length);
  }

  /** Reading `n`, where the cell foresees `plain` ohms, and `ohmOf` with all of a thing that may be there. */
  meet(n: number, plain: number, ohmOf: (m: Group['others'][number]) => number): Say {
    const g = this.groups[n] as Group;
    const { say } = this;
    clearSay(say);
    this.byOthers[n] = NaN;
    this.bySound[n] = 0;
    const before = this.nearest(g);
    const inBefore = before === undefined ? NaN : (this.byOthers[before] as number);
    let prior = 0;
    for (const m of g.others) if (m.share > SELDOM) prior += m.share;
    const known = prior > 0 && !Number.isNaN(inBefore);
    const now = known ? Math.min(SURELY_IN, Math.max(1 - SURELY_IN, inBefore)) / prior : 1;
    const again = known ? (this.groups[before as number]?.y ?? null) : null;
    this.by = -1;
    for (const [i, m] of g.others.entries()) {
      const least = Math.max(g.floorOhm, ohmOf(m));
      if (blurs(least, plain) && (this.by < 0 || m.share > (g.others[this.by]?.share ?? 0))) [this.by, this.least] = [i, least];
      addSay(say, m.share > SELDOM ? m.share * now : m.share, m.own, g.fn, g.above ? null : g.ohm, least, plain, g.y, again, g.againSd);
    }
    // What shows by one thing does not show by another: together they leave the cell itself a little at the least.
    say.share = Math.min(say.share, SURELY_IN);
    return say;
  }

  /** Of the readings before that showed the same, the one nearest to it in which something else had a say at all: what the cell itself shows tells nothing of that. */
  private nearest(g: Group): number | undefined {
    let best: number | undefined;
    const far = (m: number): number => Math.abs((this.groups[m] as Group).y - g.y);
    for (const m of g.before) if (!Number.isNaN(this.byOthers[m]) && (best === undefined || far(m) < far(best))) best = m;
    return best;
  }

  /** ln likelihood of the reading just met as sound insulation, foreseen at `ohm`. */
  sound(n: number, ohm: number): number {
    const g = this.groups[n] as Group;
    const plain = (1 - this.say.share) * healthyDensity(ohm, g.ohm, seenBefore(g, g.before[0] === undefined ? 0 : this.bySound[g.before[0]]));
    this.shownWith(n, plain);
    this.bySound[n] = plain / (plain + this.say.density + g.slip * SLIP_DENSITY + 1e-300);
    return Math.log((1 - g.slip) * (plain + this.say.density) + g.slip * SLIP_DENSITY);
  }

  /** The cell itself shows the reading just met with density `plain`, slips apart. */
  shownWith(n: number, plain: number): void {
    if (this.say.share > 0) this.byOthers[n] = this.say.density / (this.say.density + plain + 1e-300);
  }
}
