import { normalCdf, rootOfSquares } from '../numeric';
import { insulationSlopes, lengthSlopes, respond, type Response } from '../probes';
import { instrumentSdOhm, meter, toY } from '../tester';
import { Taken } from './asTaken';
import type { BeliefEngine } from './belief';
import { ohmOfT } from './cells';
import { Earlier } from './earlier';
import { BEYOND_RANGE, isSoundInsulation } from './healthy';
import { CEILING_OHM, D_SD, SLIP_DENSITY, SLIP_OFF, ownOhm, scaleSlope, type Group } from './group';
import { determinant3 } from './solve3';
import { PlanOff } from './planOff';
import { CPC_TAIL, invert, LENGTH_TAIL, type Gaussian, type Tail } from './tails';

const LOG_2PI = Math.log(2 * Math.PI);
/** Readings tried for it, those that stand out most first. */
const MOST_TRIED = 3;
/** What a cell's own unknowns gain at the most, in ln, where one reading less pulls at them and the readings do not show it yet. */
const FOLLOWS = 5;
/** From here on a reading owes more to insulation than to copper, ohms. */
export const INSULATION_FROM = 1e5;
const NO_SITE = { contact: null, parted: null };
/** Readings this far from foreseen, in y, what is off on a plan may still account for. */
const MOST_OFF = 2.5;

/**
 * What a cell makes of the readings at given unknowns, with the lengths and the insulation that they share: two readings over one cable
 * are wrong together. The residuals of all readings are one Gaussian with covariance J Λ Jᵀ + D (Λ: variance of ln length, or of ln
 * insulation, by section, J: slopes of the readings, D: instruments). Rows are readings; sections are columns.
 */
export abstract class Assembly {
  protected readonly most: number;
  protected readonly sections: number;
  /** Slopes of the rows, each times the s.d. of its section, and the sections that a row touches, by their numbers. */
  protected readonly slopes: Float64Array;
  protected readonly support: Int32Array;
  protected readonly supports: Int32Array;
  protected readonly lengthSd: Float64Array;
  protected readonly insulationSd: Float64Array;
  /** Slopes of the rows with the insulation of each whole circuit, times its s.d. */
  protected readonly ofCircuit: Float64Array;
  protected readonly circuits: number;
  protected readonly residual: Float64Array;
  protected readonly jacobian: Float64Array;
  protected readonly noise: Float64Array;
  protected readonly covariance: Float64Array;
  /** C⁻¹, where something has asked for it since the last assembly. */
  protected readonly inverse: Float64Array;
  protected inverted = false;
  protected readonly solved: Float64Array;
  protected readonly bent: Float64Array[] = [];
  protected readonly sound: Float64Array[] = [];
  protected readonly leaking: Float64Array[] = [];
  /** Climbs begun so far, and in which of them each row was bent last. */
  protected climbs = 0;
  private readonly bentIn: number[] = [];
  private readonly leakingIn: number[] = [];
  /** 1 where a row's slopes are those of insulation, else of length. */
  protected readonly ofInsulation: Uint8Array;
  protected readonly dropped: Uint8Array;
  protected readonly inlier: Int32Array;
  /** By row, ln of what the reading is worth if something else showed it. */
  private readonly lnOtherwise: Float64Array;
  protected readonly h = new Float64Array(6);
  protected readonly g = new Float64Array(3);
  /** Slopes of the rows with the area of each circuit's protective conductors. */
  protected readonly ofCpc: Float64Array;
  protected readonly tails: readonly Tail[];
  protected readonly off: PlanOff;
  protected readonly ohm: Float64Array;
  protected readonly scaleOhm: Float64Array;
  /** Ohms of a row by a unit of y. */
  protected readonly perOhm: Float64Array;
  protected readonly earlier: Earlier;
  /** What lengths and areas are taken for where slopes are drawn; room for what the readings make of them. */
  protected readonly taken: Taken;
  /** Section of each suspect that is somewhere along one, or -1. */
  protected readonly sectionOf: Int32Array;
  protected readonly longer: Float64Array;
  protected readonly thinner: Float64Array;
  /** Things of the plan that are held to be far off, one after another, and those that are weighed so by themselves. */
  protected held: readonly number[] = [];
  protected apart: readonly number[] = [];
  protected rows: readonly number[] = [];
  /** 1 for a reading that the last assembly takes for a slip. */
  protected readonly unlikely: Uint8Array;
  /** No reading is taken for a slip because it looks wrong by itself. */
  protected trusting = false;
  /** In the last assembly some reading was shown by what else may be there. */
  protected byOthers = false;
  /** Readings count, or do not, as `passed` has it, whatever else may have shown them. */
  protected counting = false;
  /** 1 for a reading that did not count in the last assembly, or is not to. */
  protected readonly passed: Uint8Array;
  /** ln of the chance of the readings that count with all things just as they are taken, but for a constant. */
  protected joint = 0;
  /** Readings of copper that did not count in the last assembly, though lengths and areas may account for them. */
  protected readonly passedOver: number[] = [];
  /** A reading through something else is taken as through so few ohms of it that they are lost. */
  protected lostBeside = false;
  /** What may be off on the plan gains so much, ln, in the last assembly; null where nothing has asked since. */
  private offGains: number | null = null;
  /** Readings taken for slips in the last assembly. */
  protected doubted = 0;
  protected count = 0;
  protected t = 0;
  protected d = 0;
  protected s = 0;


  constructor(
    protected readonly engine: BeliefEngine,
    protected readonly groups: readonly Group[],
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
    this.lnOtherwise = new Float64Array(m);
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
  }

  /** Everything as drawn, with some things held to be far off; and those that are no longer weighed beside. */
  protected hold(held: readonly number[], apart: readonly number[]): void {
    this.held = held;
    this.apart = apart;
    this.taken.begin(held, (i) => this.tails[i]?.variance ?? 0);
  }

  /** What the readings in hand make of lengths and areas; false where that is much as they were taken. */
  protected planMoves(): boolean {
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

  /** Slopes with length. They hardly move within a climb: what the suspect bends is worked out once in it, the rest once for all. */
  protected lengthRow(n: number, suspect: number, r: Response, x: number, k: number): Float64Array {
    const group = this.groups[n] as Group;
    const path = r === group.sound || r.kind === 3 ? null : group.path(suspect);
    if (path || r.kind === 1 || r.kind === 2) {
      const row = (this.bent[n] ??= new Float64Array(this.sections + this.circuits));
      if (this.bentIn[n] === this.climbs) return row;
      this.bentIn[n] = this.climbs;
      lengthSlopes(row, path ? path.cores : group.cores, path ? path.currents : group.currents(), r, path ? path.site : group.site(suspect), x, this.d, k);
      return row;
    }
    if (!this.sound[n]) lengthSlopes((this.sound[n] = new Float64Array(this.sections + this.circuits)), group.cores, group.currents(), group.sound, null, 0, 0.5, 1);
    return this.sound[n];
  }

  /** Slopes with insulation, in the same way. */
  protected insulationRow(n: number, suspect: number, r: Response, x: number, k: number): Float64Array {
    const group = this.groups[n] as Group;
    const row = (this.leaking[n] ??= new Float64Array(this.sections));
    if (this.leakingIn[n] === this.climbs) return row;
    this.leakingIn[n] = this.climbs;
    const leaks = r === group.sound ? undefined : group.path(suspect)?.leaks;
    const bends = r.kind === 1 || r.kind === 3;
    if (leaks) insulationSlopes(row, leaks.leakage, leaks.potentials, r, bends ? leaks.site(r) : NO_SITE, x, this.d, k);
    else insulationSlopes(row, group.leakage(), group.potentials(), r, bends ? group.siteLeaks(suspect) : NO_SITE, x, this.d, k);
    return row;
  }

  /** The readings that stand out most against all others, from 3 s.d. up, most first, with what is off on the plan given, and that may rather be slips. Uses the last climb. */
  protected outstanding(): number[] {
    const found: { n: number; z: number }[] = [];
    const { given } = this.off;
    if (!given) return [];
    for (let a = 0; a < given.count; a++) {
      const precision = given.inverse[a * given.stride + a] as number;
      const z = (given.solved[4 * a] as number) ** 2 / precision;
      // Worth what another cause of it is worth, instead of what the others make it worth; the unknowns of the cell follow and gain some more.
      const gains = (this.lnOtherwise[a] as number) - 0.5 * (Math.log(precision) - LOG_2PI - z);
      if (z > 9 && gains > -FOLLOWS) found.push({ n: this.inlier[a] as number, z });
    }
    return found.sort((x, y) => y.z - x.z).slice(0, MOST_TRIED).map((f) => f.n);
  }

  /** ln posterior at the present unknowns; fills gradient and precision. `begins`: a climb starts here. */
  protected assemble(c: number, begins: boolean): number {
    if (begins) this.climbs++;
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
    this.passedOver.length = 0;
    this.joint = value + this.taken.lnChance();
    this.earlier.begin();
    for (const n of this.rows) {
      const group = this.groups[n] as Group;
      const r = group.response(suspect);
      const drawn = Math.min(respond(r, x, this.d, k), CEILING_OHM);
      const range = meter[group.fn];
      const insulation = drawn >= INSULATION_FROM;
      // Sound insulation, and what is off scale where the cell has more: no slope has a say in it.
      const nominal = this.engine.soundIsFlat && group.fn === 'insulation' ? respond(r, x, this.d, 1) : 0;
      const flat = nominal > 0 && isSoundInsulation(nominal);
      if (flat || (group.above && nominal > 0 && toY(group.fn, drawn) > group.y)) {
        this.earlier.meet(n, suspect, flat ? nominal : drawn, (m) => respond(m.response(suspect), x, this.d, flat ? 1 : k));
        value += group.above ? this.offScale(n, BEYOND_RANGE) : this.asSound(n, nominal);
        continue;
      }
      const row = insulation ? this.insulationRow(n, suspect, r, x, k) : this.lengthRow(n, suspect, r, x, k);
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
      if (group.above) {
        value += this.offScale(n, normalCdf((y - group.y) / Math.max(sd, 0.02)));
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
        if (!insulation && Math.abs(residual) < MOST_OFF) this.passedOver.push(n);
        if (doubtful && !othersShow) this.doubted++;
        this.unlikely[n] = byOthers > group.slip * SLIP_DENSITY ? 0 : 1;
        const besides = this.dropped[n] === 0 && hasT && (2 * (1 - group.slip) * say.near > otherwise || (this.lostBeside && say.nearShare > 0));
        if (othersShow && !besides) this.byOthers = true;
        value += besides ? this.rowWith(n, suspect, x, k, Math.log((1 - group.slip) * say.nearShare)) : Math.log(otherwise);
        continue;
      }
      const a = this.count++;
      this.inlier[a] = n;
      this.lnOtherwise[a] = Math.log(otherwise);
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

  /** ln likelihood of the reading just met as sound insulation, foreseen at `ohm`. */
  private asSound(n: number, ohm: number): number {
    const seen = this.earlier.sound(n, ohm);
    this.unlikely[n] = seen < Math.log(3 * (this.groups[n] as Group).slip * SLIP_DENSITY) ? 1 : 0;
    return seen;
  }

  /** ln likelihood of the reading just met, which was off scale, where the cell itself goes off scale with chance `p`. */
  private offScale(n: number, p: number): number {
    const { slip } = this.groups[n] as Group;
    const { share, density } = this.earlier.say;
    this.unlikely[n] = (1 - share) * p + density < 3 * slip * SLIP_OFF ? 1 : 0;
    return this.earlier.offScale(n, p);
  }

  /** A row for a reading of the cell's size with something else in, whose own ohms are lost beside it; cables are too. `value`: ln of the chance of that. */
  protected rowWith(n: number, suspect: number, x: number, k: number, value: number): number {
    const group = this.groups[n] as Group;
    const { least, by, say } = this.earlier;
    const r = group.others[by]?.response(suspect) as Response;
    const a = this.count++;
    const { scaleOhm } = meter[group.fn];
    this.inlier[a] = n;
    this.lnOtherwise[a] = Math.log(group.slip * SLIP_DENSITY);
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
  protected gaussian(): number {
    this.inverted = false;
    this.offGains = null;
    const m = this.count;
    const w = this.most;
    const { covariance: c, sections, slopes } = this;
    // Circuits whose protective conductors are held to be thinner than drawn.
    const thin = this.held.flatMap((i) => (i >= sections ? [i - sections] : []));
    for (let a = 0; a < m; a++)
      for (let b = 0; b <= a; b++) {
        let sum = a === b ? (this.noise[a] as number) : 0;
        if (this.ofInsulation[a] === this.ofInsulation[b]) {
          const least = (this.supports[a] as number) < (this.supports[b] as number) ? a : b;
          const end = least * sections + (this.supports[least] as number);
          for (let k = least * sections; k < end; k++) sum += (slopes[a * sections + (this.support[k] as number)] as number) * (slopes[b * sections + (this.support[k] as number)] as number);
          for (const q of thin) sum += (this.ofCpc[a * this.circuits + q] as number) * (this.ofCpc[b * this.circuits + q] as number) * (this.taken.cpcSd[q] as number) ** 2;
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

  /** ln gained by what may be far off on the plan, as the last assembly has it. */
  protected planOff(): number {
    this.offGains ??= this.off.weigh(this.readings(), this.residual, this.jacobian, this.grows, this.apart) + this.held.reduce((sum, i) => sum + Math.log(this.tails[i]?.share ?? 1), 0);
    return this.offGains;
  }

  protected readings(): Gaussian {
    if (!this.inverted) invert(this.inverse, this.covariance, this.count, this.most);
    this.inverted = true;
    return { count: this.count, stride: this.most, ohm: this.ohm, scaleOhm: this.scaleOhm, inverse: this.inverse, solved: this.solved, g: this.g, h: this.h };
  }

  /** Fills the ohms of each reading that grow with one thing of the plan; false where no reading that counts feels it. */
  protected readonly grows = (i: number, into: Float64Array): boolean => {
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
  protected occam(c: number): number {
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
