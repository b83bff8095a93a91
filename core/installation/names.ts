import { fail, issue, ok, type Issue, type Result } from '../issue';
import type { Installation } from './schema';

const MOST_LETTERS = 80;

/** A phrase and the names after its colon: "radial, 3: sink, oven, hob". An empty place between two commas keeps the name it has. */
export function splitNames(phrase: string): { readonly said: string; readonly names: readonly string[] } {
  const colon = phrase.indexOf(':');
  if (colon < 0) return { said: phrase, names: [] };
  const names = phrase.slice(colon + 1).split(/[,;]/).map((n) => n.trim().slice(0, MOST_LETTERS));
  return { said: phrase.slice(0, colon), names: names.every((n) => n === '') ? [] : names };
}

/** What takes a name, in the order of the phrase: what hangs on the circuit, or the ways of a board. Switches and joints are named after it. */
const takers = (map: Installation): string[] => map.points.filter((p) => p.kind !== 'board' && p.kind !== 'subboard' && p.kind !== 'switch' && p.kind !== 'joint').map((p) => p.id);

/** The names put on what was drafted, in order; and which points have one of these. More names than points, or one name twice, is refused. */
export function withNames(map: Installation, names: readonly string[]): Result<{ readonly map: Installation; readonly given: ReadonlySet<string> }> {
  const ids = takers(map);
  // The last two of a list are often joined by a word.
  const list = names.length < ids.length ? names.flatMap((n, i) => (i === names.length - 1 ? n.split(/\s+and\s+/i) : [n])) : names;
  if (list.length > ids.length) return fail(issue('draft.names', [], { names: list.length, points: ids.length }));
  const called = new Map(list.flatMap((n, i) => (n === '' ? [] : [[ids[i] as string, n] as const])));
  const points = map.points.map((p) => ({ ...p, name: called.get(p.id) ?? p.name }));
  const seen = new Set<string>();
  const twice = points.flatMap((p): Issue[] => {
    const name = p.name.toLowerCase();
    if (seen.has(name)) return [issue('map.sameName', ['points', p.id], { name: p.name })];
    seen.add(name);
    return [];
  });
  return twice.length ? fail(...twice) : ok({ map: { ...map, points }, given: new Set(called.keys()) });
}
