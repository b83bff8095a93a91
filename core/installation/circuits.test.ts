import { deriveJob, type JobEvent } from '../job';
import { spotName } from '../wording';
import { checkInstallation, circuitMap, circuitOfWay, circuitsOf, draftCircuit, editMap, endsAtPoint, isDrawn, labelOfWay, sectionOfPlace, type Installation } from '.';

const draft = (phrase: string): Installation => {
  const r = draftCircuit(phrase);
  if (!r.ok) throw new Error(phrase);
  return r.value;
};
const edit = (map: Installation, ...edits: Parameters<typeof editMap>[1][]): Installation =>
  edits.reduce((m, e) => {
    const r = editMap(m, e);
    if (!r.ok) throw new Error(JSON.stringify(r.issues));
    return r.value;
  }, map);
const board = edit(draft('6 ways, RCD on 1 to 3'), { edit: 'setLabel', way: 'w2', label: 'Kiln sockets' });
const ring = edit(board, { edit: 'drawCircuit', way: 'w2', phrase: 'ring, 5' });

test('a way’s circuit is drawn in the place of its lump: both legs land on the way, its bar and earth; the label stays the way’s', () => {
  expect(checkInstallation(ring)).toEqual([]);
  expect(isDrawn(board, 'w2')).toBe(false);
  expect(isDrawn(ring, 'w2')).toBe(true);
  expect(labelOfWay(ring, 'w2')).toBe('Kiln sockets');
  const { leaves, points } = circuitOfWay(ring, 'w2');
  expect([leaves.length, points.length]).toEqual([2, 5]);
  expect(endsAtPoint(ring, 'p0').filter((e) => leaves.includes(e.section)).map((e) => e.terminal).sort()).toEqual(['E', 'E', 'NG1', 'NG1', 'W2', 'W2']);
  // All others are as they were.
  expect(ring.points.filter((p) => p.kind === 'undrawn')).toHaveLength(5);
});

test('no reading is lost: what was read at the board and on a pulled tail stays in its place', () => {
  const at = (n: number, e: object): JobEvent => ({ ...e, id: `e${n}`, at: n }) as JobEvent;
  const read = (n: number, from: string, to: string): JobEvent => at(n, { type: 'read', probe: { fn: 'insulation', from: [from], to: [to] }, displayed: { ohm: 3e5 }, unit: 'MΩ', conditions: [], testVolt: 500, unsteady: false, climbing: false, beforeProof: false, retest: null });
  const events = [
    at(1, { type: 'created', name: 'x', agreedMin: 45 }), at(2, { type: 'drafted', phrase: '6 ways', map: board }), read(3, 'p0:W2', 'p0:E'),
    at(4, { type: 'tookOut', point: 'p0', ends: ['s2@a:N'] }), read(5, 's2@a:N', 'p0:E'), at(6, { type: 'mapEdited', edit: { edit: 'drawCircuit', way: 'w2', phrase: 'radial, 4' } }),
  ];
  const view = deriveJob(events, 10);
  expect(view.readings.map((r) => r.parked)).toEqual([null, null]);
  expect(view.state.out).toEqual(['s2@a:N']);
  expect(view.flags).toEqual([]);
});

test('a circuit is drawn once, never a board, and its own map is a ring again', () => {
  expect(editMap(ring, { edit: 'drawCircuit', way: 'w2', phrase: 'radial, 2' })).toMatchObject({ ok: false, issues: [{ code: 'board.alreadyDrawn' }] });
  expect(editMap(board, { edit: 'drawCircuit', way: 'w2', phrase: '4 ways' })).toMatchObject({ ok: false, issues: [{ code: 'board.feedsItself' }] });
  expect(editMap(board, { edit: 'drawCircuit', way: 'w9', phrase: 'radial, 2' })).toMatchObject({ ok: false });
  const own = circuitMap(ring, 'w2');
  expect(own.shape).toBe('ring');
  expect(own.points).toHaveLength(6);
  expect(checkInstallation(own)).toEqual([]);
});

test('a tail and a way are named by the label, not by a point', () => {
  expect(spotName(ring, 's2@a:N')).toBe('Kiln sockets, tail of leg 1');
  expect(spotName(ring, 'p0:W2')).toBe('Kiln sockets');
  const renamed = edit(ring, { edit: 'setLabel', way: 'w2', label: 'Kiln room' });
  expect(labelOfWay(renamed, 'w2')).toBe('Kiln room');
});

test('what is read at a way’s own terminal is of its circuit, a ring’s with two legs like any other; a bar of several ways is the board’s', () => {
  const circuits = circuitsOf(ring);
  for (const w of ['w1', 'w2', 'w3']) expect(circuits.get(sectionOfPlace(ring, `p0:W${w.slice(1)}`))).toBe(circuits.get(circuitOfWay(ring, w).points[0]?.id ?? ''));
  expect(sectionOfPlace(ring, 'p0:E')).toBe('p0');
});
