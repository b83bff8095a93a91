import type { Observation } from '../belief';
import type { Situation } from '../planning';
import type { JobView, ReadingView } from './derive';

/** Readings that count in the present epoch: not struck, not parked. */
export const countingReadings = (view: JobView): ReadingView[] => view.readings.filter((r) => !r.struck && !r.parked && r.epoch === view.epoch);

export const observationsOf = (view: JobView): Observation[] =>
  countingReadings(view).map((r) => ({ probe: r.event.probe, state: r.state, displayed: r.event.displayed, remade: r.remade }));

export function situationOf(view: JobView): Situation {
  const board = view.map?.points.find((p) => p.kind === 'board')?.id;
  return { state: view.state, at: view.at.length ? view.at : board ? [board] : [], proved: new Set(view.proofs.keys()), unreachable: new Set(view.unreachable) };
}
