import { draftCircuit, endsAtPoint, loadsOf } from '../installation';
import { liveTestWords } from '../wording';
import { elementKey } from '../workstate';
import { deriveJob, type EventBody, type JobEvent } from '.';

const drafted = draftCircuit('3 ways');
if (!drafted.ok) throw new Error('draft');
const map = drafted.value;
const log = (...bodies: EventBody[]): JobEvent[] => bodies.map((b, i) => ({ ...b, id: `e${i}`, at: 1e12 + i * 60000 }) as JobEvent);
const start: EventBody[] = [{ type: 'created', name: 'x', agreedMin: 45 }, { type: 'drafted', phrase: '3 ways', map }];
const pull: EventBody[] = [{ type: 'tookOut', point: 'p0', ends: ['s2@a:N'] }, { type: 'loadsMoved', parts: ['c2.loads'], out: true }];
const read: EventBody = { type: 'read', probe: { fn: 'insulation', from: ['s2@a:N'], to: ['p0:E'] }, displayed: { ohm: 4e4 }, unit: 'MΩ', conditions: [], testVolt: 500, unsteady: false, climbing: false, beforeProof: false, retest: null };

test('the neutral of a way that is then drawn as a ring was both its neutrals, now and in what was read before', () => {
  const view = deriveJob(log(...start, ...pull, read, { type: 'mapEdited', edit: { edit: 'drawCircuit', way: 'w2', phrase: 'ring, 4' } }), 2e12);
  const legs = endsAtPoint(view.map ?? map, 'p0').filter((e) => e.role === 'N' && e.terminal !== undefined && (view.map?.sections.find((s) => s.id === e.section.id)?.a === 'p0' || e.side === 'b')).map((e) => e.key);
  const own = legs.filter((k) => k.startsWith('s2@') || !/^s[13]@/.test(k));
  expect(own).toHaveLength(2);
  expect([...view.state.out].sort()).toEqual([...own].sort());
  expect([...(view.readings[0]?.state.out ?? [])].sort()).toEqual([...own].sort());
});

test('what was unplugged on a lump are all the plugs of its drawing', () => {
  const view = deriveJob(log(...start, ...pull, read, { type: 'mapEdited', edit: { edit: 'drawCircuit', way: 'w2', phrase: 'radial, 3' } }), 2e12);
  const plugs = (view.map?.points ?? []).filter((p) => !/^c[13]$/.test(p.id) && p.kind === 'outlet').flatMap((p) => loadsOf(p).map((l) => elementKey(p.id, l.id)));
  expect(plugs.length).toBe(3);
  expect([...view.state.loadsOut].sort()).toEqual(plugs.sort());
  expect([...(view.readings[0]?.state.loadsOut ?? [])].sort()).toEqual(plugs);
});

test('an end that was in stays in, and what concerns another way stays as it was', () => {
  const view = deriveJob(log(...start, ...pull, { type: 'mapEdited', edit: { edit: 'drawCircuit', way: 'w1', phrase: 'ring, 4' } }), 2e12);
  expect(view.state.out).toEqual(['s2@a:N']);
  expect(view.state.loadsOut).toEqual(['c2.loads']);
});

const lights: EventBody = { type: 'mapEdited', edit: { edit: 'drawCircuit', way: 'w2', phrase: 'lights, 3, one switch' } };
const onLine: EventBody = { ...read, probe: { fn: 'insulation', from: ['p0:W2'], to: ['p0:E'] } };
const partOf = (view: ReturnType<typeof deriveJob>): string => (view.map?.points ?? []).flatMap((p) => p.elements.flatMap((e) => (e.kind === 'switch' ? [elementKey(p.id, e.id)] : [])))[0] ?? '';

test('a switch that whoever draws it finds off stood off in what was read before; what is done with it changes nothing of that', () => {
  const part = partOf(deriveJob(log(...start, lights), 2e12));
  const found = deriveJob(log(...start, onLine, lights, { type: 'switched', part, off: true, found: true }, { type: 'switched', part, off: false }), 2e12);
  expect(found.readings[0]?.state.off).toContain(part);
  expect(found.state.off).not.toContain(part);
  for (const acts of [[true], [false, true]] as const) {
    const later = deriveJob(log(...start, onLine, lights, ...acts.map((off): EventBody => ({ type: 'switched', part, off }))), 2e12);
    expect(later.readings[0]?.state.off).not.toContain(part);
    expect(later.howFound).toEqual([]);
  }
  expect(deriveJob(log(...start, onLine, lights), 2e12).howFound).toEqual([part]);
});

test('the same holds for what was tested with the supply on', () => {
  const part = partOf(deriveJob(log(...start, lights), 2e12));
  const holds: EventBody = { type: 'liveRead', test: { kind: 'closed', device: 'w2', result: 'holds', tripped: null } };
  const view = deriveJob(log(...start, holds, lights, { type: 'switched', part, off: true, found: true }, holds), 2e12);
  expect(view.liveReadings.map((r) => r.state.off.includes(part))).toEqual([true, true]);
  const on = deriveJob(log(...start, holds, lights, { type: 'switched', part, off: true }), 2e12);
  expect(on.liveReadings[0]?.state.off).not.toContain(part);
});

test('what was plugged in again on a lump were all the plugs of its drawing, in words too', () => {
  const view = deriveJob(log(...start, { type: 'liveRead', test: { kind: 'closed', device: 'G1', result: 'at once', tripped: 'G1', plugged: ['c2.loads'] } }, { type: 'mapEdited', edit: { edit: 'drawCircuit', way: 'w2', phrase: 'radial, 3' } }), 2e12);
  const test = view.liveReadings[0]?.event.test;
  if (!view.map || test?.kind !== 'closed') throw new Error('no test');
  expect(test.plugged).toHaveLength(3);
  expect(liveTestWords(view.map, test)).toMatch(/^Plugged in again on Way 2, /);
});

test('read before all switches were turned on, and drawn after: nobody knows what was reached, and it does not count; what was read with them on does', () => {
  const view = deriveJob(log(...start, onLine, read, { type: 'switchesOn', ways: ['c2'], on: true }, onLine, lights), 2e12);
  expect(view.readings.map((r) => r.parked !== null)).toEqual([true, false, false]);
});
