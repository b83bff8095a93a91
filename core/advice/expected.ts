import { isSoundInsulation, leastSoundOhm, ohmOfT } from '../belief';
import { forecast, frontOf, PARTS, placesOf } from '../planning';
import { respond, type Answers, type Probe } from '../probes';
import { meter, toY, type TestFunction } from '../tester';
import type { JobView } from '../job';
import type { Now } from './now';

/** What a probe would show, ohms: a figure, or where it meets sound insulation the least that this usually shows, for more cannot be foreseen. */
export interface Foreseen { readonly ohm: number; readonly atLeast: boolean }

/** What a probe would show if all is sound, and if the likeliest suspect is true. */
export interface Expected {
  readonly sound: Foreseen;
  readonly suspect: Foreseen | null;
  readonly suspectId: string | null;
  /** What all that may be wrong would show, in y, each with its s.d. and chance. */
  readonly spread: readonly { readonly y: number; readonly sd: number; readonly chance: number }[];
}

/** Foreseen for a probe in the state of the job now; null where it joins nothing that is on the map. */
export function expectedAt(now: Now, view: JobView, probe: Probe): Expected | null {
  const { engine, belief } = now;
  const answers = engine.formulas.of(view.state, probe);
  if (!answers) return null;
  const shows = (i: number, x: number, d: number, s: number): Foreseen => {
    const ohm = respond(answers.to(i), x, d, Math.exp(s));
    return probe.fn === 'insulation' && isSoundInsulation(ohm) ? { ohm: leastSoundOhm(ohm), atLeast: true } : { ohm, atLeast: false };
  };
  const best = belief.weight.indexOf(Math.max(...belief.weight));
  const i = belief.cells.suspect[best] as number;
  const suspect = engine.suspects[i];
  const t = belief.cells.tCentre[best] as number;
  const x = Number.isNaN(t) ? (belief.cells.fixedOhm[best] as number) : ohmOfT(belief.t[best] as number);
  const named = suspect && suspect.kind !== 'sound' && suspect.kind !== 'unknown' && now.observations.length > 0;
  return { sound: shows(0, 0, 0, 0), suspect: named ? shows(i, x, belief.d[best] as number, belief.s[best] as number) : null, suspectId: named ? suspect.id : null, spread: spreadOf(now, answers) };
}

const MOST_IN_SPREAD = 80;

/** What everything that may still be wrong foresees for a probe; alike figures are one. */
function spreadOf({ map, engine, belief }: Pick<Now, 'map' | 'engine' | 'belief'>, answers: Answers): Expected['spread'] {
  const numbers = placesOf(map, engine.suspects);
  const front = frontOf(engine, belief, (s) => numbers[s] ?? 0);
  const f = forecast(engine, belief, front, answers);
  const sums = new Map<string, { y: number; sd: number; chance: number }>();
  for (let i = 0; i < f.y.length; i++) {
    const [y, sd, w] = [f.y[i] as number, f.sd[i] as number, (front.weight[Math.floor(i / PARTS)] as number) * (f.share[i] as number)];
    if (w === 0) continue;
    const key = `${y.toFixed(2)} ${sd.toFixed(2)}`;
    const old = sums.get(key);
    if (old) old.chance += w;
    else sums.set(key, { y, sd, chance: w });
  }
  return [...sums.values()].sort((a, b) => b.chance - a.chance).slice(0, MOST_IN_SPREAD);
}

/** Factors by which a figure is soon off: a unit, or a decimal point. */
const SLIPS = [1e3, 1e-3, 1e6, 1e-6, 10, 0.1] as const;
/** So many times likelier a figure must be to be asked about. */
const LIKELIER = 200;
/** Chance density in y of anything at all, and of sound insulation. */
const ANYTHING = 0.01;
const SOUND = 0.1;
/** Forecasts are finer than a warning should be, s.d. in y. */
const WIDE = 0.12;

/** A unit or a decade off where that would be far likelier, by everything that may still be wrong and by what sound insulation shows. Gives the likelier figure, ohms. */
export function likelierFigure(fn: TestFunction, ohm: number, { spread }: Pick<Expected, 'spread'>): number | null {
  if (ohm === 0 || !spread.length) return null;
  const density = (x: number): number => {
    if (x > meter[fn].topOhm) return ANYTHING;
    const y = toY(fn, x);
    const foreseen = spread.reduce((sum, p) => sum + (p.chance * Math.exp(-0.5 * ((y - p.y) / Math.max(p.sd, WIDE)) ** 2)) / (Math.max(p.sd, WIDE) * 2.5066), 0);
    return ANYTHING + foreseen + (fn === 'insulation' && isSoundInsulation(x) ? SOUND : 0);
  };
  const own = density(ohm);
  const [best] = SLIPS.map((f) => ({ ohm: ohm * f, d: density(ohm * f) })).sort((a, b) => b.d - a.d);
  return best && best.d > LIKELIER * own ? best.ohm : null;
}
