import { howForeseen, type Observation } from '../belief';
import { shareByPlace } from '../planning';
import type { Now } from './now';
import type { LastChange } from './types';

/** What the last reading moved most. */
export function lastChange({ map, engine, belief, observations, readings }: Now): LastChange | null {
  const last = readings.at(-1);
  if (!last) return null;
  const before = shareByPlace(map, engine.suspects, engine.believe(observations.slice(0, -1)));
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
  const before = engine.believe(observations.slice(0, -1));
  return howForeseen(engine, before, last) < 0.02 ? [readings.at(-1)?.event.id ?? ''] : [];
}
