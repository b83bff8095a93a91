import type { Suspect } from '../faults';
import type { Installation } from '../installation';
import type { Asked } from '../job';
import { traitOf, type Trait } from './traits';

/** Looked at, and nothing to see: with the cover off, or from outside; nothing plugged in, where nothing should be; and what was found in there all the same. */
export const looks = ['clean', 'cleanOutside', 'nothingIn', 'wasIn'] as const;
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

/** What was overlooked once was overlooked before. */
const OVERLOOKED_AGAIN = 20;

/** Would it mean that a plug is in at the point against the record? */
export const plugIn = (s: Pick<Suspect, 'kind' | 'place'>, point: string): boolean => (s.kind === 'loadLeft' || s.kind === 'loadIn') && (s.place.replace(/^state /, '').split('.')[0] ?? '') === point;

/** Chance that a look at a point where everything is recorded as unplugged finds something: a plug, or a sign. */
export const findsSomething = (map: Installation, s: Suspect, point: string, outside: boolean): number => (plugIn(s, point) ? SEES_A_PLUG : signChance(map, s, point, outside));

/** Chance that a look at a point finds a sign, if this is what is wrong. */
export function signChance(map: Installation, s: Suspect, point: string, outside: boolean): number {
  const trait = traitOf(s);
  const sign = (trait === null ? 0 : (SIGN[trait] ?? 0)) * (outside ? OUTSIDE : 1);
  const own = s.place.split('.')[0] ?? '';
  const section = map.sections.find((x) => x.id === own);
  const here = own === point ? sign : section !== undefined && (section.a === point || section.b === point) ? sign * ALONG_CABLE : 0;
  return CHANCE_SIGN + here * (1 - CHANCE_SIGN);
}

/** How much less likely a suspect gets by looks that found nothing; 1 where nobody looked. */
export function cleanFactor(map: Installation, s: Suspect, asked: Asked): number {
  let factor = 1;
  for (const x of asked.seen) {
    if (x.place === null || !isLook(x.what)) continue;
    if (x.what === 'wasIn') factor *= s.kind === 'loadLeft' && s.place === x.place ? OVERLOOKED_AGAIN : 1;
    else if (x.what !== 'nothingIn') factor *= (1 - signChance(map, s, x.place, x.what === 'cleanOutside')) / (1 - CHANCE_SIGN);
    else if (plugIn(s, x.place)) factor *= 1 - SEES_A_PLUG;
  }
  return factor;
}

const isLook = (what: string): what is Look => (looks as readonly string[]).includes(what);
