import { SLIP_DENSITY, SLIP_OFF, type Group } from './group';
import { healthyDensity, seenBefore } from './healthy';
import { meter } from '../tester';
import { addSay, blurs, clearSay, noSay, scaleSay, SELDOM, type Say } from './nuisance';

// What a load, metal or sound insulation showed in one reading it shows again in the next: that is charged once, by how surely it was
// the one that showed it there.

/** Chance that the element of a faulty appliance conducts: it is in, though it may be switched off, or electronics. */
const WITH_ITS_LOAD = 0.8;
const IN_LINE = 10;
/** What is left at least of the chance that an appliance stayed in after all, where it did not show: other loads may have. */
const HARDLY = 0.2;
/** As sure as it gets that a thing is in, or out, for what another reading showed. */
const SURELY_IN = 0.98;

/** Chance from which metal that showed one reading carries the next with the same probe, wherever it is: what was taken off elsewhere since does not part it. Where it did not show, it does not the next time. */
const CARRIED = 0.5;

/** What is asked of a reading here. */
export type Met = Pick<Group, 'fn' | 'above' | 'ohm' | 'y' | 'again' | 'againSd' | 'sameSd' | 'floorOhm' | 'slip' | 'others' | 'before' | 'repeats' | 'inLoad'>;

/** The readings of one cell, met one after another in their order, and by what each was shown. */
export class Earlier {
  /** What else may have shown the reading met last. */
  readonly say = noSay();
  /** The thing that has the largest say in it, by its number, or -1; and the reading with all of it, ohms. */
  by = -1;
  least = 0;
  /** By reading: the chance that a load showed it, and that metal did (not a number: it could not), and that sound insulation did. */
  private readonly byLoads: Float64Array;
  private readonly byMetal: Float64Array;
  private readonly bySound: Float64Array;
  /** By reading: what the cell foresaw for it, and with all of what may be there, ohms. */
  private readonly plain: Float64Array;
  private readonly leasts: Float64Array[];

  /** Of a faulty appliance: the chance that its element conducts, by the readings so far; whether the reading met last goes through it. */
  private itsLoad = WITH_ITS_LOAD;
  private throughIt = false;
  /** Of a faulty appliance that was taken out: what is left of the chance that it stayed in after all; whether the reading met last had it out. */
  private stayedIn = 1;
  private itself = false;
  /** What loads, metal, and of the loads those that stayed in against the record, have of the say in the reading met last: share and density of each. */
  private readonly had = { load: { share: 0, density: 0 }, metal: { share: 0, density: 0 }, left: { share: 0, density: 0 } };

  constructor(private readonly groups: readonly Met[]) {
    this.byLoads = new Float64Array(groups.length);
    this.byMetal = new Float64Array(groups.length);
    this.bySound = new Float64Array(groups.length);
    this.plain = new Float64Array(groups.length);
    this.leasts = groups.map((g) => new Float64Array(g.others.length));
  }

  /** Before the first reading of a cell. */
  begin(): void {
    this.itsLoad = WITH_ITS_LOAD;
    this.stayedIn = 1;
  }

  /** Reading `n` under a suspect, where the cell foresees `plain` ohms, and `ohmOf` with all of a thing that may be there. */
  meet(n: number, suspect: number, plain: number, ohmOf: (m: Group['others'][number]) => number): Say {
    const g = this.groups[n] as Met;
    const { say } = this;
    clearSay(say);
    this.byLoads[n] = NaN;
    this.byMetal[n] = NaN;
    this.bySound[n] = 0;
    const { load, metal, left } = this.had;
    load.share = load.density = metal.share = metal.density = left.share = left.density = 0;
    this.by = -1;
    this.plain[n] = plain;
    this.throughIt = false;
    const leasts = this.leasts[n] as Float64Array;
    let [loadBlurs, metalBlurs] = [false, false];
    for (let i = 0; i < g.others.length; i++) {
      const m = g.others[i] as Group['others'][number];
      leasts[i] = Math.max(g.floorOhm, ohmOf(m));
      if (!blurs(leasts[i] as number, plain)) continue;
      if (m.is === 'load') loadBlurs = true;
      else metalBlurs = true;
    }
    const stands = g.inLoad(suspect);
    this.itself = stands === 'out';
    // Most readings are what they are whatever else is there.
    if (!loadBlurs && !metalBlurs) return say;
    const same = this.repeated(n, g);
    const nearest = loadBlurs ? (same ?? this.nearest(g)) : undefined;
    const inBefore = nearest === undefined ? NaN : (this.byLoads[nearest] as number);
    // In line with the fault it is what the reading goes through; beside it most of it hardly shows.
    const through = (m: Group['others'][number], i: number): boolean => stands === 'in' && m.share > SELDOM && plain > IN_LINE * (leasts[i] as number);
    const shareOf = (m: Group['others'][number], i: number): number => (through(m, i) ? this.itsLoad : m.share);
    let prior = 0;
    for (const [i, m] of g.others.entries()) {
      if (through(m, i)) this.throughIt = true;
      if (m.share > SELDOM) prior += shareOf(m, i);
    }
    const known = prior > 0 && !Number.isNaN(inBefore);
    const now = known ? Math.min(SURELY_IN, Math.max(1 - SURELY_IN, inBefore)) / prior : 1;
    const again = known ? this.groups[nearest as number] : undefined;
    const carried = metalBlurs ? g.repeats.find((m) => (this.byMetal[m] as number) > CARRIED && this.foreseenAlike(m, n)) : undefined;
    const metalBefore = carried ?? (metalBlurs ? g.repeats.find((m) => !Number.isNaN(this.byMetal[m]) && this.foreseenAlike(m, n)) : undefined);
    const metalShare = (share: number): number => (metalBefore === undefined ? share : Math.min(SURELY_IN, Math.max(1 - SURELY_IN, this.byMetal[metalBefore] as number)));
    let none = 1;
    for (let i = 0; i < g.others.length; i++) {
      const m = g.others[i] as Group['others'][number];
      const least = leasts[i] as number;
      if (!blurs(least, plain)) continue;
      const { share: shareBefore, density: densityBefore } = say;
      if (this.by < 0 || m.share > (g.others[this.by]?.share ?? 0)) [this.by, this.least] = [i, least];
      const share = m.is === 'metal' ? metalShare(m.share) : m.share > SELDOM ? shareOf(m, i) * now : m.share * (this.itself ? this.stayedIn : 1);
      const shown = m.is === 'load' ? again : carried === undefined ? undefined : this.groups[carried];
      addSay(say, share, m.own, g.fn, g.above ? null : g.ohm, least, plain, g.y, shown === undefined ? null : shown.above ? 'above' : shown.y, m.is === 'metal' || same !== undefined ? g.sameSd : g.againSd);
      const more = say.share - shareBefore;
      this.had[m.is].share += more;
      this.had[m.is].density += say.density - densityBefore;
      if (m.is === 'load' && m.share <= SELDOM) {
        left.share += more;
        left.density += say.density - densityBefore;
      }
      none *= Math.max(1 - SURELY_IN, 1 - more);
    }
    // Things that are there or not by themselves: together they leave the cell itself what none of them has a say in.
    const together = (1 - none) / say.share;
    if (together < 1) {
      scaleSay(say, together);
      load.density *= together;
      metal.density *= together;
      left.density *= together;
    }
    return say;
  }

  /** Of the readings before that showed the same, the one nearest to it in which something else had a say at all: what the cell itself shows tells nothing of that. */
  private nearest(g: Met): number | undefined {
    return g.before.find((m) => !Number.isNaN(this.byLoads[m]));
  }

  /** Of the readings before with the same probe, where nothing changed since that concerns the cell and something else had a say, the one nearest to it. */
  private repeated(n: number, g: Met): number | undefined {
    let best: number | undefined;
    const far = (m: number): number => Math.abs((this.groups[m] as Met).y - g.y);
    for (const m of g.repeats) if (!Number.isNaN(this.byLoads[m]) && this.sameFor(m, n) && (best === undefined || far(m) < far(best))) best = m;
    return best;
  }

  /** Does the cell itself foresee two readings alike? Beyond its range the meter tells nothing apart. */
  private foreseenAlike(m: number, n: number): boolean {
    const { topOhm } = meter[(this.groups[n] as Met).fn];
    const shown = (i: number): number => Math.min(topOhm, this.plain[i] as number);
    return alike(shown(m), shown(n));
  }

  /** Does the cell foresee two readings alike, with what may be there and without, and may as much be there? */
  private sameFor(m: number, n: number): boolean {
    const [x, y] = [this.leasts[m] as Float64Array, this.leasts[n] as Float64Array];
    return x.length === y.length && this.foreseenAlike(m, n) && x.every((least, i) => alike(least, y[i] as number) && this.groups[m]?.others[i]?.share === this.groups[n]?.others[i]?.share);
  }

  /** ln likelihood of the reading just met as sound insulation, foreseen at `ohm`. */
  sound(n: number, ohm: number): number {
    const g = this.groups[n] as Met;
    const before = g.before.find((m) => this.soundThen(m) > 0.5) ?? g.before[0];
    const seen = before === undefined ? seenBefore(g, 0, g.again) : seenBefore(g, this.soundThen(before), (this.groups[before] as Met).y);
    const plain = (1 - this.say.share) * healthyDensity(ohm, g.ohm, seen);
    this.shownWith(n, plain);
    this.bySound[n] = plain / (plain + this.say.density + g.slip * SLIP_DENSITY + 1e-300);
    return Math.log((1 - g.slip) * (plain + this.say.density) + g.slip * SLIP_DENSITY);
  }

  /** Chance that sound insulation showed reading `m`, if it shows the one just met: had a load or metal shown it that is still there, it would show this one as well, and that is charged in its share. */
  private soundThen(m: number): number {
    const { load, metal } = this.had;
    const still = (load.share > 0 ? this.byLoads[m] || 0 : 0) + (metal.share > 0 ? this.byMetal[m] || 0 : 0);
    return Math.min(1, (this.bySound[m] as number) / Math.max(1 - SURELY_IN, 1 - still));
  }

  /** ln likelihood of the reading just met, which was off scale, where the cell itself goes off scale with chance `p`. */
  offScale(n: number, p: number): number {
    const { slip } = this.groups[n] as Met;
    const own = (1 - this.say.share) * p;
    this.shownWith(n, own);
    return Math.log((1 - slip) * (own + this.say.density) + slip * SLIP_OFF + 1e-300);
  }

  /** The cell itself shows the reading just met with density `plain`, slips apart. */
  shownWith(n: number, plain: number): void {
    if (this.say.share <= 0) return;
    const all = this.say.density + plain + 1e-300;
    const { load, metal } = this.had;
    if (load.share > 0) this.byLoads[n] = load.density / all;
    if (metal.share > 0) this.byMetal[n] = metal.density / all;
    // One element conducts or does not, whatever is read through it: that is found once.
    if (this.itself && this.had.left.share > 0) this.stayedIn = Math.max(HARDLY, Math.min(this.stayedIn, (this.stayedIn * this.had.left.density) / all / this.had.left.share));
    if (this.throughIt) this.itsLoad = Math.min(SURELY_IN, Math.max(1 - SURELY_IN, load.density / all));
  }
}

/** Ohms that no meter tells apart. */
const alike = (x: number, y: number): boolean => x === y || Math.abs(x - y) < 0.01 * Math.min(x, y);
