import { boardOf, findPoint, nearestDevice, protectionsOf, residualDeviceOf, type Installation, type Protection } from '../installation';
import { fail, issue, ok, type Result } from '../issue';
import type { JobView } from '../job';
import { loopHeldTo, type LiveTest } from '../live';
import type { Profile } from '../profiles';
import { elementKey } from '../workstate';

/** Live tests that a repair may owe, in the order in which they are made. */
export const liveRetests = ['loop', 'half', 'rcd', 'ramp', 'clamp', 'function'] as const;
export type LiveRetest = (typeof liveRetests)[number];

/** What a live test must show: from so many to so many ohms, milliseconds or milliamperes. Null where the map does not tell. */
export interface LiveLimit {
  readonly least: number;
  readonly most: number;
  readonly unit: 'Ω' | 'ms' | 'mA';
  /** The device on whose figures it hangs, while they are guessed: nothing is met or failed by it. */
  readonly onGuess?: string;
}

/** Point by which a mend's circuit is known: the place itself, or the far end of its cable. */
function pointOf(map: Installation, place: string): string {
  const id = place.split('.')[0] ?? '';
  const section = map.sections.find((s) => s.id === id);
  return section ? (findPoint(map, section.b)?.kind === 'board' ? section.a : section.b) : id;
}

/** The device that a repair concerns: the one that was mended itself, or the nearest before its place. */
const deviceOf = (map: Installation, place: string): Protection | undefined =>
  protectionsOf(map).find((d) => elementKey(d.at, d.id) === place || d.poles.includes(place)) ?? nearestDevice(map, pointOf(map, place));

const residualOf = (map: Installation, place: string): Protection | undefined => {
  const device = deviceOf(map, place);
  return device && (device.residualMa !== null ? device : residualDeviceOf(map, device.id));
};

/** The device that a live test is about, where a board shows several; whether everything works is asked of all at once. */
export const testedAt = (map: Installation, test: LiveRetest, place: string): Protection | undefined => (test === 'function' || map.shape !== 'board' ? undefined : test === 'loop' || test === 'clamp' ? deviceOf(map, place) : residualOf(map, place));

/** Is there a residual device to be tested? Where no board is drawn nobody knows, and it is asked for. */
export const hasResidual = (map: Installation, place: string): boolean => map.shape !== 'board' || knownResidual(map, place);

/** Does the map show one? */
export const knownResidual = (map: Installation, place: string): boolean => residualOf(map, place) !== undefined || place.startsWith(`${boardOf(map)?.id ?? ''}.`);

/** A usual device goes from half its rated current up. */
const RAMP_LEAST = 0.5;
/** What stands on a device of which nothing is known, milliamperes. */
const USUAL_RATED_MA = 30;

const onGuess = (d: Protection | undefined): Pick<LiveLimit, 'onGuess'> => (d?.guessed ? { onGuess: d.id } : {});

export function liveLimit(map: Installation, test: LiveRetest, place: string, profile: Profile): LiveLimit | null {
  const residual = residualOf(map, place);
  const rated = residual?.residualMa ?? null;
  if (test === 'function' || test === 'half') return null;
  if (test === 'rcd') return { least: 0, most: profile.msAt1, unit: 'ms' };
  if (test === 'ramp') return rated === null ? null : { least: RAMP_LEAST * rated, most: rated, unit: 'mA', ...onGuess(residual) };
  if (test === 'clamp') return { least: 0, most: profile.standingShare * (rated ?? USUAL_RATED_MA), unit: 'mA', ...onGuess(residual) };
  const held = map.shape === 'board' ? loopHeldTo(map, deviceOf(map, place), profile) : null;
  return held && { least: 0, most: held.limit.ohm, unit: 'Ω', ...(held.onGuess === null ? {} : { onGuess: held.onGuess }) };
}

/** Live retests that are answered by a figure. */
export type FigureRetest = Exclude<LiveRetest, 'function' | 'half'>;
export const unitOf: Readonly<Record<FigureRetest, LiveLimit['unit']>> = { loop: 'Ω', rcd: 'ms', ramp: 'mA', clamp: 'mA' };
const FACTORS: Readonly<Record<LiveLimit['unit'], Readonly<Record<string, number>>>> = { 'Ω': { 'Ω': 1, ohm: 1, ohms: 1, 'mΩ': 1e-3, 'kΩ': 1e3 }, ms: { ms: 1, s: 1000 }, mA: { mA: 1, A: 1000, 'µA': 1e-3 } };

/** A figure as typed, with its unit, in ohms, milliseconds or milliamperes. Issues: `retest.noFigure`, `retest.unit`. */
export function parseLiveFigure(test: FigureRetest, text: string): Result<number> {
  const unit = unitOf[test];
  // The figure first, then its unit; where it was read may follow.
  const m = /^\s*(\d+(?:[.,]\d+)?)\s*([^\d\s.,;]+)?(?:[\s,;].*)?$/.exec(text);
  if (!m) return fail(issue('retest.noFigure', [], { text: text.slice(0, 20), unit }));
  const factor = m[2] === undefined ? 1 : FACTORS[unit][m[2]];
  if (factor === undefined) return fail(issue('retest.unit', [], { text: text.slice(0, 20), unit }));
  return ok(Number((m[1] ?? '').replace(',', '.')) * factor);
}

/** How a function test is kept: it works, or it does not and what does not. */
export const FAILS = 'does not work';

/** Since the last repair: does something not work, or did a device open again? */
export const stillFails = (view: JobView): boolean =>
  [...view.live.values()].some((e) => e.at >= (view.mends.at(-1)?.event.at ?? 0) && e.result?.startsWith(FAILS) === true) ||
  view.liveReadings.some((r) => !r.struck && r.epoch === view.epoch && r.event.test.kind === 'closed' && r.event.test.result !== 'holds');

/** Kept where a circuit without a drawn board turns out to have no residual device: nothing is owed to it. */
export const NO_RCD = 'no RCD here';

/** Kept where a device was tested and held. */
export const NO_TRIP = 'did not trip';

export interface LiveAnswer {
  readonly verdict: 'met' | 'not met' | 'open' | 'not done';
  readonly because: string;
  /** There is a figure; what it is held against hangs on this device, which nobody has read. */
  readonly onGuess?: string;
}

/** The answer to a live retest: what was typed for it, or what was measured on Live since the repair. `key`: by which it was typed. */
export function liveAnswer(view: JobView, map: Installation, test: LiveRetest, key: string, place: string, profile: Profile): LiveAnswer {
  // Before circuits and devices were told apart, one answer stood for all of a job.
  const typed = view.live.get(key) ?? view.live.get(test);
  const limit = liveLimit(map, test, place, profile);
  const judged = (figure: number, words: string): LiveAnswer =>
    limit?.onGuess === undefined ? { verdict: limit && (figure > limit.most || figure < limit.least) ? 'not met' : 'met', because: words } : { verdict: 'open', because: words, onGuess: limit.onGuess };
  if (typed?.result != null) {
    if (test === 'function') return { verdict: typed.result.startsWith(FAILS) ? 'not met' : 'met', because: typed.result };
    if (typed.result === NO_TRIP) return { verdict: test === 'half' ? 'met' : 'not met', because: NO_TRIP };
    if (test === 'half') return { verdict: 'not met', because: typed.result };
    if (test === 'rcd' && typed.result === NO_RCD && !knownResidual(map, place)) return { verdict: 'met', because: NO_RCD };
    const figure = parseLiveFigure(test, typed.result);
    // Words are no figure: an older entry of words stays open.
    return figure.ok ? judged(figure.value, typed.result) : { verdict: 'open', because: typed.result };
  }
  const measured = view.liveReadings.filter((r) => !r.struck && r.epoch === view.epoch).map((r) => r.event.test);
  const found = test === 'function' ? null : foundBy[test](map, measured, place);
  if (found && test === 'half') return { verdict: found.figure === null ? 'met' : 'not met', because: found.words };
  if (found) return found.figure === null ? { verdict: 'not met', because: found.words } : judged(found.figure, found.words);
  return { verdict: typed?.because ? 'not done' : 'open', because: typed?.because ?? '' };
}

interface Found { readonly figure: number | null; readonly words: string }

/** What was measured on Live that answers a retest. */
const foundBy: Readonly<Record<Exclude<LiveRetest, 'function'>, (map: Installation, tests: readonly LiveTest[], place: string) => Found | null>> = {
  loop: worstLoop,
  rcd: (map, tests, place) => slowest(map, tests, place, 1),
  half: (map, tests, place) => slowest(map, tests, place, 0.5),
  ramp: (map, tests, place) => {
    const id = residualOf(map, place)?.id;
    return latest(tests.flatMap((t) => (t.kind === 'ramp' && t.device === id && t.outgoing === 'out' ? [t.mA] : [])), 'mA');
  },
  clamp: (map, tests, place) => {
    const id = deviceOf(map, place)?.id;
    return latest(tests.flatMap((t) => (t.kind === 'clamp' && t.around === id && !t.peak ? [t.mA] : [])), 'mA');
  },
};

function latest(figures: readonly (number | null)[], unit: 'ms' | 'mA'): Found | null {
  const last = figures.at(-1);
  return last === undefined ? null : { figure: last, words: last === null ? NO_TRIP : `${last} ${unit}` };
}

function worstLoop(map: Installation, tests: readonly LiveTest[], place: string): Found | null {
  const device = deviceOf(map, place)?.id;
  const here = tests.flatMap((t) => (t.kind === 'loop' && !/:N/.test(t.to) && device !== undefined && nearestDevice(map, t.from.split(/[:/@]/)[0] ?? '')?.id === device ? [t.ohm] : []));
  return here.length ? { figure: Math.max(...here), words: `${Math.max(...here).toFixed(2)} Ω` } : null;
}

/** The slowest time at a multiple of the rated current; at less than that, any trip at all. */
function slowest(map: Installation, tests: readonly LiveTest[], place: string, multiple: 0.5 | 1): Found | null {
  const residual = residualOf(map, place)?.id;
  const here = tests.flatMap((t) => (t.kind === 'times' && t.multiple === multiple && t.device === residual ? [t.ms] : []));
  if (!here.length) return null;
  if (multiple === 1 ? here.includes(null) : here.every((ms) => ms === null)) return { figure: null, words: NO_TRIP };
  const worst = Math.max(...here.map((ms) => ms ?? 0));
  return { figure: worst, words: `${worst} ms` };
}
