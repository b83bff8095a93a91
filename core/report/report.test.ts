import Papa from 'papaparse';
import { draftCircuit } from '../installation';
import { draft, drawn, platesRead } from '../installation/fixtures/drafted';
import { deriveJob, type JobEvent, type JobView } from '../job';
import { standingOf } from '../wording';
import { describeReport, disclaimer, readingsCsv, reportHtml, reportPdf } from '.';

const at = Date.UTC(2026, 4, 4, 9, 0);
const drafted = draftCircuit('radial, 3');
if (!drafted.ok) throw new Error('draft');
const map = drafted.value;

function job(...more: object[]): JobView {
  const events = [{ type: 'created', name: 'Clay <shed> & "kiln"', agreedMin: 45 }, { type: 'drafted', phrase: 'radial, 3', map }, ...more];
  return deriveJob(events.map((e, i) => ({ id: `e${i}`, at: at + i * 60000, ...e }) as JobEvent), at + 3600000);
}
const reading = (more: object = {}): object => ({
  type: 'read', probe: { fn: 'insulation', from: ['p1/f1:L'], to: ['p1/f1:E'] }, displayed: { ohm: 230e3 }, unit: 'MΩ', conditions: ['damp'], testVolt: 500, unsteady: false, climbing: false, beforeProof: false, retest: null, ...more,
});
const mended = { type: 'mended', suspect: 'contact p1:LE', place: 'p1', how: 'repaired', text: 'new insert', explains: 'yes' };
const report = (view: JobView) => describeReport(view, at + 3600000);

test('with nothing mended nothing is claimed', () => {
  const r = report(job());
  expect(r.proof).toBe('Nothing was mended, so nothing is proved.');
  expect(r.customer[0]).toBe('No fault has been named yet.');
});

test('a job that was left with nothing found says so, how surely in the record, and no longer once more is read', () => {
  const asked = { type: 'asked', complaint: 'rcd trips', shock: false, notes: '' };
  const left = { type: 'leftIt', fine: 0.88 };
  const r = report(job(asked, reading(), left));
  expect(r.customer[0]).toMatch(/^Nothing was found here that explains it. That is likely so, but not proved/);
  expect(r.limitations).toContain('Left with nothing found, after 1 reading and 0 tests with the supply on: a chance of 12 % is left that a fault here causes it.');
  expect(r.proof).toBe('Nothing was mended, so nothing is proved.');
  expect(report(job({ ...asked, complaint: 'inspection' }, reading(), left)).customer[0]).toBe('Nothing wrong was found. What was not tested is not proved.');
  for (const more of [reading(), mended]) {
    const later = report(job(asked, reading(), left, more));
    expect([...later.customer, ...later.limitations].join(' ')).not.toMatch(/[Nn]othing was found|with nothing found/);
  }
  // What was mended before stays found.
  const after = report(job(asked, mended, reading(), left));
  expect(after.limitations.join(' ')).toContain('Left with nothing more found');
  expect(after.customer.join(' ')).not.toContain('Nothing was found');
});

test('nothing is "not found" that a figure of a device showed: 16.5 mA of leakage behind 30 mA is said to everybody, and may be what trips it', () => {
  const board = draftCircuit('5 ways, RCD on 1 to 5');
  if (!board.ok) throw new Error('draft');
  const asked = { type: 'asked', complaint: 'rcd trips', shock: false, notes: '' };
  const clamp = (mA: number): object => ({ type: 'liveRead', test: { kind: 'clamp', around: 'G1', mA, filtered: true, peak: false } });
  const told = (...more: object[]) => {
    const events = [{ type: 'created', name: '', agreedMin: 45 }, { type: 'drafted', phrase: '5 ways', map: board.value }, ...more, { type: 'leftIt', fine: 0.88 }];
    const view = deriveJob(events.map((e, i) => ({ id: `e${i}`, at, ...e }) as JobEvent), at);
    const r = report(view);
    return { customer: r.customer.join(' '), nothing: r.nothing, record: r.limitations.join(' '), list: standingOf(view).stands };
  };
  const leaks = told(asked, clamp(16.5));
  expect(leaks.record).toContain('RCD 1: 17 mA of standing leakage; 9.0 mA is what one device should carry. Clamp each of its ways: which has most?');
  expect(leaks.nothing).toBe('No fault found: leakage may explain it.');
  expect(leaks.list).toContain('leakage may explain it');
  expect(leaks.customer).toMatch(/No fault was found\..*more than one safety switch should carry/);
  expect(leaks.customer).not.toMatch(/Nothing was found/);
  const fine = told(asked, clamp(4));
  expect(fine.record).not.toContain('standing leakage');
  expect(fine.nothing).toBe('Nothing found that explains it.');
  // It trips nothing where something is dead; found it is all the same.
  const dead = told({ ...asked, complaint: 'dead' }, clamp(16.5));
  expect(dead.record).toContain('17 mA of standing leakage');
  expect(dead.nothing).toBe('Nothing found that explains it.');
  // Slow at its rating: no safety, whatever else was found.
  expect(told(asked, { type: 'liveRead', test: { kind: 'times', device: 'G1', multiple: 1, ms: 420 } }).record).toContain('RCD 1: Slower than the limit.');
});

test('what is left with nothing found says where earth was not tested: a broken earth shows in no insulation', () => {
  const left = { type: 'leftIt', fine: 0.88 };
  const earth = (from: string, to: string, displayed: object): object => reading({ probe: { fn: 'continuity', from: [from], to: [to] }, displayed, unit: 'Ω', testVolt: null });
  const said = (...more: object[]): string => report(job(...more, left)).limitations.find((l) => l.startsWith('Earth')) ?? '';
  expect(said(reading())).toBe('Earth was not tested at any point of this circuit.');
  expect(said(earth('p0:E', 'p1/f1:E', { ohm: 0.1 }))).toMatch(/^Earth was not tested at Outlet 2 and Outlet 3\.$/);
  // No path is no earth, and so is what was struck out.
  expect(said(earth('p0:E', 'p1/f1:E', { above: 1e5 }))).toBe('Earth was not tested at any point of this circuit.');
  expect(said(...[1, 2, 3].map((n) => earth('p0:E', `p${n}/f1:E`, { ohm: 0.1 * n })))).toBe('');
  expect(said(...[1, 2].map((n) => earth('p0:E', `p${n}/f1:E`, { ohm: 0.1 * n })), { type: 'liveRead', test: { kind: 'loop', from: 'p3:L', to: 'p3:E', ohm: 0.8, noTrip: false } })).toBe('');
  // Two that are earthed to each other may both have lost the board; once one of them has it both have, in whatever order it was read.
  const between = earth('p1/f1:E', 'p2/f1:E', { ohm: 0.1 });
  expect(said(between)).toBe('Earth was not tested at any point of this circuit.');
  expect(said(between, earth('p0:E', 'p2/f1:E', { ohm: 0.2 }))).toMatch(/^Earth was not tested at Outlet 3\.$/);
  // A board says it way by way.
  const board = draftCircuit('3 ways');
  if (!board.ok) throw new Error('draft');
  const view = deriveJob([{ type: 'created', name: '', agreedMin: 45 }, { type: 'drafted', phrase: '3 ways', map: board.value }, earth('p0:E', 'c2:E', { ohm: 0.3 }), left].map((e, i) => ({ id: `e${i}`, at, ...e }) as JobEvent), at);
  expect(report(view).limitations.at(-1)).toBe('Earth was not tested at Way 1 and Way 3.');
});

test('a repair with open retests is “not proved”, for the customer in plain words', () => {
  const r = report(job(reading(), mended));
  expect(r.proof).toMatch(/^Not proved: \d+ of \d+ retests are open/);
  expect(r.customer.join(' ')).toContain('Some of the tests that prove it are still to be done.');
  expect(r.found[0]).toMatchObject({ done: 'repaired: new insert', explains: 'explains the complaint' });
});

test('what does not explain the complaint is called incidental', () => {
  expect(report(job({ ...mended, explains: 'no' })).found[0]?.explains).toBe('does not explain the complaint: an incidental defect');
});

test('an answer of another version is no internal name in the report', () => {
  const asked = { type: 'asked', complaint: 'rcd trips', shock: false, notes: '' };
  const r = report(job(asked, { type: 'answered', question: 'unplugged', answer: 'someNewWord' }));
  expect(r.asked.join(' ')).toContain('not known here');
  expect(r.asked.join(' ')).not.toContain('someNewWord');
});

test('the customer reads no share, no id and no terminal', () => {
  const text = report(job(reading(), mended)).customer.join(' ');
  expect(text).not.toMatch(/%|p\d:|s\d@|undefined/);
});

test('a reading is told with its function, volts, unit, conditions and state', () => {
  const [line] = report(job({ type: 'tookOut', point: 'p0', ends: ['s1@a:N'] }, reading())).readings;
  expect(line).toMatchObject({ number: 1, function: 'insulation, 500 V', value: '0.23 MΩ', conditions: 'damp' });
  expect(line?.state).toMatch(/^out: .*Board/);
});

test('what was struck out stays in the record with its reason', () => {
  const view = job(reading({ id: 'wrong' }), { type: 'struck', target: 'wrong', why: 'leads swapped' });
  expect(report(view).readings[0]?.remark).toBe('struck out: leads swapped');
});

test('a reading taken before proof is marked where it stands and listed as a limitation', () => {
  const r = report(job(reading({ beforeProof: true, unsteady: true, climbing: true })));
  expect(r.readings[0]?.remark).toBe('unsteady; climbing; taken before proof');
  expect(r.limitations).toContain('Reading 1 was taken before proof of dead.');
  expect(r.limitations.filter((l) => l.includes('before proof'))).toHaveLength(1);
});

test('what could not be reached, guessed lengths and an unconfirmed order are limitations', () => {
  const { limitations } = report(job({ type: 'cantReach', point: 'p2', can: false }));
  expect(limitations.some((l) => l.startsWith('Outlet 2 could not be reached'))).toBe(true);
  expect(limitations).toEqual(expect.arrayContaining(['Cable lengths are partly guessed; distances along a cable hang on them.', 'The order of the points is not confirmed.']));
  const known = { ...map, orderKnown: true, sections: map.sections.map((s) => ({ ...s, lengthKnown: true })) };
  const events = [{ type: 'drafted', phrase: '', map: known, id: 'a', at }] as JobEvent[];
  expect(report(deriveJob(events, at)).limitations).toEqual([]);
});

test('a live test is told with what was off and unplugged then, by the names that stand on the board', () => {
  const board = draft('5 ways, RCD on 1 to 3');
  const off = (...parts: string[]): object[] => parts.map((part) => ({ type: 'switched', part: `p0.${part}`, off: true }));
  const state = (...more: object[]): string | undefined => {
    const events = [{ type: 'drafted', phrase: '', map: board }, ...more, { type: 'liveRead', test: { kind: 'trip', device: 'G1', result: 'atOnce' } }].map((e, i) => ({ ...e, id: `e${i}`, at: at + i })) as JobEvent[];
    return report(deriveJob(events, at + 99)).live.at(-1)?.state;
  };
  expect(state()).toBe('all on');
  expect(state(...off('w1', 'w3'))).toBe('off: Way 1, Way 3');
  expect(state(...off('w1', 'w3'), { type: 'loadsMoved', parts: ['c2.loads'], out: true })).toBe('off: Way 1, Way 3; out: loads at Way 2');
  expect(state(...off('G1L', 'G1N'))).toBe('off: RCD 1');
  expect(state(...off('w1', 'w2', 'w3', 'w4'))).toBe('on: Way 5, RCD 1, Main switch');
});

test('what was left apart, and how it is safe, is told', () => {
  const r = report(job({ type: 'tookOut', point: 'p3', ends: ['s3@b:L'] }, { type: 'leftSafe', item: 'ends p3', why: 'in a connector' }));
  expect(r.leftAs.join('; ')).toContain('ends: Outlet 3');
  expect(r.leftAs).toContain('left safe: ends at Outlet 3 (in a connector)');
});

test('every proof of dead is in the record, also one that has lapsed since', () => {
  const checks = [{ from: 'L', to: 'N', volt: 0, bleep: false }, { from: 'L', to: 'E', volt: 0, bleep: false }];
  const r = report(job({ type: 'secured', permission: true, off: true, locked: true, key: 'with me' }, { type: 'proved', point: 'p0', checks, earthPlace: 'rod' }, { type: 'leftPoint', point: 'p0' }));
  expect(r.safety.some((l) => l.startsWith('Board proved dead') && l.endsWith('2 checks, also to rod.'))).toBe(true);
});

test('dangers and observations reach the customer; limitations of the test do not', () => {
  const { customer, notes } = report(job({ type: 'noted', text: 'no bond at the inlet', severity: 'danger' }, { type: 'noted', text: 'cracked plate', severity: 'observation' }, { type: 'noted', text: 'loft not entered', severity: 'limitation' }));
  expect(customer).toEqual(expect.arrayContaining(['Danger noted: no bond at the inlet', 'Seen: cracked plate']));
  expect(customer.join()).not.toContain('loft');
  expect(notes).toHaveLength(3);
});

test('the CSV is read back field by field, commas, quotes and line breaks included', () => {
  const view = job(reading({ id: 'r', conditions: ['dry', 'warm'] }), { type: 'struck', target: 'r', why: 'read "0.23", not\n23' });
  const csv = readingsCsv(report(view));
  expect(csv.endsWith('\r\n')).toBe(true);
  const { data, errors } = Papa.parse<Record<string, string>>(csv.trim(), { header: true });
  expect(errors).toEqual([]);
  expect(data).toHaveLength(1);
  expect(data[0]).toMatchObject({ number: '1', reading: '0.23 MΩ', conditions: 'dry, warm', remark: 'struck out: read "0.23", not\n23' });
});

test('a spreadsheet takes the CSV for what it is: UTF-8, and nothing in it for a formula', () => {
  const csv = readingsCsv(report(job(reading({ id: 'r' }), { type: 'struck', target: 'r', why: 'x' }, { type: 'mapEdited', edit: { edit: 'renamePoint', point: 'p1', name: '=HYPERLINK("a")' } })));
  expect(csv.startsWith('\uFEFFnumber,')).toBe(true);
  const cells = Papa.parse<string[]>(csv.slice(1).trim()).data.flat();
  expect(cells.filter((x) => /^[=+\-@\t\r]/.test(x))).toEqual([]);
});

test('the HTML page escapes what people typed, and says that it is no certificate', () => {
  const html = reportHtml(report(job(reading(), mended)));
  expect(html).toContain('Clay &lt;shed&gt; &amp; &quot;kiln&quot;');
  expect(html).not.toContain('<shed>');
  expect(html).toContain(disclaimer);
  expect(html).not.toMatch(/https?:|undefined|NaN/);
});

test('the PDF holds every reading, every retest and the disclaimer on each page', () => {
  const r = report(job(reading(), mended, reading({ displayed: { above: 999e6 } })));
  const definition = reportPdf(r);
  const text = JSON.stringify(definition);
  for (const line of [...r.readings.map((x) => x.value), ...r.retests.map((t) => t.what), r.proof]) expect(text).toContain(JSON.stringify(line).slice(1, -1));
  const footer = (definition.footer as (page: number, pages: number) => { text: string })(2, 3);
  expect(footer.text).toContain('page 2 of 3');
  expect(footer.text).toContain(disclaimer);
});

test('the PDF shows each photo with what it shows; one that it cannot show is said to be missing', () => {
  const r = report(job({ type: 'photo', photo: 'one', note: 'scorched terminal', gone: false }, { type: 'photo', photo: 'two', note: 'behind the sink', gone: false }, { type: 'photo', photo: 'three', note: 'taken out', gone: true }));
  const text = JSON.stringify(reportPdf(r, { one: 'data:image/jpeg;base64,AAAA', three: 'data:image/jpeg;base64,BBBB' }).content);
  expect(text).toContain('"image":"data:image/jpeg;base64,AAAA"');
  expect(text).toContain('scorched terminal');
  expect(text).toMatch(/behind the sink: the picture is not on this device/);
  expect(text).not.toContain('BBBB');
  expect(JSON.stringify(reportPdf(report(job())).content)).not.toContain('Photos');
});

test('no internal name reaches the report: loads, ends and links go by the names on the map', () => {
  const r = report(job({ type: 'loadsMoved', parts: ['p2.plug'], out: true }, { type: 'tookOut', point: 'p3', ends: ['s3@b:L'] }, reading(), { type: 'leftSafe', item: 'link p2:L=p2:E', why: 'taped' }));
  const text = JSON.stringify([r.customer, r.leftAs, r.readings, r.safety, r.limitations, r.asked]);
  expect(text).not.toMatch(/\b[ps]\d+[.@:]|\bNG\d|"W\d/);
});

test('what may hurt, and what was left safe, is first on the customer’s page', () => {
  const { customer } = report(job(mended, { type: 'leftSafe', item: 'ends p3', why: 'in a connector' }, { type: 'noted', text: 'no bond at the inlet', severity: 'danger' }));
  expect(customer[0]).toBe('Danger noted: no bond at the inlet');
  expect(customer[1]).toContain('Left safe, not in use: ends at Outlet 3');
});

test('the complaint, what was told and what was drawn are in the report', () => {
  const r = report(job({ type: 'asked', complaint: 'rcd trips', shock: false, notes: 'only when it rains', wet: false, works: false }, { type: 'answered', question: 'tripsWhen', answer: 'wet' }));
  expect(r.asked.join(' ')).toMatch(/Complaint: RCD trips\. In words: only when it rains/);
  expect(r.asked.some((l) => l.startsWith('Drawn: '))).toBe(true);
  expect(r.asked.some((l) => l.startsWith('Not drawn'))).toBe(false);
});

test('a way that nobody has drawn is not among what was drawn', () => {
  const { asked } = describeReport(deriveJob([{ type: 'created', name: 'x', agreedMin: 45, id: '1', at: 1 }, { type: 'drafted', phrase: '3 ways, RCD on 1 to 3', map: drawn(draft('3 ways, RCD on 1 to 3'), 'w2', 'radial, 2'), id: '2', at: 2 }] as JobEvent[], 3), 3);
  expect(asked).toContain('Not drawn within: Way 1, Way 3.');
  expect(asked.find((l) => l.startsWith('Drawn'))).toMatch(/outlet 1.*outlet 2/);
  expect(asked.find((l) => l.startsWith('Drawn'))).not.toMatch(/Way 1|Way 3/);
});

test('what was unplugged for a reading is told with it, also where nobody had said what was in', () => {
  const r = report(job(reading(), { type: 'loadsMoved', parts: ['p1.plug'], out: true }, reading()));
  expect(r.readings[0]?.state).not.toContain('unplugged');
  expect(r.readings[1]?.state).toContain(`unplugged: ${map.points.find((p) => p.id === 'p1')?.name}`);
});

test('a retest with the supply on is told with what it may show at most', () => {
  const view = deriveJob([{ type: 'created', name: 'x', agreedMin: 45 }, { type: 'drafted', phrase: '4 ways', map: platesRead(drawn(draft('4 ways, RCBOs on 1 to 4'), 'w2', 'radial, 3')) }, { ...mended, suspect: 'contact c2:LE', place: 'c2' }].map((e, i) => ({ ...e, id: `e${i}`, at }) as JobEvent), at);
  const { retests } = report(view);
  expect(retests.find((x) => x.what.startsWith('RCD trip time'))?.expected).toBe('at most 300 ms');
  // 230 V over the 5 x 32 A at which the device surely opens.
  expect(retests.find((x) => x.what.startsWith('Loop impedance'))?.expected).toBe('at most 1.44 Ω');
  for (const x of retests) expect(x.expected).not.toBe('by hand');
});
