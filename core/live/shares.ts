import { behindWay, loadsOf, protectionsOf, terminalKey, type Installation, type Load, type Point, type Protection } from '../installation';
import { elementKey, type WorkState } from '../workstate';
import type { LiveView } from './scene';
import { magnitude } from './measure';

// What adds up behind a device, a little from each thing that runs: how much of it runs in a state, and how surely, since nobody knows
// which of them has most of it.

/** Of things that all leak one loses several times what another does: spread in ln. */
export const UNEVEN_SD = 0.8;
/** What hangs on a way that nobody has drawn, in things. */
const IN_A_LUMP = 3;

/** The share of what adds up that runs, 0…1, and its s.d. */
export interface Running { readonly mean: number; readonly sd: number }

export const isOff = (d: Protection, state: WorkState): boolean => d.poles.some((p) => state.off.includes(p));

/** Loads behind a device, with their point and way. */
export const loadsBehind = (installation: Installation, d: Protection): { readonly point: Point; readonly load: Load; readonly way: Protection }[] =>
  protectionsOf(installation).filter((x) => x.ways[0] === x.id && d.carries.includes(x.id)).flatMap((way) => behindWay(installation, way.id).points.flatMap((point) => loadsOf(point).map((load) => ({ point, load, way }))));

/** How much of what hangs behind a device has voltage and is plugged in. Evenly shared but for the spread: shares of so many lognormal parts. */
export function runningBehind(installation: Installation, view: LiveView, state: WorkState, d: Protection): Running {
  if (isOff(d, state)) return { mean: 0, sd: 0 };
  let [all, on] = [0, 0];
  for (const { point, load, way } of loadsBehind(installation, d)) {
    const things = point.kind === 'undrawn' ? IN_A_LUMP : 1;
    all += things;
    const live = magnitude(view.volt(view.scene.node(terminalKey(point.id, load.a)))) > installation.nominalVolt / 2;
    if (live && !isOff(way, state) && !state.loadsOut.includes(elementKey(point.id, load.id))) on += things;
  }
  const mean = all > 0 ? on / all : 0;
  return { mean, sd: Math.sqrt((mean * (1 - mean)) / (1 + all / (Math.exp(UNEVEN_SD ** 2) - 1))) };
}

/** Three shares that stand for all that it may be, with their weights. */
export const sharesOf = ({ mean, sd }: Running): readonly (readonly [share: number, weight: number])[] =>
  sd === 0 ? [[mean, 1]] : [[mean, 2 / 3], [Math.max(0, mean - sd * Math.sqrt(3)), 1 / 6], [Math.min(1, mean + sd * Math.sqrt(3)), 1 / 6]];
