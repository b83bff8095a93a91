import { z } from 'zod';

/** A conductor put between two places for a test. It stays on the put-back list until removed. */
export const Link = z.looseObject({ id: z.string(), a: z.string(), b: z.string() });
export type Link = z.infer<typeof Link>;

/** What has been done to the installation by now, per conductor end, switch, load, cover and link. */
export const WorkState = z.looseObject({
  /** Conductor ends taken out of their terminals. */
  out: z.array(z.string()),
  /** Switches and ways that are off, by `point.element`. */
  off: z.array(z.string()),
  /** Loads unplugged or disconnected, by `point.element`. */
  loadsOut: z.array(z.string()),
  links: z.array(Link),
  /** Points whose cover is off. */
  opened: z.array(z.string()),
  /** Ways that nobody has drawn with all their switches on, by the point that stands for them, and loads that are in for certain, by `point.element`: what hangs behind these is reached. */
  on: z.array(z.string()).optional(),
});
export type WorkState = z.infer<typeof WorkState>;

export const untouched: WorkState = { out: [], off: [], loadsOut: [], links: [], opened: [] };
export const elementKey = (point: string, element: string): string => `${point}.${element}`;
/** Does a key name an element, not a point? */
export const isElementKey = (key: string): boolean => key.includes('.');

/** Does a contact join its two terminals? `contrary`: the contact that a two-way switch opens when it closes this one. */
export const isClosed = (off: ReadonlySet<string>, point: string, e: { readonly id: string; readonly kind: string }): boolean =>
  'contrary' in e && typeof e.contrary === 'string' ? off.has(elementKey(point, e.contrary)) : !off.has(elementKey(point, e.id));

/** One name for a link, whichever end comes first. */
export const linkKey = (a: string, b: string): string => (a < b ? `${a}=${b}` : `${b}=${a}`);

/** A text that is equal for equal electrical states: the order of doing does not matter, covers do not count. */
export function stateSignature(s: WorkState): string {
  let text = signatures.get(s);
  if (text === undefined) {
    text = [[...s.out].sort().join(), [...s.off].sort().join(), [...s.loadsOut].sort().join(), s.links.map((l) => linkKey(l.a, l.b)).sort().join(), ...(s.on?.length ? [[...s.on].sort().join()] : [])].join('|');
    signatures.set(s, text);
  }
  return text;
}
/** States never change in place. */
const signatures = new WeakMap<WorkState, string>();
