import { boardOf, endsAtPoint, findPoint } from './lookup';
import type { Device, InnerElement, Installation, Point, ResidualType, Section } from './schema';

/** A device that opens by itself, of the board or of a sub-board: what it watches, and the ways that it takes with it. Amperes and milliamperes. */
export interface Protection {
  /** The element or group that a person switches: "w3", "G1", "main"; of a sub-board "p7.w2", "p7.main". */
  readonly id: string;
  readonly name: string;
  readonly kind: 'rcd' | Device['kind'] | 'main';
  /** The board or sub-board that it sits in. */
  readonly at: string;
  /** Keys of its poles. */
  readonly poles: readonly string[];
  /** Those of them that carry a line. */
  readonly linePoles: readonly string[];
  /** Ways of its own board behind it, itself included where it is one. */
  readonly ways: readonly string[];
  /** The same with the ways of every sub-board behind these: all whose current it carries. */
  readonly carries: readonly string[];
  readonly residualMa: number | null;
  /** Null where nobody looked, or there is nothing of the kind. */
  readonly residualType: ResidualType | null;
  readonly ratingA: number | null;
  readonly curve: Device['curve'];
  /** Its figures are those of most such devices: nobody has read them on it. */
  readonly guessed: boolean;
}

type Way = Extract<InnerElement, { kind: 'way' }>;
type Plain = Omit<Protection, 'carries'>;
const found = new WeakMap<Installation, readonly Protection[]>();

/** All devices: of the board the ways first, then residual current devices over a group, then the main switch; then those of the sub-boards. */
export function protectionsOf(installation: Installation): readonly Protection[] {
  const known = found.get(installation);
  if (known) return known;
  const plain = [...ofBoard(installation), ...installation.points.filter((p) => p.kind === 'subboard').flatMap(ofSubBoard)];
  const behind = new Map(plain.flatMap((d) => (d.ways.length === 1 && d.ways[0] === d.id ? [[d.id, behindWay(installation, d.id).points.filter((p) => p.kind === 'subboard').map((p) => p.id)] as const] : [])));
  const carried = (way: string): string[] => [way, ...plain.filter((d) => d.id !== way && d.ways[0] === d.id && (behind.get(way) ?? []).includes(d.at)).flatMap((d) => carried(d.id))];
  const list = plain.map((d) => ({ ...d, carries: [...new Set(d.ways.flatMap(carried))] }));
  found.set(installation, list);
  return list;
}

function ofBoard(installation: Installation): Plain[] {
  const board = boardOf(installation);
  if (!board) return [];
  const { elements } = board;
  const ways = elements.filter((e): e is Way => e.kind === 'way');
  const key = (id: string): string => `${board.id}.${id}`;
  const list: Plain[] = ways.map((w) => ({
    id: w.id, name: w.name, at: board.id, ways: [w.id], ...rated(w.device),
    linePoles: linePoles(elements, w).map((e) => key(e.id)),
    poles: [...linePoles(elements, w), ...elements.filter((e) => e.kind === 'pole' && e.b === `N${w.b.slice(1)}`)].map((e) => key(e.id)),
  }));
  for (const g of new Set(ways.flatMap((w) => w.group ?? []))) {
    const poles = elements.filter((e): e is Extract<InnerElement, { kind: 'pole' }> => e.kind === 'pole' && new RegExp(`^${g}(L[123]?|N)$`).test(e.id));
    list.push({ id: g, name: poles[0]?.name.split(',')[0] ?? g, kind: 'rcd', at: board.id, poles: poles.map((p) => key(p.id)), linePoles: poles.filter((p) => p.id !== `${g}N`).map((p) => key(p.id)), ways: ways.filter((w) => w.group === g).map((w) => w.id), residualMa: poles[0]?.residualMa ?? 30, residualType: poles[0]?.residualType ?? null, ratingA: null, curve: null, guessed: poles[0]?.guessed ?? false });
  }
  const main = installation.supply?.main;
  list.push({ id: 'main', name: main?.residualMa ? 'Main RCD' : 'Main switch', kind: 'main', at: board.id, poles: [key('main')], linePoles: [key('main')], ways: ways.map((w) => w.id), residualMa: main?.residualMa ?? null, residualType: main?.residualType ?? null, ratingA: main?.ratingA ?? null, curve: null, guessed: false });
  return list;
}

/** Ways that have a device, and the RCD over them where there is one. A plain main switch opens by hand alone. */
function ofSubBoard(hub: Point): Plain[] {
  const key = (id: string): string => `${hub.id}.${id}`;
  const ways = hub.elements.flatMap((e): Plain[] => (e.kind === 'switch' && e.device ? [{ id: key(e.id), name: e.name, at: hub.id, ways: [key(e.id)], ...rated(e.device), linePoles: [key(e.id)], poles: [key(e.id)] }] : []));
  const poles = hub.elements.filter((e): e is Extract<InnerElement, { kind: 'pole' }> => e.kind === 'pole' && e.residualMa !== undefined);
  if (!poles.length) return ways;
  return [...ways, { id: key('main'), name: `${hub.name} RCD`, kind: 'rcd', at: hub.id, poles: poles.map((p) => key(p.id)), linePoles: poles.filter((p) => p.b !== 'N').map((p) => key(p.id)), ways: ways.map((w) => w.id), residualMa: poles[0]?.residualMa ?? null, residualType: poles[0]?.residualType ?? null, ratingA: null, curve: null, guessed: poles[0]?.guessed ?? false }];
}

const rated = (device: Device | undefined): Pick<Protection, 'kind' | 'residualMa' | 'residualType' | 'ratingA' | 'curve' | 'guessed'> => ({ kind: device?.kind ?? 'mcb', residualMa: device?.residualMa ?? null, residualType: device?.residualType ?? null, ratingA: device?.ratingA ?? null, curve: device?.curve ?? null, guessed: device?.guessed ?? false });

/** Elements of a way that carry a line: one, or three where one handle opens three. */
export const linePoles = (elements: readonly InnerElement[], w: Pick<Way, 'id'>): InnerElement[] => elements.filter((e) => e.id === w.id || (e.kind === 'pole' && (e.id === `${w.id}b` || e.id === `${w.id}c`)));

/** Devices that carry another's current: what stands between it and the supply, nearest first. */
export const upstreamOf = (all: readonly Protection[], d: Protection): Protection[] =>
  all.filter((u) => u !== d && (u.carries.length > d.carries.length || rank(u) > rank(d)) && d.carries.every((w) => u.carries.includes(w))).sort((a, b) => a.carries.length - b.carries.length || rank(a) - rank(b));
const rank = (d: Protection): number => (d.kind === 'main' ? 2 : d.kind === 'rcd' ? 1 : 0);

/** The residual current device that watches a way: its own, its group's, or one further up. */
export function residualDeviceOf(installation: Installation, way: string): Protection | undefined {
  return protectionsOf(installation).filter((p) => p.residualMa !== null && p.carries.includes(way)).sort((a, b) => a.carries.length - b.carries.length)[0];
}

/** The device nearest to a point: of the sub-board's way that it hangs on, or of the board's. */
export const nearestDevice = (installation: Installation, point: string): Protection | undefined =>
  protectionsOf(installation).filter((d) => d.ways[0] === d.id && behindWay(installation, d.id).points.some((p) => p.id === point)).sort((a, b) => a.carries.length - b.carries.length)[0];

/** Cables that leave a board on a way, and what hangs on them, as far as the next sub-board; that one included. */
export function behindWay(installation: Installation, way: string): { readonly hub: string; readonly leaves: readonly Section[]; readonly sections: readonly Section[]; readonly points: readonly Point[] } {
  const [hub, id] = way.includes('.') ? (way.split('.') as [string, string]) : [boardOf(installation)?.id ?? '', way];
  const terminal = findPoint(installation, hub)?.elements.find((e) => e.id === id)?.b;
  const leaves = [...new Set(endsAtPoint(installation, hub).filter((e) => e.terminal === terminal).map((e) => e.section))];
  const seen = new Set([hub]);
  const points: Point[] = [];
  const sections = new Set(leaves);
  const walk = (next: string): void => {
    const p = findPoint(installation, next);
    if (!p || seen.has(next)) return;
    seen.add(next);
    points.push(p);
    if (p.kind === 'subboard') return;
    for (const s of installation.sections) {
      if (s.a !== next && s.b !== next) continue;
      sections.add(s);
      walk(s.a === next ? s.b : s.a);
    }
  };
  for (const s of leaves) walk(s.a === hub ? s.b : s.a);
  return { hub, leaves, sections: [...sections], points };
}

/** The device at the place of a suspicion: "p0.G1" at the board, the pole of one in a sub-board. */
export const deviceAt = (installation: Installation, place: string): Protection | undefined =>
  protectionsOf(installation).find((d) => d.poles[0] === place || (d.at === boardOf(installation)?.id && `${d.at}.${d.id}` === place));
