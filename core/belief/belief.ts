import type { Suspect } from '../faults';
import type { Installation } from '../installation';
import { logSumExp, normalCdf } from '../numeric';
import { planPhysics, type Physics } from '../network';
import { probeKey, respond, StateModel, tiedState, type Probe, type Response } from '../probes';
import { instrumentSdOhm, isAbove, meter, toY, type Displayed } from '../tester';
import { stateSignature, type WorkState } from '../workstate';
import { cellsOf, ohmOfT, type Cells } from './cells';

/** What was read, in which state. Readings of one probe in one state are repeats. */
export interface Observation {
  readonly probe: Probe;
  readonly state: WorkState;
  readonly displayed: Displayed;
  /** Ends that were out and back before this reading: what was wrong with them no longer is. */
  readonly remade?: readonly string[];
}

export interface BeliefOptions {
  readonly physics: Physics;
  /** S.d. in ln of the circuit's unknown insulation scale. */
  readonly insulationSd: number;
  /** Share of readings that are plain wrong. */
  readonly slipShare: number;
}

export const tradeOptions: BeliefOptions = { physics: planPhysics, insulationSd: 1.5, slipShare: 0.008 };

/** Weights of all suspects after the readings, with each cell's unknowns at their likeliest. */
export interface Belief {
  readonly cells: Cells;
  /** Probability per cell; sums to 1. */
  readonly weight: Float64Array;
  /** Likeliest unknowns per cell: t = log10(ohm + 0.1), place along the cable, ln of the insulation scale. */
  readonly t: Float64Array;
  readonly d: Float64Array;
  readonly s: Float64Array;
  /** Posterior precision per cell, packed tt, td, dd, ts, ds, ss. */
  readonly precision: Float64Array;
  readonly suspectShare: Float64Array;
  /** ln of the probability density of all readings. */
  readonly logEvidence: number;
}

const D_SD = 0.28;
const KNOWN_LENGTH_SD = 0.08;
const GUESSED_LENGTH_SD = 0.4;
const SECTION_INSULATION_SD = 0.18;
/** Density of a slip per unit of y, and chance that a slip shows off scale. */
const SLIP_DENSITY = 0.06;
const SLIP_OFF = 0.5;

export interface Prediction {
  ohm: number;
  y: number;
  sd: number;
}

const scratch: Prediction = { ohm: 0, y: 0, sd: 0 };

interface Group {
  readonly fn: Probe['fn'];
  readonly above: boolean;
  readonly y: number;
  readonly slip: number;
  readonly responses: readonly Response[];
}

/**
 * Belief as a pure function of the readings: the same set gives the same weights whatever the order. Each cell is a
 * small Gaussian over its unknowns, found by a few robust Newton steps over all readings; its evidence is Laplace's.
 */
export class BeliefEngine {
  readonly cells: Cells;
  private readonly models = new Map<string, StateModel>();
  private readonly responses = new Map<string, readonly Response[] | null>();
  private readonly lengthVariancePerOhm: number;

  constructor(
    readonly installation: Installation,
    readonly suspects: readonly Suspect[],
    readonly options: BeliefOptions = tradeOptions,
  ) {
    this.cells = cellsOf(suspects);
    const parts = installation.sections.map((s) => {
      const core = s.cores[0];
      return { ohm: core ? options.physics.ohmPerM(core.csaMm2, s.flexible ?? false) * s.lengthM : 0, sd: s.lengthKnown ? KNOWN_LENGTH_SD : GUESSED_LENGTH_SD };
    });
    const ohm = parts.reduce((sum, p) => sum + p.ohm, 0);
    this.lengthVariancePerOhm = ohm > 0 ? (2 * parts.reduce((sum, p) => sum + p.sd * p.sd * p.ohm * p.ohm, 0)) / ohm : 0;
  }

  model(state: WorkState): StateModel {
    const key = stateSignature(state);
    let model = this.models.get(key);
    if (!model) {
      model = new StateModel(this.installation, state, this.options.physics);
      this.models.set(key, model);
    }
    return model;
  }

  /** Formulas of all suspects for one probe in one state; null when a lead touches nothing. */
  responsesOf(state: WorkState, probe: Probe): readonly Response[] | null {
    const key = `${stateSignature(state)} ${probeKey(probe)}`;
    let found = this.responses.get(key);
    if (found === undefined) {
      const model = this.model(tiedState(state, probe));
      const leads = model.leads(probe);
      const sound = model.sound(probe);
      found = leads && sound ? this.suspects.map((s) => model.response(s, probe, leads, sound)) : null;
      this.responses.set(key, found);
    }
    return found;
  }

  /** S.d. in y of a predicted reading, apart from the cell's own unknowns. */
  noiseSd(fn: Probe['fn'], ohm: number, metalOhm: number, insulationSlope: number): number {
    const instrument = instrumentSdOhm(fn, ohm);
    const length = this.lengthVariancePerOhm * Math.max(0, metalOhm);
    const insulation = SECTION_INSULATION_SD * insulationSlope;
    const k = meter[fn].scaleOhm;
    return Math.sqrt((instrument * instrument + length + insulation * insulation) / (ohm * ohm + k * k));
  }

  /** Predicted reading of one cell for one formula: y, its s.d. with the cell's own unknowns, and ohms. */
  predict(belief: Belief, c: number, fn: Probe['fn'], r: Response, out: Prediction): void {
    const { cells } = this;
    const t = belief.t[c] as number;
    const d = belief.d[c] as number;
    const k = Math.exp(belief.s[c] as number);
    const hasT = !Number.isNaN(cells.tCentre[c]);
    const x = hasT ? ohmOfT(t) : (cells.fixedOhm[c] as number);
    const ohm = Math.min(respond(r, x, d, k), 1e14);
    const slopeS = r.z === 0 && r.kind < 2 ? 0 : (Math.min(respond(r, x, d, k * 1.01), 1e14) - ohm) / 0.01;
    const metalOhm = Math.min(r.kind === 1 ? Math.max(0, ohm - x) : r.m, 50);
    const sd = this.noiseSd(fn, ohm, metalOhm, slopeS);
    const k0 = meter[fn].scaleOhm;
    const scale = 1 / Math.sqrt(ohm * ohm + k0 * k0);
    const jt = hasT && r.kind !== 0 ? ((respond(r, ohmOfT(t + 0.01), d, k) - ohm) / 0.01) * scale : 0;
    const dStep = d > 0.5 ? -0.02 : 0.02;
    const jd = cells.along[c] === 1 && r.kind === 1 ? ((respond(r, x, d + dStep, k) - ohm) / dStep) * scale : 0;
    const js = slopeS * scale;
    out.ohm = ohm;
    out.y = toY(fn, ohm);
    out.sd = Math.sqrt(sd * sd + (jt === 0 && jd === 0 && js === 0 ? 0 : quadraticForm(belief.precision, 6 * c, jt, jd, js)));
  }

  /**
   * How each reading speaks for (positive) or against (negative) each of the given cells: ln of its likelihood there
   * against the average of all suspects before any reading.
   */
  support(belief: Belief, observations: readonly Observation[], cells: readonly number[]): number[][] {
    const average = observations.map((o) => Math.log(this.chance(belief, o, (c) => Math.exp(this.cells.logPrior[c] as number))));
    return cells.map((c) => observations.map((o, j) => Math.log(this.chanceIn(belief, o, c)) - (average[j] as number)));
  }

  /** How well a reading was foreseen: its likelihood against that of the likeliest value, 0…1. */
  foreseen(belief: Belief, o: Observation): number {
    const best = isAbove(o.displayed) ? 1 : 1 / (0.05 * 2.5);
    return Math.min(1, this.chance(belief, o, (c) => belief.weight[c] as number) / best);
  }

  /** Residual of each reading in one cell, in standard deviations. */
  misfit(belief: Belief, observations: readonly Observation[], c: number): number[] {
    const p: Prediction = { ohm: 0, y: 0, sd: 0 };
    return observations.map((o) => {
      const r = this.responsesOf(o.state, o.probe)?.[this.cells.suspect[c] as number];
      if (!r) return 0;
      this.predict(belief, c, o.probe.fn, r, p);
      if (isAbove(o.displayed)) return p.ohm > 0.9 * meter[o.probe.fn].topOhm ? 0 : 5;
      return Math.min(6, Math.abs(toY(o.probe.fn, o.displayed.ohm) - p.y) / p.sd);
    });
  }

  private chance(belief: Belief, o: Observation, weightOf: (c: number) => number): number {
    let sum = 0;
    let total = 0;
    for (let c = 0; c < this.cells.count; c++) {
      const w = weightOf(c);
      if (w < 1e-7) continue;
      total += w;
      sum += w * this.chanceIn(belief, o, c);
    }
    return total > 0 ? sum / total : 1;
  }

  /** Likelihood of one reading in one cell: a density in y, or a probability when off scale. */
  private chanceIn(belief: Belief, o: Observation, c: number): number {
    const s = this.cells.suspect[c] as number;
    const slip = this.options.slipShare;
    if (this.suspects[s]?.kind === 'unknown') return isAbove(o.displayed) ? SLIP_OFF : SLIP_DENSITY;
    const r = this.responsesOf(o.state, o.probe)?.[s];
    if (!r) return 1;
    const p = scratch;
    this.predict(belief, c, o.probe.fn, r, p);
    const top = toY(o.probe.fn, meter[o.probe.fn].topOhm);
    if (isAbove(o.displayed)) return (1 - slip) * normalCdf((p.y - top) / Math.max(p.sd, 0.02)) + slip * SLIP_OFF;
    const z = (toY(o.probe.fn, o.displayed.ohm) - p.y) / p.sd;
    return ((1 - slip) * Math.exp(-0.5 * z * z)) / (p.sd * 2.5066282746) + slip * SLIP_DENSITY;
  }

  private groupsOf(observations: readonly Observation[]): Group[] {
    const byProbe = new Map<string, Observation[]>();
    for (const o of observations) {
      const key = `${stateSignature(o.state)} ${probeKey(o.probe)} ${(o.remade ?? []).join()}`;
      byProbe.set(key, [...(byProbe.get(key) ?? []), o]);
    }
    const groups: Group[] = [];
    for (const repeats of byProbe.values()) {
      const first = repeats[0] as Observation;
      const found = this.responsesOf(first.state, first.probe);
      if (!found) continue;
      const responses = this.withRemade(found, first);
      const { fn } = first.probe;
      const values = repeats.map((o) => (isAbove(o.displayed) ? Infinity : o.displayed.ohm)).sort((x, y) => x - y);
      // Repeats that agree share one instrument error: they only make a slip less likely.
      for (let i = 0; i < values.length; ) {
        const start = values[i] as number;
        let j = i + 1;
        while (j < values.length && agree(fn, start, values[j] as number)) j++;
        const cluster = values.slice(i, j);
        const middle = cluster[Math.floor((cluster.length - 1) / 2)] as number;
        const above = middle === Infinity;
        groups.push({ fn, above, y: toY(fn, above ? meter[fn].topOhm : middle), slip: this.options.slipShare ** cluster.length, responses });
        i = j;
      }
    }
    return groups;
  }

  private withRemade(responses: readonly Response[], o: Observation): readonly Response[] {
    const remade = o.remade ?? [];
    const sound = responses[0];
    if (!remade.length || !sound) return responses;
    return this.suspects.map((s, i) => (s.site.on === 'branch' && remade.includes(s.site.endKey) ? sound : (responses[i] as Response)));
  }

  /** Belief after the readings; `before` only shortens the work. */
  believe(observations: readonly Observation[], before?: Belief): Belief {
    const groups = this.groupsOf(observations);
    const { cells } = this;
    const n = cells.count;
    const t = new Float64Array(n);
    const d = new Float64Array(n);
    const s = new Float64Array(n);
    const precision = new Float64Array(6 * n);
    const logWeight = new Float64Array(n);
    const work = new CellWork(this, groups);
    for (let c = 0; c < n; c++) {
      const centre = cells.tCentre[c] as number;
      work.start(c, before ? (before.t[c] as number) : Number.isNaN(centre) ? 0 : centre, before ? (before.d[c] as number) : 0.5, before ? (before.s[c] as number) : 0);
      logWeight[c] = (cells.logPrior[c] as number) + work.rough(before ? 1 : 2);
      work.store(c, t, d, s, precision);
    }
    // Only what can still matter is worth settling to the end; the likeliest from their centre too, lest an early reading hold them in a false valley.
    let top = -Infinity;
    for (let c = 0; c < n; c++) top = Math.max(top, logWeight[c] as number);
    for (let c = 0; c < n; c++) {
      const rough = logWeight[c] as number;
      if (rough < top - 16) continue;
      const centre = cells.tCentre[c] as number;
      work.start(c, t[c] as number, d[c] as number, s[c] as number);
      logWeight[c] = (cells.logPrior[c] as number) + work.settle(8);
      work.store(c, t, d, s, precision);
      if (!before || rough < top - 10 || (Number.isNaN(centre) && cells.along[c] === 0)) continue;
      work.start(c, Number.isNaN(centre) ? 0 : centre, 0.5, s[c] as number);
      const fresh = (cells.logPrior[c] as number) + work.settle(8);
      if (fresh <= (logWeight[c] as number) + 1e-6) continue;
      logWeight[c] = fresh;
      work.store(c, t, d, s, precision);
    }
    const total = logSumExp(logWeight);
    const weight = logWeight.map((w) => Math.exp(w - total));
    const suspectShare = new Float64Array(this.suspects.length);
    for (let c = 0; c < n; c++) {
      const i = cells.suspect[c] as number;
      suspectShare[i] = (suspectShare[i] as number) + (weight[c] as number);
    }
    return { cells, weight, t, d, s, precision, suspectShare, logEvidence: total };
  }
}

function agree(fn: Probe['fn'], x: number, y: number): boolean {
  if (x === Infinity || y === Infinity) return x === y;
  return Math.abs(toY(fn, x) - toY(fn, y)) < 0.06 || Math.abs(x - y) <= 3 * meter[fn].digitOhm(Math.max(x, y));
}

/** Newton steps for one cell at a time, without allocation. */
class CellWork {
  private c = 0;
  private t = 0;
  private d = 0;
  private s = 0;
  private suspect = 0;
  /** Set by assemble: some reading is taken for a slip here; the cell has a size or place of its own to move. */
  private misfit = false;
  private free = false;
  private readonly h = new Float64Array(6);
  private readonly g = new Float64Array(3);
  private readonly step = new Float64Array(3);

  constructor(
    private readonly engine: BeliefEngine,
    private readonly groups: readonly Group[],
  ) {}

  start(c: number, t: number, d: number, s: number): void {
    this.c = c;
    this.t = t;
    this.d = d;
    this.s = s;
    this.suspect = this.engine.cells.suspect[c] as number;
  }

  store(c: number, t: Float64Array, d: Float64Array, s: Float64Array, precision: Float64Array): void {
    t[c] = this.t;
    d[c] = this.d;
    s[c] = this.s;
    precision.set(this.h, 6 * c);
  }

  /** Log evidence after a step or two: enough to tell what cannot matter. */
  rough(most: number): number {
    return this.engine.suspects[this.suspect]?.kind === 'unknown' ? this.flat() : this.climb(most);
  }

  /** Log evidence of the cell, each climb at most `most` steps. */
  settle(most: number): number {
    if (this.engine.suspects[this.suspect]?.kind === 'unknown') return this.flat();
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

  /** Something this map does not show: any reading is as good as any other. */
  private flat(): number {
    this.h.fill(0);
    let sum = 0;
    for (const g of this.groups) sum += g.above ? Math.log(SLIP_OFF) : Math.log(SLIP_DENSITY);
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
    this.free = hasT || along;
    const et = hasT ? this.t - (cells.tCentre[c] as number) : 0;
    const ed = along ? this.d - 0.5 : 0;
    h[0] = pt; h[1] = 0; h[2] = pd; h[3] = 0; h[4] = 0; h[5] = ps;
    g[0] = -pt * et; g[1] = -pd * ed; g[2] = -ps * this.s;
    let value = -0.5 * (pt * et * et + pd * ed * ed + ps * this.s * this.s);
    const x = hasT ? ohmOfT(this.t) : (cells.fixedOhm[c] as number);
    const k = Math.exp(this.s);
    for (const group of this.groups) {
      const r = group.responses[this.suspect] as Response;
      const ohm = respond(r, x, this.d, k);
      const range = meter[group.fn];
      const slopeS = r.z === 0 && r.kind < 2 ? 0 : (respond(r, x, this.d, k * 1.01) - ohm) / 0.01;
      const metalOhm = Math.min(r.kind === 1 ? Math.max(0, ohm - x) : r.m, 50);
      const sd = this.engine.noiseSd(group.fn, ohm, metalOhm, Number.isFinite(slopeS) ? slopeS : 0);
      const y = toY(group.fn, Math.min(ohm, 1e14));
      if (group.above) {
        const z = (y - group.y) / Math.max(sd, 0.02);
        const p = normalCdf(z);
        value += Math.log((1 - group.slip) * p + group.slip * SLIP_OFF + 1e-300);
        if (z > 2) continue;
        if (p * 20 < group.slip) continue;
      }
      const residual = group.y - y;
      const off = y > group.y && !group.above && ohm > range.topOhm ? 1 : 0;
      const inRange = off ? normalCdf((toY(group.fn, range.topOhm) - y) / sd) : 1;
      const density = inRange > 1e-12 ? Math.exp(-0.5 * (residual / sd) ** 2) / (sd * 2.5066282746) : 0;
      const honest = (1 - group.slip) * density;
      const mixture = honest + group.slip * SLIP_DENSITY;
      if (!group.above) value += Math.log(mixture);
      // Far from any reading the slip explains it; still pull a little, so that a poor start can come home.
      const fits = honest / mixture;
      if (!group.above && fits < 0.5 && Math.abs(residual) < 4) this.misfit = true;
      const w = group.above || trusting ? 1 : Math.max(fits, Math.abs(residual) < 3 ? 0.02 : 0);
      if (w < 1e-3) continue;
      const scale = 1 / Math.sqrt(ohm * ohm + range.scaleOhm * range.scaleOhm);
      const jt = hasT && r.kind !== 0 ? ((respond(r, ohmOfT(this.t + 0.01), this.d, k) - ohm) / 0.01) * scale : 0;
      const dStep = this.d > 0.5 ? -0.02 : 0.02;
      const jd = along && r.kind === 1 ? ((respond(r, x, this.d + dStep, k) - ohm) / dStep) * scale : 0;
      const js = slopeS * scale;
      if (!Number.isFinite(jt + jd + js)) continue;
      const iv = w / (sd * sd);
      h[0] = (h[0]) + iv * jt * jt;
      h[1] = (h[1]) + iv * jt * jd;
      h[2] = (h[2]) + iv * jd * jd;
      h[3] = (h[3]) + iv * jt * js;
      h[4] = (h[4]) + iv * jd * js;
      h[5] = (h[5]) + iv * js * js;
      g[0] = (g[0]) + iv * jt * residual;
      g[1] = (g[1]) + iv * jd * residual;
      g[2] = (g[2]) + iv * js * residual;
    }
    return value;
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

const clamp = (x: number, most: number): number => Math.min(most, Math.max(-most, x));

/** Determinant of the packed symmetric matrix; unknowns that do not apply count as 1. */
function determinant3(h: Float64Array): number {
  const a = h[0] as number, b = h[1] as number, c = h[2] as number, d = h[3] as number, e = h[4] as number, f = h[5] as number;
  const a1 = a || 1;
  const c1 = c || 1;
  return a1 * (c1 * f - e * e) - b * (b * f - e * d) + d * (b * e - c1 * d);
}

function solve3(h: Float64Array, g: Float64Array, out: Float64Array): boolean {
  const a0 = h[0] as number, b = h[1] as number, c0 = h[2] as number, d = h[3] as number, e = h[4] as number, f = h[5] as number;
  const a = a0 || 1;
  const c = c0 || 1;
  const det = determinant3(h);
  if (!(Math.abs(det) > 0) || !Number.isFinite(det)) return false;
  const x = g[0] as number, y = g[1] as number, z = g[2] as number;
  out[0] = ((c * f - e * e) * x + (d * e - b * f) * y + (b * e - c * d) * z) / det;
  out[1] = ((d * e - b * f) * x + (a * f - d * d) * y + (b * d - a * e) * z) / det;
  out[2] = ((b * e - c * d) * x + (b * d - a * e) * y + (a * c - b * b) * z) / det;
  return true;
}

/** jᵀ H⁻¹ j for the packed precision at an offset. */
function quadraticForm(h: Float64Array, at: number, x: number, y: number, z: number): number {
  const a = (h[at] as number) || 1, b = h[at + 1] as number, c = (h[at + 2] as number) || 1;
  const d = h[at + 3] as number, e = h[at + 4] as number, f = (h[at + 5] as number) || 1;
  const det = a * (c * f - e * e) - b * (b * f - e * d) + d * (b * e - c * d);
  if (!(det > 0)) return 0;
  const sum =
    (c * f - e * e) * x * x + (a * f - d * d) * y * y + (a * c - b * b) * z * z + 2 * ((d * e - b * f) * x * y + (b * e - c * d) * x * z + (b * d - a * e) * y * z);
  return Math.max(0, sum / det);
}
