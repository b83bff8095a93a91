import { allEnds, draftCircuit, editMap, type Installation, type MapEdit } from '../installation';
import { seededRandom } from '../numeric';
import { deriveJob, parseJobFile, writeJobFile, type EventBody, type JobEvent, type JobFile, type JobView } from '.';

/** Laws of the log on random jobs: what is derived hangs on the events alone, and nothing that is kept is lost. */
const at = Date.UTC(2026, 4, 4, 9, 0);
const draft = (phrase: string): Installation => {
  const r = draftCircuit(phrase);
  if (!r.ok) throw new Error(phrase);
  return r.value;
};

function randomEvents(seed: number, count = 40): JobEvent[] {
  const random = seededRandom(seed);
  const map = draft(random.pick(['ring, 4, spur at 2', 'radial, 4', 'lights, 3, one switch']));
  const ends = allEnds(map).map((e) => e.key);
  const points = map.points.map((p) => p.id);
  const bodies: EventBody[] = [{ type: 'created', name: `Job ${seed}`, agreedMin: 45 }, { type: 'drafted', phrase: '', map }];
  const edits = (): MapEdit[] => [
    { edit: 'renamePoint', point: random.pick(points), name: `Place ${random.integer(1, 99)}` }, { edit: 'setLength', section: 's2', lengthM: random.uniform(1, 30), known: true },
    { edit: 'addBranch', point: random.pick(points), kind: 'outlet', name: 'Branch' }, { edit: 'orderKnown', known: true },
  ];
  for (let i = 0; i < count; i++) {
    const end = random.pick(ends);
    const point = random.pick(points);
    const reading: EventBody = {
      type: 'read', probe: { fn: 'continuity', from: [end], to: [random.pick(ends)] }, displayed: random.chance(0.3) ? { above: 1e5 } : { ohm: random.uniform(0, 5) }, unit: 'Ω', conditions: ['dry'], testVolt: null,
      unsteady: false, climbing: false, beforeProof: random.chance(0.2), retest: null,
    };
    bodies.push(random.pick<EventBody>([
      reading, reading, { type: 'opened', point }, { type: 'coverOn', point }, { type: 'tookOut', point, ends: [end] }, { type: 'putBack', point, ends: [end] },
      { type: 'secured', permission: true, off: true, locked: true, key: 'me' }, { type: 'proved', point, checks: [], earthPlace: 'rod' }, { type: 'leftPoint', point }, { type: 'cantReach', point, can: random.chance(0.5) },
      { type: 'linked', link: { id: 'k', a: `${point}:L`, b: `${point}:E` } }, { type: 'unlinked', link: 'k' }, { type: 'mapEdited', edit: random.pick(edits()) }, { type: 'clock', run: random.chance(0.5) },
      { type: 'mended', suspect: 'open s2:N', place: 's2', how: 'repaired', text: '', explains: 'not sure' }, { type: 'noted', text: 'seen', severity: 'observation' },
    ]));
  }
  return bodies.map((b, i) => ({ ...b, id: `e${i}`, at: at + i * 30000 }) as JobEvent);
}
const seeds = Array.from({ length: 40 }, (_, i) => i + 1);
const end = at + 3600000;
/** A view as plain data, maps and sets spread out, so that two can be compared. */
const plain = (v: JobView): unknown => ({ ...v, proofs: [...v.proofs], live: [...v.live] });

test('the same log gives the same view, however often it is asked', () => {
  for (const seed of seeds) {
    const events = randomEvents(seed);
    expect(plain(deriveJob(events, end))).toEqual(plain(deriveJob(structuredClone(events), end)));
  }
});

test('what was recorded first does not change when more is recorded: readings keep their state', () => {
  for (const seed of seeds) {
    const events = randomEvents(seed).filter((e) => e.type !== 'mapEdited');
    const half = deriveJob(events.slice(0, 25), end).readings;
    const whole = deriveJob(events, end).readings;
    expect(whole.slice(0, half.length).map((r) => r.state)).toEqual(half.map((r) => r.state));
  }
});

test('an event that never was leaves the same state as a log without it', () => {
  for (const seed of seeds) {
    const events = randomEvents(seed);
    const victim = events.find((e) => ['opened', 'tookOut', 'linked', 'coverOn', 'putBack'].includes(e.type));
    if (!victim) continue;
    const struck = deriveJob([...events, { id: 'x', at: end, type: 'struck', target: victim.id, why: 'it never was' }], end);
    const without = deriveJob(events.filter((e) => e !== victim), end);
    expect(struck.state).toEqual(without.state);
    expect(struck.readings.map((r) => r.state)).toEqual(without.readings.map((r) => r.state));
  }
});

test('what was taken out and put back is as it was; the state names nothing that the map does not have', () => {
  for (const seed of seeds) {
    const view = deriveJob(randomEvents(seed), end);
    const known = new Set(allEnds(view.map as Installation).map((e) => e.key));
    expect(view.state.out.every((k) => known.has(k))).toBe(true);
    const more = [...known].slice(0, 3);
    const events = randomEvents(seed);
    const out = [...events, { id: 'a', at: end, type: 'tookOut', point: 'p0', ends: more }, { id: 'b', at: end, type: 'putBack', point: 'p0', ends: more }] as JobEvent[];
    expect(new Set(deriveJob(out, end).state.out)).toEqual(new Set(view.state.out.filter((k) => !more.includes(k))));
  }
});

test('no reading is ever lost: as many are shown as were kept', () => {
  for (const seed of seeds) {
    const events = randomEvents(seed);
    expect(deriveJob(events, end).readings).toHaveLength(events.filter((e) => e.type === 'read').length);
  }
});

test('minutes never run backwards and never exceed the time that passed', () => {
  for (const seed of seeds) {
    const events = randomEvents(seed);
    let last = 0;
    for (let k = 2; k <= events.length; k++) {
      const { minutesUsed } = deriveJob(events.slice(0, k), at + k * 30000);
      expect(minutesUsed).toBeGreaterThanOrEqual(last - 1e-9);
      expect(minutesUsed).toBeLessThanOrEqual(k / 2 + 1e-9);
      last = minutesUsed;
    }
  }
});

test('nothing is dead by itself: without “secured” since the last lapse there is no proof', () => {
  for (const seed of seeds) {
    const events = [...randomEvents(seed), { id: 'z', at: end, type: 'lapsed', why: 'left' }] as JobEvent[];
    const view = deriveJob(events, end);
    expect([view.secured, view.proofs.size]).toEqual([null, 0]);
  }
});

test('a file is read back as it was written', () => {
  for (const seed of seeds) {
    const file: JobFile = { format: 'gutter-job', version: 1, id: `j${seed}`, events: randomEvents(seed) };
    const r = parseJobFile(writeJobFile(file));
    expect(r.ok && r.value).toEqual(file);
  }
});

test('a file cut off or spoilt anywhere is refused or read, but never throws and never gives NaN', () => {
  const text = writeJobFile({ format: 'gutter-job', version: 1, id: 'j', events: randomEvents(7, 12) });
  const random = seededRandom(5);
  let refused = 0;
  for (let i = 0; i < 400; i++) {
    const where = random.integer(1, text.length - 1);
    const spoilt = random.chance(0.5) ? text.slice(0, where) : text.slice(0, where) + random.pick(['0', '"', '}', '-', 'null', 'e9']) + text.slice(where + 1);
    const r = parseJobFile(spoilt);
    if (!r.ok) {
      refused++;
      expect(r.issues.length).toBeGreaterThan(0);
      expect(r.issues.every((x) => x.code.startsWith('file.') || x.code.startsWith('map.'))).toBe(true);
    } else expect(Number.isNaN(deriveJob(r.value.events, end).minutesUsed)).toBe(false);
  }
  expect(refused).toBeGreaterThan(200);
});

test('an edit that the map refuses is flagged, and the map stays', () => {
  const events = randomEvents(3, 0);
  const bad = { id: 'bad', at: end, type: 'mapEdited', edit: { edit: 'setLength', section: 's1', lengthM: 0, known: true } } as JobEvent;
  const view = deriveJob([...events, bad], end);
  expect(view.flags.map((f) => f.code)).toEqual(['flag.edit']);
  expect(view.map).toEqual(deriveJob(events, end).map);
  expect(editMap(view.map as Installation, (bad as Extract<JobEvent, { type: 'mapEdited' }>).edit).ok).toBe(false);
});

test('two events of one id are refused: one of them would be struck with the other', () => {
  const [first] = randomEvents(1, 0);
  const r = parseJobFile(JSON.stringify({ format: 'gutter-job', version: 1, id: 'j', events: [first, first] }));
  expect(r.ok ? '' : r.issues[0]?.code).toBe('file.sameEventId');
});
