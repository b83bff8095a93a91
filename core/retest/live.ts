import { boardOf, findPoint, nearestDevice, residualDeviceOf, type Installation, type Protection } from '../installation';
import { fail, issue, ok, type Result } from '../issue';
import type { JobView, MendView } from '../job';
import type { LiveTest } from '../live';
import { loopLimit, type Profile } from '../profiles';

export type LiveRetest = 'loop' | 'rcd' | 'function';

/** What a live test must show: at most so many ohms, or milliseconds at the rated current. Null where the map does not tell. */
export interface LiveLimit { readonly most: number; readonly unit: 'Ω' | 'ms' }

/** Point by which a mend's circuit is known: the place itself, or the far end of its cable. */
function pointOf(map: Installation, place: string): string {
  const id = place.split('.')[0] ?? '';
  const section = map.sections.find((s) => s.id === id);
  return section ? (findPoint(map, section.b)?.kind === 'board' ? section.a : section.b) : id;
}

const deviceOf = (map: Installation, place: string): Protection | undefined => nearestDevice(map, pointOf(map, place));

/** Is there a residual device to be tested? Where no board is drawn nobody knows, and it is asked for. */
export const hasResidual = (map: Installation, place: string): boolean => map.shape !== 'board' || knownResidual(map, place);

/** Does the map show one? */
export function knownResidual(map: Installation, place: string): boolean {
  const device = deviceOf(map, place);
  return place.startsWith(`${boardOf(map)?.id ?? ''}.`) || (device !== undefined && residualDeviceOf(map, device.id) !== undefined);
}

export function liveLimit(map: Installation, test: LiveRetest, place: string, profile: Profile): LiveLimit | null {
  if (test === 'function') return null;
  if (test === 'rcd') return { most: profile.msAt1, unit: 'ms' };
  const device = deviceOf(map, place);
  if (!device?.ratingA || map.shape !== 'board') return null;
  const kind = device.kind === 'rcbo' || device.kind === 'fuse' ? device.kind : 'mcb';
  const { ohm } = loopLimit(profile, { kind, curve: device.curve, ratingA: device.ratingA, residualMa: device.residualMa }, map.nominalVolt, map.supply?.arrangement ?? null, residualDeviceOf(map, device.id)?.residualMa ?? null);
  return { most: ohm, unit: 'Ω' };
}

const UNITS: Readonly<Record<'loop' | 'rcd', Readonly<Record<string, number>>>> = { loop: { 'Ω': 1, ohm: 1, ohms: 1, 'mΩ': 1e-3, 'kΩ': 1e3 }, rcd: { ms: 1, s: 1000 } };

/** A figure as typed, with its unit, in ohms or milliseconds. Issues: `retest.noFigure`, `retest.unit`. */
export function parseLiveFigure(test: 'loop' | 'rcd', text: string): Result<number> {
  // The figure first, then its unit; where it was read may follow.
  const m = /^\s*(\d+(?:[.,]\d+)?)\s*([^\d\s.,;]+)?(?:[\s,;].*)?$/.exec(text);
  if (!m) return fail(issue('retest.noFigure', [], { text: text.slice(0, 20), unit: test === 'loop' ? 'Ω' : 'ms' }));
  const factor = m[2] === undefined ? 1 : UNITS[test][m[2]];
  if (factor === undefined) return fail(issue('retest.unit', [], { text: text.slice(0, 20), unit: test === 'loop' ? 'Ω' : 'ms' }));
  return ok(Number((m[1] ?? '').replace(',', '.')) * factor);
}

/** How a function test is kept: it works, or it does not and what does not. */
export const FAILS = 'does not work';

/** Kept where a circuit without a drawn board turns out to have no residual device: nothing is owed to it. */
export const NO_RCD = 'no RCD here';

export interface LiveAnswer { readonly verdict: 'met' | 'not met' | 'open' | 'not done'; readonly because: string }

/** The answer to a live retest: what was typed for it, or what was measured on Live since the repair. */
export function liveAnswer(view: JobView, map: Installation, test: LiveRetest, mend: MendView | undefined, profile: Profile): LiveAnswer {
  const place = mend?.event.place ?? '';
  const typed = view.live.get(test);
  const limit = liveLimit(map, test, place, profile);
  const judged = (figure: number, words: string): LiveAnswer => ({ verdict: limit && figure > limit.most ? 'not met' : 'met', because: words });
  if (typed?.result != null) {
    if (test === 'function') return { verdict: typed.result.startsWith(FAILS) ? 'not met' : 'met', because: typed.result };
    if (test === 'rcd' && typed.result === NO_RCD && !knownResidual(map, place)) return { verdict: 'met', because: NO_RCD };
    const figure = parseLiveFigure(test, typed.result);
    // Words are no figure: an older entry of words stays open.
    return figure.ok ? judged(figure.value, typed.result) : { verdict: 'open', because: typed.result };
  }
  const measured = view.liveReadings.filter((r) => !r.struck && r.epoch === view.epoch).map((r) => r.event.test);
  const found = test === 'loop' ? worstLoop(map, measured, place) : test === 'rcd' ? slowest(map, measured, place) : null;
  if (found) return found.figure === null ? { verdict: 'not met', because: found.words } : judged(found.figure, found.words);
  return { verdict: typed?.because ? 'not done' : 'open', because: typed?.because ?? '' };
}

interface Found { readonly figure: number | null; readonly words: string }

function worstLoop(map: Installation, tests: readonly LiveTest[], place: string): Found | null {
  const device = deviceOf(map, place)?.id;
  const here = tests.flatMap((t) => (t.kind === 'loop' && !/:N/.test(t.to) && device !== undefined && nearestDevice(map, t.from.split(/[:/@]/)[0] ?? '')?.id === device ? [t.ohm] : []));
  return here.length ? { figure: Math.max(...here), words: `${Math.max(...here).toFixed(2)} Ω` } : null;
}

function slowest(map: Installation, tests: readonly LiveTest[], place: string): Found | null {
  const device = deviceOf(map, place);
  const residual = device && residualDeviceOf(map, device.id)?.id;
  const here = tests.flatMap((t) => (t.kind === 'times' && t.multiple === 1 && t.device === residual ? [t.ms] : []));
  if (!here.length) return null;
  if (here.includes(null)) return { figure: null, words: 'did not trip' };
  const worst = Math.max(...here.map((ms) => ms ?? 0));
  return { figure: worst, words: `${worst} ms` };
}
