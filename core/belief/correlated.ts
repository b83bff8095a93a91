import { logSumExp, normalCdf, rootOfSquares } from '../numeric';
import { insulationSlopes, lengthSlopes, respond, type Response } from '../probes';
import { instrumentSdOhm, meter, toY } from '../tester';
import { Taken, type AsTaken } from './asTaken';
import type { BeliefEngine } from './belief';
import { ohmOfT } from './cells';
import { Earlier } from './earlier';
import type { Estimates } from './estimates';
import { BEYOND_RANGE, isSoundInsulation } from './healthy';
import { CEILING_OHM, D_SD, SLIP_DENSITY, SLIP_OFF, ownOhm, scaleSlope, type Group } from './group';
import { Parts } from './parts';
import { clamp, determinant3, solve3 } from './solve3';
import { PlanOff } from './planOff';
import { CPC_TAIL, invert, LENGTH_TAIL, type Gaussian, type Tail } from './tails';

const LOG_2PI = Math.log(2 * Math.PI);
/** Readings that may be taken for slips beyond those that already stand apart one by one. */
const MOST_DROPPED = 6;
/** Readings tried for it, those that stand out most first. */
const MOST_TRIED = 3;

/** From here on a reading owes more to insulation than to copper, ohms. */
const INSULATION_FROM = 1e5;

const NO_SITE = { contact: null, parted: null };

/** As far off as a reading is said to be, s.d. */
const WIDE_OFF = 6;

/** Further behind than any climb gains, in ln. */
const HOPELESS = 20;
/** Further behind than slopes drawn elsewhere make up for, in ln. */
const OUT_OF_REACH = 9;
/** So often slopes are drawn anew at the most. */
const MOST_TAKEN = 3;
/** Readings this far from foreseen, in y, what is off on a plan may still account for. */
const MOST_OFF = 2.5;
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

/**
 * Evidence of one cell with the lengths and the insulation that its readings share: two readings over one cable are wrong together.
 * The residuals of all readings are one Gaussian with covariance J Λ Jᵀ + D (Λ: variance of ln length, or of ln insulation,
 * by section, J: slopes of the readings, D: instruments), its mean moved by the cell's own unknowns in a few Gauss–Newton steps.
 * Rows are readings; sections are columns.
 */
export class Correlated {
  private readonly most: number;
  private readonly sections: number;
  /** Slopes of the rows, each times the s.d. of its section, and the sections that a row touches, by their numbers. */
  private readonly slopes: Float64Array;
  private readonly support: Int32Array;
  private readonly supports: Int32Array;
  private readonly lengthSd: Float64Array;
  private readonly insulationSd: Float64Array;
  /** Slopes of the rows with the insulation of each whole circuit, times its s.d. */
  private readonly ofCircuit: Float64Array;
  private readonly circuits: number;
  private readonly residual: Float64Array;
  private readonly jacobian: Float64Array;
  private readonly noise: Float64Array;
  private readonly covariance: Float64Array;
  /** C⁻¹, where something has asked for it since the last assembly. */
  private readonly inverse: Float64Array;
  private inverted = false;
  private readonly solved: Float64Array;
  private readonly bent: Float64Array[] = [];
  private readonly sound: Float64Array[] = [];
  private readonly leaking: Float64Array[] = [];
  /** 1 where a row's slopes are those of insulation, else of length. */
  private readonly ofInsulation: Uint8Array;
  private readonly dropped: Uint8Array;
  private readonly inlier: Int32Array;
  private readonly h = new Float64Array(6);
  private readonly g = new Float64Array(3);
  private readonly step = new Float64Array(3);
  /** Slopes of the rows with the area of each circuit's protective conductors. */
  private readonly ofCpc: Float64Array;
  private readonly tails: readonly Tail[];
  private readonly off: PlanOff;
  private readonly ohm: Float64Array;
  private readonly scaleOhm: Float64Array;
  /** Ohms of a row by a unit of y. */
  private readonly perOhm: Float64Array;
  private readonly earlier: Earlier;
  private readonly parts: Parts;
  /** What each part is worth in the sound circuit. */
  private readonly worth: Float64Array;
  /** 1 for the parts of the cell in hand, and their readings. */
  private readonly inHand: Uint8Array;
  /** What lengths and areas are taken for where slopes are drawn; room for what the readings make of them. */
  private readonly taken: Taken;
  /** Section of each suspect that is somewhere along one, or -1. */
  private readonly sectionOf: Int32Array;
  private readonly longer: Float64Array;
  private readonly thinner: Float64Array;
  /** Things of the plan that are held to be far off, one after another, and those that are weighed so by themselves. */
  private held: readonly number[] = [];
  private apart: readonly number[] = [];
  private rows: readonly number[] = [];
  /** 1 for a reading that the last assembly takes for a slip. */
  private readonly unlikely: Uint8Array;
  /** No reading is taken for a slip because it looks wrong by itself. */
  private trusting = false;
  /** In the last assembly some reading was shown by what else may be there. */
  private byOthers = false;
  /** Readings count, or do not, as `passed` has it, whatever else may have shown them. */
  private counting = false;
  /** 1 for a reading that did not count in the last assembly, or is not to. */
  private readonly passed: Uint8Array;
  /** ln of the chance of the readings that count with all things just as they are taken, but for a constant. */
  private joint = 0;
  /** In the last assembly a reading of copper did not count that lengths and areas may account for. */
  private passedOver = false;
  /** A reading through something else is taken as through so few ohms of it that they are lost. */
  private lostBeside = false;
  /** Readings taken for slips in the last assembly. */
  private doubted = 0;
  /** An attempt came to nothing since the last climb that counts. */
  private undone = false;
  private count = 0;
  private t = 0;
  private d = 0;
  private s = 0;

  constructor(
    private readonly engine: BeliefEngine,
    private readonly groups: readonly Group[],
    /** By cell, the readings that it may answer otherwise than the sound circuit. */
    private readonly touched: readonly Int32Array[],
    /** 1 for a reading that the insulation of the whole moves, whatever the cell. */
    private readonly always: Uint8Array,
  ) {
    const m = groups.length;
    this.most = m;
    this.sections = engine.lengthVariance.length;
    this.slopes = new Float64Array(m * this.sections);
    this.support = new Int32Array(m * this.sections);
    this.supports = new Int32Array(m);
    this.lengthSd = engine.lengthVariance.map(Math.sqrt);
    this.insulationSd = engine.insulationVariance.map(Math.sqrt);
    this.circuits = 1 + Math.max(0, ...engine.circuit);
    this.ofCircuit = new Float64Array(m * this.circuits);
    this.residual = new Float64Array(m);
    this.jacobian = new Float64Array(3 * m);
    this.noise = new Float64Array(m);
    this.covariance = new Float64Array(m * m);
    this.inverse = new Float64Array(m * m);
    this.solved = new Float64Array(m * 4);
    this.ofInsulation = new Uint8Array(m);
    this.dropped = new Uint8Array(m);
    this.earlier = new Earlier(groups);
    this.inlier = new Int32Array(m);
    this.unlikely = new Uint8Array(m);
    this.passed = new Uint8Array(m);
    this.ofCpc = new Float64Array(m * this.circuits);
    this.ohm = new Float64Array(m);
    this.scaleOhm = new Float64Array(m);
    this.perOhm = new Float64Array(m);
    this.tails = tailsOf(engine, this.circuits);
    this.off = new PlanOff(this.tails, m);
    this.taken = new Taken(this.lengthSd, engine.circuit, this.circuits);
    this.longer = new Float64Array(this.sections);
    const index = new Map(engine.installation.sections.map((s, i) => [s.id, i]));
    this.sectionOf = Int32Array.from(engine.suspects, (s) => index.get(s.place) ?? -1);
    this.thinner = new Float64Array(this.circuits);
    this.parts = new Parts(groups, this.sections + this.circuits, (n) => this.soundRow(n), (n) => always[n] === 1);
    this.inHand = new Uint8Array(this.parts.rows.length);
    this.worth = Float64Array.from(this.parts.rows, (rows) => (rows.some((n) => always[n] === 1) ? 0 : this.worthOf(rows)));
  }

  /** ln evidence of some readings in the sound circuit. */
  private worthOf(rows: readonly number[]): number {
    this.rows = rows;
    this.t = 0;
    this.d = 0.5;
    this.s = 0;
    return this.bestOf(0, -Infinity);
  }

  /** Slopes of a reading with lengths in the sound circuit; null where these do not move it. */
  private soundRow(n: number): Float64Array | null {
    const group = this.groups[n] as Group;
    if (group.above || respond(group.sound, 0, 0.5, 1) >= INSULATION_FROM) return null;
    return this.lengthRow(n, 0, group.sound, 0, 1, false);
  }

  /** ln evidence of cell `c`; moves its unknowns and precision to where they now stand. `best0`: the best evidence so far. */
  evidence(c: number, e: Estimates, best0: number): number {
    this.t = e.t[c] as number;
    this.d = e.d[c] as number;
    this.s = e.s[c] as number;
    const rest = this.takeUp(c);
    const best = this.bestOf(c, best0 - rest);
    e.t[c] = this.t;
    e.d[c] = this.d;
    e.s[c] = this.s;
    e.precision.set(this.h, 6 * c);
    if (this.undone) this.planOff();
    this.moveByTail(c, e);
    return best + rest;
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
  private takeUp(c: number): number {
    const { inHand, parts } = this;
    inHand.fill(0);
    const suspect = this.engine.cells.answer[c] as number;
    const hasT = !Number.isNaN(this.engine.cells.tCentre[c]);
    const x = hasT ? ohmOfT(this.t) : (this.engine.cells.fixedOhm[c] as number);
    for (const n of c === 0 ? this.always.keys() : (this.touched[c] as Int32Array)) {
      if (c === 0 && this.always[n] !== 1) continue;
      inHand[parts.of[n] as number] = 1;
      const group = this.groups[n] as Group;
      const r = group.response(suspect);
      // The way round that a fault opens may run under readings that it does not move themselves.
      if (r.kind === 0 || group.above || respond(r, x, this.d, 1) >= INSULATION_FROM) continue;
      parts.mark(this.lengthRow(n, suspect, r, x, 1, true), inHand);
    }
    let rest = 0;
    const rows: number[] = [];
    for (const [i, of] of parts.rows.entries()) {
      if (inHand[i] === 1) rows.push(...of);
      else rest += this.worth[i] as number;
    }
    this.rows = rows;
    return rest;
  }

  /** ln evidence of the readings in hand. */
  private bestOf(c: number, best0: number): number {
    return this.throughLoads(c, this.whereItIs(c, this.asDrawn(c, best0), best0), best0);
  }

  /** By slopes of the drawing. */
  private asDrawn(c: number, best0: number): number {
    this.hold([], []);
    this.dropped.fill(0);
    this.trusting = false;
    this.undone = false;
    const first = this.climb(c, best0);
    const { doubted } = this;
    const best = this.dropping(c, first);
    if (doubted < 2) return best;
    // Several readings that each look wrong may be right together: one cable that insulates badly, or a thinner core, shows in all of them.
    return this.ifBetter(c, best, () => {
      this.trusting = true;
      this.dropped.fill(0);
      return this.dropping(c, this.climb(c, best0));
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
    const value = most + Math.log(spread + Math.exp(lost - most));
    [this.t, this.d, this.s] = [lost > most + Math.log(spread) ? t : centre + (sd * NODES.reduce((sum, x, i) => sum + x * (weights[i] as number), 0)) / spread, d, s];
    this.assemble(c, true);
    this.undone = true;
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
          return this.climb(c, -Infinity);
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
    this.undone = true;
  }

  /**
   * Where the readings have something far from drawn, the evidence with slopes where it is. `best`: with everything as drawn. What is taken
   * for a slip there may be none here.
   */
  private whereItIs(c: number, best: number, best0: number): number {
    if (best < best0 - OUT_OF_REACH) return best;
    this.planOff();
    const { passedOver } = this;
    const apart = [...this.off.taken];
    const start = this.stand();
    const drawn = apart.length > 0 || this.planMoves() ? this.inCases(c, apart) : best;
    if (!passedOver) return drawn;
    return this.ifBetter(c, drawn, () => {
      this.hold([], []);
      this.dropped.fill(0);
      this.trusting = true;
      [this.t, this.d, this.s] = start.at;
      return this.inCases(c, this.all(() => (this.climb(c, -Infinity), [...this.off.taken])), true);
    });
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
    this.steps(c, -Infinity);
    for (let i = 0; i < MOST_TAKEN && this.takeUpPlan(c); i++) this.steps(c, -Infinity);
    this.counting = false;
    return this.steps(c, -Infinity) + this.occam(c) + this.planOff();
  }

  /** Everything as drawn, with some things held to be far off; and those that are no longer weighed beside. */
  private hold(held: readonly number[], apart: readonly number[]): void {
    this.held = held;
    this.apart = apart;
    this.taken.begin(held, (i) => this.tails[i]?.variance ?? 0);
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

  /** What the readings in hand make of lengths and areas; false where that is much as they were taken. */
  private planMoves(): boolean {
    const { sections, circuits, slopes, longer, thinner, taken } = this;
    longer.fill(0);
    thinner.fill(0);
    for (let a = 0; a < this.count; a++) {
      if (this.ofInsulation[a] === 1) continue;
      const pull = this.solved[4 * a] as number;
      for (let k = a * sections; k < a * sections + (this.supports[a] as number); k++) {
        const i = this.support[k] as number;
        longer[i] = (longer[i] as number) + (slopes[a * sections + i] as number) * (taken.sd[i] as number) * pull;
      }
      for (let q = 0; q < circuits; q++) thinner[q] = (thinner[q] as number) + (this.ofCpc[a * circuits + q] as number) * (taken.cpcSd[q] as number) ** 2 * pull;
    }
    return taken.worthTaking(longer, thinner);
  }

  private climb(c: number, best: number): number {
    return this.steps(c, best) + this.occam(c) + this.planOff();
  }

  /** Newton steps; a cell that is hopelessly behind `best` after the first is left where it is. */
  private steps(c: number, best: number): number {
    let value = this.assemble(c, true);
    for (let i = 0; i < 4; i++) {
      // The first step takes what all cells gain: the insulation of the whole, which was found with errors that were not shared.
      if (i === 1 && value < best - HOPELESS) break;
      const before = [this.t, this.d, this.s] as const;
      if (!solve3(this.h, this.g, this.step)) break;
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

  /** Slopes with length. They hardly move within a climb: what the suspect bends is worked out at its start, the rest once. */
  private lengthRow(n: number, suspect: number, r: Response, x: number, k: number, fresh: boolean): Float64Array {
    const group = this.groups[n] as Group;
    const path = r === group.sound || r.kind === 3 ? null : group.path(suspect);
    if (path) {
      const row = (this.bent[n] ??= new Float64Array(this.sections + this.circuits));
      if (fresh) lengthSlopes(row, path.cores, path.currents, r, path.site, x, this.d, k);
      return row;
    }
    if (r.kind === 1 || r.kind === 2) {
      const row = (this.bent[n] ??= new Float64Array(this.sections + this.circuits));
      if (fresh) lengthSlopes(row, group.cores, group.currents(), r, group.site(suspect), x, this.d, k);
      return row;
    }
    if (!this.sound[n]) lengthSlopes((this.sound[n] = new Float64Array(this.sections + this.circuits)), group.cores, group.currents(), group.sound, null, 0, 0.5, 1);
    return this.sound[n];
  }

  /** Slopes with insulation, in the same way. */
  private insulationRow(n: number, suspect: number, r: Response, x: number, k: number, fresh: boolean): Float64Array {
    const group = this.groups[n] as Group;
    const row = (this.leaking[n] ??= new Float64Array(this.sections));
    const leaks = fresh && r !== group.sound ? group.path(suspect)?.leaks : undefined;
    const bends = r.kind === 1 || r.kind === 3;
    if (leaks) insulationSlopes(row, leaks.leakage, leaks.potentials, r, bends ? leaks.site(r) : NO_SITE, x, this.d, k);
    else if (fresh) insulationSlopes(row, group.leakage(), group.potentials(), r, bends ? group.siteLeaks(suspect) : NO_SITE, x, this.d, k);
    return row;
  }

  /** The readings that stand out most against all others, from 3 s.d. up, most first, with what is off on the plan given. Uses the last climb. */
  private outstanding(): number[] {
    const found: { n: number; z: number }[] = [];
    const { given } = this.off;
    if (!given) return [];
    for (let a = 0; a < given.count; a++) {
      const z = (given.solved[4 * a] as number) ** 2 / (given.inverse[a * given.stride + a] as number);
      if (z > 9) found.push({ n: this.inlier[a] as number, z });
    }
    return found.sort((x, y) => y.z - x.z).slice(0, MOST_TRIED).map((f) => f.n);
  }

  /** ln posterior at the present unknowns; fills gradient and precision. */
  private assemble(c: number, fresh: boolean): number {
    const { cells, options } = this.engine;
    const suspect = cells.answer[c] as number;
    const hasT = !Number.isNaN(cells.tCentre[c]);
    const along = cells.along[c] === 1;
    const pt = hasT ? 1 / (cells.tSd[c] as number) ** 2 : 0;
    const pd = along ? 1 / (D_SD * D_SD) : 0;
    const ps = 1 / (options.insulationSd * options.insulationSd);
    const et = hasT ? this.t - (cells.tCentre[c] as number) : 0;
    const ed = along ? this.d - 0.5 : 0;
    const { h, g } = this;
    h[0] = pt; h[1] = 0; h[2] = pd; h[3] = 0; h[4] = 0; h[5] = ps;
    g[0] = -pt * et; g[1] = -pd * ed; g[2] = -ps * this.s;
    let value = -0.5 * (pt * et * et + pd * ed * ed + ps * this.s * this.s);
    const x = hasT ? ohmOfT(this.t) : (cells.fixedOhm[c] as number);
    const k = Math.exp(this.s);
    // Along a cable that is taken for longer, a part of it is more ohms.
    const alongLonger = along ? this.taken.growth(this.sectionOf[cells.suspect[c] as number] as number) : 1;
    this.count = 0;
    this.doubted = 0;
    this.byOthers = false;
    this.passedOver = false;
    this.joint = value + this.taken.lnChance();
    this.earlier.begin();
    for (const n of this.rows) {
      const group = this.groups[n] as Group;
      const r = group.response(suspect);
      const drawn = Math.min(respond(r, x, this.d, k), CEILING_OHM);
      const range = meter[group.fn];
      const insulation = drawn >= INSULATION_FROM;
      const row = insulation ? this.insulationRow(n, suspect, r, x, k, fresh) : this.lengthRow(n, suspect, r, x, k, fresh);
      const ohm = insulation ? drawn : drawn + this.taken.moreOhm(row);
      const scale = 1 / Math.sqrt(ohm * ohm + range.scaleOhm * range.scaleOhm);
      const slopeS = scaleSlope(r, x, this.d, k, drawn);
      const slopeT = hasT && r.kind !== 0 ? (respond(r, ohmOfT(this.t + 0.01), this.d, k) - drawn) / 0.01 : 0;
      const instrument = instrumentSdOhm(group.fn, ohm, ownOhm(slopeT), group.steady);
      const own = instrument * instrument * scale * scale;
      let shared = 0;
      let extra = 0;
      // What was taken for longer has its slope there; the reading is off by what is left.
      let moved = 0;
      const at = this.count * this.sections;
      const sdOf = insulation ? this.insulationSd : this.taken.sd;
      let first = 0;
      let end = this.sections;
      while (first < end && row[first] === 0) first++;
      while (end > first && row[end - 1] === 0) end--;
      this.slopes.fill(0, at, at + this.sections);
      let supports = 0;
      for (let i = first; i < end; i++) {
        const slope = (insulation ? (row[i] as number) : this.taken.slope(row, i)) * scale;
        if (!insulation) moved += slope * (this.taken.longer[i] as number);
        if (slope === 0) continue;
        this.support[at + supports++] = i;
        this.slopes[at + i] = slope * (sdOf[i] as number);
        shared += (this.slopes[at + i] as number) ** 2;
      }
      for (let q = 0; q < this.circuits; q++) {
        const slope = insulation ? 0 : this.taken.cpcSlope(row, q) * scale;
        this.ofCpc[this.count * this.circuits + q] = slope;
        moved += slope * (this.taken.thinner[q] as number);
        shared += (slope * (this.taken.cpcSd[q] as number)) ** 2;
      }
      if (insulation) {
        const { circuit: circuitSd, pair: pairSd } = options.insulationSpread;
        const base = this.count * this.circuits;
        this.ofCircuit.fill(0, base, base + this.circuits);
        for (let i = first; i < end; i++) this.ofCircuit[base + (this.engine.circuit[i] as number)] = (this.ofCircuit[base + (this.engine.circuit[i] as number)] as number) + (row[i] as number) * scale;
        let [total, squares] = [0, 0];
        for (let q = base; q < base + this.circuits; q++) {
          const v = this.ofCircuit[q] as number;
          total += v;
          squares += v * v;
          this.ofCircuit[q] = v * circuitSd;
        }
        shared += squares * circuitSd * circuitSd;
        // Of circuits in parallel the worst makes the sum: it scatters as one circuit does, not as their mean.
        extra = total * total * pairSd * pairSd + (total * total - squares) * circuitSd * circuitSd;
      }
      this.supports[this.count] = supports;
      this.ofInsulation[this.count] = insulation ? 1 : 0;
      const sd = Math.sqrt(own + extra + shared);
      const y = toY(group.fn, ohm) - moved;
      const say = this.earlier.meet(n, suspect, ohm, (m) => respond(m.response(suspect), x, this.d, k));
      const nominal = this.engine.soundIsFlat && group.fn === 'insulation' ? respond(r, x, this.d, 1) : 0;
      const flat = nominal > 0 && isSoundInsulation(nominal);
      if (flat && !group.above) {
        const seen = this.earlier.sound(n, nominal);
        this.unlikely[n] = seen < Math.log(3 * group.slip * SLIP_DENSITY) ? 1 : 0;
        value += seen;
        continue;
      }
      if (group.above) {
        const p = nominal > 0 && (flat || y > group.y) ? BEYOND_RANGE : normalCdf((y - group.y) / Math.max(sd, 0.02));
        this.earlier.shownWith(n, (1 - say.share) * p);
        this.unlikely[n] = (1 - say.share) * p + say.density < 3 * group.slip * SLIP_OFF ? 1 : 0;
        value += Math.log((1 - group.slip) * ((1 - say.share) * p + say.density) + group.slip * SLIP_OFF + 1e-300);
        continue;
      }
      const residual = group.y - y;
      this.unlikely[n] = 0;
      const alone = ((1 - group.slip) * (1 - say.share) * Math.exp(-0.5 * ((residual - moved) / sd) ** 2)) / (sd * 2.5066282746);
      // A slip, loads, metal: what else may have shown this figure.
      const byOthers = (1 - group.slip) * say.density;
      this.earlier.shownWith(n, alone / (1 - group.slip));
      const otherwise = byOthers + group.slip * SLIP_DENSITY;
      const othersShow = byOthers > Math.max(3 * alone, 0.3 * group.slip * SLIP_DENSITY);
      const doubtful = !this.trusting && alone < 0.3 * group.slip * SLIP_DENSITY;
      const passes = this.dropped[n] === 1 || (this.counting ? this.passed[n] === 1 : othersShow || doubtful) || ohm > 2 * range.topOhm;
      if (!this.counting) this.passed[n] = passes ? 1 : 0;
      if (passes) {
        if (!insulation && Math.abs(residual) < MOST_OFF) this.passedOver = true;
        if (doubtful && !othersShow) this.doubted++;
        this.unlikely[n] = byOthers > group.slip * SLIP_DENSITY ? 0 : 1;
        const besides = this.dropped[n] === 0 && hasT && (2 * (1 - group.slip) * say.near > otherwise || (this.lostBeside && say.nearShare > 0));
        if (othersShow && !besides) this.byOthers = true;
        value += besides ? this.rowWith(n, suspect, x, k, Math.log((1 - group.slip) * say.nearShare)) : Math.log(otherwise);
        continue;
      }
      const a = this.count++;
      this.inlier[a] = n;
      this.residual[a] = residual;
      this.ohm[a] = ohm;
      this.scaleOhm[a] = range.scaleOhm;
      this.perOhm[a] = 1 / scale;
      this.noise[a] = own + extra;
      if (!insulation) this.joint -= (0.5 * (residual - moved) ** 2) / (own + extra);
      value += Math.log((1 - group.slip) * (1 - say.share)) - 0.5 * LOG_2PI;
      const dStep = this.d > 0.5 ? -0.02 : 0.02;
      this.jacobian[3 * a] = slopeT * scale;
      this.jacobian[3 * a + 1] = along && r.kind === 1 ? ((respond(r, x, this.d + dStep, k) - drawn) / dStep) * scale * alongLonger : 0;
      this.jacobian[3 * a + 2] = Number.isFinite(slopeS) ? slopeS * scale : 0;
    }
    return value + this.gaussian();
  }

  /** A row for a reading of the cell's size with something else in, whose own ohms are lost beside it; cables are too. `value`: ln of the chance of that. */
  private rowWith(n: number, suspect: number, x: number, k: number, value: number): number {
    const group = this.groups[n] as Group;
    const { least, by, say } = this.earlier;
    const r = group.others[by]?.response(suspect) as Response;
    const a = this.count++;
    const { scaleOhm } = meter[group.fn];
    this.inlier[a] = n;
    this.ohm[a] = least;
    this.scaleOhm[a] = scaleOhm;
    this.perOhm[a] = rootOfSquares(least, scaleOhm);
    this.residual[a] = group.y - toY(group.fn, least);
    this.noise[a] = say.nearSd ** 2;
    this.supports[a] = 0;
    this.ofInsulation[a] = 0;
    this.ofCpc.fill(0, a * this.circuits, (a + 1) * this.circuits);
    this.slopes.fill(0, a * this.sections, (a + 1) * this.sections);
    this.jacobian.fill(0, 3 * a, 3 * a + 3);
    this.jacobian[3 * a] = r.kind === 0 ? 0 : (respond(r, ohmOfT(this.t + 0.01), this.d, k) - respond(r, x, this.d, k)) / 0.01 / rootOfSquares(least, scaleOhm);
    return value - 0.5 * LOG_2PI;
  }

  /** −½ rᵀC⁻¹r − ½ ln|C| of the inliers; adds their share to gradient and precision. */
  private gaussian(): number {
    this.inverted = false;
    const m = this.count;
    const w = this.most;
    const { covariance: c, sections, slopes } = this;
    for (let a = 0; a < m; a++)
      for (let b = 0; b <= a; b++) {
        let sum = a === b ? (this.noise[a] as number) : 0;
        if (this.ofInsulation[a] === this.ofInsulation[b]) {
          const least = (this.supports[a] as number) < (this.supports[b] as number) ? a : b;
          const end = least * sections + (this.supports[least] as number);
          for (let k = least * sections; k < end; k++) sum += (slopes[a * sections + (this.support[k] as number)] as number) * (slopes[b * sections + (this.support[k] as number)] as number);
          for (const i of this.held) if (i >= sections) sum += (this.ofCpc[a * this.circuits + i - sections] as number) * (this.ofCpc[b * this.circuits + i - sections] as number) * (this.taken.cpcSd[i - sections] as number) ** 2;
          if (this.ofInsulation[a] === 1) for (let q = 0; q < this.circuits; q++) sum += (this.ofCircuit[a * this.circuits + q] as number) * (this.ofCircuit[b * this.circuits + q] as number);
        }
        c[a * w + b] = sum;
      }
    // Cholesky in place, then C⁻¹ applied to the residual and the three columns of the Jacobian.
    let logDet = 0;
    for (let a = 0; a < m; a++)
      for (let b = 0; b <= a; b++) {
        let sum = c[a * w + b] as number;
        for (let k = 0; k < b; k++) sum -= (c[a * w + k] as number) * (c[b * w + k] as number);
        if (a === b) {
          c[a * w + a] = Math.sqrt(Math.max(sum, 1e-12));
          logDet += 2 * Math.log(c[a * w + a] as number);
        } else c[a * w + b] = sum / (c[b * w + b] as number);
      }
    for (let column = 0; column < 4; column++) {
      for (let a = 0; a < m; a++) {
        let sum = column === 0 ? (this.residual[a] as number) : (this.jacobian[3 * a + column - 1] as number);
        for (let k = 0; k < a; k++) sum -= (c[a * w + k] as number) * (this.solved[4 * k + column] as number);
        this.solved[4 * a + column] = sum / (c[a * w + a] as number);
      }
      for (let a = m - 1; a >= 0; a--) {
        let sum = this.solved[4 * a + column] as number;
        for (let k = a + 1; k < m; k++) sum -= (c[k * w + a] as number) * (this.solved[4 * k + column] as number);
        this.solved[4 * a + column] = sum / (c[a * w + a] as number);
      }
    }
    let square = 0;
    const { h, g } = this;
    for (let a = 0; a < m; a++) {
      const r = this.residual[a] as number;
      square += r * (this.solved[4 * a] as number);
      const [jt, jd, js] = [this.jacobian[3 * a] as number, this.jacobian[3 * a + 1] as number, this.jacobian[3 * a + 2] as number];
      const [st, sd, ss] = [this.solved[4 * a + 1] as number, this.solved[4 * a + 2] as number, this.solved[4 * a + 3] as number];
      g[0] = (g[0] as number) + r * st;
      g[1] = (g[1] as number) + r * sd;
      g[2] = (g[2] as number) + r * ss;
      h[0] = (h[0] as number) + jt * st;
      h[1] = (h[1] as number) + jt * sd;
      h[2] = (h[2] as number) + jd * sd;
      h[3] = (h[3] as number) + jt * ss;
      h[4] = (h[4] as number) + jd * ss;
      h[5] = (h[5] as number) + js * ss;
    }
    return -0.5 * square - 0.5 * logDet;
  }

  /** ln gained by what may be far off on the plan. */
  private planOff(): number {
    return this.off.weigh(this.readings(), this.residual, this.jacobian, this.grows, this.apart) + this.held.reduce((sum, i) => sum + Math.log(this.tails[i]?.share ?? 1), 0);
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

  private readings(): Gaussian {
    if (!this.inverted) invert(this.inverse, this.covariance, this.count, this.most);
    this.inverted = true;
    return { count: this.count, stride: this.most, ohm: this.ohm, scaleOhm: this.scaleOhm, inverse: this.inverse, solved: this.solved, g: this.g, h: this.h };
  }

  /** Fills the ohms of each reading that grow with one thing of the plan; false where no reading that counts feels it. */
  private readonly grows = (i: number, into: Float64Array): boolean => {
    let any = false;
    const sd = this.taken.sd[i] as number;
    for (let a = 0; a < this.count; a++) {
      const v = this.ofInsulation[a] === 1 ? 0 : (this.perOhm[a] as number) * (i < this.sections ? (this.slopes[a * this.sections + i] as number) / sd : (this.ofCpc[a * this.circuits + i - this.sections] as number));
      into[a] = v;
      if (v !== 0) any = true;
    }
    return any;
  };

  /** ½ ln(prior precision / posterior precision). */
  private occam(c: number): number {
    const { cells, options } = this.engine;
    const prior = (Number.isNaN(cells.tCentre[c]) ? 1 : 1 / (cells.tSd[c] as number) ** 2) * (cells.along[c] === 1 ? 1 / (D_SD * D_SD) : 1) / (options.insulationSd * options.insulationSd);
    return 0.5 * Math.log(prior / determinant3(this.h));
  }
}

/** A tail for the length of every section and, where nobody stated it, for the area of every circuit's protective conductors. */
function tailsOf({ installation, circuit, options }: BeliefEngine, circuits: number): Tail[] {
  const none: Tail = { share: 0, variance: 0 };
  const lengths = installation.sections.map(({ lengthKnown }): Tail => (({ share, sd }) => ({ share, variance: sd * sd }))(LENGTH_TAIL[lengthKnown ? 'known' : 'guessed']));
  const doubted = new Set(installation.sections.flatMap((s, i) => (s.cpcKnown || !s.cores.some((c) => c.role === 'E') ? [] : [circuit[i] as number])));
  const areas = Array.from({ length: circuits }, (_, q): Tail => (doubted.has(q) ? { share: CPC_TAIL.share, variance: CPC_TAIL.sd ** 2 } : none));
  return options.planMayBeOff ? [...lengths, ...areas] : [];
}
