import type { BeliefEngine, Observation } from '../belief';
import { observationOf, usableReadings, type JobView, type LiveReadingView, type ReadingView } from '../job';

/**
 * Readings that speak about the installation as it now is. A repair ends an epoch for the thing it touches: an earlier
 * reading still counts for everything else, as long as the mended fault could not be seen in it.
 */
export function evidenceOf(view: JobView, engine: BeliefEngine): { observations: Observation[]; readings: ReadingView[] } {
  const readings = usableReadings(view).filter((r) => view.mends.slice(r.epoch).every((m) => !engine.shows(m.event.suspect, observationOf(r))));
  return { observations: readings.map(observationOf), readings };
}

/** Live tests that count: not struck out, and made since the last repair, for a trip is a trip of everything at once. */
export const liveEvidenceOf = (view: JobView): LiveReadingView[] => view.liveReadings.filter((r) => !r.struck && r.epoch === view.epoch);
