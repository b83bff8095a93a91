import { suspectsOf } from '../faults';
import { draft } from '../installation/fixtures/drafted';
import { untouched } from '../workstate';
import { BeliefEngine, type Observation } from '.';

const map = draft('radial, 4');
const engine = new BeliefEngine(map, suspectsOf(map));
const state = { ...untouched, off: ['p0.way'], out: ['s1@a:L', 's1@a:N', 's1@a:E'], opened: ['p0'], loadsOut: map.points.flatMap((p) => p.elements.flatMap((e) => (e.kind === 'load' ? [`${p.id}.${e.id}`] : []))) };
const ohms = (from: string, to: string, ohm: number): Observation => ({ probe: { fn: 'continuity', from: [from], to: [to] }, state, displayed: { ohm } });
const most = (readings: readonly Observation[]): number => {
  const b = engine.believe(readings);
  return Math.max(...engine.suspects.map((s, i) => (s.kind === 'unknown' ? 0 : (b.suspectShare[i] as number))));
};
const unknownIn = (readings: readonly Observation[]): number => engine.believe(readings).suspectShare[engine.suspects.findIndex((s) => s.kind === 'unknown')] as number;
/** Line to earth short at the last point, read at the board and at three points along the way. */
const short = [ohms('s1@a:L', 's1@a:E', 0.9), ohms('p2:L', 'p2:E', 0.72), ohms('p3:L', 'p3:E', 0.5), ohms('p4:L', 'p4:E', 0.3)];

test('readings that one fault explains leave nothing to what no map shows', () => {
  expect(unknownIn([...short, ohms('p4:L', 'p4:E', 0.31), ohms('p4:E', 's1@a:E', 0.4)])).toBeLessThan(0.01);
});

test('one reading that stands apart is a slip; two that do keep every place below 95 %, and all that is left is given to what no map shows', () => {
  // Insulation of a broken tester, or another cable altogether: the neutral that is fine at one point is dead against it at the next.
  const odd = [ohms('p2:N', 's1@a:N', 19), ohms('p3:N', 's1@a:N', 0.31), ohms('p4:N', 's1@a:N', 7.7)];
  const b = engine.believe([...short, ...odd]);
  expect([...b.misfit.values()].filter((z) => z > 5).length).toBeGreaterThan(1);
  expect(most([...short, ...odd])).toBeLessThan(0.95);
  expect(b.suspectShare.reduce((s, x) => s + x, 0)).toBeCloseTo(1, 9);
  expect(unknownIn([...short, ...odd])).toBeGreaterThanOrEqual(0.2 - 1e-9);
});
