import { boardOf } from './lookup';
import type { Device, InnerElement, Installation } from './schema';

/** A device of the board that opens by itself: what it watches, and the ways that it takes with it. Amperes and milliamperes. */
export interface Protection {
  /** The element or group that a person switches: "w3", "G1", "main". */
  readonly id: string;
  readonly name: string;
  readonly kind: 'rcd' | Device['kind'] | 'main';
  /** Keys of its poles. */
  readonly poles: readonly string[];
  /** Those of them that carry a line. */
  readonly linePoles: readonly string[];
  readonly ways: readonly string[];
  readonly residualMa: number | null;
  readonly ratingA: number | null;
  readonly curve: Device['curve'];
}

type Way = Extract<InnerElement, { kind: 'way' }>;
const found = new WeakMap<Installation, readonly Protection[]>();

/** Devices of the board, ways first, then residual current devices over a group, then the main switch. */
export function protectionsOf(installation: Installation): readonly Protection[] {
  const known = found.get(installation);
  if (known) return known;
  const board = boardOf(installation);
  const elements = board?.elements ?? [];
  const ways = elements.filter((e): e is Way => e.kind === 'way');
  const key = (id: string): string => `${board?.id ?? ''}.${id}`;
  const list: Protection[] = ways.map((w) => ({
    id: w.id, name: w.name, kind: w.device?.kind ?? 'mcb', ways: [w.id], residualMa: w.device?.residualMa ?? null, ratingA: w.device?.ratingA ?? null, curve: w.device?.curve ?? null,
    linePoles: linePoles(elements, w).map((e) => key(e.id)),
    poles: [...linePoles(elements, w), ...elements.filter((e) => e.kind === 'pole' && e.b === `N${w.b.slice(1)}`)].map((e) => key(e.id)),
  }));
  for (const g of new Set(ways.flatMap((w) => w.group ?? []))) {
    const poles = elements.filter((e): e is Extract<InnerElement, { kind: 'pole' }> => e.kind === 'pole' && new RegExp(`^${g}(L[123]?|N)$`).test(e.id));
    list.push({ id: g, name: poles[0]?.name.split(',')[0] ?? g, kind: 'rcd', poles: poles.map((p) => key(p.id)), linePoles: poles.filter((p) => p.id !== `${g}N`).map((p) => key(p.id)), ways: ways.filter((w) => w.group === g).map((w) => w.id), residualMa: poles[0]?.residualMa ?? 30, ratingA: null, curve: null });
  }
  const main = installation.supply?.main;
  if (board) list.push({ id: 'main', name: main?.residualMa ? 'Main RCD' : 'Main switch', kind: 'main', poles: [key('main')], linePoles: [key('main')], ways: ways.map((w) => w.id), residualMa: main?.residualMa ?? null, ratingA: main?.ratingA ?? null, curve: null });
  found.set(installation, list);
  return list;
}

/** Elements of a way that carry a line: one, or three where one handle opens three. */
export const linePoles = (elements: readonly InnerElement[], w: Pick<Way, 'id'>): InnerElement[] => elements.filter((e) => e.id === w.id || (e.kind === 'pole' && (e.id === `${w.id}b` || e.id === `${w.id}c`)));

/** The residual current device that watches a way: its own, its group's, or the main one. */
export function residualDeviceOf(installation: Installation, way: string): Protection | undefined {
  return protectionsOf(installation).filter((p) => p.residualMa !== null && p.ways.includes(way)).sort((a, b) => a.ways.length - b.ways.length)[0];
}
