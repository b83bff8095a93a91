import { normalCdf, rootOfSquares } from '../numeric';
import { respond, type Response } from '../probes';
import { meter, toY } from '../tester';
import type { BeliefEngine } from './belief';
import { ohmOfT, tOfOhm } from './cells';
import { Earlier } from './earlier';
import type { Estimates } from './estimates';
import { BEYOND_RANGE, isSoundInsulation } from './healthy';
import { CEILING_OHM, D_SD, SLIP_DENSITY, SLIP_OFF, isHealthy, metalIn, scaleSlope, type Group } from './group';
import { clamp, determinant3, solve3 } from './solve3';

/** Residuals from here on, in y, pull nothing: what a reading shows is something else. */
const FAR_OFF = 4;

/** How much of its weight a reading has that does not fit yet, but might from elsewhere. */
const DRAWS = 0.02;

/** How far the scale of the insulation may go, in ln, and what then counts as unmoved. */
const SCALE_MAY_MOVE = 2;
const UNMOVED = 1e-3;

/** Readings of so many ohms at the most lie in cable: one length or area that is off moves them together. */
const IN_CABLE_OHM = 5;

/** Sizes that a climb may begin at, so many, so far apart in t, and in the cell or a little beyond. */
const MOST_STARTS = 4;
const ONE_START = 0.02;
const HALF_WIDTH_SD = 2;

/** A reading that loses so much, in ln, is not explained. */
const LOSES = 2;

/** Newton steps for one cell at a time, without allocation. */
export class CellWork {
  private c = 0;
  private t = 0;
  private d = 0;
  private s = 0;
  private suspect = 0;
  /** Set by assemble: some reading is taken for a slip here; the cell has a size or place of its own to move. */
  private misfit = false;
  private free = false;
  private drawn = false;
  /** What readings in cable lose here by not fitting, in ln, all together and the worst of them. */
  private lost = 0;
  private worst = 0;
  private readonly h = new Float64Array(6);
  private readonly g = new Float64Array(3);
  private readonly step = new Float64Array(3);
  private readonly earlier: Earlier;
  /** The readings that the cell may answer otherwise than the sound circuit, and what all others are worth. */
  private rows: Int32Array;
  private rest = 0;
  private readonly all: Int32Array;
  /** What each reading is worth in the sound circuit. */
  private readonly worth: Float64Array;

  constructor(
    private readonly engine: BeliefEngine,
    private readonly groups: readonly Group[],
  ) {
    this.earlier = new Earlier(groups);
    this.all = Int32Array.from(groups.keys());
    this.rows = this.all;
    this.worth = new Float64Array(groups.length);
  }

  /** Cell `c`, with the readings that matter in it; without them all, as for the sound circuit. What all others are worth, ln. */
  start(c: number, from: Estimates, rows: Int32Array = this.all): number {
    this.rows = rows;
    this.rest = 0;
    if (rows !== this.all) {
      for (const w of this.worth) this.rest += w;
      for (const n of rows) this.rest -= this.worth[n] as number;
    }
    this.c = c;
    this.t = from.t[c] as number;
    this.d = from.d[c] as number;
    this.s = from.s[c] as number;
    this.suspect = this.engine.cells.answer[c] as number;
    return this.rest;
  }

  store(c: number, logWeight: number, to: Estimates): void {
    to.t[c] = this.t;
    to.d[c] = this.d;
    to.s[c] = this.s;
    to.precision.set(this.h, 6 * c);
    to.logWeight[c] = logWeight;
    // One thing of the plan that is off may be all that is wrong with them.
    to.hope[c] = this.lost - this.worst;
  }

  /** Keeps what each reading is worth in the sound circuit, which is at hand and settled; 1 for those that the whole installation's insulation moves. */
  keepWorth(): Uint8Array {
    const { s } = this;
    const at = (scale: number): Float64Array => {
      this.s = scale;
      return Float64Array.from(this.groups, (g, n) => this.share(n, g.response(this.suspect), 0, Math.exp(this.s), false, false, false));
    };
    const [low, high] = [at(s - SCALE_MAY_MOVE), at(s + SCALE_MAY_MOVE)];
    this.worth.set(at(s));
    this.assemble();
    return Uint8Array.from(this.worth, (w, n) => (Math.max(Math.abs((low[n] as number) - w), Math.abs((high[n] as number) - w)) > UNMOVED ? 1 : 0));
  }

  /** Readings that the sound circuit, whose worth was kept, shows less well than a fault of the right size might. */
  unexplained(): number[] {
    return [...this.groups.keys()].filter((n) => {
      const { fn, ohm, above, sound } = this.groups[n] as Group;
      // What sound insulation shows says nothing of a fault.
      const foreseen = Math.min(respond(sound, 0, 0.5, Math.exp(this.s)), CEILING_OHM);
      const best = above || (fn === 'insulation' && isSoundInsulation(foreseen)) ? -LOSES : -Math.log(this.engine.noiseSd(fn, ohm, 0, metalIn(sound, ohm, 0), 0) * 2.5066282746);
      return (this.worth[n] as number) < best - LOSES;
    });
  }

  /** Log evidence after a step or two: enough to tell what cannot matter. */
  rough(most: number): number {
    if (this.engine.answering[this.suspect]?.kind === 'unknown') return this.unmapped();
    // What something else may have shown draws the cell on too: it is only dropped where it does not fit from there either.
    this.drawn = true;
    this.startAtReading();
    const value = this.climb(most);
    this.drawn = false;
    return value;
  }

  /** From the middle of the cell, or from the size that one of the readings shows by itself: what else the readings show draws a climb past it. */
  private startAtReading(): void {
    const { cells } = this.engine;
    const centre = cells.tCentre[this.c] as number;
    if (Number.isNaN(centre)) return;
    const tried: number[] = [centre];
    let best = NaN;
    let t = this.t;
    for (const n of this.rows) {
      const { above, ohm, response } = this.groups[n] as Group;
      if (above || tried.length > MOST_STARTS) continue;
      const r = response(this.suspect);
      const at = r.kind === 0 ? NaN : tOfOhm(Math.max(0, r.kind === 1 ? ohm : ohm - r.m));
      if (!(Math.abs(at - centre) < HALF_WIDTH_SD * (cells.tSd[this.c] as number)) || tried.some((x) => Math.abs(x - at) < ONE_START)) continue;
      tried.push(at);
      if (Number.isNaN(best)) best = this.assemble();
      this.t = at;
      const value = this.assemble();
      if (value > best) [best, t] = [value, at];
    }
    this.t = t;
  }

  /** Log evidence of the cell, each climb at most `most` steps. */
  settle(most: number): number {
    if (this.engine.answering[this.suspect]?.kind === 'unknown') return this.unmapped();
    const best = this.climb(most);
    if (!this.misfit || !this.free) return best;
    // A reading that looks like a slip from here may fit from elsewhere: believe every reading for a few steps, then climb again.
    const t0 = this.t, d0 = this.d, s0 = this.s;
    for (let i = 0; i < 4; i++) {
      this.assemble(true);
      if (!this.solve()) break;
      this.t += clamp(this.step[0] as number, 0.8);
      this.d = Math.min(1, Math.max(0, this.d + clamp(this.step[1] as number, 0.4)));
      this.s += clamp(this.step[2] as number, 1.5);
    }
    const other = this.climb(most);
    if (other > best) return other;
    this.t = t0;
    this.d = d0;
    this.s = s0;
    this.assemble();
    return best;
  }

  /** Robust Newton steps from where the cell stands. */
  private climb(most: number): number {
    let value = this.assemble();
    for (let i = 0; i < most; i++) {
      if (!this.solve()) break;
      const dt = this.step[0] as number, dd = this.step[1] as number, ds = this.step[2] as number;
      const t0 = this.t, d0 = this.d, s0 = this.s;
      this.t += clamp(dt, 0.6);
      this.d = Math.min(1, Math.max(0, this.d + clamp(dd, 0.3)));
      this.s += clamp(ds, 1);
      const after = this.assemble();
      if (after < value - 1e-9) {
        // A step that made it worse: half of it, once.
        this.t = (this.t + t0) / 2;
        this.d = (this.d + d0) / 2;
        this.s = (this.s + s0) / 2;
        const half = this.assemble();
        if (half < value) {
          this.t = t0;
          this.d = d0;
          this.s = s0;
          value = this.assemble();
          break;
        }
        value = half;
        continue;
      }
      const gained = after - value;
      value = after;
      if (gained < 1e-4) break;
    }
    return value + this.occam();
  }

  /** Something this map does not show: all readings are equally good, but sound insulation is as sound as elsewhere. */
  private unmapped(): number {
    this.h.fill(0);
    let sum = 0;
    for (const [n, g] of this.groups.entries()) sum += isHealthy(g) ? this.engine.elsewhere(g, this.worth[n] as number) : Math.log(g.above ? SLIP_OFF : SLIP_DENSITY);
    return sum;
  }

  /** Log posterior at the present unknowns (without Occam's factor); fills gradient and precision. */
  private assemble(trusting = false): number {
    const { cells, options } = this.engine;
    const c = this.c;
    const { h, g } = this;
    const hasT = !Number.isNaN(cells.tCentre[c]);
    const along = cells.along[c] === 1;
    const pt = hasT ? 1 / (cells.tSd[c] as number) ** 2 : 0;
    const pd = along ? 1 / (D_SD * D_SD) : 0;
    const ps = 1 / (options.insulationSd * options.insulationSd);
    this.misfit = false;
    this.lost = 0;
    this.worst = 0;
    this.free = hasT || along;
    const et = hasT ? this.t - (cells.tCentre[c] as number) : 0;
    const ed = along ? this.d - 0.5 : 0;
    h[0] = pt; h[1] = 0; h[2] = pd; h[3] = 0; h[4] = 0; h[5] = ps;
    g[0] = -pt * et; g[1] = -pd * ed; g[2] = -ps * this.s;
    let value = -0.5 * (pt * et * et + pd * ed * ed + ps * this.s * this.s);
    const x = hasT ? ohmOfT(this.t) : (cells.fixedOhm[c] as number);
    const k = Math.exp(this.s);
    this.earlier.begin();
    for (const n of this.rows) value += this.share(n, (this.groups[n] as Group).response(this.suspect), x, k, hasT, along, trusting);
    return value + this.rest;
  }

  /** ln likelihood of one reading; adds its share to gradient and precision. */
  private share(n: number, r: Response, x: number, k: number, hasT: boolean, along: boolean, trusting: boolean): number {
    const { h, g } = this;
    const group = this.groups[n] as Group;
    const ohm = respond(r, x, this.d, k);
    const range = meter[group.fn];
    const y = toY(group.fn, Math.min(ohm, CEILING_OHM));
    // Sound insulation moves nothing: neither the cell's unknowns nor, against another cell that has it too, its weight.
    const anySound = this.engine.soundIsFlat && group.fn === 'insulation';
    const nominal = anySound ? respond(r, x, this.d, 1) : 0;
    const flat = anySound && isSoundInsulation(nominal);
    const scale = flat ? 1 : k;
    const say = this.earlier.meet(n, this.suspect, flat ? nominal : ohm, (m) => respond(m.response(this.suspect), x, this.d, scale));
    if (flat && !group.above) return this.earlier.sound(n, nominal);
    if (flat) return this.earlier.offScale(n, BEYOND_RANGE);
    const slopeS = scaleSlope(r, x, this.d, k, ohm);
    // Here each reading has the whole error of the instrument for itself: the valley is wide enough to be found. What readings share comes later.
    const sd = this.engine.noiseSd(group.fn, ohm, 0, metalIn(r, ohm, x), Number.isFinite(slopeS) ? slopeS * group.alike : 0);
    let value = 0;
    if (group.above) {
      const z = (y - group.y) / Math.max(sd, 0.02);
      const p = anySound && z > 0 ? BEYOND_RANGE : normalCdf(z);
      value = this.earlier.offScale(n, p);
      if (z > 2 || p * 20 < group.slip) return value;
    }
    const residual = group.y - y;
    const off = y > group.y && !group.above && ohm > range.topOhm ? 1 : 0;
    const inRange = off ? normalCdf((toY(group.fn, range.topOhm) - y) / sd) : 1;
    const density = inRange > 1e-12 ? Math.exp(-0.5 * (residual / sd) ** 2) / (sd * 2.5066282746) : 0;
    const honest = (1 - group.slip) * (1 - say.share) * density;
    const byOthers = (1 - group.slip) * say.density;
    const mixture = honest + byOthers + group.slip * SLIP_DENSITY;
    if (!group.above) {
      this.earlier.shownWith(n, (1 - say.share) * density);
      value = Math.log(mixture);
    }
    if (group.fn === 'continuity' && group.ohm < IN_CABLE_OHM && ohm < IN_CABLE_OHM) {
      const loss = Math.max(0, -Math.log(sd * 2.5066282746) - value);
      this.lost += loss;
      this.worst = Math.max(this.worst, loss);
    }
    // Far from any reading the slip explains it; still pull a little, so that a poor start can come home.
    const fits = honest / mixture;
    // Beside a thing whose own ohms are lost the cell's size is read as well as alone.
    const { by, least } = this.earlier;
    const aside = group.above || by < 0 ? Infinity : group.y - toY(group.fn, least);
    const fitsWith = aside === Infinity ? 0 : ((1 - group.slip) * say.near) / mixture;
    const plainly = Math.abs(residual) < FAR_OFF;
    // What something else may have shown may still be the cell's own, from where its size fits: it is tried.
    if (!group.above && fits + fitsWith < 0.5 && (plainly || Math.abs(aside) < FAR_OFF)) this.misfit = true;
    const notPlainly = !plainly && Math.abs(aside) < FAR_OFF;
    const wWith = trusting ? (notPlainly ? 1 : 0) : Math.max(fitsWith, this.drawn && notPlainly ? DRAWS : 0);
    if (wWith > 1e-3 && hasT) this.pullWith(group.others[by]?.response(this.suspect), x, k, least, aside, wWith / say.nearSd ** 2, range.scaleOhm);
    const w = group.above || (trusting && wWith === 0) ? 1 : Math.max(fits, Math.abs(residual) < 3 && (this.drawn || say.share === 0) ? DRAWS : 0);
    if (w < 1e-3) return value;
    const yPerOhm = 1 / Math.sqrt(ohm * ohm + range.scaleOhm * range.scaleOhm);
    const jt = hasT && r.kind !== 0 ? ((respond(r, ohmOfT(this.t + 0.01), this.d, k) - ohm) / 0.01) * yPerOhm : 0;
    const dStep = this.d > 0.5 ? -0.02 : 0.02;
    const jd = along && r.kind === 1 ? ((respond(r, x, this.d + dStep, k) - ohm) / dStep) * yPerOhm : 0;
    const js = slopeS * yPerOhm;
    if (!Number.isFinite(jt + jd + js)) return value;
    const iv = w / (sd * sd);
    add(h, 0, iv * jt * jt);
    add(h, 1, iv * jt * jd);
    add(h, 2, iv * jd * jd);
    add(h, 3, iv * jt * js);
    add(h, 4, iv * jd * js);
    add(h, 5, iv * js * js);
    add(g, 0, iv * jt * residual);
    add(g, 1, iv * jd * residual);
    add(g, 2, iv * js * residual);
    return value;
  }

  /** The pull of a reading on the cell's size where something else is in, of which nothing but that is known. */
  private pullWith(r: Response | undefined, x: number, k: number, ohm: number, residual: number, iv: number, scaleOhm: number): void {
    if (!r || r.kind === 0) return;
    const jt = (respond(r, ohmOfT(this.t + 0.01), this.d, k) - respond(r, x, this.d, k)) / 0.01 / rootOfSquares(ohm, scaleOhm);
    if (!Number.isFinite(jt)) return;
    add(this.h, 0, iv * jt * jt);
    add(this.g, 0, iv * jt * residual);
  }

  private solve(): boolean {
    return solve3(this.h, this.g, this.step);
  }

  /** ½ ln(prior precision / posterior precision): wide beliefs that had to be squeezed count less. */
  private occam(): number {
    const { cells, options } = this.engine;
    const hasT = !Number.isNaN(cells.tCentre[this.c]);
    const prior = (hasT ? 1 / (cells.tSd[this.c] as number) ** 2 : 1) * (cells.along[this.c] === 1 ? 1 / (D_SD * D_SD) : 1) / (options.insulationSd * options.insulationSd);
    return 0.5 * Math.log(prior / determinant3(this.h));
  }
}


function add(row: Float64Array, i: number, x: number): void {
  row[i] = (row[i] as number) + x;
}
