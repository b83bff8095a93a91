import { logSumExp } from '../numeric';
import { respond } from '../probes';
import { Assembly, INSULATION_FROM } from './assembly';
import type { AsTaken } from './asTaken';
import type { BeliefEngine } from './belief';
import { ohmOfT } from './cells';
import type { Estimates } from './estimates';
import type { Group } from './group';
import { nameOfReadings, standingOf, standAgain, type Kept, type SoundPart, type Weighed } from './memory';
import { Parts } from './parts';
import { clamp, solve3 } from './solve3';

/** Readings that may be taken for slips beyond those that already stand apart one by one. */
const MOST_DROPPED = 6;
/** As far off as a reading is said to be, s.d. */
const WIDE_OFF = 6;
/** Further behind than what loads add, in ln. */
const HOPELESS = 20;
/** Further behind than slopes drawn elsewhere make up for, in ln; and where the sound circuit shows what these change. */
const OUT_OF_REACH = 9;
const OUT_OF_REACH_SHOWN = 6;
/** A climb has arrived where its next step gains less, in ln. */
const ARRIVED = 2e-3;
/** What a reading that was taken for a slip, and is none where the plan is otherwise, gains at the most, in ln. */
const PASSED_OVER = 8;
/** Weighed to the end: for any best. */
const IN_FULL = -Infinity;
/** So often slopes are drawn anew at the most. */
const MOST_TAKEN = 3;
/** Sizes across a cell, s.d. from its middle: five of equal weight. */
const NODES = [-1.386, -0.693, 0, 0.693, 1.386];
/** Times the precision of the cell from which its readings tell the size. */
const SIZED = 3;

/** Where a climb stands: the cell's unknowns, what the plan is taken for and held to be, and which readings are taken for slips. */
interface Stand {
  readonly at: readonly [number, number, number];
  readonly taken: AsTaken;
  readonly held: readonly number[];
  readonly apart: readonly number[];
  readonly dropped: Uint8Array;
  readonly trusting: boolean;
}

/** The evidence of one cell: its own unknowns and what is off on the plan where they suit the readings best, and what may be a slip left out. */
export class Correlated extends Assembly {
  private readonly step = new Float64Array(3);
  private readonly parts: Parts;
  /** What each part is worth in the sound circuit; 0 where the insulation of the whole moves it, for there every cell weighs it. */
  private readonly worth: Float64Array;
  private readonly soundParts: SoundPart[] = [];
  /** 1 for a reading that does not count in the best cell so far: what all pass over parts none of them. */
  private readonly bestPasses: Uint8Array;
  /** 1 for the parts of the cell in hand, and their readings. */
  private readonly inHand: Uint8Array;
  /** So far behind the best, in ln, the cell weighed last need not be weighed further than it was. */
  reach: Weighed['reach'] = IN_FULL;
  /** What the plan owes the readings in hand beyond the slopes that they are weighed by, in ln: 0 where these are drawn where they are. */
  private owed = 0;

  constructor(
    engine: BeliefEngine,
    groups: readonly Group[],
    /** By cell, the readings that it may answer otherwise than the sound circuit. */
    private readonly touched: readonly Int32Array[],
    /** 1 for a reading that the insulation of the whole moves, whatever the cell. */
    private readonly always: Uint8Array,
  ) {
    super(engine, groups);
    this.parts = new Parts(groups, this.sections + this.circuits, (n) => this.soundRow(n), (n) => always[n] === 1);
    this.bestPasses = new Uint8Array(groups.length);
    this.inHand = new Uint8Array(this.parts.rows.length);
    for (const rows of this.parts.rows) this.soundParts.push(this.soundPart(rows));
    this.worth = Float64Array.from(this.parts.rows, (rows, i) => (rows.some((n) => always[n] === 1) ? 0 : (this.soundParts[i] as SoundPart).worth));
  }

  /** Some readings in the sound circuit. */
  private soundPart(rows: readonly number[]): SoundPart {
    const { soundParts } = this.engine.memory;
    const name = nameOfReadings(this.groups, rows);
    let found = soundParts.get(name);
    if (found === undefined) {
      this.rows = rows;
      this.t = 0;
      this.d = 0.5;
      this.s = 0;
      const drawn = this.asDrawn(0);
      this.planOff();
      const apart = [...this.off.taken];
      const there = this.whereItIs(0, drawn, -Infinity);
      soundParts.set(name, (found = { worth: this.throughLoads(0, there, -Infinity), apart, gained: there - drawn, passed: this.passedRows() }));
    }
    return found;
  }

  /** Slopes of a reading with lengths in the sound circuit; null where these do not move it. */
  private soundRow(n: number): Float64Array | null {
    const group = this.groups[n] as Group;
    if (group.above || respond(group.sound, 0, 0.5, 1) >= INSULATION_FROM) return null;
    return this.lengthRow(n, 0, group.sound, 0, 1);
  }

  /** ln evidence of cell `c`; moves its unknowns and precision to where they now stand. `best0`: the best evidence so far; `kept`: what is known of the cell already. */
  evidence(c: number, e: Estimates, best0: number, kept?: Kept): number {
    this.t = e.t[c] as number;
    this.d = e.d[c] as number;
    this.s = e.s[c] as number;
    const rest = this.takeUp(c, kept);
    const of = nameOfReadings(this.groups, this.rows);
    if (kept?.weighed?.of === of && isDeepEnough(kept.weighed, best0 - rest)) {
      standAgain(e, c, kept.weighed, e.logWeight[c] as number);
      this.reach = kept.weighed.reach;
      if (kept.weighed.evidence + rest > best0) this.leads(kept.weighed.passed);
      return kept.weighed.evidence + rest;
    }
    this.reach = IN_FULL;
    const best = this.bestOf(c, best0 - rest);
    e.t[c] = this.t;
    e.d[c] = this.d;
    e.s[c] = this.s;
    e.precision.set(this.h, 6 * c);
    this.planOff();
    this.moveByTail(c, e);
    const passed = this.passedRows();
    if (best + rest > best0) this.leads(passed);
    if (kept) kept.weighed = { ...standingOf(e, c, best), of, reach: this.reach, passed };
    return best + rest;
  }

  /** Of the rows in hand, by their order, those that do not count. */
  private passedRows(): number[] {
    return [...this.rows.keys()].filter((k) => this.passed[this.rows[k] as number] === 1);
  }

  /** The cell in hand is the best so far, and these of its rows do not count in it; of the readings of other parts it makes what the sound circuit does. */
  private leads(passed: readonly number[]): void {
    this.bestPasses.fill(0);
    for (const k of passed) this.bestPasses[this.rows[k] as number] = 1;
    for (const [i, part] of this.soundParts.entries()) if (this.inHand[i] !== 1) for (const k of part.passed) this.bestPasses[this.parts.rows[i]?.[k] ?? -1] = 1;
  }

  /** How far each reading is off in cell `c` with all others given, s.d.: what loads or sound insulation show is not, a slip is as far off as can be. */
  misfits(c: number, e: Estimates): Float64Array {
    this.t = e.t[c] as number;
    this.d = e.d[c] as number;
    this.s = e.s[c] as number;
    this.rows = [...this.groups.keys()];
    this.bestOf(c, -Infinity);
    this.planOff();
    const off = Float64Array.from(this.unlikely, (u) => u * WIDE_OFF);
    const { given } = this.off;
    if (given) for (let a = 0; a < given.count; a++) off[this.inlier[a] as number] = Math.min(WIDE_OFF, Math.abs(given.solved[4 * a] as number) / Math.sqrt(given.inverse[a * given.stride + a] as number));
    return off;
  }

  /** Takes up the readings of the parts that a cell touches; the worth of all others. */
  private takeUp(c: number, kept?: Kept): number {
    const { inHand, parts } = this;
    inHand.fill(0);
    const own = c === 0 ? [...this.always.keys()].filter((n) => this.always[n] === 1) : (this.touched[c] as Int32Array);
    for (const n of own) inHand[parts.of[n] as number] = 1;
    const columns = kept?.columns ?? this.columnsOf(c, own);
    if (kept) kept.columns = columns;
    parts.mark(columns, inHand);
    let rest = 0;
    const rows: number[] = [];
    for (const [i, of] of parts.rows.entries()) {
      if (inHand[i] === 1) rows.push(...of);
      else rest += this.worth[i] as number;
    }
    this.rows = rows;
    return rest;
  }

  /** Columns of the slopes that some readings touch in a cell: the way round that a fault opens may run under readings that it does not move itself. */
  private columnsOf(c: number, readings: Iterable<number>): number[] {
    const suspect = this.engine.cells.answer[c] as number;
    const x = Number.isNaN(this.engine.cells.tCentre[c]) ? (this.engine.cells.fixedOhm[c] as number) : ohmOfT(this.t);
    const columns = new Set<number>();
    this.climbs++;
    for (const n of readings) {
      const group = this.groups[n] as Group;
      const r = group.response(suspect);
      if (r.kind === 0 || group.above || respond(r, x, this.d, 1) >= INSULATION_FROM) continue;
      for (const [i, slope] of this.lengthRow(n, suspect, r, x, 1).entries()) if (slope !== 0) columns.add(i);
    }
    return [...columns];
  }

  /** ln evidence of the readings in hand. */
  private bestOf(c: number, best0: number): number {
    return this.throughLoads(c, this.whereItIs(c, this.asDrawn(c), best0), best0);
  }

  /** By slopes of the drawing. */
  private asDrawn(c: number): number {
    this.hold([], []);
    this.dropped.fill(0);
    this.trusting = false;
    const first = this.climb(c);
    const { doubted } = this;
    const best = this.dropping(c, first);
    if (doubted < 2) return best;
    // Several readings that each look wrong may be right together: one cable that insulates badly, or a thinner core, shows in all of them.
    return this.ifBetter(c, best, () => {
      this.trusting = true;
      this.dropped.fill(0);
      return this.dropping(c, this.climb(c));
    });
  }

  /**
   * What is read through a load of any ohms says of a fault's size hardly more than that it is less: the evidence is the mean over the cell, and
   * what the load adds where its own ohms are lost. At the best size alone a load of no ohms would be taken for granted.
   */
  private throughLoads(c: number, best: number, best0: number): number {
    const { cells } = this.engine;
    const [centre, sd] = [cells.tCentre[c] as number, cells.tSd[c] as number];
    const prior = 1 / sd ** 2;
    if (Number.isNaN(centre) || !this.byOthers || (this.h[0] as number) > SIZED * prior || best < best0 - HOPELESS) return best;
    const [t, d, s] = [this.t, this.d, this.s];
    const at = NODES.map((x) => {
      this.t = centre + x * sd;
      return this.assemble(c, false) + 0.5 * prior * (this.t - centre) ** 2 + this.occam(c) + this.planOff();
    });
    this.t = t;
    this.lostBeside = true;
    const lost = this.assemble(c, false) + this.occam(c) + this.planOff();
    this.lostBeside = false;
    const most = Math.max(lost, ...at);
    const weights = at.map((v) => Math.exp(v - most) / NODES.length);
    const spread = weights.reduce((sum, w) => sum + w, 0);
    const value = most + Math.log(spread + Math.exp(lost - most)) + this.owed;
    [this.t, this.d, this.s] = [lost > most + Math.log(spread) ? t : centre + (sd * NODES.reduce((sum, x, i) => sum + x * (weights[i] as number), 0)) / spread, d, s];
    this.assemble(c, true);
    return value;
  }

  /** The evidence with readings taken for slips that are better so, one after another; `best`: without. */
  private dropping(c: number, best: number): number {
    for (let k = 0; k < MOST_DROPPED; k++) {
      const before = best;
      // Where dropping the one that stands out most is no way, the next may be.
      for (const n of this.outstanding()) {
        best = this.ifBetter(c, best, () => {
          this.dropped[n] = 1;
          return this.climb(c);
        });
        if (best > before) break;
      }
      if (best === before) break;
    }
    return best;
  }

  /** The better of what stands and of an attempt; what stood comes back where the attempt was none. */
  private ifBetter(c: number, best: number, attempt: () => number): number {
    const before = this.stand();
    const value = attempt();
    if (value > best) return value;
    this.standAt(c, before);
    return best;
  }

  private stand(): Stand {
    return { at: [this.t, this.d, this.s], taken: this.taken.keep(), held: this.held, apart: this.apart, dropped: this.dropped.slice(), trusting: this.trusting };
  }

  private standAt(c: number, { at, taken, held, apart, dropped, trusting }: Stand): void {
    [this.t, this.d, this.s] = at;
    [this.held, this.apart, this.trusting] = [held, apart, trusting];
    this.taken.restore(taken);
    this.dropped.set(dropped);
    this.assemble(c, true);
  }

  /**
   * Where the readings have something far from drawn, the evidence with slopes where it is. `best`: with everything as drawn. What is taken
   * for a slip there may be none here.
   */
  private whereItIs(c: number, best: number, best0: number): number {
    this.planOff();
    const passedOver = [...this.passedOver];
    const apart = [...this.off.taken];
    const gained = this.soundGains(apart);
    const foreseen = best + gained;
    const reach = (gained === 0 ? OUT_OF_REACH : OUT_OF_REACH_SHOWN) + passedOver.filter((n) => this.bestPasses[n] === 0).length * PASSED_OVER;
    this.owed = 0;
    if (foreseen < best0 - reach) {
      this.reach = Math.max(this.reach, reach);
      this.owed = gained;
      return foreseen;
    }
    if (apart.length > 0 || passedOver.length > 0) this.reach = IN_FULL;
    const start = this.stand();
    const drawn = apart.length > 0 || this.planMoves() ? this.inCases(c, apart) : best;
    if (passedOver.length === 0) return drawn;
    return this.ifBetter(c, drawn, () => {
      this.hold([], []);
      this.dropped.fill(0);
      this.trusting = true;
      [this.t, this.d, this.s] = start.at;
      return this.inCases(c, this.all(() => (this.climb(c), [...this.off.taken])), true);
    });
  }

  /** What the sound circuit's evidence of the readings in hand changes by where the plan is off in the same things: that of a cell which owes as much to them changes as much. */
  private soundGains(apart: readonly number[]): number {
    let sum = 0;
    for (const [i, part] of this.soundParts.entries()) if (this.inHand[i] === 1 && part.apart.length > 0 && part.apart.every((a) => apart.includes(a))) sum += part.gained;
    return sum;
  }

  /**
   * With nothing off but lengths as guesses go, and with the things that carry the readings held to be off, one more each time: these are
   * the cases that there are, and it is their sum.
   */
  private inCases(c: number, apart: readonly number[], counting = false): number {
    const drawn = this.caseOf(c, apart, apart, counting);
    // Slopes of the drawing may have carried a slip, which shows here.
    const all = this.dropping(c, drawn);
    const from = this.stand();
    const cases = [{ value: all === drawn ? all : this.caseOf(c, apart, apart, counting), stand: this.stand() }];
    for (let k = 0; k < apart.length; k++) {
      this.standAt(c, from);
      cases.push({ value: this.caseOf(c, apart.slice(0, k), apart, counting), stand: this.stand() });
    }
    this.standAt(c, cases.reduce((x, y) => (y.value > x.value ? y : x)).stand);
    return logSumExp(cases.map((x) => x.value));
  }

  /** With some things held to be far off; slopes are drawn where the readings have everything. `counting`: all of them, on the way there. */
  private caseOf(c: number, held: readonly number[], apart: readonly number[], counting = false): number {
    this.hold(held, apart);
    if (counting) this.passed.fill(0);
    this.counting = true;
    this.steps(c);
    for (let i = 0; i < MOST_TAKEN && this.takeUpPlan(c); i++) this.steps(c);
    this.counting = false;
    return this.steps(c) + this.occam(c) + this.planOff();
  }

  /** With all readings counting. */
  private all<T>(what: () => T): T {
    this.passed.fill(0);
    this.counting = true;
    const found = what();
    this.counting = false;
    return found;
  }

  /** Takes lengths and areas for what the readings in hand make of them, so far as that makes things likelier; false where they are much as they were taken. */
  private takeUpPlan(c: number): boolean {
    if (!this.planMoves()) return false;
    const { taken } = this;
    const [before, from] = [this.joint, taken.keep()];
    for (const part of [1, 0.5, 0.25]) {
      taken.moveFrom(from, this.longer, this.thinner, part);
      this.assemble(c, false);
      if (this.joint > before) return true;
    }
    taken.restore(from);
    this.assemble(c, false);
    return false;
  }

  private climb(c: number): number {
    return this.steps(c) + this.occam(c) + this.planOff();
  }

  /** Newton steps. A cell that is hopelessly behind before them may be none after: which readings are slips shows on the way. */
  private steps(c: number): number {
    let value = this.assemble(c, true);
    for (let i = 0; i < 4; i++) {
      const before = [this.t, this.d, this.s] as const;
      if (!solve3(this.h, this.g, this.step) || this.foreseenGain() < ARRIVED) break;
      this.t += clamp(this.step[0] as number, 0.6);
      this.d = Math.min(1, Math.max(0, this.d + clamp(this.step[1] as number, 0.3)));
      this.s += clamp(this.step[2] as number, 1);
      const after = this.assemble(c, false);
      if (after < value + 1e-3) {
        if (after < value) {
          [this.t, this.d, this.s] = before;
          value = this.assemble(c, false);
        } else value = after;
        break;
      }
      value = after;
    }
    return value;
  }

  /** What the step in hand gains, in ln, by the slopes where it starts. */
  private foreseenGain(): number {
    return 0.5 * this.step.reduce((sum, x, i) => sum + x * (this.g[i] as number), 0);
  }

  /** Where what is off on the plan carries the cell, its unknowns are as that leaves them. */
  private moveByTail(c: number, e: Estimates): void {
    const { step, h } = this.off;
    if (!step) return;
    const [t, d, s] = step;
    e.t[c] = this.t + clamp(t as number, 0.6);
    e.d[c] = Math.min(1, Math.max(0, this.d + clamp(d as number, 0.3)));
    e.s[c] = this.s + clamp(s as number, 1);
    e.precision.set(h, 6 * c);
  }
}

/** Would weighing it again go no further than it went? */
const isDeepEnough = ({ reach, evidence }: Weighed, best0: number): boolean => evidence < best0 - reach;
