import { asTheyStand, type Suspect } from '../faults';
import { circuitsOf, type Installation } from '../installation';
import { logSumExp, normalCdf, rootOfSquares } from '../numeric';
import { planPhysics, type Physics } from '../network';
import { probeKey, respond, type Answers, type Probe, type Response } from '../probes';
import { instrumentSdOhm, meter, STEADY_SD, toY, type Displayed } from '../tester';
import { stateSignature, type WorkState } from '../workstate';
import { Course } from './course';
import { cellsOf, ohmOfT, type Cells } from './cells';
import { Estimates } from './estimates';
import { CellWork } from './cellWork';
import { ruledOut } from './clearing';
import { Formulas, type AssumedIn } from './formulas';
import { Grouping } from './grouping';
import { BEYOND_RANGE, isSoundInsulation } from './healthy';
import { Correlated } from './correlated';
import { Memory, nameOfReadings, standingOf, standAgain, type Kept } from './memory';
import { blurs, MOST_OHM, USUAL_OHM } from './nuisance';
import { CEILING_OHM, GUESSED_LENGTH_SD, KNOWN_LENGTH_SD, metalIn, ownOhm, scaleSlope, SLIP_DENSITY, SLIP_OFF, type Group } from './group';
import { quadraticForm } from './solve3';
import { Twins } from './twins';
import { Alike } from './alike';

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
  /** S.d. in ln of the unknown insulation of the whole installation. */
  readonly insulationSd: number;
  /** S.d. in ln by which a circuit's insulation differs from the whole's, a section's from its circuit's (length apart), and one pair of cores from another. */
  readonly insulationSpread: { readonly circuit: number; readonly section: number; readonly pair: number };
  /** May earth go by metal that nobody has found? */
  readonly metalMayBe: boolean;
  /** May a cable's length, or the area of a circuit's protective conductors, be far from what the plan says? */
  readonly planMayBeOff: boolean;
  /** Share of readings that are plain wrong. */
  readonly slipShare: number;
  /** How well a fault's own ohms keep their value from one reading to the next, relative s.d. */
  readonly steadySd: number;
}

/** Sound circuits read from a few megohms to beyond every range: a plausible value says little about anything else. */
const tradeSpread = { circuit: 1.5, section: 0.5, pair: 0.9 };

export const tradeOptions: BeliefOptions = { physics: planPhysics, insulationSd: 1, insulationSpread: tradeSpread, metalMayBe: true, planMayBeOff: true, slipShare: 0.008, steadySd: STEADY_SD };

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
  /** How far each reading, by its name, is off in the likeliest cell with all others given, the plan's own errors counted, s.d. */
  readonly misfit: ReadonlyMap<string, number>;
  /** ln of the probability density of all readings. */
  readonly logEvidence: number;
}

/** A figure foreseen, in y. `spans`: a load that may be in leaves it elsewhere: among `usual` ones, or by electronics `far` above them. */
export interface Prediction { ohm: number; y: number; sd: number; spans: boolean; usualY: number; usualSd: number; farY: number; farSd: number }

export const noPrediction = (): Prediction => ({ ohm: 0, y: 0, sd: 0, spans: false, usualY: 0, usualSd: 0, farY: 0, farSd: 0 });

/** What may be anywhere in a span has this part of it as its s.d. */
const EVENLY = Math.sqrt(12);

/** S.d. in y that makes an outcome one. */
const ONE_OUTCOME_SD = 0.02;
const AS_IT_SHOULD_BE = 0.75;

/** Two readings so far off in the best account of all, s.d., put something that no map shows beside it; so far off, in this share. */
export const STRANGE_FROM_SD = 3;
const STRANGE_AT_SD = 5;
const STRANGE_SHARE = 0.2;

/** One reading that is off is a slip, as likely as slips are; by the second one the account itself is in doubt. */
export const secondWorst = (misfits: readonly number[]): number => [...misfits].sort((x, y) => y - x)[1] ?? 0;

/** Weights of which as much as the best account leaves open goes to what no map shows: no leader is sure while its own fit is poor. */
function atLeastUnmapped(weight: Float64Array, isUnknown: (c: number) => boolean, offSd: number): Float64Array {
  const least = STRANGE_SHARE * Math.min(1, Math.max(0, (offSd - STRANGE_FROM_SD) / (STRANGE_AT_SD - STRANGE_FROM_SD)));
  const unknown = weight.findIndex((_, c) => isUnknown(c));
  const had = weight[unknown] ?? 1;
  return had >= least ? weight : weight.map((w, c) => (c === unknown ? least : (w * (1 - least)) / (1 - had)));
}

/** Beliefs that an engine keeps: the one before the last reading is asked for again. */
const KEPT_BELIEFS = 24;

export const nameOf = (o: Observation): string => `${stateSignature(o.state)} ${probeKey(o.probe)} ${JSON.stringify(o.displayed)} ${(o.remade ?? []).join()} ${(o.unlinked ?? []).join()} ${o.unsteady ?? ''}`;

const keyOf = (observations: readonly Observation[]): string => observations.map(nameOf).sort().join('\n');

function circuitNumbers(installation: Installation): Int32Array {
  const circuits = circuitsOf(installation);
  return Int32Array.from(installation.sections, (s) => circuits.get(s.id) ?? 0);
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
  /** The suspects by the numbers that their answers have. */
  readonly answering: readonly Suspect[];
  private readonly grouping: Grouping;
  private readonly known = new Map<string, Belief>();
  private readonly ruled = new Map<string, Uint8Array>();
  private readonly lengthVariancePerOhm: number;
  /** Variance of ln(length) of every section, and of ln(insulation), which its length is part of. */
  readonly lengthVariance: Float64Array;
  readonly insulationVariance: Float64Array;
  /** Number of each section's circuit. */
  readonly circuit: Int32Array;
  private readonly insulationNoise: number;

  constructor(
    readonly installation: Installation,
    readonly suspects: readonly Suspect[],
    readonly options: BeliefOptions = tradeOptions,
    /** ln of what other evidence says about each cell, added to its prior. */
    readonly bias: Float64Array | null = null,
    readonly assumed: AssumedIn | null = null,
    /** Of an engine that differs in `bias` alone. */
    readonly formulas: Formulas = new Formulas(installation, asTheyStand(suspects), options.physics, options.metalMayBe, assumed),
    readonly memory: Memory = new Memory(),
  ) {
    this.answering = asTheyStand(suspects);
    this.grouping = new Grouping(this);
    const cells = cellsOf(suspects);
    this.cells = bias ? { ...cells, logPrior: cells.logPrior.map((x, c) => x + (bias[c] as number)) } : cells;
    const parts = installation.sections.map((s) => {
      const core = s.cores[0];
      return { ohm: core ? options.physics.ohmPerM(core.csaMm2, s.flexible ?? false) * s.lengthM : 0, sd: s.lengthKnown ? KNOWN_LENGTH_SD : GUESSED_LENGTH_SD };
    });
    this.lengthVariance = Float64Array.from(parts, (p) => p.sd * p.sd);
    this.insulationVariance = this.lengthVariance.map((v) => v + options.insulationSpread.section ** 2);
    this.circuit = circuitNumbers(installation);
    this.soundIsFlat = options.insulationSpread.circuit > 0;
    const { circuit, section, pair } = options.insulationSpread;
    this.insulationNoise = Math.sqrt(circuit ** 2 + section ** 2 + pair ** 2);
    const ohm = parts.reduce((sum, p) => sum + p.ohm, 0);
    this.lengthVariancePerOhm = ohm > 0 ? (2 * parts.reduce((sum, p) => sum + p.sd * p.sd * p.ohm * p.ohm, 0)) / ohm : 0;
  }

  /** The same with other evidence beside the readings: what probes read is worked out once for both. */
  withBias(bias: Float64Array | null): BeliefEngine {
    return new BeliefEngine(this.installation, this.suspects, this.options, bias, this.assumed, this.formulas, this.memory);
  }

  /** S.d. in y of a predicted reading, apart from the cell's own unknowns. `own`: ohms of it that are the fault's. */
  noiseSd(fn: Probe['fn'], ohm: number, own: number, metalOhm: number, insulationSlope: number): number {
    const instrument = instrumentSdOhm(fn, ohm, own, this.options.steadySd);
    const length = this.lengthVariancePerOhm * Math.max(0, metalOhm);
    const insulation = this.insulationNoise * insulationSlope;
    const k = meter[fn].scaleOhm;
    return Math.sqrt((instrument * instrument + length + insulation * insulation) / (ohm * ohm + k * k));
  }

  /** True where nobody knows how good sound insulation is: then no value of it says anything. */
  readonly soundIsFlat: boolean;

  /** ln of how likely sound insulation reads so where something is wrong that no map shows: of a density in y, or of the chance of off scale. `worth`: the same in the sound circuit. */
  elsewhere(g: Group, worth: number): number {
    const ohm = Math.min(respond(g.sound, 0, 0.5, 1), CEILING_OHM);
    if (!this.soundIsFlat) return Math.log(this.elsewhereDensity(g, ohm));
    const least = Math.log(g.above ? BEYOND_RANGE : SLIP_DENSITY);
    // Loads may have stayed in there as anywhere.
    const asSound = !isSoundInsulation(ohm) ? least : g.above ? worth : Math.max(least, worth);
    // What no map shows might have shown there too: a reading that is as it should be speaks a little against it.
    return Math.log(AS_IT_SHOULD_BE) + asSound;
  }

  /** Of insulation that the plan foresees at `ohm`: a density in y, or the chance of off scale. */
  private elsewhereDensity(g: Group, ohm: number): number {
    const y = toY(g.fn, ohm);
    const sd = rootOfSquares(this.noiseSd(g.fn, ohm, 0, 0, scaleSlope(g.sound, 0, 0.5, 1, ohm)), this.options.insulationSd);
    if (g.above) return Math.max(SLIP_OFF, normalCdf((y - g.y) / sd));
    return Math.max(SLIP_DENSITY, Math.exp(-0.5 * ((g.y - y) / sd) ** 2) / (sd * 2.5066282746));
  }

  /** Cells that a reading rules out by itself; worked out once. */
  ruledOut(o: Observation): Uint8Array {
    const key = nameOf(o);
    let found = this.ruled.get(key);
    if (!found) this.ruled.set(key, (found = ruledOut(this, o)));
    return found;
  }

  /** Predicted reading of one cell for one formula: y, its s.d. with the cell's own unknowns, and ohms. `most`: with all loads that may be in. */
  predict(belief: Belief, c: number, fn: Probe['fn'], r: Response, out: Prediction, most: Response | null = null): void {
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
    // Sound insulation of any value is one outcome: nothing is told by which.
    const flat = this.soundIsFlat && fn === 'insulation' && isSoundInsulation(ohm);
    if (flat) [out.y, out.sd] = [toY(fn, meter[fn].topOhm) + 1, ONE_OUTCOME_SD];
    const least = most ? Math.min(respond(most, x, d, k), CEILING_OHM) : ohm;
    // And so it is with loads in, as long as what they leave is sound too.
    out.spans = blurs(least, ohm) && !(flat && isSoundInsulation(least));
    if (!out.spans) return;
    const upTo = (x: number): number => Math.min(out.y, toY(fn, Math.min(least + x, 1.5 * meter[fn].topOhm)));
    const [low, usual, far] = [toY(fn, least), upTo(USUAL_OHM), upTo(MOST_OHM)];
    [out.usualY, out.usualSd] = [(low + usual) / 2, Math.max(out.sd, (usual - low) / EVENLY)];
    [out.farY, out.farSd] = [(usual + far) / 2, Math.max(out.sd, (far - usual) / EVENLY)];
  }

  /** What was wrong with an end that was out and back is no longer wrong with it; a link that was never off cannot be left in. */
  answerTo(answers: Answers, o: Observation, suspect: number): Response {
    return this.lapsed(o, suspect) ? answers.sound : answers.to(suspect);
  }

  /** Does the suspect no longer act in this reading? */
  lapsed(o: Observation, suspect: number): boolean {
    const site = this.answering[suspect]?.site;
    return ((site?.on === 'branch' || site?.on === 'opened') && o.remade?.includes(site.endKey) === true) || (site?.on === 'pair' && site.only === 'linkOff' && !o.unlinked?.includes(site.part ?? ''));
  }

  /** Belief after the readings: the same set gives the same belief, whatever was believed before. The last few are kept. */
  believe(observations: readonly Observation[]): Belief {
    const key = keyOf(observations);
    let found = this.known.get(key);
    if (!found) {
      if (this.known.size >= KEPT_BELIEFS) this.known.delete(this.known.keys().next().value ?? '');
      this.known.set(key, (found = this.fresh(observations)));
    }
    return found;
  }

  /**
   * The same for weighing only: a cell that touches none of the readings which the sound circuit leaves unexplained gains nothing by
   * the rest, and stands as the sound circuit does.
   */
  glance(observations: readonly Observation[]): Belief {
    return this.known.get(keyOf(observations)) ?? this.fresh(observations, true);
  }

  private fresh(observations: readonly Observation[], unexplainedOnly = false): Belief {
    const groups = this.grouping.of(observations);
    const { cells } = this;
    const e = new Estimates(cells.count);
    for (let c = 0; c < cells.count; c++) e.startFrom(c, cells);
    const work = new CellWork(this, groups);
    const settle = (c: number): number => (cells.logPrior[c] as number) + work.settle(8);
    work.start(0, e);
    work.store(0, settle(0), e);
    const always = work.keepWorth();
    const twins = new Twins(this, groups, e, always, unexplainedOnly ? work.unexplained() : null);
    twins.share(e);
    const own = Array.from({ length: cells.count - 1 }, (_, i) => i + 1).filter((c) => twins.is[c] === 0);
    const alike = new Alike(this, groups, twins.rows, own);
    const weighed = own.filter((c) => alike.first[c] === c);
    const kept = this.keptFor(groups, twins, weighed);
    const stand = (c: number, how: 'rough' | 'settled', find: () => number): void => {
      const entry = kept.get(c);
      const rest = work.start(c, e, twins.rows[c]);
      const prior = cells.logPrior[c] as number;
      const known = entry?.[how];
      if (known) return standAgain(e, c, known, prior + rest + known.evidence);
      const value = find();
      work.store(c, prior + value, e);
      if (entry) entry[how] = standingOf(e, c, value - rest);
    };
    for (const c of weighed) stand(c, 'rough', () => work.rough(2));
    // Only what can still matter is worth settling to the end.
    const top = e.logWeight.reduce((x, y) => Math.max(x, y), -Infinity);
    for (const c of weighed) if ((e.logWeight[c] as number) + (e.hope[c] as number) >= top - 16) stand(c, 'settled', () => work.settle(8));
    const misfit = this.correlate(groups, twins, alike, always, weighed, kept, e);
    return this.beliefOf(e, observations, new Map(groups.flatMap((g, n) => g.names.map((name): [string, number] => [name, misfit[n] as number]))));
  }

  /** What was worked out before of each cell with just the readings that matter in it. What no map shows is weighed with all of them, at once. */
  private keptFor(groups: readonly Group[], twins: Twins, own: readonly number[]): Map<number, Kept> {
    return new Map(own.filter((c) => !this.isUnknown(c)).map((c) => [c, this.memory.kept(c, nameOfReadings(groups, twins.rows[c] as Int32Array))]));
  }

  /** The heaviest cells once more, with the lengths that their readings share; twins of the sound circuit share its result. How far each reading is off in the heaviest, s.d. */
  private correlate(groups: readonly Group[], twins: Twins, alike: Alike, always: Uint8Array, weighed: readonly number[], kept: ReadonlyMap<number, Kept>, e: Estimates): Float64Array {
    const top = e.logWeight.reduce((x, y) => Math.max(x, y), -Infinity);
    const within = CORRELATED_WITHIN + CORRELATED_PER_VARIANCE * Math.max(...this.lengthVariance);
    const work = new Correlated(this, groups, twins.rows, always);
    const left: number[] = [];
    // The likeliest may be one that no reading touches.
    const inTheLikeliest = (): Float64Array => {
      twins.share(e);
      alike.share(e);
      return work.misfits(e.logWeight.reduce((m, w, c) => (w > (e.logWeight[m] as number) && !this.isUnknown(c) ? c : m), 0), e);
    };
    if (groups.every((g) => g.above)) return inTheLikeliest();
    const course = new Course(this, groups);
    const behind: number[] = [];
    // The likeliest first: what is hopelessly behind them is not weighed to the end.
    const worth = (c: number): number => (e.logWeight[c] as number) + (e.hope[c] as number);
    for (const c of [0, ...[...weighed].sort((x, y) => worth(y) - worth(x))]) {
      const prior = this.cells.logPrior[c] as number;
      if (this.isUnknown(c)) continue;
      // Nothing wrong but the plan is weighed in full: no reading by itself shows that one cable is longer than drawn.
      if (c !== 0 && worth(c) < top - within) left.push(c);
      else if (c !== 0 && course.isHopeless(c)) behind.push(c);
      else {
        const evidence = work.evidence(c, e, course.best - prior, kept.get(c));
        course.weighed(c, evidence, work.reach);
        e.logWeight[c] = prior + evidence;
      }
    }
    for (const c of behind) e.logWeight[c] = course.weightBehind(c);
    // What was left out keeps its distance: the two sums differ by what all cells share.
    for (const c of left) e.logWeight[c] = (e.logWeight[c] as number) + course.best - top;
    return inTheLikeliest();
  }

  private isUnknown(c: number): boolean {
    return this.suspects[this.cells.suspect[c] as number]?.kind === 'unknown';
  }

  private beliefOf(e: Estimates, observations: readonly Observation[], misfit: ReadonlyMap<string, number>): Belief {
    const { cells } = this;
    const total = logSumExp(e.logWeight);
    // Better no belief, which is begun anew, than one that is no figure.
    if (!Number.isFinite(total)) throw new Error('the weights of the suspects are no figures');
    const weight = atLeastUnmapped(e.logWeight.map((w) => Math.exp(w - total)), (c) => this.isUnknown(c), secondWorst([...misfit.values()]));
    const suspectShare = new Float64Array(this.suspects.length);
    for (let c = 0; c < cells.count; c++) {
      const i = cells.suspect[c] as number;
      suspectShare[i] = (suspectShare[i] as number) + (weight[c] as number);
    }
    return { cells, weight, t: e.t, d: e.d, s: e.s, precision: e.precision, suspectShare, observations: [...observations], misfit, logEvidence: total };
  }
}
