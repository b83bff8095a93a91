import { Advisor } from '../advice';
import { deriveJob, parseJobFile, writeJobFile, type EventBody, type JobEvent, type JobFile } from '../job';
import { draft } from '../installation/fixtures/drafted';
import { seededRandom } from '../numeric';
import { profiles } from '../profiles';
import { describeReport, readingsCsv, reportHtml } from '../report';

// Files come from other versions, broken disks, editors and strangers. Whatever a file holds, it is opened or refused with a reason; nothing
// throws, nothing hangs, and no figure that is none is ever shown.

const at = Date.UTC(2026, 4, 4, 9, 0);
const dry = { unit: 'Ω', conditions: ['dry'], testVolt: null, unsteady: false, climbing: false, beforeProof: false, retest: null } as const;
const read = (fn: 'continuity' | 'insulation', from: string, to: string, ohm: number): EventBody => ({ type: 'read', probe: { fn, from: [from], to: [to] }, displayed: { ohm }, ...dry, testVolt: fn === 'insulation' ? 500 : null });
const secured: EventBody = { type: 'secured', permission: true, off: true, locked: true, key: 'me' };
const ending: readonly EventBody[] = [
  { type: 'seen', what: 'crushed', place: null, gone: false }, { type: 'photo', photo: 'a1', note: 'joint', gone: false }, { type: 'trip', when: at - 86400000, hour: 7, weather: 'wet', running: ['kettle'] },
  { type: 'noted', text: 'old board', severity: 'observation' }, { type: 'liveTest', test: 'rcd', result: '24 ms', because: null }, { type: 'clock', run: false }, { type: 'closed', state: 'closed' },
];

const jobOf = (id: string, bodies: readonly EventBody[]): JobFile => ({
  format: 'gutter-job', version: 1, id, events: [...bodies, ...ending].map((b, i) => ({ ...b, id: `e${i}`, at: at + i * 60000 }) as JobEvent),
});

const radial = jobOf('radial', [
  { type: 'created', name: 'Throwing room', agreedMin: 45 }, { type: 'clock', run: true }, { type: 'asked', complaint: 'rcd trips', shock: false, notes: '', wet: true, works: true }, { type: 'answered', question: 'since', answer: 'rain' },
  { type: 'drafted', phrase: 'radial, 2', map: draft('radial, 2') }, { type: 'mapEdited', edit: { edit: 'setLength', section: 's2', lengthM: 7, known: true } }, { type: 'mapEdited', edit: { edit: 'renamePoint', point: 'p1', name: 'Wheel' } },
  secured, { type: 'proved', point: 'p0', checks: [{ from: 'L', to: 'N', volt: 0, bleep: false }, { from: 'rod', to: 'E', volt: 0.4, bleep: false }], earthPlace: 'rod' }, { type: 'opened', point: 'p0' },
  { type: 'switched', part: 'p0.breaker', off: true }, { type: 'tookOut', point: 'p0', ends: ['s1@a:L', 's1@a:N'] }, { type: 'loadsMoved', parts: ['p1.plug'], out: true },
  { type: 'linked', link: { id: 'k', a: 's1@a:L', b: 's1@a:N' } }, { type: 'unlinked', link: 'k' },
  read('insulation', 's1@a:L', 's1@a:E', 42000), read('continuity', 's1@a:N', 'p1/f1:N', 0.2), { type: 'struck', target: 'e15', why: 'wrong range' },
  { type: 'mended', suspect: 'contact s2:LE', place: 's2', how: 'repaired', text: 'new joint', explains: 'yes' }, read('insulation', 's1@a:L', 's1@a:E', 2e8), { type: 'putBack', point: 'p0', ends: ['s1@a:L', 's1@a:N'] },
  { type: 'energised' }, { type: 'leftSafe', item: 'p2', why: 'no part' },
]);

const board = jobOf('board', [
  { type: 'created', name: 'Kiln room', agreedMin: 90 }, { type: 'early', way: 1, pair: 'LE', displayed: { ohm: 3e5 }, unit: 'MΩ' }, { type: 'asked', complaint: 'shock', shock: true, notes: 'tap', wet: false, works: true },
  { type: 'drafted', phrase: '2 ways, RCD on all', map: draft('2 ways, RCD on all') }, { type: 'mapEdited', edit: { edit: 'drawCircuit', way: 'w1', phrase: 'radial, 2' } }, { type: 'mapEdited', edit: { edit: 'setLabel', way: 'w2', label: 'Lights' } },
  { type: 'mapEdited', edit: { edit: 'setSupply', supply: { arrangement: 'TT', phases: 1, earthOhm: 60 } } },
  { type: 'liveRead', test: { kind: 'voltage', from: 'p0:N', to: 'ground', volt: 12, meter: 'low' } }, { type: 'liveRead', test: { kind: 'clamp', around: 'main', mA: 18, filtered: true, peak: false } },
  { type: 'liveRead', test: { kind: 'closed', device: 'w1', result: 'holds', tripped: null } }, { type: 'liveRead', test: { kind: 'ramp', device: 'G1', mA: 22, outgoing: 'out' } }, { type: 'liveRead', test: { kind: 'loop', from: 'p0:L', to: 'p0:E', ohm: 61, noTrip: true } },
  secured, { type: 'lapsed', why: 'left' }, secured, { type: 'switchesOn', ways: ['p2'], on: true }, read('insulation', 'p0:W1', 'p0:E', 9000), { type: 'longLead', have: false }, { type: 'cantReach', point: 'p3', can: false, why: 'locked' },
  { type: 'notNow', step: 'x' }, { type: 'feeds', way: 'w2', what: 'glaze store', asLabelled: false }, { type: 'leftIt', fine: 0.4 }, { type: 'reopened' },
]);

/** What a field may hold that nobody foresaw. */
const oddities: readonly unknown[] = [
  null, true, [], {}, '', ' ', 'x', '__proto__', 'constructor', '../..', 'p0:L', 's1', '1e999', 'Ω'.repeat(40), 'a'.repeat(100_000), '<img src=x onerror=alert(1)>', '=1+1', '\u0000', '\ud800',
  0, -0, -1, 0.5, 1e-300, 1e-12, 1e9, 1e15, 1e300, -1e300, 8.64e15, Number.MAX_SAFE_INTEGER,
];

type Random = ReturnType<typeof seededRandom>;
type Node = Record<string, unknown> | unknown[];

/** All places in a value that something may be put into. */
function slots(value: unknown, found: [Node, string | number][] = []): [Node, string | number][] {
  if (Array.isArray(value)) for (const [i, v] of value.entries()) { found.push([value, i]); slots(v, found); }
  else if (typeof value === 'object' && value !== null) for (const [k, v] of Object.entries(value)) { found.push([value as Node, k]); slots(v, found); }
  return found;
}

function mutated(file: JobFile, random: Random): string {
  const copy = structuredClone(file) as unknown as Record<string, unknown>;
  for (let n = random.integer(1, 3); n > 0; n--) {
    const all = slots(copy);
    // Figures are what is reckoned with: every other time it is one of them.
    const figures = all.filter(([at, k]) => typeof (at as Record<string | number, unknown>)[k] === 'number');
    const [node, key] = random.pick(figures.length && random.chance(0.5) ? figures : all);
    const [other, from] = random.pick(all);
    const old = (node as Record<string | number, unknown>)[key];
    const put = (v: unknown): void => { (node as Record<string | number, unknown>)[key] = v; };
    random.pick<() => void>([
      () => put(random.pick(oddities)), () => put(random.pick(oddities)), () => put(structuredClone((other as Record<string | number, unknown>)[from])),
      () => { if (typeof old === 'number') put(old * random.pick([-1, 1e-6, 1e6, 1e12])); else put(random.pick(oddities)); },
      () => { if (Array.isArray(node)) node.splice(Number(key), 1); else delete node[key]; },
      () => { if (Array.isArray(node)) node.splice(Number(key), 0, structuredClone(random.pick(node))); },
      () => { if (Array.isArray(node)) node.reverse(); },
      () => { if (typeof old === 'object' && old !== null && !Array.isArray(old)) (old as Record<string, unknown>).added = random.pick(oddities); },
    ])();
  }
  const text = JSON.stringify(copy);
  if (!random.chance(0.1)) return text;
  const cut = random.integer(0, text.length - 1);
  return random.pick([text.slice(0, cut), text.slice(0, cut) + random.pick(['\u0000', '"', '}', '9', 'é', '\\']) + text.slice(cut + 1), `${text}${text}`]);
}

/** Figures that are none, anywhere in what is shown. */
function noFigures(value: unknown, path = '', seen = new Set<unknown>()): string[] {
  if (typeof value === 'number') return Number.isNaN(value) ? [path] : [];
  if (typeof value === 'string') return /\bNaN\b|\bundefined\b|\[object/.test(value) ? [`${path}: ${value.slice(0, 80)}`] : [];
  if (typeof value !== 'object' || value === null || seen.has(value)) return [];
  seen.add(value);
  const entries = value instanceof Map ? [...value.entries()] : value instanceof Set ? [...value].map((v, i) => [i, v] as const) : Object.entries(value);
  return entries.flatMap(([k, v]) => noFigures(v, `${path}.${String(k)}`, seen));
}

const advisor = new Advisor();
/** The next step is sought in every so many of them: it costs most, and reckons with what the belief has. */
const STEPS_EVERY = 10;
/** So long no file takes on any machine, ms. */
const HANGS_MS = 60_000;

/** Opens a file as the app does, to the end. What it was: refused or opened; and what went wrong with it. */
function through(text: string, now: number, planned = true): { opened: boolean; wrong: string | null } {
  const started = Date.now();
  let opened = false;
  try {
    const parsed = parseJobFile(text);
    if (!parsed.ok) return { opened, wrong: parsed.issues.length ? null : 'refused without a reason' };
    opened = true;
    const view = deriveJob(parsed.value.events, now);
    const advice = advisor.advise(view, planned);
    const report = describeReport(view, now, profiles.gb);
    const bad = [...noFigures(view, 'view'), ...noFigures(advice, 'advice'), ...noFigures(report, 'report'), ...noFigures(reportHtml(report), 'html'), ...noFigures(readingsCsv(report), 'csv')];
    if (view.minutesUsed < 0) bad.push(`minutes ${view.minutesUsed}`);
    if (bad.length) return { opened, wrong: bad.slice(0, 3).join('; ') };
  } catch (error) {
    return { opened, wrong: error instanceof Error ? `${error.message} ${error.stack?.split('\n')[1]?.trim()}` : String(error) };
  }
  const took = Date.now() - started;
  return { opened, wrong: took > HANGS_MS ? `took ${took} ms` : null };
}

test.each([['radial', radial], ['board', board]] as const)('the %s job itself opens', (_, file) => {
  expect(through(writeJobFile(file), at + 86400000)).toEqual({ opened: true, wrong: null });
});

test('a byte-order mark is no fault', () => {
  expect(parseJobFile(`\uFEFF${writeJobFile(radial)}`).ok).toBe(true);
});

test.each([[-1], [1e-300], [1e300], [8.64e15], [1e15]])('no figure that a sum cannot take gets in: %d', (odd) => {
  for (const file of [radial, board]) {
    const all = slots(structuredClone(file));
    for (const [i, [node, key]] of all.entries()) {
      if (typeof (node as Record<string | number, unknown>)[key] !== 'number') continue;
      // The first instant of all is a time, and hardly any chance is one.
      if (odd === 1e-300 && ['at', 'when', 'fine'].includes(String(key))) continue;
      const copy = structuredClone(file);
      const [at0, key0] = slots(copy)[i] as [Record<string | number, unknown>, string | number];
      at0[key0] = odd;
      expect({ where: `${file.id} ${JSON.stringify(node).slice(0, 80)} ${key}`, opens: parseJobFile(JSON.stringify(copy)).ok }).toMatchObject({ opens: false });
    }
  }
});

test('1000 files of each job, changed at random, are opened or refused; none throws, hangs or shows what is no figure', () => {
  const wrong = new Map<string, number>();
  const count = { opened: 0, refused: 0 };
  for (const file of [radial, board])
    for (let seed = 1; seed <= 1000; seed++) {
      const r = through(mutated(file, seededRandom(seed)), at + 86400000, seed % STEPS_EVERY === 0);
      count[r.opened ? 'opened' : 'refused']++;
      if (r.wrong !== null) wrong.set(`${file.id} ${seed}: ${r.wrong}`, seed);
    }
  expect([...wrong.keys()].slice(0, 30)).toEqual([]);
  expect(Math.min(count.opened, count.refused)).toBeGreaterThan(200);
});
