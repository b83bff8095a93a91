import { draftCircuit } from '../installation';
import { deriveJob, type EventBody, type JobEvent, type JobView } from '../job';
import { standingOf } from '.';

const at = Date.UTC(2026, 2, 3, 8, 0);
const drafted = draftCircuit('radial, 4');
if (!drafted.ok) throw new Error('draft');
const job = (...bodies: EventBody[]): JobView =>
  deriveJob([{ type: 'created', name: 'x', agreedMin: 45 } as EventBody, ...bodies].map((b, i) => ({ ...b, id: `e${i}`, at: at + i * 60000 }) as JobEvent), at + 3600000);
const map: EventBody = { type: 'drafted', phrase: 'radial, 4', map: drafted.value };
const asked: EventBody = { type: 'asked', complaint: 'dead', shock: false, notes: 'since the shelves', wet: false, works: false };
const secured: EventBody = { type: 'secured', permission: true, off: true, locked: true, key: 'with me' };
const read: EventBody = { type: 'read', probe: { fn: 'continuity', from: ['s1@a:N'], to: ['p4:N'] }, displayed: { above: 1e5 }, unit: 'Ω', conditions: [], testVolt: null, unsteady: false, climbing: false, beforeProof: false, retest: null };
const mended: EventBody = { type: 'mended', suspect: 'loose s4@b:N', place: 'p4', how: 'repaired', text: '', explains: 'yes' };

test('the list says what is wrong in the customer’s words, and it opens where the job goes on', () => {
  expect(standingOf(job(map, asked))).toMatchObject({ wrong: 'All or part is dead: since the shelves', stage: 'dead' });
  expect(standingOf(job())).toMatchObject({ wrong: 'Nothing asked yet', stage: 'map' });
  expect(standingOf(job(map, asked, secured)).stage).toBe('trace');
});

test('one reading is singular, and what was left has to be made dead again first', () => {
  expect(standingOf(job(map, asked, secured, read)).stands).toBe('1 reading. Next: read on');
  expect(standingOf(job(map, asked, secured, read, read)).stands).toBe('2 readings. Next: read on');
  expect(standingOf(job(map, asked, secured, read, { type: 'lapsed', why: 'left' }))).toMatchObject({ stage: 'dead' });
});

test('after a repair it says what was found and that tests prove it; closed is closed', () => {
  const s = standingOf(job(map, asked, secured, read, mended));
  expect(s.stands).toMatch(/^N end loose in .*: mended\. Next: \d+ tests? to prove it$/);
  expect(s.stage).toBe('right');
  expect(standingOf(job(map, asked, { type: 'closed', state: 'closed' }))).toMatchObject({ stands: 'Closed', stage: 'over' });
});

test('a job left with nothing found says so until somebody reads on', () => {
  const left: EventBody = { type: 'leftIt', fine: 0.9 };
  expect(standingOf(job(map, asked, secured, read, left))).toMatchObject({ stands: 'Nothing found that explains it, and left. Next: power on, and close the job', stage: 'right' });
  expect(standingOf(job(map, asked, secured, read, left, read)).stands).toBe('2 readings. Next: read on');
});
