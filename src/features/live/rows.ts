import type { Advice } from '@core/advice';
import { boardOf, endsAtPoint, protectionsOf, type Installation, type Protection } from '@core/installation';
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
  /** Share of suspicion of its circuit, 0…1; null before any evidence. */
  readonly share: number | null;
}

/** Residual current devices each before their ways, then the ways on the main bar. */
export function deviceRows(view: JobView, advice: Advice | null): DeviceRow[] {
  const { map, state } = view;
  if (!map) return [];
  const devices = protectionsOf(map);
  const on = (d: Protection): boolean => d.poles.every((p) => !state.off.includes(p));
  const above = (d: Protection): Protection[] => devices.filter((u) => u !== d && u.ways.length > d.ways.length && d.ways.every((w) => u.ways.includes(w)));
  const row = (d: Protection): DeviceRow => ({
    device: d, name: d.kind === 'rcd' || d.kind === 'main' ? deviceWords(map, d.id) : circuitOf(map, d.id), plate: devicePlate(map, d.id), on: on(d), fed: above(d).every(on),
    last: [...view.liveReadings].reverse().find((r) => !r.struck && r.epoch === view.epoch && r.event.test.kind === 'closed' && (r.event.test.device === d.id || r.event.test.tripped === d.id)) ?? null,
    group: d.kind === 'rcd' || d.kind === 'main', share: shareOf(map, d, advice),
  });
  const groups = devices.filter((d) => d.kind === 'rcd');
  const grouped = new Set(groups.flatMap((g) => g.ways));
  const ways = devices.filter((d) => d.kind !== 'rcd' && d.kind !== 'main');
  const main = devices.filter((d) => d.kind === 'main');
  return [...main.map(row), ...groups.flatMap((g) => [row(g), ...ways.filter((w) => g.ways.includes(w.id)).map(row)]), ...ways.filter((w) => !grouped.has(w.id)).map(row)];
}

/** Belief in the circuit of a way, its device included; of a group, in the device alone. */
function shareOf(map: Installation, d: Protection, advice: Advice | null): number | null {
  if (!advice?.hasReadings) return null;
  const board = boardOf(map);
  const way = board?.elements.find((e) => e.kind === 'way' && e.id === d.id);
  const mine = new Set([`${board?.id}.${d.id}`]);
  if (board && way) for (const e of endsAtPoint(map, board.id)) if (e.terminal === way.b) for (const p of [e.section.id, e.section.b]) mine.add(p);
  return advice.places.reduce((s, p) => (mine.has(p.place) || mine.has(p.place.split('.')[0] ?? '') ? s + p.share : s), 0);
}
