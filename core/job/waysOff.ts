import type { Installation } from '../installation';
import { setOff, type WorkState } from '../workstate';

/** The state with every way and pole of every board off, as it is once the work is made dead. */
export function waysOff(map: Installation, state: WorkState): WorkState {
  const parts = map.points.filter((p) => p.kind === 'board').flatMap((p) => p.elements.flatMap((x) => (x.kind === 'way' || x.kind === 'pole' ? [`${p.id}.${x.id}`] : [])));
  return parts.reduce((s, part) => setOff(s, part, true), state);
}
