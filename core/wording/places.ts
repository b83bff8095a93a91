import { SUPPLY_PLACE } from '../faults';
import { boardOf, boardPart, circuitOfWay, circuitsOf, isTwoWay, endName, findPoint, findSection, labelOfWay, metalName, parsePlace, sectionOfEnd, waysOfBoard, type Installation, type PlaceKey, type Section } from '../installation';
import { deviceWords } from './devices';

/** A line begins with a capital. */
export const firstCapital = (s: string): string => s.charAt(0).toUpperCase() + s.slice(1);

/** Name of a point; its id when it is gone. */
export const pointName = (map: Installation, id: string): string => findPoint(map, id)?.name ?? id;

/** Legs of a ring of a board's way by section end: 1 where its drawing begins, 2 where it comes back. */
function legOfWay(map: Installation, section: Section, side: 'a' | 'b'): 1 | 2 | null {
  const board = boardOf(map)?.id;
  const circuits = circuitsOf(map);
  const legs = map.sections.filter((s) => circuits.get(s.id) === circuits.get(section.id)).flatMap((s) => (['a', 'b'] as const).filter((x) => s[x] === board).map((x) => endName(s, x)));
  return legs.length !== 2 ? null : legs.indexOf(endName(section, side)) === 0 ? 1 : 2;
}

/** Legs of a ring by section end: 1 where the map begins, 2 where it comes back. */
export function legOf(map: Installation, section: Section, side: 'a' | 'b'): 1 | 2 | null {
  if (map.shape !== 'ring') return null;
  const board = boardOf(map)?.id;
  if (section[side] !== board) return null;
  const legs = map.sections.flatMap((s) => (['a', 'b'] as const).filter((x) => s[x] === board).map((x) => endName(s, x)));
  return legs.indexOf(endName(section, side)) === 0 ? 1 : 2;
}

/** "Pug mill to Bench"; legs of a ring are told apart. */
export function sectionName(map: Installation, s: Section): string {
  const end = (side: 'a' | 'b'): string => {
    const leg = legOf(map, s, side);
    return leg ? `${pointName(map, s[side])}, leg ${leg}` : pointName(map, s[side]);
  };
  return `${end('a')} to ${end('b')}`;
}

/** Where a lead goes: "Bench", "Board, leg 1", "Bench, end to Sink wall". An end has a name of its own also where there is but one: out of its terminal it is another place to put a lead. */
export function spotName(map: Installation, key: PlaceKey): string {
  const metal = metalName(key);
  if (metal !== null) return metal;
  const place = parsePlace(key);
  if (!place) return key;
  if (place.at === 'end') {
    const end = sectionOfEnd(map, place);
    if (!end) return key;
    const leg = legOf(map, end.section, end.side);
    const here = pointName(map, end.section[end.side]);
    if (leg) return `${here}, leg ${leg}`;
    if (map.shape === 'board' && end.section[end.side] === boardOf(map)?.id) {
      const ofWay = legOfWay(map, end.section, end.side);
      return `${labelOfSection(map, end.section.id)}, ${ofWay ? `tail of leg ${ofWay}` : 'tail'}`;
    }
    return `${here}, end to ${pointName(map, end.section[end.side === 'a' ? 'b' : 'a'])}`;
  }
  const point = findPoint(map, place.point);
  if (!point) return key;
  const named = point.kind === 'board' ? point.terminals.find((t) => t.id === place.terminal) : undefined;
  if (named?.name) return (boardPart(named).startsWith('way') ? wayName(map, named.id) : null) ?? named.name;
  const face = place.at === 'face' ? point.faces.find((f) => f.id === place.face) : undefined;
  return face && point.faces.length > 1 ? `${point.name}, ${face.name}` : point.name;
}

/** Label of the way whose circuit alone lands on a board's terminal; null where there is none, or several. */
function wayName(map: Installation, terminal: string): string | null {
  const board = boardOf(map)?.id;
  const circuits = circuitsOf(map);
  const there = map.sections.filter((s) => s.cores.some((c) => (s.a === board && c.a === terminal) || (s.b === board && c.b === terminal)));
  const [first] = there;
  return first && new Set(there.map((s) => circuits.get(s.id))).size === 1 ? labelOfSection(map, first.id) : null;
}

/** Label of the way that a cable hangs on. */
export function labelOfSection(map: Installation, section: string): string {
  const circuits = circuitsOf(map);
  const way = waysOfBoard(map).find((w) => circuitOfWay(map, w.id).leaves.some((s) => circuits.get(s.id) === circuits.get(section)));
  return way ? labelOfWay(map, way.id) : section;
}

const longNames: Readonly<Record<string, string>> = { SL: 'switched L', T1: 'strapper 1', T2: 'strapper 2' };

/** A conductor as people say it: its letter, or "switched L", "strapper 1". */
export const coreWords = (core: string): string => longNames[core] ?? core;

/** Conductor of a place: "L", "N", "E", "switched L". */
export function laneLetter(map: Installation, key: PlaceKey): string {
  const place = parsePlace(key);
  if (!place) return '?';
  const role = place.at === 'end' ? sectionOfEnd(map, place)?.section.cores.find((c) => c.id === place.core)?.role : findPoint(map, place.point)?.terminals.find((t) => t.id === place.terminal)?.role;
  return coreWords(role ?? '?');
}

/** What a lead is put on: a core's end by its letter, a terminal by its own name where the board has two of one conductor. */
export function leadWords(map: Installation, key: PlaceKey): string {
  const place = parsePlace(key);
  const point = place?.at === 'terminal' ? findPoint(map, place.point) : undefined;
  const own = place?.at === 'terminal' && point?.kind === 'board' ? point.terminals.find((t) => t.id === place.terminal) : undefined;
  const alone = !own || own.name || point?.terminals.every((t) => t === own || t.role !== own.role);
  return alone ? laneLetter(map, key) : `${coreWords(own.role)} ${boardPart(own) === 'line bar' ? 'bar' : 'of the way'}`;
}

/** A part of the state of the work: a load at its point, an end, a terminal. */
export const partName = (map: Installation, part: string): string => (findPoint(map, part.split('.')[0] ?? '') && part.includes('.') ? beliefPlaceName(map, part) : spotName(map, part));

/** Name of any place of the belief: a section, a point, a load or a recorded state. */
export function beliefPlaceName(map: Installation, place: string): string {
  const section = findSection(map, place);
  if (section) return `cable ${sectionName(map, section)}`;
  if (place.startsWith('state ')) {
    const part = place.slice(6);
    const at = findPoint(map, part.split('.')[0] ?? '');
    return at?.elements.some((e) => e.kind === 'load' && part === `${at.id}.${e.id}`) ? `a load that is in at ${at.name}` : `the record of ${partName(map, part)}`;
  }
  if (place === SUPPLY_PLACE) return 'the supply';
  const [point = '', load] = place.split('.');
  const p = findPoint(map, point);
  if (p?.kind === 'board' && load !== undefined) return deviceWords(map, load);
  if (!p) return place === 'sound' ? 'nothing wrong' : 'something this map does not show';
  if (load === undefined) return p.name;
  return `${p.elements.find((e) => e.id === load)?.name ?? load} at ${p.name}`;
}

/** Is this part, as the state of the work names it, a two-way switch? */
export function isTwoWayPart(map: Installation, part: string): boolean {
  const [id = '', element] = part.split('.');
  const point = findPoint(map, id);
  const e = point?.elements.find((x) => x.id === element);
  return point !== undefined && e !== undefined && isTwoWay(point, e);
}

/** "switched off", "moved": what was done to a switch. */
export const switchedWords = (map: Installation, part: string, off: boolean): string => (isTwoWayPart(map, part) ? 'moved' : `switched ${off ? 'off' : 'on'}`);
