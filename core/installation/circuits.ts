import { fail, issue, ok, type Result } from '../issue';
import { behindWay } from './devices';
import { draftNamed } from './draft';
import { isBoardPhrase } from './draftBoard';
import { endName } from './keys';
import { boardOf, circuitsOf, endsAtPoint, findPoint } from './lookup';
import { freshId, threePhase, threePhaseSection } from './make';
import type { Installation, InnerElement, Point, Section } from './schema';

type Way = Extract<InnerElement, { kind: 'way' }>;

export const waysOfBoard = (map: Installation): readonly Way[] => boardOf(map)?.elements.filter((e): e is Way => e.kind === 'way') ?? [];

/** Cables that leave the board on a way, and the circuit's other sections and points. */
export function circuitOfWay(map: Installation, way: string): { readonly sections: readonly Section[]; readonly points: readonly Point[]; readonly leaves: readonly Section[] } {
  const board = boardOf(map);
  const terminal = board?.elements.find((e) => e.kind === 'way' && e.id === way)?.b;
  const leaves = board ? [...new Set(endsAtPoint(map, board.id).filter((e) => e.terminal === terminal).map((e) => e.section))] : [];
  const circuits = circuitsOf(map);
  const number = leaves[0] ? circuits.get(leaves[0].id) : undefined;
  if (number === undefined) return { sections: [], points: [], leaves };
  return { leaves, sections: map.sections.filter((s) => circuits.get(s.id) === number), points: map.points.filter((p) => circuits.get(p.id) === number) };
}

/** What a way is called: the label as found; before its circuit is drawn the circuit carries it. Of a sub-board: what hangs on it. */
export function labelOfWay(map: Installation, way: string): string {
  if (way.includes('.')) return behindWay(map, way).points[0]?.name ?? way;
  const w = waysOfBoard(map).find((x) => x.id === way);
  return w?.drawn?.label ?? circuitOfWay(map, way).points[0]?.name ?? w?.name ?? way;
}

export const isDrawn = (map: Installation, way: string): boolean => circuitOfWay(map, way).points[0]?.kind !== 'undrawn';

/**
 * Draws the circuit of a way in the place of its lump: "ring, 8", "lights, 6, one switch", "sub-board, 4". The cable that leaves
 * the board and its ends keep their names, and the first point keeps the lump's, so that no reading, pull or note is lost.
 */
export function drawCircuit(map: Installation, way: string, phrase: string): Result<Installation> {
  const board = boardOf(map);
  const { leaves: [trunk], points: [lump] } = circuitOfWay(map, way);
  if (!board || !trunk || !lump) return fail(issue('map.noPoint', ['points', way]));
  if (lump.kind !== 'undrawn') return fail(issue('board.alreadyDrawn', ['points', way], { name: labelOfWay(map, way) }));
  const drawn = inPlaceOf(map, lump, trunk, phrase);
  if (!drawn.ok) return drawn;
  const { next, shape } = drawn.value;
  return ok({ ...next, points: next.points.map((p) => (p.id === board.id ? withDrawn(p, way, lump.name, shape) : p)) });
}

/** The same for a lump behind a sub-board. */
export function drawLump(map: Installation, id: string, phrase: string): Result<Installation> {
  const lump = findPoint(map, id);
  const trunk = map.sections.find((s) => s.a === id || s.b === id);
  if (!lump || !trunk) return fail(issue('map.noPoint', ['points', id]));
  if (lump.kind !== 'undrawn') return fail(issue('draft.notALump', ['points', id], { name: lump.name }));
  const drawn = inPlaceOf(map, lump, trunk, phrase);
  return drawn.ok ? ok(drawn.value.next) : drawn;
}

/** A drafted circuit in the place of a lump, hung on the cable that fed it. */
function inPlaceOf(map: Installation, lump: Point, trunk: Section, phrase: string): Result<{ next: Installation; shape: Installation['shape'] }> {
  if (isBoardPhrase(phrase)) return fail(issue('board.feedsItself', ['points', lump.id]));
  const named = draftNamed(phrase);
  if (!named.ok) return named;
  const plain = named.value.map;
  const three = trunk.cores.some((c) => c.role === 'L1');
  const onlyOneLine = plain.shape === 'ring' || plain.shape === 'lights' || plain.points.some((p) => p.kind === 'subboard');
  if (three && onlyOneLine) return fail(issue('board.threePoleShape', ['points', lump.id]));
  const circuit = three ? { ...plain, points: plain.points.map((p) => (p.kind === 'board' ? p : threePhase(p))), sections: plain.sections.map(threePhaseSection) } : plain;
  const own = boardOf(circuit);
  const label = lump.name;
  const near = trunk.a === lump.id ? 'b' : 'a';
  const hub = trunk[near];
  let next = map;
  const ids = new Map<string, string>([[own?.id ?? '', hub]]);
  const name = (prefix: string, old: string, kept?: string): string => {
    const known = ids.get(old);
    if (known) return known;
    const [id, after] = kept === undefined ? freshId(next, prefix) : [kept, next];
    next = after;
    ids.set(old, id);
    return id;
  };
  const taken = (n: string): boolean => map.points.some((x) => x.id !== lump.id && x.name.toLowerCase() === n.toLowerCase());
  // A name that was said stands by itself where nothing else has it.
  const called = (p: Point, i: number): string => (named.value.given.has(p.id) ? (taken(p.name) ? `${label} ${p.name}` : p.name).slice(0, 80) : circuit.points.some((x) => x.kind === 'subboard') || /\d$/.test(label) ? `${label} ${p.name.toLowerCase()}` : `${label} ${i + 1}`).slice(0, 80);
  const points = circuit.points.filter((p) => p.kind !== 'board').map((p, i): Point => ({ ...p, id: name('p', p.id, i === 0 ? lump.id : undefined), name: called(p, i) }));
  const landing = (core: string): string => trunk.cores.find((c) => c.id === core)?.[near] ?? core;
  const sections = circuit.sections.map((s, i): Section => {
    const first = i === 0;
    const id = name('s', s.id, first ? trunk.id : undefined);
    const at = (point: string, terminal: string, core: string): string => (point === own?.id ? landing(core) : terminal);
    return {
      ...s, id, a: ids.get(s.a) ?? s.a, b: ids.get(s.b) ?? s.b,
      ...(first ? { ends: { a: endName(trunk, near), b: `${id}@b` } } : {}),
      cores: s.cores.map((c) => ({ ...c, a: at(s.a, c.a, c.id), b: at(s.b, c.b, c.id) })),
    };
  });
  const at = map.sections.indexOf(trunk);
  return ok({
    shape: circuit.shape,
    next: { ...next, points: next.points.flatMap((p) => (p.id === lump.id ? points : [p])), sections: [...map.sections.slice(0, at), ...sections, ...map.sections.slice(at + 1)] },
  });
}

const withDrawn = (board: Point, way: string, label: string, shape: Installation['shape']): Point => ({ ...board, elements: board.elements.map((e) => (e.kind === 'way' && e.id === way ? { ...e, drawn: { label, shape } } : e)) });

/** One circuit of a board with the terminals of the board that it lands on, as a map of its own: for drawing it, not for sums. */
export function circuitMap(map: Installation, way: string): Installation {
  const board = boardOf(map);
  const w = waysOfBoard(map).find((x) => x.id === way);
  const { sections, points } = circuitOfWay(map, way);
  if (!board || !w) return map;
  const landed = new Set(sections.flatMap((s) => s.cores.flatMap((c) => (s.a === board.id ? [c.a] : s.b === board.id ? [c.b] : []))));
  // Bars are not drawn: a pole of the way stands at its own terminal.
  const own: Point = { ...board, terminals: board.terminals.filter((t) => landed.has(t.id)), elements: board.elements.flatMap((e) => (landed.has(e.b) ? [landed.has(e.a) ? e : { ...e, a: e.b }] : [])) };
  return { ...map, shape: w.drawn?.shape ?? 'radial', points: [own, ...points], sections: [...sections] };
}
