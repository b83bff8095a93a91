import type { Suspect } from '../faults';
import type { Installation } from '../installation';
import { logSumExp } from '../numeric';
import { planPhysics, type Physics } from '../network';
import type { Assumed } from '../network/skeleton';
import { Answers, probeKey, respond, StateModel, tiedState, type Probe, type Response } from '../probes';
import { instrumentSdOhm, meter, STEADY_SD, toY, type Displayed } from '../tester';
import { stateSignature, type WorkState } from '../workstate';
import { cellsOf, ohmOfT, type Cells } from './cells';
import { Estimates } from './estimates';
import { lapsedCells } from './lapsed';
import { CellWork } from './cellWork';
import { Grouping } from './grouping';
import { Correlated } from './correlated';
import { CEILING_OHM, GUESSED_LENGTH_SD, KNOWN_LENGTH_SD, SECTION_INSULATION_SD, metalIn, ownOhm, scaleSlope, type Group } from './group';
import { quadraticForm } from './solve3';
import { Twins } from './twins';

/** What was read, in which state. Readings of one probe in one state are repeats. */
export interface Observation {
  readonly probe: Probe;
  readonly state: WorkState;
  readonly displayed: Displayed;
  /** Ends that were out and back before this reading: what was wrong with them no longer is. */
  readonly remade?: readonly string[];
  /** Links (`linkKey`) recorded as taken off before this reading: they may still be in. */
  readonly unlinked?: readonly string[];
  /** The figure would not stand still. */
  readonly unsteady?: boolean;
}

export interface BeliefOptions {
  readonly physics: Physics;
  /** S.d. in ln of the circuit's unknown insulation scale. */
  readonly insulationSd: number;
  /** Share of readings that are plain wrong. */
  readonly slipShare: number;
  /** How well a fault's own ohms keep their value from one reading to the next, relative s.d. */
  readonly steadySd: number;
}

export const tradeOptions: BeliefOptions = { physics: planPhysics, insulationSd: 1.5, slipShare: 0.008, steadySd: STEADY_SD };

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
  /** The readings that it follows from. */
  readonly observations: readonly Observation[];
  /** ln of the probability density of all readings. */
  readonly logEvidence: number;
}

export interface Prediction {
  ohm: number;
  y: number;
  sd: number;
}

/** Cells this far (in ln) behind the best are not worth the full sum. */
const CORRELATED_WITHIN = 9;
/** Guessed lengths make single readings say little and sets of them much: look further behind. */
const CORRELATED_PER_VARIANCE = 20;

/**
 * Belief as a pure function of the readings: the same set gives the same weights whatever the order. Each cell is a
 * small Gaussian over its unknowns, found by a few robust Newton steps over all readings; its evidence is Laplace's.
 */
export class BeliefEngine {
  readonly cells: Cells;
  private readonly models = new Map<string, StateModel>();
  private readonly answers = new Map<string, Answers | null>();
  private readonly grouping: Grouping;
  private readonly lengthVariancePerOhm: number;
  /** Variance of ln(length) of every section, and of ln(insulation), which its length is part of. */
  readonly lengthVariance: Float64Array;
  readonly insulationVariance: Float64Array;

  constructor(
    readonly installation: Installation,
    readonly suspects: readonly Suspect[],
    readonly options: BeliefOptions = tradeOptions,
    /** ln of what other evidence says about each cell, added to its prior. */
    readonly bias: Float64Array | null = null,
    /** A fault that is taken as known, given a state in which it may act or not. */
    readonly assumed: ((state: WorkState) => Assumed | null) | null = null,
  ) {
    this.grouping = new Grouping(this);
    const cells = cellsOf(suspects);
    this.cells = bias ? { ...cells, logPrior: cells.logPrior.map((x, c) => x + (bias[c] as number)) } : cells;
    const parts = installation.sections.map((s) => {
      const core = s.cores[0];
      return { ohm: core ? options.physics.ohmPerM(core.csaMm2, s.flexible ?? false) * s.lengthM : 0, sd: s.lengthKnown ? KNOWN_LENGTH_SD : GUESSED_LENGTH_SD };
    });
    this.lengthVariance = Float64Array.from(parts, (p) => p.sd * p.sd);
    this.insulationVariance = this.lengthVariance.map((v) => v + SECTION_INSULATION_SD ** 2);
    const ohm = parts.reduce((sum, p) => sum + p.ohm, 0);
    this.lengthVariancePerOhm = ohm > 0 ? (2 * parts.reduce((sum, p) => sum + p.sd * p.sd * p.ohm * p.ohm, 0)) / ohm : 0;
  }

  model(state: WorkState): StateModel {
    const key = stateSignature(state);
    let model = this.models.get(key);
    if (!model) {
      model = new StateModel(this.installation, state, this.options.physics, this.assumed?.(state) ?? null);
      this.models.set(key, model);
    }
    return model;
  }

  /** Formulas of all suspects for one probe in one state; null when a lead touches nothing. */
  answersOf(state: WorkState, probe: Probe): Answers | null {
    const key = `${stateSignature(state)} ${probeKey(probe)}`;
    let found = this.answers.get(key);
    if (found === undefined) {
      const model = this.model(tiedState(state, probe));
      const leads = model.leads(probe);
      const sound = model.sound(probe);
      found = leads && sound ? new Answers(model, this.suspects, probe, leads, sound) : null;
      this.answers.set(key, found);
    }
    return found;
  }

  /** S.d. in y of a predicted reading, apart from the cell's own unknowns. `own`: ohms of it that are the fault's. */
  noiseSd(fn: Probe['fn'], ohm: number, own: number, metalOhm: number, insulationSlope: number): number {
    const instrument = instrumentSdOhm(fn, ohm, own, this.options.steadySd);
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
    const ohm = Math.min(respond(r, x, d, k), CEILING_OHM);
    const slopeS = scaleSlope(r, x, d, k, ohm);
    const metalOhm = metalIn(r, ohm, x);
    const slopeT = hasT && r.kind !== 0 ? (respond(r, ohmOfT(t + 0.01), d, k) - ohm) / 0.01 : 0;
    const sd = this.noiseSd(fn, ohm, ownOhm(slopeT), metalOhm, slopeS);
    const k0 = meter[fn].scaleOhm;
    const scale = 1 / Math.sqrt(ohm * ohm + k0 * k0);
    const jt = slopeT * scale;
    const dStep = d > 0.5 ? -0.02 : 0.02;
    const jd = cells.along[c] === 1 && r.kind === 1 ? ((respond(r, x, d + dStep, k) - ohm) / dStep) * scale : 0;
    const js = slopeS * scale;
    out.ohm = ohm;
    out.y = toY(fn, ohm);
    out.sd = Math.sqrt(sd * sd + (jt === 0 && jd === 0 && js === 0 ? 0 : quadraticForm(belief.precision, 6 * c, jt, jd, js)));
  }

  /** What was wrong with an end that was out and back is no longer wrong with it; a link that was never off cannot be left in. */
  answerTo(answers: Answers, o: Observation, suspect: number): Response {
    const site = this.suspects[suspect]?.site;
    if (site?.on === 'branch' && o.remade?.includes(site.endKey)) return answers.sound;
    if (site?.on === 'pair' && site.only === 'linkOff' && !o.unlinked?.includes(site.part ?? '')) return answers.sound;
    return answers.to(suspect);
  }

  /** Belief after the readings; `before` only shortens the work. */
  believe(observations: readonly Observation[], before?: Belief): Belief {
    const groups = this.grouping.of(observations);
    const { cells } = this;
    const lapsed = before ? lapsedCells(before, observations) : null;
    const e = new Estimates(cells.count);
    for (let c = 0; c < cells.count; c++) e.startFrom(c, cells, before);
    const work = new CellWork(this, groups);
    const settle = (c: number): number => (cells.logPrior[c] as number) + work.settle(8);
    work.start(0, e);
    work.store(0, settle(0), e);
    const twins = new Twins(this, groups, e, lapsed);
    twins.share(e);
    const own = Array.from({ length: cells.count - 1 }, (_, i) => i + 1).filter((c) => twins.is[c] === 0 && !(lapsed && !Number.isNaN(lapsed[c])));
    for (const c of own) {
      work.start(c, e);
      work.store(c, (cells.logPrior[c] as number) + work.rough(before ? 1 : 2), e);
    }
    // Only what can still matter is worth settling to the end; the likeliest from their centre too, lest an early reading hold them in a false valley.
    const rough = e.logWeight.slice();
    const top = rough.reduce((x, y) => Math.max(x, y), -Infinity);
    for (const c of own) {
      if ((rough[c] as number) < top - 16) continue;
      work.start(c, e);
      work.store(c, settle(c), e);
      if (!before || (rough[c] as number) < top - 10 || (Number.isNaN(cells.tCentre[c]) && cells.along[c] === 0)) continue;
      work.startFromCentre(c, e);
      const fresh = settle(c);
      if (fresh > (e.logWeight[c] as number) + 1e-6) work.store(c, fresh, e);
    }
    this.correlate(groups, twins, own, e);
    return this.beliefOf(e, lapsed, observations);
  }

  /** The heaviest cells once more, with the lengths that their readings share; twins of the sound circuit share its result. */
  private correlate(groups: readonly Group[], twins: Twins, own: readonly number[], e: Estimates): void {
    if (groups.every((g) => g.above)) return;
    const top = e.logWeight.reduce((x, y) => Math.max(x, y), -Infinity);
    const within = CORRELATED_WITHIN + CORRELATED_PER_VARIANCE * Math.max(...this.lengthVariance);
    const work = new Correlated(this, groups);
    const left: number[] = [];
    let best = -Infinity;
    for (const c of [0, ...own]) {
      const prior = this.cells.logPrior[c] as number;
      if (this.suspects[this.cells.suspect[c] as number]?.kind === 'unknown') continue;
      if ((e.logWeight[c] as number) < top - within) left.push(c);
      else best = Math.max(best, (e.logWeight[c] = prior + work.evidence(c, e, best - prior)));
    }
    // What was left out keeps its distance: the two sums differ by what all cells share.
    for (const c of left) e.logWeight[c] = (e.logWeight[c] as number) + best - top;
    twins.share(e);
  }

  private beliefOf(e: Estimates, lapsed: Float64Array | null, observations: readonly Observation[]): Belief {
    const { cells } = this;
    const total = logSumExp(e.logWeight);
    const weight = e.logWeight.map((w, c) => Math.exp(lapsed && !Number.isNaN(lapsed[c]) ? (lapsed[c] as number) : w - total));
    const suspectShare = new Float64Array(this.suspects.length);
    for (let c = 0; c < cells.count; c++) {
      const i = cells.suspect[c] as number;
      suspectShare[i] = (suspectShare[i] as number) + (weight[c] as number);
    }
    return { cells, weight, t: e.t, d: e.d, s: e.s, precision: e.precision, suspectShare, observations: [...observations], logEvidence: total };
  }
}
