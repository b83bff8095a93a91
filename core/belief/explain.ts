import { normalCdf } from '../numeric';
import { isAbove, meter, toY } from '../tester';
import { respond, type Answers, type Response } from '../probes';
import { nameOf, noPrediction, type Belief, type BeliefEngine, type Observation } from './belief';
import { CEILING_OHM, SLIP_DENSITY, SLIP_OFF } from './group';
import { ohmOfT } from './cells';
import { BEYOND_RANGE, healthyDensity, isSoundInsulation } from './healthy';
import { addSay, clearSay, noSay, type Say } from './nuisance';
import { differs, shownBy, strongest } from './twins';

// What single readings say in the light of a belief: for explaining it, not for reaching it.

const scratch = noPrediction();
const said = noSay();

/** What things that may be there have to say in a reading, where a cell stands. `plain`: its ohms without them. */
function sayOf(engine: BeliefEngine, belief: Belief, answers: Answers, o: Observation, c: number, plain: number): Say {
  clearSay(said);
  const s = engine.cells.answer[c] as number;
  const t = engine.cells.tCentre[c] as number;
  const x = Number.isNaN(t) ? (engine.cells.fixedOhm[c] as number) : ohmOfT(belief.t[c] as number);
  for (const m of answers.others) {
    const r = engine.lapsed(o, s) ? m.sound : m.to(s);
    addSay(said, m.share, m.own, o.probe.fn, isAbove(o.displayed) ? null : o.displayed.ohm, Math.min(respond(r, x, belief.d[c] as number, Math.exp(belief.s[c] as number)), CEILING_OHM), plain, isAbove(o.displayed) ? 0 : toY(o.probe.fn, o.displayed.ohm), null, 1);
  }
  return said;
}

/**
 * How each reading speaks for (positive) or against (negative) each of the given cells: ln of its likelihood there
 * against the average of all suspects before any reading.
 */
export function supportOf(engine: BeliefEngine, belief: Belief, observations: readonly Observation[], cells: readonly number[]): number[][] {
  const average = observations.map((o) => Math.log(chance(engine, belief, o, (c) => Math.exp(engine.cells.logPrior[c] as number))));
  return cells.map((c) => observations.map((o, j) => Math.log(chanceIn(engine, belief, o, c)) - (average[j] as number)));
}

/** Share of each suspect if this reading had not been taken, everything else estimated as it is: a first look, not a belief. */
export function shareWithout(engine: BeliefEngine, belief: Belief, o: Observation): Float64Array {
  const share = new Float64Array(engine.suspects.length);
  let total = 0;
  eachChance(engine, belief, o, (c) => belief.weight[c] as number, (c, weight, chance) => {
    total += weight / chance;
    const s = engine.cells.suspect[c] as number;
    share[s] = (share[s] as number) + weight / chance;
  });
  return share.map((x) => x / total);
}

/** How each reading speaks for a cell and against a circuit with nothing wrong, ln; of several alike each says as much as one alone. */
export const againstSound = (engine: BeliefEngine, belief: Belief, observations: readonly Observation[], cell: number): number[] => observations.map((o) => Math.log(chanceIn(engine, belief, o, cell)) - Math.log(chanceIn(engine, belief, o, 0)));

/** How well a reading was foreseen: its likelihood against that of the likeliest value, 0…1. */
export function howForeseen(engine: BeliefEngine, belief: Belief, o: Observation): number {
  const best = isAbove(o.displayed) ? 1 : 1 / (0.05 * 2.5);
  return Math.min(1, chance(engine, belief, o, (c) => belief.weight[c] as number) / best);
}

/** How far each reading is off in the likeliest cell, s.d. */
export const misfitOf = (belief: Belief, observations: readonly Observation[]): number[] => observations.map((o) => belief.misfit.get(nameOf(o)) ?? 0);

/** Could the display of this reading have told the suspect, at any of its sizes, from a sound circuit? True for what is not on the list. */
export function couldShow(engine: BeliefEngine, suspectId: string, o: Observation): boolean {
  const suspect = engine.suspects.findIndex((s) => s.id === suspectId);
  const answers = engine.formulas.of(o.state, o.probe);
  const s = engine.suspects[suspect];
  if (!s || !answers) return true;
  const shown = shownBy(o.probe.fn, answers.sound, 1);
  for (let c = 0; c < engine.cells.count; c++)
    if (engine.cells.suspect[c] === suspect && differs(shown, engine.answerTo(answers, o, engine.cells.answer[c] as number), strongest(engine.cells, c, s.unknown.of === 'shunt'), 1)) return true;
  return false;
}

/** Does the meter show another thing with a suspect of no size and place of its own than without? Sound insulation of any value is one thing. */
export function tellsOf(engine: BeliefEngine, o: Observation, suspect: number): boolean {
  const answers = engine.formulas.of(o.state, o.probe);
  if (!answers) return false;
  const [sound, then] = [answers.sound, engine.answerTo(answers, o, suspect)];
  const isSound = (r: Response): boolean => o.probe.fn === 'insulation' && isSoundInsulation(respond(r, 0, 0.5, 1));
  return differs(shownBy(o.probe.fn, sound, 1), then, 0, 1) && !(isSound(sound) && isSound(then));
}

function chance(engine: BeliefEngine, belief: Belief, o: Observation, weightOf: (c: number) => number): number {
  let [sum, total] = [0, 0];
  eachChance(engine, belief, o, weightOf, (_, w, chance) => {
    total += w;
    sum += w * chance;
  });
  return total > 0 ? sum / total : 1;
}

/** The likelihood of a reading in each cell that has a weight worth the work. */
function eachChance(engine: BeliefEngine, belief: Belief, o: Observation, weightOf: (c: number) => number, take: (c: number, weight: number, chance: number) => void): void {
  let sound = NaN;
  const answers = engine.formulas.of(o.state, o.probe);
  for (let c = 0; c < engine.cells.count; c++) {
    const w = weightOf(c);
    if (w < 1e-7) continue;
    // What a suspect does not touch is worth what it is in the sound circuit.
    const s = engine.cells.answer[c] as number;
    const untouched = c > 0 && answers !== null && engine.answering[s]?.kind !== 'unknown' && answers.to(s) === answers.sound && answers.others.every((m) => m.to(s) === m.sound);
    if (untouched && Number.isNaN(sound)) sound = chanceIn(engine, belief, o, 0, answers);
    take(c, w, untouched ? sound : chanceIn(engine, belief, o, c, answers));
  }
}

/** Likelihood of one reading in one cell: a density in y, or a probability when off scale. */
function chanceIn(engine: BeliefEngine, belief: Belief, o: Observation, c: number, answers: Answers | null = engine.formulas.of(o.state, o.probe)): number {
  const s = engine.cells.answer[c] as number;
  const slip = engine.options.slipShare;
  if (engine.answering[s]?.kind === 'unknown') return isAbove(o.displayed) ? SLIP_OFF : SLIP_DENSITY;
  if (!answers) return 1;
  const r = engine.answerTo(answers, o, s);
  const p = scratch;
  engine.predict(belief, c, o.probe.fn, r, p);
  const top = toY(o.probe.fn, meter[o.probe.fn].topOhm);
  const flat = engine.soundIsFlat && o.probe.fn === 'insulation';
  const { share, density } = sayOf(engine, belief, answers, o, c, p.ohm);
  if (flat && !isAbove(o.displayed) && isSoundInsulation(p.ohm)) return (1 - slip) * ((1 - share) * healthyDensity(p.ohm, o.displayed.ohm) + density) + slip * SLIP_DENSITY;
  if (isAbove(o.displayed)) return (1 - slip) * ((1 - share) * (flat && (isSoundInsulation(p.ohm) || p.y > top) ? BEYOND_RANGE : normalCdf((p.y - top) / Math.max(p.sd, 0.02))) + density) + slip * SLIP_OFF;
  const z = (toY(o.probe.fn, o.displayed.ohm) - p.y) / p.sd;
  return (1 - slip) * (((1 - share) * Math.exp(-0.5 * z * z)) / (p.sd * 2.5066282746) + density) + slip * SLIP_DENSITY;
}
