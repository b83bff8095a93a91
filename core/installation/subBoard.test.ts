import { BeliefEngine, tradeOptions } from '../belief';
import { suspectsOf } from '../faults';
import { Energised, magnitude } from '../live';
import { provingPairs } from '../safety';
import { untouched } from '../workstate';
import { checkInstallation, draftCircuit, editMap, isDrawn, labelOfWay, type Installation } from '.';
import { draft, edited } from './fixtures/drafted';

const shed = (): Installation => edited(draft('6 ways, RCD on 1 to 4'), { edit: 'setLabel', way: 'w5', label: 'Clay shed' }, { edit: 'drawCircuit', way: 'w5', phrase: 'sub-board, 3' });
const named = (map: Installation, name: string): string => map.points.find((p) => p.name === name)?.id ?? '';

test('a cable to a board of its own stands in the place of the lump; cable, ends and label keep their names', () => {
  const map = shed();
  expect(checkInstallation(map)).toEqual([]);
  expect(map.points.filter((p) => p.name.startsWith('Clay shed')).map((p) => [p.name, p.kind])).toEqual([['Clay shed sub-board', 'subboard'], ['Clay shed way 1', 'undrawn'], ['Clay shed way 2', 'undrawn'], ['Clay shed way 3', 'undrawn']]);
  expect([labelOfWay(map, 'w5'), isDrawn(map, 'w5')]).toEqual(['Clay shed', true]);
  expect(map.sections.find((s) => s.id === 's5')?.cores.map((c) => c.a)).toEqual(['W5', 'N', 'E']);
});

test('what hangs on its ways is live through both boards, and dead beyond the switch that is off', () => {
  const map = shed();
  const way2 = named(map, 'Clay shed way 2');
  const volt = (off: string[]): number => magnitude(Energised.of(map, { ...untouched, off }).voltage(`${way2}:L`, `${way2}:N`, 7e3) ?? { re: NaN, im: 0 });
  expect(volt([])).toBeGreaterThan(220);
  const hub = named(map, 'Clay shed sub-board');
  for (const off of ['p0.w5', `${hub}.main`, `${hub}.w2`]) expect(volt([off])).toBeLessThan(5);
  expect(volt([`${hub}.w1`])).toBeGreaterThan(220);
});

test('its circuits can be drawn later, even a ring that comes back to it; a drawn one is drawn once', () => {
  const map = shed();
  const way1 = named(map, 'Clay shed way 1');
  const ring = edited(map, { edit: 'drawLump', point: way1, phrase: 'ring, 4' });
  expect(checkInstallation(ring)).toEqual([]);
  const hub = named(map, 'Clay shed sub-board');
  expect(ring.sections.filter((s) => (s.a === hub && s.cores[0]?.a === 'W1') || (s.b === hub && s.cores[0]?.b === 'W1'))).toHaveLength(2);
  const again = editMap(ring, { edit: 'drawLump', point: way1, phrase: 'radial, 2' });
  expect(again.ok ? '' : again.issues[0]?.code).toBe('draft.notALump');
  const itself = editMap(map, { edit: 'drawLump', point: way1, phrase: '8 ways' });
  expect(itself.ok ? '' : itself.issues[0]?.code).toBe('board.feedsItself');
});

test.each([['sub-board', 'draft.subBoardCount'], ['sub-board, 0', 'draft.subBoardSize'], ['sub-board, 40', 'draft.subBoardSize']])('“%s” is refused as %s', (phrase, code) => {
  const r = draftCircuit(phrase);
  expect(r.ok ? '' : r.issues[0]?.code).toBe(code);
});

test('at the sub-board a person reads every line to earth and to neutral, and no line to its own line', () => {
  const map = shed();
  const pairs = provingPairs(map, named(map, 'Clay shed sub-board')).map((p) => p.join(' '));
  expect(pairs).toEqual(['E N', 'E L', 'N L', 'E B', 'N B', 'E W1', 'N W1', 'E W2', 'N W2', 'E W3', 'N W3']);
});

test('a low reading that goes when the shed’s way 2 is switched off is in way 2 of the shed, or at its own terminal there', () => {
  const map = shed();
  const hub = named(map, 'Clay shed sub-board');
  const loads = map.points.flatMap((p) => p.elements.flatMap((e) => (e.kind === 'load' ? [`${p.id}.${e.id}`] : [])));
  const ways = map.points[0]?.elements.map((e) => `p0.${e.id}`) ?? [];
  const engine = new BeliefEngine(map, suspectsOf(map), tradeOptions);
  const read = (off: string[], ohm: number) => ({ probe: { fn: 'insulation' as const, from: ['p0:W5'], to: ['p0:E'] }, state: { ...untouched, off: [...ways, ...off], loadsOut: loads, opened: ['p0'] }, displayed: ohm > 9e8 ? { above: 999e6 } : { ohm } });
  const belief = engine.believe([read([], 30e3), read([`${hub}.w2`], 1e9), read([`${hub}.w1`, `${hub}.w3`], 30e3)]);
  const here = named(map, 'Clay shed way 2');
  const section = map.sections.find((s) => s.b === here)?.id ?? '';
  const share = engine.suspects.reduce((sum, s, i) => sum + (s.place === here || s.place === section || s.place.startsWith(`${here}.`) || (s.place === hub && s.conductors.includes('W2')) ? (belief.suspectShare[i] as number) : 0), 0);
  expect(share).toBeGreaterThan(0.9);
});
