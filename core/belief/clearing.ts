import { normalCdf, rootOfSquares } from '../numeric';
import { respond, type Response } from '../probes';
import { isAbove, meter, toY } from '../tester';
import type { BeliefEngine, Observation } from './belief';
import { ohmOfT } from './cells';
import { CEILING_OHM, metalIn, scaleSlope, SLIP_DENSITY, SLIP_OFF } from './group';
import { BEYOND_RANGE, healthyDensity, isSoundInsulation } from './healthy';
import { addSay, clearSay, noSay } from './nuisance';

// What one reading rules out by itself, whatever else is believed.

/** Likelihood against that of a sound circuit from which a reading speaks against a suspect. */
const AGAINST = 0.05;
/** A reading that does not look sound itself rules nothing out: chance off scale, density in y. */
const LOOKS_SOUND = { off: 0.2, density: 0.04 };

const say = noSay();

/** 1 for each cell that the reading speaks against at all its sizes and places: it reached it, would have shown it, and looks sound. */
export function ruledOut(engine: BeliefEngine, o: Observation): Uint8Array {
  const { cells } = engine;
  const out = new Uint8Array(cells.count);
  const answers = engine.formulas.of(o.state, o.probe);
  if (!answers) return out;
  const least = isAbove(o.displayed) ? LOOKS_SOUND.off : LOOKS_SOUND.density;
  const sound = likelihood(engine, o, answers.sound, answers.others.map((m) => ({ share: m.share, own: m.own, r: m.sound })), 0, 0.5);
  if (sound < least) return out;
  // Through what nobody vouches for, and nobody knows where it is, no conductor is shown to be whole.
  const alone = likelihood(engine, o, answers.sound, [], 0, 0.5) >= least;
  for (let c = 1; c < cells.count; c++) {
    const s = cells.answer[c] as number;
    const r = engine.answerTo(answers, o, s);
    if (r === answers.sound || (!alone && engine.answering[s]?.unknown.of !== 'shunt')) continue;
    const others = answers.others.map((m) => ({ share: m.share, own: m.own, r: engine.lapsed(o, s) ? m.sound : m.to(s) }));
    // The size that shows least, anywhere along the cable.
    const x = engine.suspects[cells.suspect[c] as number]?.site.on === 'opened' ? likest(engine, c, r, o) : weakest(engine, c);
    const places = cells.along[c] === 1 ? [0.03, 0.5, 0.97] : [0.5];
    if (places.every((d) => likelihood(engine, o, r, others, x, d) < AGAINST * sound)) out[c] = 1;
  }
  return out;
}

function weakest(engine: BeliefEngine, c: number): number {
  const { cells } = engine;
  const t = cells.tCentre[c] as number;
  if (Number.isNaN(t)) return cells.fixedOhm[c] as number;
  const shunt = engine.suspects[cells.suspect[c] as number]?.unknown.of === 'shunt';
  return ohmOfT(t + (shunt ? 1.7 : -1.7) * (cells.tSd[c] as number));
}

/** Halvings until a size is found. */
const HALVINGS = 30;

/** Of a conductor that is open and bridged, the size within the cell that comes nearest to what was read: the more ohms the bridge has, the more are read. */
function likest({ cells }: BeliefEngine, c: number, r: Response, { displayed }: Observation): number {
  const [t, sd] = [cells.tCentre[c] as number, cells.tSd[c] as number];
  let [low, high] = [t - 1.7 * sd, t + 1.7 * sd];
  for (let i = 0; i < HALVINGS; i++) {
    const middle = (low + high) / 2;
    if (!isAbove(displayed) && respond(r, ohmOfT(middle), 0.5, 1) > displayed.ohm) high = middle;
    else low = middle;
  }
  return ohmOfT((low + high) / 2);
}

/** Likelihood of a reading at the plan's own insulation: a density in y, or the chance that it is off scale. */
function likelihood(engine: BeliefEngine, o: Observation, r: Response, others: readonly { readonly share: number; readonly own: number; readonly r: Response }[], x: number, d: number): number {
  const { fn } = o.probe;
  const { slipShare: slip, insulationSd } = engine.options;
  const ohm = Math.min(respond(r, x, d, 1), CEILING_OHM);
  const slopeS = scaleSlope(r, x, d, 1, ohm);
  const k = meter[fn].scaleOhm;
  const sd = rootOfSquares(engine.noiseSd(fn, ohm, 0, metalIn(r, ohm, x), Number.isFinite(slopeS) ? slopeS : 0), (insulationSd * (Number.isFinite(slopeS) ? slopeS : 0)) / rootOfSquares(ohm, k));
  const y = toY(fn, ohm);
  clearSay(say);
  for (const m of others) addSay(say, m.share, m.own, fn, isAbove(o.displayed) ? null : o.displayed.ohm, Math.min(respond(m.r, x, d, 1), CEILING_OHM), ohm, isAbove(o.displayed) ? 0 : toY(fn, o.displayed.ohm), null, 1);
  const flat = engine.soundIsFlat && fn === 'insulation';
  const top = meter[fn].topOhm;
  if (isAbove(o.displayed)) {
    const beyond = flat && (isSoundInsulation(ohm) || ohm > top) ? BEYOND_RANGE : normalCdf((y - toY(fn, top)) / Math.max(sd, 0.02));
    return (1 - slip) * ((1 - say.share) * beyond + say.density) + slip * SLIP_OFF;
  }
  if (flat && isSoundInsulation(ohm)) return (1 - slip) * ((1 - say.share) * healthyDensity(ohm, o.displayed.ohm) + say.density) + slip * SLIP_DENSITY;
  const z = (toY(fn, o.displayed.ohm) - y) / sd;
  return (1 - slip) * (((1 - say.share) * Math.exp(-0.5 * z * z)) / (sd * 2.5066282746) + say.density) + slip * SLIP_DENSITY;
}
