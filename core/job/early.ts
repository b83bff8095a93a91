import { boardOf, landingOf, terminalKey, waysOfBoard, circuitOfWay, type Installation } from '../installation';
import { fail, issue, ok, type Result } from '../issue';
import type { Probe } from '../probes';
import { meter } from '../tester';
import { parseOhm, type OhmUnit } from '../units';

const pairs = ['LN', 'LE', 'NE'] as const;

/** A reading that was taken before anybody drew the board: it names its way by number and waits for the map. */
export interface Early { readonly type: 'early'; readonly way: number; readonly pair: (typeof pairs)[number]; readonly displayed: { ohm: number } | { above: number }; readonly unit: OhmUnit }

const units = { 'mω': 'MΩ', m: 'MΩ', mohm: 'MΩ', 'kω': 'kΩ', k: 'kΩ', kohm: 'kΩ', 'ω': 'Ω', ohm: 'Ω', ohms: 'Ω' } as const;

/** "way 3, L–E, 0.3 MΩ", "7 NE >999 MΩ", "2, L-N, 17.6 ohm". Megohms and kilohms are insulation, ohms continuity. */
export function parseEarly(text: string): Result<Early> {
  const m = /^\s*(?:way|w|no\.?)?\s*(\d{1,2})[\s,;:]+([lne])\s*[-–—/]?\s*([lne])[\s,;:=]+(>|above|over)?\s*([\d.,]+)\s*([a-zωΩ]*)\s*$/i.exec(text);
  if (!m) return fail(issue('early.shape', [], { text: text.slice(0, 40) }));
  const [, way, a = '', b = '', above, figure = '', unitText = ''] = m;
  const both = [a, b].map((x) => x.toUpperCase());
  const pair = pairs.find((p) => both.includes(p.charAt(0)) && both.includes(p.charAt(1)));
  if (!pair || both[0] === both[1]) return fail(issue('early.pair', [], { a: both[0] ?? '', b: both[1] ?? '' }));
  const unit = units[unitText.toLowerCase().replace('Ω', 'ω') as keyof typeof units] as OhmUnit | undefined;
  if (!unit) return fail(issue('early.unit', [], { figure }));
  const ohm = parseOhm(figure, unit);
  if (!ohm.ok) return ohm;
  const fn = unit === 'Ω' ? 'continuity' : 'insulation';
  const offScale = above !== undefined || ohm.value > meter[fn].topOhm;
  return ok({ type: 'early', way: Number(way), pair, displayed: offScale ? { above: Math.min(ohm.value, meter[fn].topOhm) } : { ohm: ohm.value }, unit });
}

/** Where its leads were, on a board that has this way; null on one that has not. A way of three lines is read with them tied. */
export function placeEarly(map: Installation, e: Pick<Early, 'way' | 'pair' | 'unit'>): Probe | null {
  const board = boardOf(map);
  const way = waysOfBoard(map).find((w) => w.id === `w${e.way}`);
  if (!board || !way) return null;
  const { leaves: [leaf] } = circuitOfWay(map, way.id);
  const lines = leaf?.cores.filter((c) => /^L[123]?$/.test(c.role)).map((c) => terminalKey(board.id, c[leaf.a === board.id ? 'a' : 'b'])) ?? [];
  const landing = landingOf(map, leaf?.id ?? '');
  const at = { L: lines, N: [terminalKey(board.id, landing.neutral)], E: [terminalKey(board.id, landing.earth)] };
  const [from, to] = [at[e.pair.charAt(0) as 'L'], at[e.pair.charAt(1) as 'N']];
  return from.length ? { fn: e.unit === 'Ω' ? 'continuity' : 'insulation', from, to } : null;
}
