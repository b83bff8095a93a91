import { boardOf, circuitOfWay, labelOfWay, parsePlace, pointOfPlace, roleOfPlace, waysOfBoard, type Installation, type Point } from '../installation';
import type { JobView } from '../job';
import { isAbove } from '../tester';
import { andList, pointName } from '../wording';

/** Above it an end of earth is not joined to the other, ohms. */
const JOINED_OHM = 100;
/** More than these are counted, not named. */
const NAMED = 6;

/**
 * Points whose earth no reading reached, a circuit by its label where that is all of it: by continuity of earth from elsewhere, or a loop
 * measured there. What is left with nothing found would not have shown there.
 */
export function earthNotTested(view: JobView): string | null {
  const { map } = view;
  if (!map) return null;
  const reached = reachedEarths(map, view);
  const isLeft = (p: Point): boolean => p.kind !== 'board' && p.kind !== 'joint' && p.terminals.some((t) => t.role === 'E') && !reached.has(p.id);
  const ways = waysOfBoard(map);
  const names = map.shape === 'board'
    ? ways.flatMap((w) => namesOf(map, circuitOfWay(map, w.id).points, isLeft, labelOfWay(map, w.id)))
    : namesOf(map, map.points.filter((p) => p.id !== boardOf(map)?.id), isLeft, 'this circuit');
  if (!names.length) return null;
  return `Earth was not tested at ${andList(names.length > NAMED ? [...names.slice(0, NAMED - 1), `${names.length - NAMED + 1} more`] : names)}.`;
}

function namesOf(map: Installation, points: readonly Point[], isLeft: (p: Point) => boolean, all: string): string[] {
  const earthed = points.filter((p) => p.kind !== 'joint' && p.terminals.some((t) => t.role === 'E'));
  const left = earthed.filter(isLeft);
  return left.length && left.length === earthed.length ? [all] : left.map((p) => pointName(map, p.id));
}

function reachedEarths(map: Installation, { readings, liveReadings }: JobView): Set<string> {
  const reached = new Set<string>();
  const isEarth = (k: string): boolean => roleOfPlace(map, k) === 'E';
  for (const r of readings) {
    const { probe: { fn, from, to }, displayed } = r.event;
    if (r.struck || r.parked || fn !== 'continuity' || isAbove(displayed) || displayed.ohm > JOINED_OHM) continue;
    if ([...from, ...to].every(isEarth)) for (const k of [...from, ...to]) reached.add(pointOfPlace(map, k));
  }
  for (const { struck, event: { test } } of liveReadings) if (!struck && test.kind === 'loop' && test.ohm < JOINED_OHM && (isEarth(test.to) || isEarth(test.from))) for (const k of [test.from, test.to]) if (parsePlace(k)) reached.add(pointOfPlace(map, k));
  return reached;
}
