import type { Suspect } from '../faults';
import type { Installation } from '../installation';
import type { Asked } from '../job';
import { traitOf, type Trait } from './traits';

/** Looked at, and nothing to see: with the cover off, or from outside. */
export const looks = ['clean', 'cleanOutside'] as const;
export type Look = (typeof looks)[number];

/** Chance that eyes find a sign of a fault at its own point with the cover off. Estimates: a loose or burnt end shows more often than a path to earth. */
const SIGN: Readonly<Partial<Record<Trait, number>>> = { poorJoint: 0.5, noLine: 0.45, noNeutral: 0.45, noEarth: 0.45, crossed: 0.5, lineNeutral: 0.4, lineEarth: 0.35, neutralEarth: 0.35, appliance: 0.25 };
/** From outside, and of a fault along a cable that ends there, as shares of that. */
const OUTSIDE = 0.3;
const ALONG_CABLE = 0.2;
/** Something that looks wrong is found where nothing is. */
const CHANCE_SIGN = 0.04;

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
  for (const x of asked.seen) if (x.place !== null && isLook(x.what)) factor *= (1 - signChance(map, s, x.place, x.what === 'cleanOutside')) / (1 - CHANCE_SIGN);
  return factor;
}

const isLook = (what: string): what is Look => (looks as readonly string[]).includes(what);
