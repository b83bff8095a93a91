import { circuitsOf, findPoint, isTwoWay, roleOfPlace, sectionOfPlace, type Installation } from '../installation';
import { elementKey, setOff } from '../workstate';
import type { ReadingView } from './view';

// How the switches of a way stood before anybody drew it. What is drawn as a switch was one then too; nobody had looked.

type Read = Omit<ReadingView, 'parked'>;

/** Switches that were found on a way when it was drawn, and how many readings and tests with the supply on were made before. */
export interface Found { readonly lump: string; readonly parts: readonly string[]; readonly before: number; readonly beforeLive: number; /** Not known: they were all turned on since. */ readonly turned: boolean }

/** What is found when a way is drawn on `after`; null where it has no switch of its own. `on`: ways whose switches are on now. */
export function foundByDrawing(after: Installation, lump: string, before: number, beforeLive: number, on: readonly string[]): Found | null {
  const circuits = circuitsOf(after);
  const parts = after.points.flatMap((p) => (circuits.get(p.id) === circuits.get(lump) ? p.elements.flatMap((e) => (e.kind === 'switch' && !isTwoWay(p, e) ? [elementKey(p.id, e.id)] : [])) : []));
  return findPoint(after, lump) && parts.length && before + beforeLive > 0 ? { lump, parts, before, beforeLive, turned: on.includes(lump) } : null;
}

/** Whoever draws a switch and says that it was found off: it stood off in all that was read before, dead or with the supply on. `before`: how many of these were. */
export const stoodOff = <R extends Pick<Read, 'state'>>(found: Found, part: string, readings: readonly R[], before: number): R[] =>
  readings.map((r, i) => (i < before && r.state.on?.includes(found.lump) !== true ? { ...r, state: setOff(r.state, part, true) } : r));

/** Was it read through switches of which nobody knows how they stood? */
export function throughUnknownSwitch(map: Installation, found: readonly Found[], reading: Read, index: number): boolean {
  const circuits = circuitsOf(map);
  return found.some((f) => f.turned && index < f.before && reading.state.on?.includes(f.lump) !== true && [...reading.event.probe.from, ...reading.event.probe.to].some((k) => roleOfPlace(map, k).startsWith('L') && circuits.get(sectionOfPlace(map, k)) === circuits.get(f.lump)));
}
