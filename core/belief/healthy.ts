import { rootOfSquares } from '../numeric';
import { meter } from '../tester';
import { THE_SAME } from './nuisance';
import type { Group } from './group';

// Sound insulation: from a few megohms to beyond every range, and no value of it says anything about anything else.

/** From here on a predicted reading is sound insulation, ohms; from the second figure on it is no path at all. */
export const SOUND_FROM_OHM = 3e6;
const NO_PATH_OHM = 2e12;
/** How often sound insulation is beyond the range. */
const BEYOND = 0.5;
/** Spread in ln below the least usual value: fewer and fewer circuits are that bad and still sound. */
const TAIL = 0.45;
/** The least usual value where many circuits lie in parallel, as a share of what the plan predicts: a usual circuit alone is sound from `SOUND_FROM_OHM` on. */
const OF_PREDICTED = 4.5e-4;
const LEAST_OHM = 2e5;

/** Is a predicted reading sound insulation: neither a path that can be told apart from it, nor no path? */
export const isSoundInsulation = (predictedOhm: number): boolean => predictedOhm >= SOUND_FROM_OHM && predictedOhm < NO_PATH_OHM;

/** Chance that sound insulation, or no path, is shown as beyond the range: the same for both, so that it says nothing about breaks. */
export const BEYOND_RANGE = BEYOND;

/** The least that sound insulation usually shows where the plan predicts so much, ohms. */
export const leastSoundOhm = (predictedOhm: number): number => Math.min(SOUND_FROM_OHM, Math.max(LEAST_OHM, predictedOhm * OF_PREDICTED));

/** What the same insulation showed in another reading, and how finely the two compare: both in y. */
export interface Before { readonly y: number; readonly again: number; readonly sd: number; readonly surely: number }

/** What another reading showed, if sound insulation showed it there as `surely` as that. */
export const seenBefore = (g: Pick<Group, 'again' | 'againSd' | 'y'>, surely = 1, again = g.again): Before | null => (again === null ? null : { y: g.y, again, sd: g.againSd, surely });

/**
 * Density in y of a value that sound insulation shows: even in ln of the ohms, falling off below a few megohms (below their share of that
 * where many circuits lie in parallel). What it showed before it shows again.
 */
export function healthyDensity(predictedOhm: number, ohm: number, before: Before | null = null): number {
  const { topOhm, scaleOhm } = meter.insulation;
  const least = leastSoundOhm(predictedOhm);
  const even = (1 - BEYOND) / Math.log(topOhm / least);
  const below = ohm < least ? Math.exp(-0.5 * (Math.log(least / Math.max(ohm, 1)) / TAIL) ** 2) : 1;
  const any = (even * below * rootOfSquares(ohm, scaleOhm)) / Math.max(ohm, 1);
  const same = before ? THE_SAME * before.surely : 0;
  return before ? (1 - same) * any + (same * Math.exp(-0.5 * ((before.y - before.again) / before.sd) ** 2)) / (before.sd * 2.5066282746) : any;
}
