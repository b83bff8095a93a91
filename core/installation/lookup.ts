import { endKeyOf, endName, faceKey, parsePlace, terminalKey, type PlaceKey, type Side } from './keys';
import type { InnerElement, Installation, Load, Point, Role, Section } from './schema';

export interface EndRef {
  readonly key: PlaceKey;
  readonly section: Section;
  readonly side: Side;
  readonly core: string;
  readonly role: string;
  readonly point: string;
  readonly terminal: string;
}

/** All conductor ends of a section, side a first. */
export function endsOfSection(section: Section): EndRef[] {
  return (['a', 'b'] as const).flatMap((side) =>
    section.cores.map((core) => ({
      key: endKeyOf(section, side, core.id),
      section,
      side,
      core: core.id,
      role: core.role,
      point: section[side],
      terminal: core[side],
    })),
  );
}

interface Index {
  readonly ends: readonly EndRef[];
  readonly endsAt: ReadonlyMap<string, readonly EndRef[]>;
  readonly points: ReadonlyMap<string, Point>;
  readonly sections: ReadonlyMap<string, Section>;
  /** By section and side as keys name them. */
  readonly sides: ReadonlyMap<string, { section: Section; side: Side }>;
}

/** Installations never change in place, so what is in them is listed once. */
const indexes = new WeakMap<Installation, Index>();

function indexOf(installation: Installation): Index {
  const known = indexes.get(installation);
  if (known) return known;
  const ends = installation.sections.flatMap(endsOfSection);
  const endsAt = new Map<string, EndRef[]>();
  for (const e of ends) {
    const list = endsAt.get(e.point);
    if (list) list.push(e);
    else endsAt.set(e.point, [e]);
  }
  // Of two of one name, which a check refuses, the first is meant.
  const byId = <T extends { readonly id: string }>(list: readonly T[]): Map<string, T> => new Map([...list].reverse().map((x) => [x.id, x]));
  const sides = new Map([...installation.sections].reverse().flatMap((section) => (['b', 'a'] as const).map((side) => [endName(section, side), { section, side }] as const)));
  const index = { ends, endsAt, points: byId(installation.points), sections: byId(installation.sections), sides };
  indexes.set(installation, index);
  return index;
}

export const allEnds = (installation: Installation): readonly EndRef[] => indexOf(installation).ends;
export const endsAtPoint = (installation: Installation, pointId: string): readonly EndRef[] => indexOf(installation).endsAt.get(pointId) ?? [];

export const findPoint = (installation: Installation, id: string): Point | undefined => indexOf(installation).points.get(id);
export const findSection = (installation: Installation, id: string): Section | undefined => indexOf(installation).sections.get(id);
/** The section and side that an end's key names; undefined when it is gone. */
export const sectionOfEnd = (installation: Installation, place: { readonly section: string; readonly side: Side }): { section: Section; side: Side } | undefined => indexOf(installation).sides.get(`${place.section}@${place.side}`);

/** Where what is used at a point gets its supply from, and meets its earth: the first face, where it has any, else the terminal. */
export const usedAt = (p: Point, terminal: string): PlaceKey => (p.faces[0] ? faceKey(p.id, p.faces[0].id, terminal) : terminalKey(p.id, terminal));

export const boardOf = (installation: Installation): Point | undefined => installation.points.find((p) => p.kind === 'board');
export const loadsOf = (point: Pick<Point, 'elements'>): Load[] => point.elements.filter((e): e is Load => e.kind === 'load');

/** The load that a part of the state of the work names (`point.load`), and its point; null where it names none. */
export function loadOfPart(installation: Installation, part: string): { readonly point: Point; readonly load: Load } | null {
  const [id = '', name = ''] = part.split('.');
  const point = findPoint(installation, id);
  const load = point && loadsOf(point).find((l) => l.id === name);
  return point && load ? { point, load } : null;
}

/** Does the key name a place that this installation has? */
export function placeExists(installation: Installation, key: PlaceKey): boolean {
  const place = parsePlace(key);
  if (!place) return false;
  if (place.at === 'end') return sectionOfEnd(installation, place)?.section.cores.some((c) => c.id === place.core) ?? false;
  const point = findPoint(installation, place.point);
  if (!point?.terminals.some((t) => t.id === place.terminal)) return false;
  return place.at === 'terminal' || point.faces.some((f) => f.id === place.face);
}

/** The point where a person stands to touch this place; '' when unknown. */
export function pointOfPlace(installation: Installation, key: PlaceKey): string {
  const place = parsePlace(key);
  if (!place) return '';
  if (place.at !== 'end') return place.point;
  const end = sectionOfEnd(installation, place);
  return end ? end.section[end.side] : '';
}

/** The terminal key behind any place: a face's or an end's own terminal. */
export function terminalOfPlace(installation: Installation, key: PlaceKey): PlaceKey {
  const place = parsePlace(key);
  if (!place) return key;
  if (place.at !== 'end') return terminalKey(place.point, place.terminal);
  const end = sectionOfEnd(installation, place);
  const core = end?.section.cores.find((c) => c.id === place.core);
  return end && core ? terminalKey(end.section[end.side], core[end.side]) : key;
}

/** The role of the conductor at a place, for its lane letter; '' when unknown. */
export function roleOfPlace(installation: Installation, key: PlaceKey): string {
  const place = parsePlace(key);
  if (!place) return '';
  if (place.at === 'end') return sectionOfEnd(installation, place)?.section.cores.find((c) => c.id === place.core)?.role ?? '';
  return findPoint(installation, place.point)?.terminals.find((t) => t.id === place.terminal)?.role ?? '';
}

/** Number of the circuit that each point and section belongs to: what hangs together without the board. The board itself has none. */
const circuitIndexes = new WeakMap<Installation, ReadonlyMap<string, number>>();

export function circuitsOf(installation: Installation): ReadonlyMap<string, number> {
  let index = circuitIndexes.get(installation);
  if (index) return index;
  const board = boardOf(installation)?.id;
  const found = new Map<string, number>();
  let count = 0;
  for (const first of installation.points) {
    if (first.id === board || found.has(first.id)) continue;
    const queue = [first.id];
    found.set(first.id, count);
    while (queue.length) {
      const here = queue.pop() as string;
      for (const e of endsAtPoint(installation, here)) {
        found.set(e.section.id, count);
        const other = e.section[e.side === 'a' ? 'b' : 'a'];
        if (other === board || found.has(other)) continue;
        found.set(other, count);
        queue.push(other);
      }
    }
    count++;
  }
  circuitIndexes.set(installation, (index = found));
  return index;
}

/** Section or point whose circuit a place belongs to: of an end its cable, of a way's own terminal the cable that lands there, of a ring one of its two, of a bar the board. */
export function sectionOfPlace(installation: Installation, key: PlaceKey): string {
  const place = parsePlace(key);
  if (!place) return '';
  if (place.at === 'end') return sectionOfEnd(installation, place)?.section.id ?? '';
  if (findPoint(installation, place.point)?.kind !== 'board') return place.point;
  const landed = endsAtPoint(installation, place.point).filter((e) => e.terminal === place.terminal).map((e) => e.section.id);
  const circuits = circuitsOf(installation);
  return landed[0] !== undefined && landed.every((id) => circuits.get(id) === circuits.get(landed[0] as string)) ? landed[0] : place.point;
}

/** Terminals of the board on which a circuit's line, neutral and earth land; the place may be any point, section or load of it. */
export function landingOf(installation: Installation, place: string): { readonly line: string; readonly neutral: string; readonly earth: string } {
  const board = boardOf(installation);
  const circuits = circuitsOf(installation);
  const circuit = circuits.get(place.split('.')[0] ?? '') ?? 0;
  const ends = board ? endsAtPoint(installation, board.id).filter((e) => circuits.get(e.section.id) === circuit) : [];
  const at = (role: string, otherwise: string): string => ends.find((e) => (role === 'L' ? /^L[123]?$/.test(e.role) : e.role === role))?.terminal ?? otherwise;
  return { line: at('L', 'W'), neutral: at('N', 'N'), earth: at('E', 'E') };
}

/** Other ways to earth: from the earth of each point that touches metalwork to the board's, in ohms. */
export function metalPaths(installation: Installation): { point: string; a: PlaceKey; b: PlaceKey; ohm: number }[] {
  const board = boardOf(installation);
  const earthOf = (p: Point): PlaceKey | null => {
    const t = p.terminals.find((x) => x.role === 'E');
    return t ? terminalKey(p.id, t.id) : null;
  };
  const b = board ? earthOf(board) : null;
  return installation.points.flatMap((p) => {
    const a = p === board || p.metalOhm === undefined ? null : earthOf(p);
    return a !== null && b !== null ? [{ point: p.id, a, b, ohm: p.metalOhm as number }] : [];
  });
}

/** A line that a switch makes: it is there or not, by the switch. */
export const isSwitched = (role: Role | undefined): boolean => role === 'SL' || role === 'T1' || role === 'T2';

/** Is this what a hand moves? Of a two-way switch its second throw goes with the first. */
export const moves = (e: InnerElement): boolean => e.kind !== 'switch' || e.contrary === undefined;

/** The two contacts of a two-way switch, of which `part` names the first: by part, each with the terminal that it does not share. */
export function throwsOf(map: Installation, part: string): { parts: [string, string]; throws: [PlaceKey, PlaceKey] } {
  const [id = '', first] = part.split('.');
  const both = (map.points.find((p) => p.id === id)?.elements ?? []).filter((e) => e.id === first || (e.kind === 'switch' && e.contrary === first));
  const [a, b] = [both[0], both[1]];
  return { parts: [`${id}.${a?.id ?? ''}`, `${id}.${b?.id ?? ''}`], throws: [terminalKey(id, a?.b ?? ''), terminalKey(id, b?.b ?? '')] };
}

/** One of the two throws of a two-way switch. */
export const isTwoWay = (point: Point, e: InnerElement): boolean => e.kind === 'switch' && (e.contrary !== undefined || point.elements.some((x) => x.kind === 'switch' && x.contrary === e.id));
