import { boardOf, circuitOfWay, labelOfWay, pointOfPlace, roleOfPlace, waysOfBoard, type Installation, type Point } from '../installation';
import type { JobView } from '../job';
import { isAbove } from '../tester';
import { andList, pointName } from '../wording';

/** Above it an end of earth is not joined to the other, ohms. */
const JOINED_OHM = 100;
/** More than these are counted, not named. */
const NAMED = 6;

/**
 * Points whose earth no reading reached from the board, a circuit by its label where that is all of it: by continuity of earth, from point to
 * point where it was read so, or by a loop measured there. What is left with nothing found would not have shown there.
 */
export function earthNotTested(view: JobView): string | null {
  const { map } = view;
  if (!map) return null;
  const reached = reachedEarths(map, view);
  const names = map.shape === 'board'
    ? waysOfBoard(map).flatMap((w) => namesLeft(map, circuitOfWay(map, w.id).points, reached, labelOfWay(map, w.id)))
    : namesLeft(map, map.points.filter((p) => p.kind !== 'board'), reached, 'any point of this circuit');
  if (!names.length) return null;
  return `Earth was not tested at ${andList(names.length > NAMED ? [...names.slice(0, NAMED - 1), `${names.length - NAMED + 1} more`] : names)}.`;
}

/** `all`: the name where none of them was reached. */
function namesLeft(map: Installation, points: readonly Point[], reached: ReadonlySet<string>, all: string): string[] {
  const earthed = points.filter((p) => p.kind !== 'joint' && p.terminals.some((t) => t.role === 'E'));
  const left = earthed.filter((p) => !reached.has(p.id));
  return left.length && left.length === earthed.length ? [all] : left.map((p) => pointName(map, p.id));
}

/** Two points that are earthed to each other alone may both have lost the board. */
function reachedEarths(map: Installation, { readings, liveReadings }: JobView): Set<string> {
  const isEarth = (k: string): boolean => roleOfPlace(map, k) === 'E';
  const loops = liveReadings.flatMap(({ struck, event: { test } }) => (!struck && test.kind === 'loop' && test.ohm < JOINED_OHM ? [test.from, test.to].filter(isEarth) : []));
  const reached = new Set([boardOf(map)?.id ?? '', ...loops.map((k) => pointOfPlace(map, k))]);
  const joined = readings.flatMap(({ struck, parked, event: { probe: { fn, from, to }, displayed } }) => {
    const ends = [...from, ...to];
    return !struck && !parked && fn === 'continuity' && !isAbove(displayed) && displayed.ohm <= JOINED_OHM && ends.every(isEarth) ? [ends.map((k) => pointOfPlace(map, k))] : [];
  });
  for (let before = 0; before < reached.size; ) {
    before = reached.size;
    for (const points of joined) if (points.some((p) => reached.has(p))) for (const p of points) reached.add(p);
  }
  return reached;
}
