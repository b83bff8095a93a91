import type { StripRow } from './rows';

/** Where each row begins along the strip and where each lane runs across it, in px. One geometry for both directions. */
export interface Geometry {
  readonly starts: readonly number[];
  readonly lengths: readonly number[];
  readonly total: number;
  readonly depth: number;
  lane(row: StripRow, role: string): number;
}

export interface Measures {
  readonly point: number;
  readonly section: number;
  /** A section with suspicion on it needs room for its words. */
  readonly markedSection: number;
  readonly title: number;
  readonly firstLane: number;
  readonly laneGap: number;
  readonly indent: number;
}

const usual: Measures = { point: 50, section: 16, markedSection: 38, title: 34, firstLane: 34, laneGap: 26, indent: 40 };
/** Down a phone, for words of `text` times the usual size; on the map every cable is a target of its own, with its length. */
export function phoneMeasures(text: number, asMap: boolean): Measures {
  const cable = asMap ? 48 * text : usual.section;
  return { ...usual, point: usual.point * text, section: cable, markedSection: asMap ? cable : usual.markedSection * text, title: usual.title * text };
}

/** Across the page the sections share what room there is, within reason. */
export function wideMeasures(rows: readonly StripRow[], widthPx: number, text: number): Measures {
  const points = rows.filter((r) => r.kind !== 'section').length;
  const sections = Math.max(1, rows.length - points);
  const section = Math.min(110 * text, Math.max(62 * text, (widthPx - points * 30) / sections));
  return { point: 30, section, markedSection: section, title: 60, firstLane: 26, laneGap: 26, indent: 128 };
}

export const laneOrder = ['L', 'SL', 'T1', 'T2', 'L1', 'L2', 'L3', 'N', 'E'];

export function geometryOf(rows: readonly StripRow[], m: Measures): Geometry {
  const roles = laneOrder.filter((r) => rows.some((row) => row.lanes.includes(r)));
  const lengths = rows.map((r) => (r.block ? m.title : 0) + (r.kind === 'section' ? (r.marks.length ? m.markedSection : m.section) : m.point));
  const starts: number[] = [];
  let at = 0;
  for (const l of lengths) {
    starts.push(at);
    at += l;
  }
  const lane = (row: StripRow, role: string): number => m.firstLane + row.indent * m.indent + Math.max(0, roles.indexOf(role)) * m.laneGap;
  const deepest = Math.max(0, ...rows.map((r) => r.indent));
  return { starts, lengths, total: at, depth: m.firstLane + deepest * m.indent + (roles.length - 1) * m.laneGap + 24, lane };
}
