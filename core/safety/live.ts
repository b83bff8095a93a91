import { findPoint, metalName, loadOfPart, roleOfPlace, type Installation } from '../installation';
import type { WorkState } from '../workstate';
import { putBackList } from './needs';

/** What must be done before anything is energised. */
export type LiveNeed = { readonly need: 'lockOff' } | { readonly need: 'putBack'; readonly items: number } | { readonly need: 'noShort'; readonly way: string };

/** What a person is told each time before a live step. */
export const liveCautions = ['coversOn', 'rightProbes', 'nobodyNear', 'holdOff', 'coversOff', 'independentEarth', 'clampOnly', 'pushOnce', 'byThePlug', 'lampsOff'] as const;
export type LiveCaution = (typeof liveCautions)[number];

/** A live step as hands do it. */
export type LiveDo =
  /** A device closed, to see whether it holds: some ways off and some loads out before it. */
  | { readonly do: 'close'; readonly device: string; readonly first: readonly string[]; readonly out: readonly string[] }
  /** Loads plugged in again behind a device that is on. */
  | { readonly do: 'plugIn'; readonly device: string; readonly parts: readonly string[] }
  /** Switches turned on behind a device that is on: each that is drawn (`point.element`), every one of a way that nobody has drawn (its point). */
  | { readonly do: 'turnOn'; readonly device: string; readonly parts: readonly string[] }
  | { readonly do: 'ramp'; readonly device: string; readonly first: readonly string[] }
  /** `all`: with everything back in and on, as it is used. */
  | { readonly do: 'clamp'; readonly around: string; readonly all?: true }
  | { readonly do: 'works'; readonly point: string }
  | { readonly do: 'voltage'; readonly from: string; readonly to: string }
  | { readonly do: 'loop'; readonly from: string; readonly to: string };

/** Is a device watched, whether it holds? */
export const watchesDevice = (s: LiveDo): s is Extract<LiveDo, { readonly do: 'close' | 'plugIn' | 'turnOn' }> => s.do === 'close' || s.do === 'plugIn' || s.do === 'turnOn';

/** Does the step need a cover off while it is live? Then it comes only where nothing else answers. */
export function needsCoverOff(map: Installation, step: LiveDo): boolean {
  // The lead of an appliance lies open to a clamp.
  if (step.do === 'clamp') return loadOfPart(map, step.around.replace(/\/L$/, '')) === null;
  const places = step.do === 'voltage' || step.do === 'loop' ? [step.from, step.to] : [];
  return places.some((p) => {
    const point = findPoint(map, p.split(/[:/]/)[0] ?? '');
    // The installation's earth is met on any earthed metal.
    if (p === 'ground' || metalName(p) !== null || (step.do === 'voltage' && places.includes('ground') && point?.kind === 'board' && roleOfPlace(map, p) === 'E')) return false;
    return point?.reach !== 'face';
  });
}

/** Power may come on only with no lock, no test link and no bare end; covers on, but the one that the step needs. */
export function liveNeeds(map: Installation, safety: { readonly secured: boolean; readonly state: WorkState }, step: LiveDo | null): LiveNeed[] {
  const needs: LiveNeed[] = [];
  const open = putBackList(map, safety.state, false).filter((i) => i.gatesPower && !(i.kind === 'cover' && step && needsCoverOff(map, step) && findPoint(map, i.point)?.kind === 'board'));
  if (open.length) needs.push({ need: 'putBack', items: open.length });
  if (safety.secured) needs.push({ need: 'lockOff' });
  return needs;
}

/** Lamps come out and go in with their way off, and nobody sees what hangs on a way that is not drawn. */
const lampsIn = (map: Installation, parts: readonly string[]): LiveCaution[] => (parts.some((k) => ['lamp', 'undrawn'].includes(findPoint(map, k.split('.')[0] ?? '')?.kind ?? '')) ? ['lampsOff'] : []);

export function cautionsOf(map: Installation, step: LiveDo): LiveCaution[] {
  const covers: LiveCaution = needsCoverOff(map, step) ? 'coversOff' : 'coversOn';
  switch (step.do) {
    case 'close': return ['coversOn', 'nobodyNear', ...lampsIn(map, step.out), 'pushOnce'];
    case 'plugIn': return ['coversOn', 'nobodyNear', 'byThePlug', ...lampsIn(map, step.parts)];
    case 'turnOn': return ['coversOn', 'nobodyNear'];
    case 'ramp': return [covers, 'nobodyNear'];
    case 'clamp': return [covers, 'clampOnly'];
    case 'works': return ['coversOn'];
    case 'voltage': return step.from === 'ground' || step.to === 'ground' ? [covers, 'rightProbes', 'independentEarth'] : [covers, 'rightProbes'];
    case 'loop': return [covers, 'rightProbes', 'nobodyNear'];
  }
}
