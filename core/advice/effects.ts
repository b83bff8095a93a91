import { howForeseen, supportOf, type Observation } from '../belief';
import { placeNames, shareByPlace } from '../planning';
import { bestCell, type Now } from './now';
import type { ClearedView, LastChange } from './types';

const CLEARED_SHARE = 0.01;

/** Places that the readings have ruled out, each with the reading that did most. */
export function clearedPlaces({ map, engine, belief, observations, readings }: Now): ClearedView[] {
  if (!observations.length) return [];
  const name = placeNames(map);
  const prior = new Map<string, number>();
  const share = new Map<string, number>();
  const members = new Map<string, number[]>();
  for (const [i, s] of engine.suspects.entries()) {
    const place = name(s.place);
    prior.set(place, (prior.get(place) ?? 0) + s.prior);
    share.set(place, (share.get(place) ?? 0) + (belief.suspectShare[i] as number));
    members.set(place, [...(members.get(place) ?? []), i]);
  }
  const cleared: ClearedView[] = [];
  for (const [place, p] of prior) {
    if (place === 'unknown' || place === 'sound' || place.startsWith('state ')) continue;
    const now = share.get(place) ?? 0;
    if (now >= CLEARED_SHARE || now >= p / 10) continue;
    const cells = (members.get(place) ?? []).slice(0, 6).map((i) => bestCell(belief, i));
    const rows = supportOf(engine, belief, observations, cells);
    const sums = observations.map((_, j) => rows.reduce((sum, row) => sum + (row[j] ?? 0), 0) / Math.max(1, rows.length));
    const lowest = sums.indexOf(Math.min(...sums));
    // Only a reading that told this place from the rest clears it: an open hides what lies beyond.
    if ((sums[lowest] ?? 0) < -0.3) cleared.push({ place, reading: readings[lowest]?.event.id ?? '' });
  }
  return cleared;
}

/** What the last reading moved most. */
export function lastChange({ map, engine, belief, observations, readings }: Now): LastChange | null {
  const last = readings.at(-1);
  if (!last) return null;
  const before = shareByPlace(map, engine.suspects, engine.believe(observations.slice(0, -1), belief));
  const after = shareByPlace(map, engine.suspects, belief);
  let change: LastChange | null = null;
  for (const p of after) {
    const from = before.find((b) => b.place === p.place)?.share ?? 0;
    if (!change || Math.abs(p.share - from) > Math.abs(change.to - change.from)) change = { reading: last.event.id, place: p.place, from, to: p.share };
  }
  return change;
}

/** Readings that the best suspects together gave less than 2 % of their usual chance. */
export function surprises({ engine, belief, observations, readings }: Now): string[] {
  if (observations.length < 2) return [];
  const last = observations.at(-1) as Observation;
  const before = engine.believe(observations.slice(0, -1), belief);
  return howForeseen(engine, before, last) < 0.02 ? [readings.at(-1)?.event.id ?? ''] : [];
}
