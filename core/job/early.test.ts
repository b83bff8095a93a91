import { Advisor } from '../advice';
import { draftCircuit } from '../installation';
import { deriveJob, parseEarly, type JobEvent } from '.';

let count = 0;
const event = (e: object): JobEvent => ({ ...e, id: `e${++count}`, at: 1e12 + count * 1000 }) as JobEvent;
const early = (text: string): JobEvent => {
  const p = parseEarly(text);
  if (!p.ok) throw new Error(p.issues[0]?.code);
  return event(p.value);
};
const drafted = (phrase: string): JobEvent => {
  const map = draftCircuit(phrase);
  if (!map.ok) throw new Error(phrase);
  return event({ type: 'drafted', phrase, map: map.value });
};
const created = event({ type: 'created', name: 'x', agreedMin: 45 });

test.each([
  ['way 3, L–E, 0.3 MΩ', 3, 'LE', { ohm: 3e5 }, 'MΩ'], ['7 NE >999 MΩ', 7, 'NE', { above: 999e6 }, 'MΩ'], ['2, n-l, 17,6 ohm', 2, 'LN', { ohm: 17.6 }, 'Ω'],
  ['W12: E/L = 45k', 12, 'LE', { ohm: 45e3 }, 'kΩ'], ['way 1 LN over 200 M', 1, 'LN', { above: 200e6 }, 'MΩ'],
])('“%s” is understood', (text, way, pair, displayed, unit) => {
  expect(parseEarly(text)).toEqual({ ok: true, value: { type: 'early', way, pair, displayed, unit } });
});

test.each([['way 3 0.3 MΩ', 'early.shape'], ['way 3, L–L, 0.3 MΩ', 'early.pair'], ['way 3, L–E, 0.3', 'early.unit'], ['way 3, L–E, 0.3 V', 'early.unit'], ['way 3, L–E, 1.2.3 MΩ', 'reading.notNumber'], ['', 'early.shape']])('“%s” is refused as %s', (text, code) => {
  const p = parseEarly(text);
  expect(p.ok ? '' : p.issues[0]?.code).toBe(code);
});

test('what was read before the board is drawn stands on it afterwards, counts as evidence, and says that no proof was recorded', () => {
  const before = [created, early('way 3, L–E, 0.02 MΩ'), early('way 1, L–E, >999 MΩ'), early('way 9, L–N, 500 MΩ')];
  expect(deriveJob(before, 2e12).early).toHaveLength(3);
  const view = deriveJob([...before, drafted('6 ways')], 2e12);
  expect(view.early.map((e) => e.way)).toEqual([9]);
  expect(view.readings.map((r) => [r.event.probe.from, r.event.probe.to, r.event.beforeProof, r.parked])).toEqual([[['p0:W3'], ['p0:E'], true, null], [['p0:W1'], ['p0:E'], true, null]]);
  const places = new Advisor().advise(view, false)?.places ?? [];
  const share = (way: number): number => places.filter((p) => p.place === `s${way}` || p.place.startsWith(`c${way}`)).reduce((s, p) => s + p.share, 0);
  // Nobody said that the loads are out: through one of way 3 the leak of any other may be read too.
  expect(share(3)).toBeGreaterThan(0.4);
  for (const way of [2, 4, 5, 6]) expect(share(3)).toBeGreaterThan(2.5 * share(way));
  expect(share(1)).toBeLessThan(0.75 * share(2));
});

test('one that was struck out comes to no board; one told after the drawing finds its place at once', () => {
  const wrong = early('way 2, L–E, 0.1 MΩ');
  const events = [created, wrong, event({ type: 'struck', target: wrong.id, why: 'wrong entry' }), drafted('4 ways'), early('way 4, N–E, 2 MΩ')];
  const view = deriveJob(events, 2e12);
  expect(view.early).toEqual([]);
  expect(view.readings.map((r) => r.event.probe.from)).toEqual([['p0:N']]);
});

test('on a way of three poles the lines are read tied', () => {
  const view = deriveJob([created, early('way 2, L–E, 4 MΩ'), drafted('3 ways, 3-pole on 2')], 2e12);
  expect(view.readings[0]?.event.probe.from).toEqual(['p0:W2', 'p0:W2b', 'p0:W2c']);
});
