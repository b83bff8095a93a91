import { boardOf, circuitOfWay, endsAtPoint, isDrawn, loadsOf, type Installation } from '../installation';
import { elementKey, type WorkState } from '../workstate';

/**
 * States that were recorded while a way was one lump, in the names of its drawing: "the neutral of way 6 is out" were both neutrals
 * of the ring that it turned out to be, and what was unplugged on it were all its plugs. Null where the edit drew no lump.
 */
export function renamedByDrawing(before: Installation, after: Installation, way: string): ((s: WorkState) => WorkState) | null {
  if (isDrawn(before, way) || !isDrawn(after, way)) return null;
  const board = boardOf(before)?.id ?? '';
  const ends = (map: Installation): ReturnType<typeof endsAtPoint> => {
    const own = new Set(circuitOfWay(map, way).sections.map((s) => s.id));
    return endsAtPoint(map, board).filter((e) => own.has(e.section.id));
  };
  const legs = new Map(ends(before).map((e) => [e.key, ends(after).filter((x) => x.role === e.role).map((x) => x.key)]));
  const lumps = new Set(circuitOfWay(before, way).points.flatMap((p) => loadsOf(p).map((l) => elementKey(p.id, l.id))));
  const plugs = circuitOfWay(after, way).points.flatMap((p) => loadsOf(p).filter((l) => l.unplugs).map((l) => elementKey(p.id, l.id)));
  const each = (list: readonly string[], to: (key: string) => readonly string[]): string[] => [...new Set(list.flatMap(to))];
  return (s) => ({ ...s, out: each(s.out, (k) => legs.get(k) ?? [k]), loadsOut: each(s.loadsOut, (k) => (lumps.has(k) ? plugs : [k])) });
}
