import type { Suspect } from '../faults';
import { findSection, type Installation } from '../installation';
import type { Asked } from '../job';
import { traitOf, type Trait } from './traits';

/** Looked at, and nothing to see: with the cover off, or from outside; nothing plugged in, where nothing should be; what was found in there all the same; and which bar an end is in (its place: `end>terminal`, without a terminal where nobody can tell). */
export const looks = ['clean', 'cleanOutside', 'nothingIn', 'wasIn', 'inBar'] as const;
export type Look = (typeof looks)[number];

/** Chance that eyes find a sign of a fault at its own point with the cover off. Estimates: a loose or burnt end shows more often than a path to earth. */
const SIGN: Readonly<Partial<Record<Trait, number>>> = { poorJoint: 0.5, noLine: 0.45, noNeutral: 0.45, noEarth: 0.45, crossed: 0.5, lineNeutral: 0.4, lineEarth: 0.35, neutralEarth: 0.35, appliance: 0.25 };
/** From outside, and of a fault along a cable that ends there, as shares of that. */
const OUTSIDE = 0.3;
const ALONG_CABLE = 0.2;
/** Something that looks wrong is found where nothing is. */
const CHANCE_SIGN = 0.04;

/** A plug that is in is seen by whoever looks for one. */
const SEES_A_PLUG = 0.95;

/** Which bar a conductor is in is seen by whoever follows it, or pulls it; that it is in another one is hardly ever imagined. */
const SEES_THE_BAR = 0.95;
const IMAGINES_A_BAR = 0.002;

/** Would it mean that an end is in another bar than drawn? */
export const inOtherBar = (s: Pick<Suspect, 'kind' | 'site'>, end: string): boolean => s.kind === 'otherBar' && s.site.on === 'structure' && s.site.id === end;

/** Chance that whoever looks at an end finds it in another bar. */
export const findsOtherBar = (s: Suspect, end: string): number => (inOtherBar(s, end) ? SEES_THE_BAR : IMAGINES_A_BAR);

/** The bar that an end was last seen in; empty where nobody could tell, undefined where nobody looked. */
export const barSeen = (seen: Asked['seen'], end: string): string | undefined => seen.filter((x) => x.what === 'inBar' && x.place?.startsWith(`${end}>`)).at(-1)?.place?.slice(end.length + 1);

/** What was overlooked once was overlooked before. */
const OVERLOOKED_AGAIN = 20;

/** Would it mean that a plug is in at the point against the record? */
export const plugIn = (s: Pick<Suspect, 'kind' | 'place'>, point: string): boolean => (s.kind === 'loadLeft' || s.kind === 'loadIn') && (s.place.replace(/^state /, '').split('.')[0] ?? '') === point;

/** Chance that a look at a point where everything is recorded as unplugged finds something: a plug, or a sign. */
export const findsSomething = (map: Installation, s: Suspect, point: string, outside: boolean): number => (plugIn(s, point) ? SEES_A_PLUG : signChance(map, s, point, outside));

interface Sign { readonly own: string; readonly sign: number }
const signs = new WeakMap<Suspect, Sign>();

/** Point or section of a suspect, and the chance of a sign there with the cover off. */
function signOf(s: Suspect): Sign {
  const known = signs.get(s);
  if (known) return known;
  const trait = traitOf(s);
  const found = { own: s.place.split('.')[0] ?? '', sign: trait === null ? 0 : (SIGN[trait] ?? 0) };
  signs.set(s, found);
  return found;
}

/** Chance that a look at a point finds a sign, if this is what is wrong. */
export function signChance(map: Installation, s: Suspect, point: string, outside: boolean): number {
  const { own, sign: uncovered } = signOf(s);
  const sign = uncovered * (outside ? OUTSIDE : 1);
  const section = findSection(map, own);
  const here = own === point ? sign : section !== undefined && (section.a === point || section.b === point) ? sign * ALONG_CABLE : 0;
  return CHANCE_SIGN + here * (1 - CHANCE_SIGN);
}

/** How much less likely a suspect gets by looks that found nothing; 1 where nobody looked. */
export function cleanFactor(map: Installation, s: Suspect, asked: Asked): number {
  let factor = 1;
  if (s.kind === 'otherBar' && s.site.on === 'structure') {
    const bar = barSeen(asked.seen, s.site.id);
    if (bar) factor *= s.conductors[1] === bar ? SEES_THE_BAR / IMAGINES_A_BAR : (1 - SEES_THE_BAR) / (1 - IMAGINES_A_BAR);
  }
  for (const x of asked.seen) {
    if (x.place === null || !isLook(x.what) || x.what === 'inBar') continue;
    if (x.what === 'wasIn') factor *= s.kind === 'loadLeft' && s.place === x.place ? OVERLOOKED_AGAIN : 1;
    else if (x.what !== 'nothingIn') factor *= (1 - signChance(map, s, x.place, x.what === 'cleanOutside')) / (1 - CHANCE_SIGN);
    else if (plugIn(s, x.place)) factor *= 1 - SEES_A_PLUG;
  }
  return factor;
}

const isLook = (what: string): what is Look => (looks as readonly string[]).includes(what);
