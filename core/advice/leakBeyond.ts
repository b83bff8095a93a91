import { isBreak, suspectsOf } from '../faults';
import { circuitsOf, pointOfPlace, roleOfPlace, sectionOfPlace } from '../installation';
import { liveMetalOf, type JobView } from '../job';
import type { SuspectView } from './types';

/** An earth that is broken has no volts and gives no shock by itself: where it did, something leaks to it beyond the break. */
export function leaksBeyond(view: Pick<JobView, 'map' | 'liveReadings' | 'epoch'>, s: Pick<SuspectView, 'kind' | 'place' | 'conductors' | 'explains'>): boolean {
  if (s.explains.says !== 'not asked' && s.explains.code === 'explains.unearthed') return true;
  return isLostEarth(s) && hadVolts(view.map, s.place, view.liveReadings.filter((r) => r.epoch === view.epoch));
}

/** Was the earth of a circuit live under load? What a multimeter of megohms shows on an earth that floats may be picked up, and nothing leaks. */
function hadVolts(map: JobView['map'], place: string, readings: JobView['liveReadings']): boolean {
  const loaded = readings.filter(({ event: { test } }) => test.kind === 'voltage' && test.meter === 'low');
  const lifted = liveMetalOf(map, loaded.map((r) => ({ ...r, epoch: 0 })), [], 0, 0);
  if (!map || !lifted) return false;
  const circuits = circuitsOf(map);
  const own = circuits.get(place.split('.')[0] ?? '');
  return own !== undefined && circuits.get(pointOfPlace(map, lifted.place)) === own;
}

const isLostEarth = (s: Pick<SuspectView, 'kind' | 'conductors'>): boolean => (isBreak(s) || s.kind === 'face') && s.conductors.join() === 'E';

/** An earth was mended that had volts on it, and nobody has read since what leaks to it: the place of the mend; null where there is none. */
export function leakNotFound({ map, mends, liveReadings, readings }: Pick<JobView, 'map' | 'mends' | 'liveReadings' | 'readings'>): string | null {
  if (!map || !mends.length) return null;
  const circuits = circuitsOf(map);
  const circuitOf = (place: string): number | undefined => circuits.get(place.split('.')[0] ?? '');
  const suspects = new Map(suspectsOf(map).map((s) => [s.id, s]));
  const owed = mends.find(({ event: { suspect, place, at } }) => {
    const s = suspects.get(suspect);
    if (!s || !isLostEarth(s) || !hadVolts(map, place, liveReadings.filter((r) => r.event.at <= at))) return false;
    return !readings.some(({ event, struck }) => {
      const places = [...event.probe.from, ...event.probe.to];
      const roles = places.map((k) => roleOfPlace(map, k));
      return !struck && event.at > at && event.probe.fn === 'insulation' && roles.includes('E') && roles.some((r) => r.startsWith('L')) && places.some((k) => circuits.get(sectionOfPlace(map, k)) === circuitOf(place));
    });
  });
  return owed?.event.place ?? null;
}
