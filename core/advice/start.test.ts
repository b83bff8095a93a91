import { questions } from '../asking';
import { circuitsOf, draftCircuit, editMap, pointOfPlace } from '../installation';
import type { Complaint } from '../job';
import { seededRandom } from '../numeric';
import { Play } from '../simulation';
import { outcomeMeaning } from '../wording';
import { Advisor } from '.';

const complaints: readonly (Complaint | null)[] = ['rcd trips', 'mcb trips', 'dead', 'shock', 'flicker or heat', 'inspection', null];

describe.each(['4 ways', '12 ways, RCBOs on 1 to 12, TN-C-S', 'radial, 5'])('%s, nothing read', (phrase) => {
  test.each(complaints)('“%s”: there is always a first thing to do', (complaint) => {
    const drafted = draftCircuit(phrase);
    if (!drafted.ok) throw new Error('draft');
    const play = new Play({ id: 'start', name: 'Start', agreedMin: 90, seed: 2, phrase, map: drafted.value, faults: [], cantReach: [], asked: { complaint: complaint ?? 'inspection', shock: false, notes: '', wet: false, works: false } }, 1e12);
    if (complaint === null) play.record({ type: 'asked', complaint, shock: false, notes: '' });
    const random = seededRandom(phrase.length);
    const nothing = questions.map((q) => ({ type: 'answered', question: q.id, answer: null }) as const);
    const something = questions.map((q) => ({ type: 'answered', question: q.id, answer: random.pick(q.answers).id }) as const);
    const poorJoint = [['smell', 'none'], ['since', 'worse'], ['moves', 'moved']].map(([question = '', answer = '']) => ({ type: 'answered', question, answer }) as const);
    for (const told of [nothing, poorJoint, something]) {
      play.record(...told);
      const advice = new Advisor().advise(play.view);
      expect(advice?.steps.length || advice?.liveSteps.length || (advice?.verdict.says === 'drawNext' ? 1 : 0)).toBeGreaterThan(0);
    }
  });
});

test('once the power is back on, the dead readings that are left are still offered, to be made dead for first', () => {
  const drafted = draftCircuit('6 ways, RCD on 1 to 6');
  if (!drafted.ok) throw new Error('draft');
  const play = new Play({ id: 'again', name: 'Again', agreedMin: 90, seed: 2, phrase: '6 ways', map: drafted.value, faults: [], cantReach: [], asked: { complaint: 'inspection', shock: false, notes: '', wet: false, works: false } }, 1e12);
  play.makeDead();
  for (const way of [1, 2]) play.read({ fn: 'insulation', from: [`p0:W${way}`], to: ['p0:E'] });
  const before = new Advisor().advise(play.view);
  play.record({ type: 'coverOn', point: 'p0' }, { type: 'lapsed', why: 'lock off' });
  const after = new Advisor().advise(play.view);
  expect(before?.steps.length).toBeGreaterThan(0);
  expect(after?.steps.length).toBeGreaterThan(0);
  expect(after?.steps[0]?.needs.map((n) => n.need)).toEqual(expect.arrayContaining(['secured', 'opened']));
});

test('what the volts from neutral to earth showed at one outlet the next says again: they are not read from outlet to outlet', () => {
  const board = draftCircuit('6 ways, RCD on 1 to 6');
  const drawn = board.ok ? editMap(board.value, { edit: 'drawCircuit', way: 'w3', phrase: 'ring, 6' }) : board;
  if (!drawn.ok) throw new Error('draft');
  const play = new Play({ id: 'volts', name: 'Volts', agreedMin: 90, seed: 2, phrase: '6 ways', map: drawn.value, faults: [], cantReach: [], asked: { complaint: 'rcd trips', shock: false, notes: '', wet: false, works: false } }, 1e12);
  const outlets = drawn.value.points.filter((p) => p.faces.length > 0).map((p) => p.id);
  expect(outlets.length).toBeGreaterThan(4);
  const [first = ''] = outlets;
  play.makeLive({ do: 'voltage', from: `${first}/f1:N`, to: `${first}/f1:E` });
  const again = new Advisor().advise(play.view)?.liveSteps.filter((s) => s.step.do === 'voltage' && s.step.from.endsWith(':N')) ?? [];
  for (const s of again) expect(s.bits).toBeLessThan(0.1);
});

test('what a result with the supply on would point to is told with how many more it could be: a device that holds clears nothing alone', () => {
  const board = draftCircuit('8 ways, RCD on 1 to 4, RCD on 5 to 8, TN-C-S');
  if (!board.ok) throw new Error('draft');
  const play = new Play({ id: 'rows', name: 'Rows', agreedMin: 90, seed: 2, phrase: '8 ways', map: board.value, faults: [], cantReach: [], asked: { complaint: 'rcd trips', shock: false, notes: '', wet: false, works: false } }, 1e12);
  play.record({ type: 'answered', question: 'went', answer: 'G2' }, { type: 'answered', question: 'tripsWhen', answer: 'moreLoad' });
  const steps = new Advisor().advise(play.view)?.liveSteps.filter((s) => s.step.do === 'close') ?? [];
  expect(steps.length).toBeGreaterThan(0);
  for (const { test: t, count, places, of } of steps.flatMap((s) => s.outcomes)) {
    if (t.kind !== 'closed' || of) continue;
    // Nothing read yet: whatever happens, many things may be the cause.
    expect(count).toBeGreaterThan(2);
    expect(outcomeMeaning(board.value, { count, places, suspects: [] }, new Map())).toMatch(/ or \d+ others|one of|, /);
  }
});

test('for continuity along one circuit nothing is unplugged on another: its readings are the same with it in', () => {
  const board = draftCircuit('6 ways, RCBOs on 1 to 6, TN-C-S');
  const drawn = board.ok ? editMap(board.value, { edit: 'drawCircuit', way: 'w4', phrase: 'radial, 5' }) : board;
  if (!drawn.ok) throw new Error('draft');
  const circuits = circuitsOf(drawn.value);
  const play = new Play({ id: 'idle', name: 'Idle', agreedMin: 90, seed: 5, phrase: '', map: drawn.value, faults: [], cantReach: [], asked: { complaint: 'dead', shock: false, notes: '', wet: false, works: false } }, 1e12);
  const steps = new Advisor().advise(play.view)?.steps ?? [];
  expect(steps.length).toBeGreaterThan(0);
  for (const { actions, probes } of steps) {
    if (!probes.some((p) => p.fn === 'continuity')) continue;
    const read = new Set(probes.flatMap((p) => [...p.from, ...p.to]).map((k) => circuits.get(pointOfPlace(drawn.value, k))));
    for (const a of actions) if (a.do === 'unplug' || a.do === 'plugIn') expect([a, read.has(circuits.get(a.point))]).toEqual([a, true]);
  }
});

test.each([['radial, 5', 'rcd trips', ['LE', 'NE']], ['radial, 5', 'mcb trips', ['LN', 'LE']], ['lights, 4, one switch', 'rcd trips', ['LE', 'NE']], ['ring, 6', 'rcd trips', ['LE', 'NE']]] as const)('a drawn way (%s, %s) that its device gives up at once is first read with every cover on: which pair, before anything is taken apart', (phrase, complaint, pairs) => {
  const board = draftCircuit('5 ways, RCBOs on 1 to 5');
  const drawn = board.ok ? editMap(board.value, { edit: 'drawCircuit', way: 'w2', phrase }) : board;
  if (!drawn.ok) throw new Error('draft');
  const play = new Play({ id: 'first', name: 'First', agreedMin: 90, seed: 2, phrase: '5 ways', map: drawn.value, faults: [], cantReach: [], asked: { complaint, shock: false, notes: '', wet: false, works: false } }, 1e12);
  play.record({ type: 'answered', question: 'unplugged', answer: 'still' }, { type: 'liveRead', test: { kind: 'closed', device: 'w2', result: 'trips at once', tripped: 'w2' } });
  play.makeDead(false);
  const [step] = new Advisor().advise(play.view)?.steps ?? [];
  for (const a of step?.actions ?? []) expect(['unplug', 'plugIn', 'switch', 'switchesOn']).toContain(a.do);
  const roles = [...(step?.probes[0]?.from ?? []), ...(step?.probes[0]?.to ?? [])].map((k) => (/[:.]?([LNEW])\d*$/.exec(k)?.[1] ?? '').replace('W', 'L')).sort();
  expect(pairs.map((p) => [...p].sort().join())).toContain(roles.join());
});

test.each([[0.02e6, 'continuity'], [0, 'continuity'], [0.4e6, null]] as const)('what the insulation range shows as next to nothing (%f Ω) is read in ohms at the same place before anything is taken apart: it may be a dead short', (ohm, next) => {
  const board = draftCircuit('5 ways, RCBOs on 1 to 5');
  const drawn = board.ok ? editMap(board.value, { edit: 'drawCircuit', way: 'w2', phrase: 'radial, 5' }) : board;
  if (!drawn.ok) throw new Error('draft');
  const play = new Play({ id: 'low', name: 'Low', agreedMin: 90, seed: 2, phrase: '5 ways', map: drawn.value, faults: [], cantReach: [], asked: { complaint: 'rcd trips', shock: false, notes: '', wet: false, works: false } }, 1e12);
  const told = { went: 'w2', tripsWhen: 'odd', withIt: 'alone', unplugged: 'still', since: 'suddenly', weather: 'wet' };
  play.record(...Object.entries(told).map(([question, answer]) => ({ type: 'answered', question, answer }) as const), { type: 'liveRead', test: { kind: 'closed', device: 'w2', result: 'trips at once', tripped: 'w2' } });
  play.makeDead(false);
  const read = (to: string, displayed: { ohm: number } | { above: number }): void => play.record({ type: 'read', probe: { fn: 'insulation', from: [to], to: ['p0:E'] }, displayed, unit: 'MΩ', conditions: ['dry'], testVolt: 500, unsteady: false, climbing: false, beforeProof: false, retest: null });
  read('p0:W2', { above: 999e6 });
  read('p0:N2', { ohm });
  const [step] = new Advisor().advise(play.view)?.steps ?? [];
  if (next) expect(step).toMatchObject({ actions: [], probes: [{ fn: next, from: ['p0:N2'], to: ['p0:E'] }] });
  else expect(step?.probes[0]).not.toMatchObject({ fn: 'continuity', from: ['p0:N2'], to: ['p0:E'] });
});
