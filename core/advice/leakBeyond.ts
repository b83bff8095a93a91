import { isBreak } from '../faults';
import { circuitsOf, pointOfPlace } from '../installation';
import type { JobView } from '../job';
import type { SuspectView } from './types';

/** An earth that is broken has no volts and gives no shock by itself: where it did, something leaks to it beyond the break. */
export function leaksBeyond({ map, liveMetal }: Pick<JobView, 'map' | 'liveMetal'>, s: Pick<SuspectView, 'kind' | 'place' | 'conductors' | 'explains'>): boolean {
  if (s.explains.says !== 'not asked' && s.explains.code === 'explains.unearthed') return true;
  if (!map || !liveMetal || !(isBreak(s) || s.kind === 'face') || s.conductors.join() !== 'E') return false;
  const circuits = circuitsOf(map);
  const own = circuits.get(s.place.split('.')[0] ?? '');
  return own !== undefined && circuits.get(pointOfPlace(map, liveMetal.place)) === own;
}
