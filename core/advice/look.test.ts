import { draft } from '../installation/fixtures/drafted';
import { deriveJob, type JobEvent } from '../job';
import { shifted, signChance } from '../asking';
import { suspectsOf } from '../faults';
import { Advisor } from '.';

const map = draft('radial, 5');
const asked = (seen: { what: string; place: string | null }[]) => ({ complaint: 'dead' as const, shock: false, notes: '', answers: {}, seen });
const at = (seen: { what: string; place: string | null }[], place: string): number => shifted(map, suspectsOf(map), asked(seen)).filter((s) => s.place === place).reduce((sum, s) => sum + s.prior, 0);

test('nothing to see makes a point less likely and every other likelier; with the cover off it says more than from outside', () => {
  const before = at([], 'p3');
  const outside = at([{ what: 'cleanOutside', place: 'p3' }], 'p3');
  const inside = at([{ what: 'clean', place: 'p3' }], 'p3');
  expect(inside).toBeLessThan(outside);
  expect(outside).toBeLessThan(before);
  expect(at([{ what: 'clean', place: 'p3' }], 'p5')).toBeGreaterThan(at([], 'p5'));
  // Nothing is ever ruled out by eyes.
  expect(inside).toBeGreaterThan(before * 0.3);
});

test('a sign is likeliest at its own point, less so of a cable that ends there, and possible anywhere', () => {
  const of = (id: string): number => {
    const s = suspectsOf(map).find((x) => x.id === id);
    return s ? signChance(map, s, 'p3', false) : NaN;
  };
  const [own, cable, elsewhere] = [of('loose s3@b:N'), of('open s3:N'), of('open s1:N')];
  expect(own).toBeGreaterThan(cable);
  expect(cable).toBeGreaterThan(elsewhere);
  expect(elsewhere).toBeGreaterThan(0);
});

/** A resistive end at point 3: opened, secured, proved; only its own ends are left, which no reading in reach parts cheaply. */
const events = (more: object[] = []): JobEvent[] =>
  [
    { type: 'created', name: 'x', agreedMin: 45 }, { type: 'drafted', phrase: 'radial, 5', map },
    { type: 'asked', complaint: 'dead', shock: false, notes: '', wet: false, works: false },
    { type: 'secured', permission: true, off: true, locked: true, key: 'me' },
    ...['p0', 'p3'].map((point) => ({ type: 'proved', point, checks: [], earthPlace: 'rod' })),
    { type: 'opened', point: 'p3' },
    { type: 'tookOut', point: 'p0', ends: ['s1@a:L', 's1@a:N', 's1@a:E'] },
    ...['s1@a:N', 's1@a:L', 's1@a:E'].map((from, i) => ({ type: 'read', probe: { fn: 'continuity', from: [from], to: [`p4:${from.slice(-1)}`] }, displayed: { ohm: i ? 0.3 : 9 }, unit: 'Ω', conditions: [], testVolt: null, unsteady: false, climbing: false, beforeProof: false, retest: null })),
    ...more,
  ].map((e, i) => ({ ...e, id: `e${i}`, at: Date.now() }) as JobEvent);

test('a look competes in minutes: never beside a cheap reading, but where hands are slow', () => {
  const view = deriveJob(events(), Date.now());
  expect(new Advisor().advise(view)?.look).toBeNull();
  const slow = new Advisor();
  slow.settle({ minutes: { reading: 30, open: 30, split: 30, walk: 0.5 }, startWith: 'no preference' });
  const look = slow.advise(view)?.look;
  expect(look?.bits).toBeGreaterThan(0.03);
  // Half a minute to walk there, half to look.
  expect(look).toMatchObject({ point: 'p3', outside: false, minutes: 1 });
});

test('nobody is asked to look twice, nor into what is not open and proved', () => {
  const slow = new Advisor();
  slow.settle({ minutes: { reading: 30, open: 30, split: 30, walk: 0.5 }, startWith: 'no preference' });
  const looked: { point: string; outside: boolean }[] = [];
  for (let i = 0; i < 12; i++) {
    const seen = looked.map((l) => ({ type: 'seen', what: l.outside ? 'cleanOutside' : 'clean', place: l.point, gone: false }));
    const look = slow.advise(deriveJob(events(seen), Date.now()))?.look;
    if (!look) break;
    expect(looked).not.toContainEqual({ point: look.point, outside: look.outside });
    // The board and point 3 are proved; only point 3 is open.
    if (!look.outside) expect(look.point).toBe('p3');
    looked.push({ point: look.point, outside: look.outside });
  }
  expect(looked.length).toBeGreaterThan(0);
  expect(looked.length).toBeLessThan(12);
});

test('which bar a neutral is in is looked for where that is open, and what is seen settles it both ways', () => {
  const board = draft('4 ways, RCD on 1 to 2, RCD on 3 to 4');
  const share = (place: string | null): number => {
    const seen = place === null ? [] : [{ what: 'inBar', place }];
    const all = shifted(board, suspectsOf(board), { ...asked(seen), complaint: 'rcd trips' });
    return all.filter((s) => s.id === 'otherBar s2@a:N>NG2').reduce((sum, s) => sum + s.prior, 0);
  };
  const before = share(null);
  expect(share('s2@a:N>NG2')).toBeGreaterThan(20 * before);
  expect(share('s2@a:N>NG1')).toBeLessThan(0.1 * before);
  expect(share('s3@a:N>NG1')).toBeCloseTo(before, 1);
  expect(share('s2@a:N>')).toBeCloseTo(before, 6);
  // Its own cable is whole, its bar reads open to the point: the end is loose, or elsewhere.
  const map = draft('4 ways, RCD on 1 to 2, RCD on 3 to 4');
  const log = [
    { type: 'created', name: 'x', agreedMin: 45 }, { type: 'drafted', phrase: '4 ways', map }, { type: 'mapEdited', edit: { edit: 'drawCircuit', way: 'w2', phrase: 'radial, 3' } },
    { type: 'asked', complaint: 'inspection', shock: false, notes: '', wet: false, works: false },
    { type: 'secured', permission: true, off: true, locked: true, key: 'me' }, { type: 'opened', point: 'p0' }, { type: 'proved', point: 'p0', checks: [], earthPlace: 'rod' },
    ...['c2/f1:N'].flatMap((to) => [0, 1].map(() => ({ type: 'read', probe: { fn: 'continuity', from: ['p0:NG1'], to: [to] }, displayed: { above: 100_000 }, unit: 'Ω', conditions: [], testVolt: null, unsteady: false, climbing: false, beforeProof: false, retest: null }))),
    { type: 'tookOut', point: 'p0', ends: ['s2@a:N'] },
    { type: 'read', probe: { fn: 'continuity', from: ['s2@a:N'], to: ['c2/f1:N'] }, displayed: { ohm: 0.2 }, unit: 'Ω', conditions: [], testVolt: null, unsteady: false, climbing: false, beforeProof: false, retest: null },
  ];
  const view = (more: object[]) => deriveJob([...log, ...more].map((e, i) => ({ ...e, id: `e${i}`, at: Date.now() }) as JobEvent), Date.now());
  expect(new Advisor().advise(view([]))?.look?.bar).toBe('s2@a:N');
  const after = new Advisor().advise(view([{ type: 'seen', what: 'inBar', place: 's2@a:N>NG2', gone: false }]));
  expect(after?.suspects[0]?.kind).toBe('otherBar');
  expect(after?.suspects[0]?.share).toBeGreaterThan(0.9);
  expect(new Advisor().advise(view([{ type: 'seen', what: 'inBar', place: 's2@a:N>NG1', gone: false }]))?.suspects[0]?.kind).toBe('looseEnd');
});

test('three ways that show loads though theirs were unplugged: where to look for what is still in is said, one after another, circuits that nobody has drawn too', () => {
  const board = draft('6 ways, RCD on 1 to 3, RCD on 4 to 6');
  const read = (fn: 'insulation' | 'continuity', from: string, ohm: number, to = 'p0:NG2'): object => ({ type: 'read', probe: { fn, from: [from], to: [to] }, displayed: { ohm }, unit: 'Ω', conditions: [], testVolt: fn === 'insulation' ? 500 : null, unsteady: false, climbing: false, beforeProof: false, retest: null });
  const log = [
    { type: 'created', name: 'x', agreedMin: 90 }, { type: 'drafted', phrase: '6 ways', map: board }, { type: 'asked', complaint: 'rcd trips', shock: false, notes: '', wet: false, works: false },
    { type: 'secured', permission: true, off: true, locked: true, key: 'me' }, { type: 'opened', point: 'p0' }, { type: 'proved', point: 'p0', checks: [], earthPlace: 'rod' },
    { type: 'loadsMoved', parts: [4, 5, 6].map((n) => `c${n}.loads`), out: true },
    // Earth is sound on both bars, and on each way.
    read('insulation', 'p0:NG1', 6.71e6, 'p0:E'), read('insulation', 'p0:NG2', 5.87e6, 'p0:E'), ...[1, 2, 3, 4, 5, 6].map((n) => read('insulation', `p0:W${n}`, n < 4 ? 6.7e6 : 5.86e6, 'p0:E')),
    ...[4, 5, 6].map((n) => read('insulation', `p0:W${n}`, 0)), read('continuity', 'p0:W4', 55.1), read('continuity', 'p0:W6', 57.4), read('continuity', 'p0:W5', 33.4),
  ];
  const looked: string[] = [];
  for (let i = 0; i < 3; i++) {
    const seen = looked.map((place) => ({ type: 'seen', what: 'nothingIn', place, gone: false }));
    const look = new Advisor().advise(deriveJob([...log, ...seen].map((e, k) => ({ ...e, id: `e${k}`, at: Date.now() }) as JobEvent), Date.now()))?.look;
    if (!look) break;
    expect(['c4.loads', 'c5.loads', 'c6.loads']).toContain(look.plug);
    expect(looked).not.toContain(look.point);
    looked.push(look.point);
  }
  expect(looked.length).toBeGreaterThan(0);
});
