import type { Protection } from '../installation';
import { normalCdf } from '../numeric';

/** How a device may differ from its plate: a factor on its residual trip current, or none at all. */
export interface Condition { readonly sensitivity: number; readonly blind: boolean }
export const asRated: Condition = { sensitivity: 1, blind: false };

/** A residual current device usually goes at 60 to 90 % of its rated current (field guide, section 5). */
const RESIDUAL_AT = 0.75;
const RESIDUAL_SD = 0.09;
/** Multiples of the rating at which the magnetic part goes: middle of the band, and its s.d. */
const MAGNETIC: Readonly<Record<string, readonly [number, number]>> = { B: [4, 0.5], C: [7.5, 1.2], D: [15, 2.5], fuse: [10, 2.5] };
/** Multiples of the rating that heat a device out within minutes. */
const THERMAL: readonly [number, number] = [1.35, 0.12];

/** Chance that a device opens at once, and that it does after a while, at a line current and a residual current in amperes. */
export function chanceOfTrip(device: Protection, lineA: number, residualA: number, condition: Condition = asRated): { readonly atOnce: number; readonly later: number } {
  const { ratingA, residualMa } = device;
  const ratio = residualMa === null || condition.blind ? 0 : residualA / ((residualMa / 1000) * condition.sensitivity);
  const residual = ratio > 0 ? normalCdf((ratio - RESIDUAL_AT) / RESIDUAL_SD) : 0;
  // Near its threshold a device goes with the next peak: something starts, a kettle warms.
  const nearly = ratio > 0 ? normalCdf((ratio - RESIDUAL_AT + 0.3) / 0.15) : 0;
  const [at, sd] = MAGNETIC[device.kind === 'fuse' ? 'fuse' : (device.curve ?? 'B')] ?? [4, 0.5];
  const multiple = ratingA === null || device.kind === 'rcd' || device.kind === 'main' ? 0 : lineA / ratingA;
  const magnetic = multiple > 0 ? normalCdf((multiple - at) / sd) : 0;
  const thermal = multiple > 0 ? normalCdf((multiple - THERMAL[0]) / THERMAL[1]) : 0;
  const atOnce = 1 - (1 - residual) * (1 - magnetic);
  return { atOnce, later: (1 - atOnce) * (1 - (1 - 0.5 * nearly) * (1 - 0.8 * thermal)) };
}
