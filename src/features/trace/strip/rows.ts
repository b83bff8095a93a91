import type { Advice, SuspectView } from '@core/advice';
import { boardOf, endKeyOf, endsAtPoint, findPoint, findSection, isTwoWay, parsePlace, pointOfPlace, sectionOfEnd, type Installation, type Point, type Section } from '@core/installation';
import type { JobView, ReadingView } from '@core/job';
import type { Probe } from '@core/probes';
import { laneLetter, readingWords, legOf, suspectMark } from '@core/wording';
import { isClosed } from '@core/workstate';

/** A suspicion drawn on the conductor it concerns. */
export interface Mark {
  readonly kind: 'gap' | 'rung' | 'end' | 'ring' | 'cross';
  readonly lanes: readonly string[];
  /** For an end: at the near (towards the board) or the far side of the capsule. */
  readonly side: 'near' | 'far' | '';
  readonly share: number;
  readonly words: string;
  readonly suspect: string;
}

export interface StripRow {
  readonly id: string;
  readonly kind: 'board' | 'point' | 'section';
  readonly name: string;
  readonly indent: number;
  /** Title of a new block, where a branch would indent too far. */
  readonly block: string | null;
  /** Lane letters through this row. */
  readonly lanes: readonly string[];
  readonly cleared: boolean;
  readonly marks: readonly Mark[];
  /** Share of the place from 10 % up, else null. */
  readonly share: number | null;
  /** Lanes that are parted from the capsule towards the board and away from it. */
  readonly splitNear: readonly string[];
  readonly splitFar: readonly string[];
  readonly links: readonly (readonly [string, string])[];
  readonly reading: string | null;
  readonly flag: string | null;
  readonly note: string;
  readonly guessed: boolean;
  /** Rows (by index) whose trunk lanes run past this row, by their indent. */
  readonly passing: readonly number[];
  /** The section row leaves the trunk sideways from its point. */
  readonly leaves: boolean;
}

interface Walked { readonly point: Point | null; readonly section: Section | null; readonly side: 'a' | 'b'; readonly indent: number; readonly block: string | null; readonly leaves: boolean; passing: number[]; readonly leg: 1 | 2 | null }

const MOST_INDENT = 2;

/** The map in the order in which it is drawn: trunk first, branches after the point they leave, a ring back to the board. */
function walk(map: Installation): Walked[] {
  const board = boardOf(map);
  if (!board) return [];
  const rows: Walked[] = [{ point: board, section: null, side: 'a', indent: 0, block: null, leaves: false, passing: [], leg: map.shape === 'ring' ? 1 : null }];
  const seenSections = new Set<string>();
  const seenPoints = new Set<string>([board.id]);
  const depth = (pointId: string, from: ReadonlySet<string>): number => {
    const next = endsAtPoint(map, pointId).filter((e) => !from.has(e.section.id));
    const seen = new Set([...from, ...next.map((e) => e.section.id)]);
    const others = [...new Set(next.map((e) => e.section[e.side === 'a' ? 'b' : 'a']))];
    return others.length ? 1 + Math.max(...others.map((o) => (o === board.id ? 0 : depth(o, seen)))) : 0;
  };
  const later: { section: Section; side: 'a' | 'b'; from: Point }[] = [];
  const follow = (from: Point, section: Section, side: 'a' | 'b', indent: number, passing: number[], block: string | null, leaves: boolean): void => {
    seenSections.add(section.id);
    rows.push({ point: null, section, side, indent, block, leaves, passing: [...passing], leg: null });
    const farSide = side === 'a' ? 'b' : 'a';
    const point = findPoint(map, section[farSide]);
    if (!point) return;
    if (point.kind === 'board') {
      rows.push({ point, section: null, side: farSide, indent, block: null, leaves: false, passing: [...passing], leg: 2 });
      return;
    }
    if (seenPoints.has(point.id)) return;
    seenPoints.add(point.id);
    rows.push({ point, section: null, side: farSide, indent, block: null, leaves: false, passing: [...passing], leg: null });
    go(point, indent, passing);
  };
  const go = (point: Point, indent: number, passing: number[]): void => {
    const all = [...new Map(endsAtPoint(map, point.id).filter((e) => !seenSections.has(e.section.id)).map((e) => [e.section.id, e])).values()];
    // A ring is walked from leg 1; it comes back to the board by itself.
    const onward = map.shape === 'ring' && point.kind === 'board' ? all.filter((e) => legOf(map, e.section, e.side) === 1) : all;
    const reachesBoard = (s: Section, side: 'a' | 'b'): number => (map.shape === 'ring' ? ringLength(map, s, side, board.id) : 0) * 1000 + depth(s[side === 'a' ? 'b' : 'a'], new Set([...seenSections, s.id]));
    // The supply goes on straight; a drop to a switch, which has no neutral, leaves sideways.
    const rank = (s: Section, side: 'a' | 'b'): number => reachesBoard(s, side) + (s.cores.some((c) => c.role === 'N') ? 100 : 0);
    onward.sort((x, y) => rank(y.section, y.side) - rank(x.section, x.side));
    const [trunk, ...branches] = onward;
    for (const b of branches) {
      if (indent + 1 > MOST_INDENT) later.push({ section: b.section, side: b.side, from: point });
      else follow(point, b.section, b.side, indent + 1, trunk ? [...passing, indent] : passing, null, true);
    }
    if (trunk && !seenSections.has(trunk.section.id)) follow(point, trunk.section, trunk.side, indent, passing, null, false);
  };
  go(board, 0, []);
  while (later.length) {
    const next = later.shift();
    if (!next || seenSections.has(next.section.id)) continue;
    follow(next.from, next.section, next.side, 0, [], `from ${next.from.name}`, false);
  }
  return rows;
}

/** 1 when the section leads back to the board without passing its start, else 0. */
function ringLength(map: Installation, s: Section, side: 'a' | 'b', board: string): number {
  const seen = new Set([s[side]]);
  const queue = [s[side === 'a' ? 'b' : 'a']];
  const used = new Set([s.id]);
  while (queue.length) {
    const here = queue.pop() as string;
    if (here === board) return 1;
    if (seen.has(here)) continue;
    seen.add(here);
    for (const e of endsAtPoint(map, here)) {
      if (used.has(e.section.id)) continue;
      used.add(e.section.id);
      queue.push(e.section[e.side === 'a' ? 'b' : 'a']);
    }
  }
  return 0;
}

/** Lane of a conductor: a switched line goes on in the lane of its line, unless some cable holds both. */
function laneOf(map: Installation): (role: string) => string {
  const both = map.sections.some((s) => s.cores.some((c) => c.role === 'SL') && s.cores.some((c) => c.role === 'L'));
  return (role) => (role === 'SL' && !both ? 'L' : role);
}

/** Suspicion above which a place is never drawn as settled. */
const SUSPECTED = 0.02;

/** Places where every pair reads apart and every conductor whole, or with metal beside it that nobody suspects, by readings that reached them; and nothing is suspected. */
function settledPlaces(map: Installation, advice: Advice | null): Set<string> {
  const suspected = new Set(advice?.places.filter((p) => p.share > SUSPECTED).map((p) => p.place.split('.')[0] ?? '') ?? []);
  const claims = new Map<string, Set<string>>();
  for (const c of advice?.cleared ?? []) if (c.asFar === 'all' || c.asFar === 'metal beside') claims.set(c.place, (claims.get(c.place) ?? new Set<string>()).add([...c.conductors].sort().join('')));
  const cores = (id: string): string[] => findSection(map, id)?.cores.map((c) => c.id) ?? ['L', 'N', 'E'];
  return new Set([...claims].flatMap(([place, of]) => {
    const all = cores(place);
    const owed = [...all, ...all.flatMap((a, i) => all.slice(i + 1).map((b) => [a, b].sort().join('')))];
    return !suspected.has(place) && owed.every((x) => of.has(x)) ? [place] : [];
  }));
}

/** Everything the strip shows, row by row, from the job and its advice. */
export function describeStrip(view: JobView, advice: Advice | null, probe: Probe | null, chosen: readonly string[]): StripRow[] {
  const { map, state } = view;
  if (!map) return [];
  const cleared = settledPlaces(map, advice);
  const out = new Set(state.out);
  const walked = walk(map);
  const placed = new Map<string, Mark[]>();
  const shares = new Map<string, number>();
  const lane = laneOf(map);
  for (const s of advice?.suspects ?? []) placeSuspect(map, walked, s, placed, shares);
  return walked.map((w): StripRow => {
    const board = w.point?.kind === 'board';
    const id = w.section ? w.section.id : board ? `${w.point?.id}#${w.leg ?? 1}` : (w.point?.id ?? '');
    const lanes = (w.section ? w.section.cores.map((c) => c.role) : (w.point?.terminals ?? []).map((t) => t.role)).map(lane);
    const share = shares.get(id);
    const split = w.point ? splitAt(map, w, walked, out) : { near: [], far: [] };
    const reading = w.point ? lastReadingAt(view, w) : null;
    return {
      id, kind: w.section ? 'section' : board ? 'board' : 'point', indent: w.indent, block: w.block, lanes: [...new Set(lanes)],
      name: w.section ? '' : w.leg ? `${w.point?.name}, leg ${w.leg}` : (w.point?.name ?? ''),
      cleared: cleared.has(w.section?.id ?? w.point?.id ?? ''), marks: placed.get(id) ?? [], share: share !== undefined && share >= 0.095 ? share : null,
      splitNear: split.near, splitFar: split.far,
      links: w.point ? linksAt(map, view, w) : [],
      reading: reading ? readingWords(reading.event) : null,
      flag: w.point ? flagAt(map, w, probe, chosen) : null,
      note: w.point ? noteAt(view, w.point) : '',
      guessed: w.section ? !w.section.lengthKnown : false,
      passing: w.passing, leaves: w.leaves,
    };
  });
}

function placeSuspect(map: Installation, walked: readonly Walked[], s: SuspectView, placed: Map<string, Mark[]>, shares: Map<string, number>): void {
  const put = (id: string, mark: Omit<Mark, 'share' | 'words' | 'suspect'>): void => {
    placed.set(id, [...(placed.get(id) ?? []), { ...mark, share: s.share, words: suspectMark(s), suspect: s.id }]);
    shares.set(id, (shares.get(id) ?? 0) + s.share);
  };
  const point = s.place.split('.')[0] ?? '';
  const boardRow = (leg: 1 | 2 | null): string => `${point}#${leg ?? 1}`;
  switch (s.kind) {
    case 'openCore': case 'missingSection': return put(s.place, { kind: 'gap', lanes: s.conductors, side: '' });
    case 'crossed': return put(s.place, { kind: 'cross', lanes: s.conductors, side: '' });
    case 'contact': return put(s.place, { kind: 'rung', lanes: s.conductors, side: '' });
    case 'pointContact': case 'loadFault': case 'loadLeft': return put(point, { kind: 'rung', lanes: s.conductors, side: '' });
    case 'openBridged': case 'looseEnd': case 'resistiveEnd': {
      if (map.sections.some((x) => x.id === s.place)) return put(s.place, { kind: 'gap', lanes: s.conductors, side: '' });
      const place = parsePlace(s.id.split(' ')[1] ?? '');
      const end = place?.at === 'end' ? sectionOfEnd(map, place) : undefined;
      if (!end) return;
      const row = walked.find((w) => w.section?.id === end.section.id);
      const isBoard = map.points.some((p) => p.id === point && p.kind === 'board');
      return put(isBoard ? boardRow(legOf(map, end.section, end.side)) : point, { kind: 'end', lanes: s.conductors, side: row && row.side === end.side ? 'far' : 'near' });
    }
    case 'face': case 'terminal': case 'notLanded': return put(point, { kind: 'ring', lanes: s.conductors.map((c) => c.split(':').at(-1) ?? c), side: '' });
    case 'metalPath': return put(point, { kind: 'ring', lanes: s.conductors, side: '' });
    case 'switchOpen': case 'loadOpen': return put(point, { kind: 'ring', lanes: s.kind === 'loadOpen' ? s.conductors : [s.conductors[1] ?? 'L'], side: '' });
    default: return;
  }
}

function splitAt(map: Installation, w: Walked, walked: readonly Walked[], out: ReadonlySet<string>): { near: string[]; far: string[] } {
  const near: string[] = [];
  const far: string[] = [];
  for (const e of endsAtPoint(map, w.point?.id ?? '')) {
    if (!out.has(e.key)) continue;
    if (w.leg && legOf(map, e.section, e.side) !== w.leg) continue;
    const row = walked.find((x) => x.section?.id === e.section.id);
    if (row && row.side === e.side) far.push(e.role);
    else near.push(e.role);
  }
  return { near: [...new Set(near)], far: [...new Set(far)] };
}

function linksAt(map: Installation, view: JobView, w: Walked): (readonly [string, string])[] {
  const letter = (key: string): string => key.split(':')[1] ?? '';
  return view.state.links.flatMap((l): (readonly [string, string])[] => {
    if (pointOfPlace(map, l.a) !== w.point?.id || pointOfPlace(map, l.b) !== w.point.id) return [];
    const place = parsePlace(l.a);
    const end = place?.at === 'end' ? sectionOfEnd(map, place) : undefined;
    if (w.leg && end && legOf(map, end.section, end.side) !== w.leg) return [];
    return [[letter(l.a), letter(l.b)]];
  });
}

/** The last reading at a point that still stands; at the board none, for there they are many. */
function lastReadingAt(view: JobView, w: Walked): ReadingView | null {
  const { map } = view;
  if (!map || w.point?.kind === 'board') return null;
  return [...view.readings].reverse().find((r) => !r.struck && !r.parked && [...r.event.probe.from, ...r.event.probe.to].some((k) => pointOfPlace(map, k) === w.point?.id)) ?? null;
}

function flagAt(map: Installation, w: Walked, probe: Probe | null, chosen: readonly string[]): string | null {
  const here = (key: string): boolean => {
    if (pointOfPlace(map, key) !== w.point?.id) return false;
    if (!w.leg) return true;
    const place = parsePlace(key);
    const end = place?.at === 'end' ? sectionOfEnd(map, place) : undefined;
    return end ? legOf(map, end.section, end.side) === w.leg : w.leg === 1;
  };
  const keys = chosen.length ? chosen : probe ? [...probe.from, ...probe.to] : [];
  const letters = keys.filter(here).map((k) => laneLetter(map, k));
  return letters.length ? letters.join(' and ') : null;
}

function noteAt(view: JobView, point: Point): string {
  const { state } = view;
  const notes: string[] = [];
  if (view.unreachable.includes(point.id)) notes.push('can’t reach');
  if (point.kind === 'board' && point.elements.some((e) => state.off.includes(`${point.id}.${e.id}`))) notes.push('way off');
  for (const e of point.elements) {
    if (e.kind === 'load' && state.loadsOut.includes(`${point.id}.${e.id}`)) notes.push('load out');
    if (e.kind === 'switch' && point.kind !== 'subboard' && isClosed(new Set(state.off), point.id, e) && isTwoWay(point, e)) notes.push(`on ${e.b}`);
    else if (e.kind === 'switch' && point.kind !== 'subboard' && !isTwoWay(point, e)) notes.push(state.off.includes(`${point.id}.${e.id}`) ? 'switch off' : 'switch on');
  }
  // Of a sub-board only what is off: it has a switch for each way.
  if (point.kind === 'subboard') notes.push(...point.elements.filter((e) => state.off.includes(`${point.id}.${e.id}`)).map((e) => ('name' in e ? `${e.name} off` : '')).slice(0, 2));
  if (point.metalOhm !== undefined) notes.push('on metalwork');
  if (point.reach === 'never') notes.push('hidden');
  if (endsAtPoint(view.map as Installation, point.id).some((e) => state.out.includes(e.key)) && point.kind !== 'board') notes.unshift('split here');
  else if (state.opened.includes(point.id) && point.kind !== 'board') notes.unshift('open');
  return notes.join(' · ');
}

/** Key of a conductor end of the given section at a point, for callers that hold roles. */
export const endAt = (section: Section, side: 'a' | 'b', core: string): string => endKeyOf(section, side, core);
