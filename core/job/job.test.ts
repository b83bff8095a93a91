import { readFileSync } from 'node:fs';
import { draftCircuit } from '../installation';
import { liveMetalWords } from '../wording';
import { deriveJob, jobFileSchema, observationOf, parseJobFile, usableReadings, writeJobFile, type JobEvent, type JobFile } from '.';

const made = draftCircuit('radial, 3');
if (!made.ok) throw new Error('draft');
const map = made.value;
const at = Date.UTC(2026, 4, 4, 9, 0);
let n = 0;
const ev = (e: object, minute = 0): JobEvent => ({ ...e, id: `e${++n}`, at: at + minute * 60000 }) as JobEvent;
const start = (): JobEvent[] => [ev({ type: 'created', name: 'Shed', agreedMin: 45 }), ev({ type: 'drafted', phrase: 'radial, 3', map })];
const reading = (ohm: number, minute = 0): JobEvent =>
  ev({ type: 'read', probe: { fn: 'continuity', from: ['s1@a:L'], to: ['p2:L'] }, displayed: { ohm }, unit: 'Ω', conditions: ['dry'], testVolt: null, unsteady: false, climbing: false, beforeProof: false, retest: null }, minute);
const secured = (minute = 0): JobEvent => ev({ type: 'secured', permission: true, off: true, locked: true, key: 'me' }, minute);
const proved = (point: string, minute = 0): JobEvent => ev({ type: 'proved', point, checks: [], earthPlace: 'rod' }, minute);
const file = (events: JobEvent[]): JobFile => ({ format: 'gutter-job', version: 1, id: 'j', events });

test('a reading carries the state in which it was taken', () => {
  const out = ev({ type: 'tookOut', point: 'p2', ends: ['s3@a:L'] });
  const view = deriveJob([...start(), reading(0.1), out, reading(0.2)], at);
  expect(view.readings.map((r) => r.state.out)).toEqual([[], ['s3@a:L']]);
});

test('“it never was” re-derives every later state; “put back” does not', () => {
  const out = ev({ type: 'tookOut', point: 'p2', ends: ['s3@a:L'] });
  const before = [...start(), out, reading(0.2)];
  const back = ev({ type: 'putBack', point: 'p2', ends: ['s3@a:L'] });
  expect(deriveJob([...before, back], at).readings[0]?.state.out).toEqual(['s3@a:L']);
  expect(deriveJob([...before, ev({ type: 'struck', target: out.id, why: 'it never was' })], at).readings[0]?.state.out).toEqual([]);
});

test('an event that has become impossible is flagged, not dropped', () => {
  const out = ev({ type: 'tookOut', point: 'p2', ends: ['s3@a:L'] });
  const back = ev({ type: 'putBack', point: 'p2', ends: ['s3@a:L'] });
  const view = deriveJob([...start(), out, back, ev({ type: 'struck', target: out.id, why: 'never' })], at);
  expect(view.flags.map((f) => f.code)).toEqual(['flag.notOut']);
});

test('a struck reading is shown and does not count', () => {
  const r = reading(5);
  const view = deriveJob([...start(), r, ev({ type: 'struck', target: r.id, why: 'misread' })], at);
  expect(view.readings[0]?.struck).toBe('misread');
  expect(usableReadings(view)).toEqual([]);
});

test('a repair begins an epoch: earlier readings are before it, later ones count', () => {
  const view = deriveJob([...start(), reading(5), ev({ type: 'mended', suspect: 'x', place: 'p2', how: 'repaired', text: '', explains: 'yes' }), reading(0.1)], at);
  expect(view.readings.map((r) => r.epoch)).toEqual([0, 1]);
  expect(usableReadings(view)).toHaveLength(2);
});

test('a link is in the state until taken off, and is remembered as having been there', () => {
  const link = { id: 'k1', a: 'p2:L', b: 'p2:E' };
  const view = deriveJob([...start(), reading(0.1), ev({ type: 'linked', link }), reading(0.2), ev({ type: 'unlinked', link: 'k1' }), reading(0.3)], at);
  expect(view.readings.map((r) => r.state.links.length)).toEqual([0, 1, 0]);
  expect(view.readings.map((r) => observationOf(r).unlinked)).toEqual([[], [], ['p2:E=p2:L']]);
  expect(view.linksMade).toEqual([['p2:L', 'p2:E']]);
});

test('a reading whose place is gone is parked with the reason, and comes back with it', () => {
  const branch = ev({ type: 'mapEdited', edit: { edit: 'addBranch', point: 'p1', kind: 'outlet', name: 'Spur' } });
  const added = deriveJob([...start(), branch], at).map?.points.at(-1)?.id ?? '';
  const r = ev({ type: 'read', probe: { fn: 'continuity', from: ['s1@a:L'], to: [`${added}:L`] }, displayed: { ohm: 0.2 }, unit: 'Ω', conditions: [], testVolt: null, unsteady: false, climbing: false, beforeProof: false, retest: null });
  const gone = ev({ type: 'mapEdited', edit: { edit: 'removePoint', point: added } });
  const events = [...start(), branch, r, gone];
  expect(deriveJob(events, at).readings[0]?.parked).toContain('no longer on the map');
  expect(deriveJob([...events, ev({ type: 'struck', target: gone.id, why: 'it is there' })], at).readings[0]?.parked).toBeNull();
});

test('secured lapses on leaving, on power and on the next day; a proof after two hours', () => {
  const safe = [...start(), secured(), proved('p1')];
  expect(deriveJob(safe, at + 60000).proofs.has('p1')).toBe(true);
  for (const e of [ev({ type: 'lapsed', why: 'left' }), ev({ type: 'energised' })]) {
    const view = deriveJob([...safe, e], at + 60000);
    expect([view.secured, view.proofs.size]).toEqual([null, 0]);
  }
  expect(deriveJob(safe, at + 26 * 3600000).secured).toBeNull();
  // Not after twelve minutes, not at 119, but at 121.
  for (const minutes of [12, 119]) expect(deriveJob(safe, at + minutes * 60000).proofs.has('p1')).toBe(true);
  expect(deriveJob(safe, at + 121 * 60000).proofs.size).toBe(0);
  expect(deriveJob([...safe, ev({ type: 'leftPoint', point: 'p1' })], at).proofs.has('p1')).toBe(false);
});

test('metal above 50 V to an independent earth is said at once, wherever it was entered, until something is mended', () => {
  const volts = (to: string, volt: number): JobEvent => ev({ type: 'liveRead', test: { kind: 'voltage', from: 'ground', to, volt, meter: 'low' } });
  expect(deriveJob([...start(), volts('p2:E', 49)], at).liveMetal).toBeNull();
  expect(deriveJob([...start(), volts('p2:L', 230)], at).liveMetal).toBeNull();
  expect(deriveJob([...start(), volts('p2:E', 61), volts('p3:E', 112)], at).liveMetal).toMatchObject({ place: 'p3:E', volt: 112 });
  // Metal that is on no circuit too, under its own name; between two metals nothing is said of a person who stands on the ground.
  expect(deriveJob([...start(), volts('metal:Handrail at the ramp', 74)], at).liveMetal).toMatchObject({ place: 'metal:Handrail at the ramp', volt: 74 });
  expect(liveMetalWords(map, { place: 'metal:Handrail at the ramp', volt: 74, toNeutral: false })).toMatch(/^74 V on Handrail at the ramp\. Keep people off it/);
  // Of volts between neutral and earth nobody can tell which of them is live: both are said.
  const between = (volt: number): JobEvent => ev({ type: 'liveRead', test: { kind: 'voltage', from: 'p3/f1:N', to: 'p3/f1:E', volt, meter: 'low' } });
  expect(deriveJob([...start(), between(3)], at).liveMetal).toBeNull();
  const lifted = deriveJob([...start(), between(152)], at).liveMetal;
  expect(lifted).toMatchObject({ volt: 152, toNeutral: true });
  expect(lifted && liveMetalWords(map, lifted)).toMatch(/^152 V between N and E at .*one of them may be live, and if it is E, so is all metal on it\. Keep people off it/);
  // Off and locked, nobody is told to switch off; what made it live is still owed.
  expect(lifted && liveMetalWords(map, lifted, true)).toMatch(/one of them may have been live.*off and locked now: what made it live is found before power/);
  const byProof = ev({ type: 'proved', point: 'p1', checks: [{ from: 'rod', to: 'E', volt: 84, bleep: true }], earthPlace: 'rod' });
  expect(deriveJob([...start(), secured(), byProof], at).liveMetal).toMatchObject({ place: 'p1:E', volt: 84 });
  const mended = ev({ type: 'mended', suspect: 'contact s2:LE', place: 's2', how: 'repaired', text: '', explains: 'yes' }, 5);
  expect(deriveJob([...start(), volts('p3:E', 112), mended], at + 300000).liveMetal).toBeNull();
});

test('minutes count only while the clock runs', () => {
  const view = deriveJob([...start(), ev({ type: 'clock', run: true }), ev({ type: 'clock', run: false }, 12), ev({ type: 'clock', run: true }, 30)], at + 33 * 60000);
  expect(view.minutesUsed).toBeCloseTo(15, 6);
});

test('a clock that was set back takes no minutes away; what was done “later than now” does not count as done', () => {
  const ran = [...start(), ev({ type: 'clock', run: true }, 60), ev({ type: 'clock', run: false }, 12), ev({ type: 'clock', run: true }, 13), ev({ type: 'clock', run: false }, 20)];
  expect(deriveJob(ran, at + 21 * 60000).minutesUsed).toBeCloseTo(7, 6);
  expect(deriveJob([...start(), ev({ type: 'clock', run: true }, 600)], at).minutesUsed).toBe(0);
  // Proved at 10:00 by a clock that then went back to 9:00: nobody knows how old that is.
  const safe = [...start(), secured(), proved('p1', 60)];
  expect(deriveJob(safe, at).proofs.size).toBe(0);
  expect(deriveJob(safe, at + 61 * 60000).proofs.has('p1')).toBe(true);
  expect(deriveJob([...start(), secured(60)], at).secured).toBeNull();
  // The clocks of two machines differ by some minutes.
  expect(deriveJob([...start(), secured(2), proved('p1', 3)], at).proofs.has('p1')).toBe(true);
});

test('a job file comes back as it was written, unknown keys included', () => {
  const written = { ...file([...start(), reading(0.3)]), fromTheFuture: { kept: true } };
  const r = parseJobFile(writeJobFile(written));
  expect(r.ok && r.value).toEqual(written);
});

test.each([
  ['{"format":"gutter-job","ver', 'file.notJson'], ['[]', 'file.notOurs'], ['null', 'file.notOurs'], ['{"format":"other"}', 'file.notOurs'],
  ['{"format":"gutter-job"}', 'file.noVersion'], ['{"format":"gutter-job","version":2}', 'file.newer'], ['{"format":"gutter-job","version":1,"id":"x","events":[{"type":"read"}]}', 'file.shape'],
])('%s is answered with %s', (text, code) => {
  const r = parseJobFile(text);
  expect(r.ok ? '' : r.issues[0]?.code).toBe(code);
});

test('the schema is published and takes a real file', async () => {
  const { default: Ajv } = await import('ajv/dist/2020');
  const validate = new Ajv({ strict: false }).compile(jobFileSchema() as object);
  expect(validate(JSON.parse(writeJobFile(file([...start(), reading(0.3)]))))).toBe(true);
  expect(validate({ format: 'gutter-job', version: 1, id: 'x', events: [{ type: 'read' }] })).toBe(false);
});

test('a job that was closed with an earlier version opens unchanged: as many readings, the repair, the story', () => {
  const text = readFileSync('core/job/fixtures/closed-1.json', 'utf8');
  const r = parseJobFile(text);
  if (!r.ok) throw new Error(JSON.stringify(r.issues));
  expect(JSON.parse(writeJobFile(r.value))).toEqual(JSON.parse(text));
  const view = deriveJob(r.value.events, at);
  expect([view.name, view.status, view.mends.length, view.flags.length]).toEqual(['Shop sockets', 'closed', 1, 0]);
  expect(view.readings.length).toBe(r.value.events.filter((e) => e.type === 'read').length);
  expect(view.asked.complaint).not.toBeNull();
});

test('securing switches the ways of the board off; the RCD of a sub-board stays as it was found', () => {
  const sub = draftCircuit('sub-board, 2, RCD');
  if (!sub.ok) throw new Error('draft');
  const drawn = [ev({ type: 'created', name: 'Shed', agreedMin: 45 }), ev({ type: 'drafted', phrase: 'sub-board, 2, RCD', map: sub.value })];
  const off = (events: JobEvent[]): readonly string[] => deriveJob(events, at).state.off;
  const safe = off([...drawn, secured()]);
  expect(safe.length).toBeGreaterThan(0);
  expect(safe.every((k) => k.startsWith('p0.'))).toBe(true);
  expect(off([...drawn, ev({ type: 'switched', part: 'p1.main', off: true }), secured()])).toContain('p1.main');
});

test('switches that were turned on are recorded as on until power is back on, and are kept with the job', () => {
  const on = ev({ type: 'switchesOn', ways: ['c1', 'c2'], on: true });
  const after = (...events: JobEvent[]): readonly string[] | undefined => deriveJob([...start(), on, ...events], at).state.on;
  expect(after()).toEqual(['c1', 'c2']);
  expect(after(ev({ type: 'switchesOn', ways: ['c1'], on: false }))).toEqual(['c2']);
  expect(after(ev({ type: 'energised' }))).toEqual([]);
  expect(after(ev({ type: 'struck', target: on.id, why: 'it never was' }))).toBeUndefined();
  const read = parseJobFile(writeJobFile(file([...start(), on])));
  expect(read.ok && deriveJob(read.value.events, at).state.on).toEqual(['c1', 'c2']);
});
