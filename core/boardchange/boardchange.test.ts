import { endsAtPoint } from '../installation';
import type { Fault } from '../faults';
import { Play, potteryScenarios } from '../simulation';
import { Advisor } from '../advice';
import { boardChange, type BoardChange } from '.';

/** The shop's board with all neutrals out, loads in, and what is hidden in it. */
function played(faults: readonly Fault[]): Play {
  const scenario = potteryScenarios().find((s) => s.id === 'pottery-shop-sign');
  if (!scenario) throw new Error('scenario');
  const p = new Play({ ...scenario, faults }, 1e12);
  p.makeDead();
  const { map } = scenario;
  p.record({ type: 'loadsMoved', parts: p.view.state.loadsOut.slice(), out: false });
  p.record({ type: 'tookOut', point: 'p0', ends: endsAtPoint(map, 'p0').filter((e) => e.role === 'N').map((e) => e.key) });
  return p;
}
const now = (p: Play): BoardChange => {
  const c = boardChange(p.view, 30, 0.3);
  if (!c) throw new Error('no board');
  return c;
};
function readAll(p: Play): BoardChange {
  for (const r of now(p).rows) for (const c of [r.toEarth, r.toOthers]) if (c) p.read({ fn: 'insulation', from: [...c.probe.from], to: [...c.probe.to] });
  return now(p);
}
const findings = (c: BoardChange): string[] => c.rows.flatMap((r) => [r.toEarth, r.toOthers].flatMap((x, i) => (x?.finding && x.finding !== 'good' ? [`${r.way} ${i ? 'others' : 'earth'} ${x.finding}`] : [])));

test('a sound board: twelve readings, nothing that would trip', () => {
  const p = played([]);
  expect(now(p)).toMatchObject({ left: 12, found: 0, neutralsIn: [] });
  const c = readAll(p);
  expect(c.left).toBe(0);
  expect(findings(c)).toEqual([]);
});

test('a sign that returns by another circuit’s neutral shows on both ways, and belief names the two', () => {
  const p = played([{ kind: 'joined', terminals: ['c3:L', 'c2:N'], ohm: 180 }]);
  const c = readAll(p);
  expect(findings(c)).toEqual(['w2 others joined', 'w3 others joined']);
  const advice = new Advisor().advise(p.view, false);
  const between = (advice?.suspects ?? []).filter((s) => s.kind === 'borrowed').map((s) => s.id);
  expect(between.some((id) => id.includes('c2') && id.includes('c3'))).toBe(true);
});

test('a neutral on earth is found on its own way, and would trip', () => {
  expect(findings(readAll(played([{ kind: 'pointContact', point: 'c4', terminals: ['N', 'E'], ohm: 3 }])))).toEqual(['w4 earth trips']);
});

test.each([[1e4, 'trips'], [2e4, 'loads it'], [3e4, 'poor'], [0.99e6, 'poor'], [1e6, 'good'], [0, 'trips']])('%d Ω to earth %s: 230 V through it against 30 mA, of which 9 may leak', (ohm, finding) => {
  const p = played([]);
  const probe = now(p).rows[0]?.toEarth.probe;
  if (!probe) throw new Error('no way');
  p.record({ type: 'read', probe, displayed: { ohm }, unit: 'MΩ', conditions: [], testVolt: 250, unsteady: false, climbing: false, beforeProof: false, retest: null });
  expect(now(p).rows[0]?.toEarth.finding).toBe(finding);
});

test('while a neutral lies in its bar nothing is judged: its readings were of the bar', () => {
  const p = played([]);
  p.record({ type: 'putBack', point: 'p0', ends: [now(p).rows[0]?.toEarth.probe.from[1] ?? ''] });
  expect(now(p).neutralsIn).toHaveLength(1);
  for (const r of now(p).rows.slice(1, 3)) p.read({ fn: 'insulation', from: [...r.toEarth.probe.from], to: [...r.toEarth.probe.to] });
  expect(now(p).left).toBe(12);
});
