import type { Link, WorkState } from './schema';

const withItem = (list: readonly string[], item: string): string[] => (list.includes(item) ? [...list] : [...list, item]);
const without = (list: readonly string[], item: string): string[] => list.filter((x) => x !== item);
const toggled = (list: readonly string[], item: string, present: boolean): string[] => (present ? withItem(list, item) : without(list, item));

export const setEnd = (s: WorkState, end: string, out: boolean): WorkState => ({ ...s, out: toggled(s.out, end, out) });
export const setEnds = (s: WorkState, ends: readonly string[], out: boolean): WorkState => ends.reduce((acc, e) => setEnd(acc, e, out), s);
export const setOff = (s: WorkState, element: string, off: boolean): WorkState => ({ ...s, off: toggled(s.off, element, off) });
/** Two-way switches on their other throws. */
export const turned = (s: WorkState, parts: readonly string[]): WorkState => parts.reduce((acc, part) => setOff(acc, part, !acc.off.includes(part)), s);
/** A load that was out and went back in is in for certain; of one that nobody moved that is not known. */
export function setLoadOut(s: WorkState, load: string, out: boolean): WorkState {
  const moved = { ...s, loadsOut: toggled(s.loadsOut, load, out) };
  const isBack = !out && s.loadsOut.includes(load);
  return isBack || s.on?.includes(load) ? { ...moved, on: toggled(s.on ?? [], load, isBack || !out) } : moved;
}
/** All switches of some ways that nobody has drawn are on, and some loads in; or nobody knows any more. */
export const setSwitchesOn = (s: WorkState, points: readonly string[], on: boolean): WorkState => points.reduce((acc, p) => ({ ...acc, on: toggled(acc.on ?? [], p, on) }), s);
export const setCover = (s: WorkState, point: string, opened: boolean): WorkState => ({ ...s, opened: toggled(s.opened, point, opened) });
export const addLink = (s: WorkState, link: Link): WorkState => ({ ...s, links: [...s.links.filter((l) => l.id !== link.id), link] });
export const removeLink = (s: WorkState, id: string): WorkState => ({ ...s, links: s.links.filter((l) => l.id !== id) });
