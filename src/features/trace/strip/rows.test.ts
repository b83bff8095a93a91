import { Advisor } from '@core/advice';
import { draftCircuit } from '@core/installation';
import { deriveJob, type JobEvent } from '@core/job';
import { Play, potteryScenarios } from '@core/simulation';
import { describeStrip } from './rows';

const rowsOf = (phrase: string, more: object[] = []) => {
  const r = draftCircuit(phrase);
  if (!r.ok) throw new Error(phrase);
  const events = [{ type: 'drafted', phrase, map: r.value }, ...more].map((e, i) => ({ ...e, id: `e${i}`, at: 1 }) as JobEvent);
  return describeStrip(deriveJob(events, 2), null, null, []);
};

test('a ring begins and ends at the board, every point once', () => {
  const rows = rowsOf('ring, 6, spur at 2');
  expect(rows[0]?.name).toBe('Board, leg 1');
  expect(rows.at(-1)?.name).toBe('Board, leg 2');
  expect(rows.filter((r) => r.kind === 'point')).toHaveLength(7);
  expect(new Set(rows.map((r) => r.id)).size).toBe(rows.length);
});

test('a branch leaves its point one step in, and the trunk runs past it', () => {
  const rows = rowsOf('tree, 4, branch 2 at 2');
  const branch = rows.filter((r) => r.indent === 1);
  expect(branch).toHaveLength(4);
  expect(branch.every((r) => r.passing.includes(0))).toBe(true);
});

test('a split is drawn at the side that was parted; the board shows what is out', () => {
  const rows = rowsOf('radial, 3', [{ type: 'tookOut', point: 'p2', ends: ['s3@a:L', 's3@a:N', 's3@a:E'] }, { type: 'tookOut', point: 'p0', ends: ['s1@a:N'] }]);
  const at = (id: string) => rows.find((r) => r.id === id);
  expect(at('p2')?.splitFar).toEqual(['L', 'N', 'E']);
  expect(at('p2')?.splitNear).toEqual([]);
  expect(at('p0#1')?.splitFar).toEqual(['N']);
});

test('suspicion sits on the thing suspected, with its share from 10 % up', () => {
  const scenario = potteryScenarios()[1];
  if (!scenario) throw new Error('no scenario');
  const play = new Play(scenario, Date.now());
  play.makeDead();
  play.hunt(30);
  const rows = describeStrip(play.view, new Advisor().advise(play.view, false), null, []);
  const marked = rows.filter((r) => r.share !== null);
  expect(marked).toHaveLength(1);
  expect(marked[0]?.kind).toBe('section');
  expect(marked[0]?.marks[0]).toMatchObject({ kind: 'rung', lanes: ['L', 'E'] });
});

test('loop-in: the supply runs straight through the lights, each switch hangs sideways on its own two lines', () => {
  const rows = rowsOf('lights, 3, loop-in');
  expect(rows.filter((r) => r.kind === 'point' && r.indent === 0).map((r) => r.name).slice(0, 3)).toEqual(['Light 1', 'Light 2', 'Light 3']);
  expect(rows.find((r) => r.name === 'Switch 2')).toMatchObject({ indent: 1, lanes: ['L', 'SL', 'E'] });
});

test('between two-way switches run the strappers, after them the line goes on in its own lane', () => {
  const rows = rowsOf('lights, 2, two-way switch');
  const cables = rows.filter((r) => r.kind === 'section').map((r) => r.lanes.join(' '));
  expect(cables).toEqual(['L N E', 'T1 T2 N E', 'L N E', 'L N E']);
  const moved = rowsOf('lights, 2, two-way switch', [{ type: 'switched', part: 'p1.sw', off: true }]);
  expect([rows, moved].map((r) => r.find((x) => x.name === 'Switch 1')?.note)).toEqual(['on T1', 'on T2']);
});

test('a lead drawn at the way of a board wears the letter of its conductor, not the name of its terminal', () => {
  const r = draftCircuit('radial, 3');
  if (!r.ok) throw new Error('no radial');
  const events = [{ type: 'drafted', phrase: 'radial, 3', map: r.value, id: 'e0', at: 1 }] as unknown as JobEvent[];
  const [board] = describeStrip(deriveJob(events, 2), null, null, ['p0:W']);
  expect(board?.flag).toBe('L');
});
