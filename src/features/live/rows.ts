import type { Advice } from '@core/advice';
import { behindWay, boardOf, protectionsOf, upstreamOf, type Installation, type Protection } from '@core/installation';
import type { JobView, LiveReadingView } from '@core/job';
import { circuitOf, devicePlate, deviceWords } from '@core/wording';

/** A device of the board as a row: what it is, whether it is on, what closing it did last. */
export interface DeviceRow {
  readonly device: Protection;
  readonly name: string;
  readonly plate: string;
  readonly on: boolean;
  /** Closed, and everything that feeds it. */
  readonly fed: boolean;
  /** The last time it was closed, or went because of another. */
  readonly last: LiveReadingView | null;
  readonly group: boolean;
  readonly inSubBoard: boolean;
  /** Share of suspicion of its circuit, 0…1; null before any evidence. */
  readonly share: number | null;
  /** An overcurrent device that tripped, with a short still possible behind it: it is not closed to see. */
  readonly held: boolean;
}

/** Residual current devices each before their ways, then the ways on the main bar. */
export function deviceRows(view: JobView, advice: Advice | null): DeviceRow[] {
  const { map, state } = view;
  if (!map) return [];
  const devices = protectionsOf(map);
  const on = (d: Protection): boolean => d.poles.every((p) => !state.off.includes(p));
  const row = (d: Protection): DeviceRow => ({
    device: d, name: d.kind === 'rcd' || d.kind === 'main' ? deviceWords(map, d.id) : circuitOf(map, d.id), plate: devicePlate(map, d.id), on: on(d), fed: upstreamOf(devices, d).every(on),
    last: [...view.liveReadings].reverse().find((r) => !r.struck && r.epoch === view.epoch && r.event.test.kind === 'closed' && (r.event.test.device === d.id || r.event.test.tripped === d.id)) ?? null,
    group: d.kind === 'rcd' || d.kind === 'main', inSubBoard: d.at !== boardOf(map)?.id, share: shareOf(map, d, advice), held: heldBack(view, map, d, advice),
  });
  /** Devices of one board: each group before its ways, each way before the sub-board that hangs on it. */
  const inside = (hub: string): DeviceRow[] => {
    const here = devices.filter((d) => d.at === hub && d.kind !== 'main');
    const groups = here.filter((d) => d.kind === 'rcd');
    const grouped = new Set(groups.flatMap((g) => g.ways));
    const way = (w: Protection): DeviceRow[] => [row(w), ...behindWay(map, w.id).points.filter((p) => p.kind === 'subboard').flatMap((p) => inside(p.id))];
    const ways = here.filter((d) => d.kind !== 'rcd');
    return [...groups.flatMap((g) => [row(g), ...ways.filter((w) => g.ways.includes(w.id)).flatMap(way)]), ...ways.filter((w) => !grouped.has(w.id)).flatMap(way)];
  };
  return [...devices.filter((d) => d.kind === 'main').map(row), ...inside(boardOf(map)?.id ?? '')];
}

/** Everything in the circuit of a way, its device included; of a group, the device alone. */
function ownPlaces(map: Installation, d: Protection): (place: string) => boolean {
  const { sections, points } = behindWay(map, d.id);
  const mine = new Set([d.at === boardOf(map)?.id ? `${d.at}.${d.id}` : d.id, ...sections.map((s) => s.id), ...points.map((p) => p.id)]);
  return (place) => mine.has(place) || mine.has(place.split('.')[0] ?? '');
}

/** Before any dead test, and as long as readings leave a short possible there. */
function heldBack(view: JobView, map: Installation, d: Protection, advice: Advice | null): boolean {
  if (view.asked.complaint !== 'mcb trips' || d.kind === 'rcd' || d.kind === 'main') return false;
  if (!view.readings.some((r) => !r.struck && !r.parked) || !advice) return true;
  const isOwn = ownPlaces(map, d);
  return advice.hazards.some((h) => (h.does === 'short' || h.does === 'earth fault') && isOwn(h.place));
}

/** Belief in the circuit of a way. */
function shareOf(map: Installation, d: Protection, advice: Advice | null): number | null {
  if (!advice?.hasReadings) return null;
  const isOwn = ownPlaces(map, d);
  return advice.places.reduce((s, p) => (isOwn(p.place) ? s + p.share : s), 0);
}
