import { boardOf, boardPart, landingOf, type Installation } from '../installation';
import { labelOfSection, pointName } from './places';

// Eyes before meter: what is looked for, and where.

/** What to look for: with the cover off, or from outside. */
export const lookWords = ({ outside }: { readonly outside: boolean }): string =>
  outside ? 'Scorch marks, water, a pinched cable, fresh screws in the wall nearby. Half a minute.' : 'Tug each conductor: does its end move? Melted or darkened insulation, a nick, water, copper that shows. Half a minute.';

/** A look, in a line that goes on from "Look first:". */
export function lookTitle(map: Installation, look: { readonly point: string; readonly outside: boolean; readonly plug: string | null; readonly bar: string | null }): string {
  if (look.plug) return `is anything still plugged in at ${pointName(map, look.point)}?`;
  return look.bar ? `which bar is ${neutralName(map, look.bar)} in?` : `${pointName(map, look.point)}, ${look.outside ? 'from outside' : 'cover off'}`;
}

/** "N of Shop sockets", by its end at the board. */
export const neutralName = (map: Installation, end: string): string => `N of ${labelOfSection(map, end.split('@')[0] ?? end)}`;

/** The bars that a neutral may be in: where it is drawn first. */
export function neutralBars(map: Installation, end: string): { readonly terminal: string; readonly name: string; readonly drawn: boolean }[] {
  const own = landingOf(map, end.split('@')[0] ?? end).neutral;
  return (boardOf(map)?.terminals ?? []).filter((t) => boardPart(t) === 'neutral bar').map((t) => ({ terminal: t.id, name: t.name ?? t.id, drawn: t.id === own })).sort((x, y) => Number(y.drawn) - Number(x.drawn));
}
