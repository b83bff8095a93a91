import { issue, type Issue } from '../issue';
import type { Installation } from './schema';

/** As much as the belief carries on one map: points with the board, and cables. */
export const MOST_ON_MAP = { points: 121, sections: 180 } as const;

export function tooLarge(map: Installation): Issue[] {
  const { points, sections } = MOST_ON_MAP;
  if (map.points.length > points) return [issue('map.tooManyPoints', ['points'], { points: map.points.length, most: points })];
  return map.sections.length > sections ? [issue('map.tooManyCables', ['sections'], { cables: map.sections.length, most: sections })] : [];
}

/** What a map must hold beyond its shape: every reference, no two equal names or ids, all of it joined to the board. */
export function checkInstallation(map: Installation): Issue[] {
  const issues = tooLarge(map);
  const points = new Map(map.points.map((p) => [p.id, p]));
  if (points.size !== map.points.length) issues.push(issue('map.sameId', ['points']));
  if (new Set(map.sections.map((s) => s.id)).size !== map.sections.length) issues.push(issue('map.sameId', ['sections']));
  const boards = map.points.filter((p) => p.kind === 'board').length;
  if (boards !== 1) issues.push(issue('map.oneBoard', ['points'], { boards }));
  if (map.shape === 'ring' && map.points.length < 3) issues.push(issue('draft.ringTooSmall', ['points'], { points: map.points.length - 1 }));
  const names = new Set<string>();
  for (const p of map.points) {
    if (names.has(p.name.toLowerCase())) issues.push(issue('map.sameName', ['points', p.id, 'name'], { name: p.name }));
    names.add(p.name.toLowerCase());
    const terminals = new Set(p.terminals.map((t) => t.id));
    for (const e of p.elements) for (const t of [e.a, e.b]) if (!terminals.has(t)) issues.push(issue('map.noTerminal', ['points', p.id, 'elements', e.id], { terminal: t }));
  }
  for (const s of map.sections)
    for (const side of ['a', 'b'] as const) {
      const point = points.get(s[side]);
      if (!point) issues.push(issue('map.noPoint', ['sections', s.id, side], { point: s[side] }));
      else for (const c of s.cores) if (!point.terminals.some((t) => t.id === c[side])) issues.push(issue('map.noTerminal', ['sections', s.id, 'cores', c.id, side], { terminal: c[side] }));
    }
  for (const p of map.points) if (p.kind !== 'board' && !map.sections.some((s) => s.a === p.id || s.b === p.id)) issues.push(issue('map.loosePoint', ['points', p.id], { name: p.name }));
  return issues;
}
