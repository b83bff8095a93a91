import { loadsOf, boardOf, type Installation } from '../installation';
import { draft, edited } from '../installation/fixtures/drafted';
import { suspectsOf } from '../faults';
import { deriveJob, THROUGH_ARRESTER, usableReadings, type JobEvent } from '.';

const map = draft('4 ways, surge protection');
const arresters = loadsOf(boardOf(map) ?? { elements: [] }).map((l) => `p0.${l.id}`);

/** Ways off, loads out, then one insulation reading; `out`: the arresters' cartridges are pulled. */
function after(ohm: number, testVolt: number, probe = { from: ['p0:N'], to: ['p0:E'] }, out = false, on: Installation = map): { parked: string | null; counts: number } {
  const ways = map.points[0]?.elements.filter((e) => e.kind === 'way').map((e) => `p0.${e.id}`) ?? [];
  const events = [
    { type: 'drafted', phrase: '', map: on }, ...ways.map((part) => ({ type: 'switched', part, off: true })),
    { type: 'loadsMoved', parts: [...['c1', 'c2', 'c3', 'c4'].map((c) => `${c}.loads`), ...(out ? arresters : [])], out: true },
    { type: 'read', probe: { fn: 'insulation', ...probe }, displayed: { ohm }, unit: 'MΩ', conditions: [], testVolt, unsteady: false, climbing: false, beforeProof: false, retest: null },
  ].map((e, i) => ({ ...e, id: `e${i}`, at: 1 }) as JobEvent);
  const view = deriveJob(events, 2);
  return { parked: view.readings[0]?.parked ?? null, counts: usableReadings(view).length };
}

test('a board drafted with surge protection has an arrester from each line and the neutral to earth; the supply sheet takes them off and on', () => {
  expect(arresters).toEqual(['p0.spdL', 'p0.spdN']);
  const none = edited(map, { edit: 'setSurge', fitted: false });
  expect(loadsOf(boardOf(none) ?? { elements: [] })).toEqual([]);
  expect(edited(none, { edit: 'setSurge', fitted: true })).toEqual(map);
  expect(loadsOf(boardOf(draft('6 ways, three phase, surge protection')) ?? { elements: [] }).map((l) => l.a)).toEqual(['L1', 'L2', 'L3', 'N']);
});

test('0.3 MΩ at 500 V between bars that an arrester joins tells nothing of the circuits, and the reading says so', () => {
  expect(after(0.31e6, 500)).toEqual({ parked: THROUGH_ARRESTER, counts: 0 });
});

test('at 250 V, with the cartridge out, or with no arrester it is a finding', () => {
  expect(after(0.31e6, 250).counts).toBe(1);
  expect(after(0.31e6, 500, undefined, true).counts).toBe(1);
  expect(after(0.31e6, 500, undefined, false, draft('4 ways')).counts).toBe(1);
});

test('what no arrester shows counts at any voltage: a dead short, or hundreds of megohms', () => {
  expect(after(300, 500).counts).toBe(1);
  expect(after(320e6, 500).counts).toBe(1);
});

test('a way that is off is not joined to the arrester on the line bar', () => {
  expect(after(0.31e6, 500, { from: ['p0:W2'], to: ['p0:E'] }).counts).toBe(1);
  // Its neutral is in the bar.
  expect(after(0.31e6, 500, { from: ['c2:N'], to: ['p0:E'] }).counts).toBe(0);
});

test('a worn arrester is a suspect of its own, as long as it is in', () => {
  expect(suspectsOf(map).filter((s) => s.kind === 'loadFault' && s.place.startsWith('p0.')).map((s) => s.place)).toEqual(arresters);
});
