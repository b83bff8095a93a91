/**
 * Keys name every place a probe can touch, as one string that survives in files:
 *   terminal  p4:L       the terminal itself
 *   face      p4/f1:L    the same terminal read through a face, cover on
 *   end       s3@a:N     one conductor end, on its copper
 */
export type PlaceKey = string;
export type Side = 'a' | 'b';

export type ParsedPlace =
  | { readonly at: 'terminal'; readonly point: string; readonly terminal: string }
  | { readonly at: 'face'; readonly point: string; readonly face: string; readonly terminal: string }
  | { readonly at: 'end'; readonly section: string; readonly side: Side; readonly core: string };

export const terminalKey = (point: string, terminal: string): PlaceKey => `${point}:${terminal}`;
export const faceKey = (point: string, face: string, terminal: string): PlaceKey => `${point}/${face}:${terminal}`;
export const endKey = (section: string, side: Side, core: string): PlaceKey => `${section}@${side}:${core}`;

/** The name of one end of a section: its own, or an older one that it kept. */
export const endName = (section: { readonly id: string; readonly ends?: { a: string; b: string } | undefined }, side: Side): string => section.ends?.[side] ?? `${section.id}@${side}`;
export const endKeyOf = (section: Parameters<typeof endName>[0], side: Side, core: string): PlaceKey => `${endName(section, side)}:${core}`;

/** Metal that is no point of any circuit, by the name that the person gives it: a rail, a seat, a tap. No conductor leads to it. */
const METAL = 'metal:';
export const metalKey = (name: string): PlaceKey => `${METAL}${name.trim()}`;
export const metalName = (key: PlaceKey): string | null => (key.startsWith(METAL) ? key.slice(METAL.length) : null);

/** Null when the text is no key. */
export function parsePlace(key: PlaceKey): ParsedPlace | null {
  const match = /^([A-Za-z0-9_-]+)(?:([/@])([A-Za-z0-9_-]+))?:([A-Za-z0-9_-]+)$/.exec(key);
  if (!match) return null;
  const [, owner = '', mark, part = '', last = ''] = match;
  if (mark === undefined) return { at: 'terminal', point: owner, terminal: last };
  if (mark === '/') return { at: 'face', point: owner, face: part, terminal: last };
  if (part !== 'a' && part !== 'b') return null;
  return { at: 'end', section: owner, side: part, core: last };
}
