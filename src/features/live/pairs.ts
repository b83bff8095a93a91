import { boardOf, boardPart, circuitOfWay, faceKey, findPoint, landingOf, terminalKey, waysOfBoard, type Installation, type PlaceKey, type Terminal } from '@core/installation';
import { coreWords } from '@core/wording';

/** Two places that a person puts the leads on, by what is written on the button. */
export interface Pair { readonly label: string; readonly from: PlaceKey; readonly to: PlaceKey; /** Between live conductors or to earth: a loop too can be measured there. */ readonly loop: boolean }

type Spot = readonly [name: string, place: PlaceKey];

/** Every pair between lines, neutral and earth at one place, and each against an independent earth. */
function pairsOf(lines: readonly Spot[], neutral: PlaceKey | null, earth: PlaceKey | null): Pair[] {
  const others: Spot[] = [...(neutral ? [['N', neutral] as const] : []), ...(earth ? [['E', earth] as const] : [])];
  const pair = ([a, from]: Spot, [b, to]: Spot, loop = false): Pair => ({ label: `${a}–${b}`, from, to, loop });
  return [
    ...lines.flatMap((l) => others.map((o) => pair(l, o, true))),
    ...lines.flatMap((l, i) => lines.slice(0, i).map((m) => pair(m, l))),
    ...(others[0] && others[1] ? [pair(others[0], others[1])] : []),
    ...[...lines, ...others].map(([name, from]): Pair => ({ label: `${name} to an independent earth`, from, to: 'ground', loop: false })),
  ];
}

/** At a point: its lines, the switched ones after them; of the board its incoming bars. On its faces where it has any. */
export function pairsAt(map: Installation, point: string): Pair[] {
  const p = findPoint(map, point);
  if (!p) return [];
  const [face] = p.faces;
  const key = (t: Terminal): PlaceKey => (face ? faceKey(p.id, face.id, t.id) : terminalKey(p.id, t.id));
  const of = (role: string): PlaceKey | null => {
    const t = p.terminals.find((x) => x.role === role);
    return t ? key(t) : null;
  };
  const atBoard = point === boardOf(map)?.id;
  const lines = p.terminals.filter((t) => /^(L[123]?|SL)$/.test(t.role) && (!atBoard || boardPart(t) === 'line bar')).filter((t, i, all) => all.findIndex((x) => x.role === t.role) === i);
  return pairsOf(lines.map((t) => [coreWords(t.role), key(t)]), of('N'), of('E'));
}

/** On the out side of a way's device: its line, the neutral of its circuit, and earth. */
export function pairsBehind(map: Installation, way: string): Pair[] {
  const board = boardOf(map);
  const element = board?.elements.find((e) => e.kind === 'way' && e.id === way);
  if (!board || !element) return [];
  const { neutral, earth } = landingOf(map, circuitOfWay(map, way).leaves[0]?.id ?? '');
  return pairsOf([['L', terminalKey(board.id, element.b)]], terminalKey(board.id, neutral), terminalKey(board.id, earth));
}

/** Ways of the board whose out side can be read. */
export const waysWithOutSide = (map: Installation, point: string): string[] => (point === boardOf(map)?.id && map.shape === 'board' ? waysOfBoard(map).map((w) => w.id) : []);
