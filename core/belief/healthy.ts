import { meter } from '../tester';

// Sound insulation: from a few megohms to beyond every range, and no value of it says anything about anything else.

/** From here on a predicted reading is sound insulation, ohms; from the second figure on it is no path at all. */
export const SOUND_FROM_OHM = 3e6;
const NO_PATH_OHM = 2e12;
/** How often sound insulation is beyond the range. */
const BEYOND = 0.5;
/** Spread in ln below the least usual value: fewer and fewer circuits are that bad and still sound. */
const TAIL = 0.45;
/** The least usual value where many circuits lie in parallel, as a share of what the plan predicts. */
const OF_PREDICTED = 0.01;
const LEAST_OHM = 3e5;

/** Is a predicted reading sound insulation: neither a path that can be told apart from it, nor no path? */
export const isSoundInsulation = (predictedOhm: number): boolean => predictedOhm >= SOUND_FROM_OHM && predictedOhm < NO_PATH_OHM;

/** Chance that sound insulation, or no path, is shown as beyond the range: the same for both, so that it says nothing about breaks. */
export const BEYOND_RANGE = BEYOND;

/** Density in y of a value that sound insulation shows: even in ln of the ohms, falling off below a few megohms. */
export function healthyDensity(predictedOhm: number, ohm: number): number {
  const { topOhm, scaleOhm } = meter.insulation;
  const least = Math.min(SOUND_FROM_OHM, Math.max(LEAST_OHM, predictedOhm * OF_PREDICTED));
  const even = (1 - BEYOND) / Math.log(topOhm / least);
  const below = ohm < least ? Math.exp(-0.5 * (Math.log(least / Math.max(ohm, 1)) / TAIL) ** 2) : 1;
  return (even * below * Math.hypot(ohm, scaleOhm)) / Math.max(ohm, 1);
}
