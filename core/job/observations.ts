import type { Observation } from '../belief';
import type { Situation } from '../planning';
import type { JobView, ReadingView } from './derive';

/** Readings of every epoch that are not struck out and whose place is still on the map. */
export const usableReadings = (view: JobView): ReadingView[] => view.readings.filter((r) => !r.struck && !r.parked);

export const observationOf = (r: ReadingView): Observation => ({ probe: r.event.probe, state: r.state, displayed: r.event.displayed, remade: r.remade, unlinked: r.unlinked });

export function situationOf(view: JobView): Situation {
  const board = view.map?.points.find((p) => p.kind === 'board')?.id;
  return { state: view.state, at: view.at.length ? view.at : board ? [board] : [], proved: new Set(view.proofs.keys()), unreachable: new Set(view.unreachable) };
}
