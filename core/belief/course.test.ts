import { suspectsOf } from '../faults';
import { boardOf, endsAtPoint } from '../installation';
import { draft } from '../installation/fixtures/drafted';
import { compileNetwork, planPhysics, resistanceBetween } from '../network';
import { displayOf } from '../tester';
import { elementKey, untouched, type WorkState } from '../workstate';
import { BeliefEngine, type Observation } from '.';
import { Correlated } from './correlated';
import { Course } from './course';
import type { Group } from './group';
import { Memory } from './memory';
import { mostApart, sharesOf } from './fixtures/asPlanned';

const map = draft('ring, 12');
const board = boardOf(map);
if (!board) throw new Error('no board');
const apart: WorkState = { ...untouched, opened: [board.id], off: board.elements.map((e) => elementKey(board.id, e.id)), out: endsAtPoint(map, board.id).map((e) => e.key), loadsOut: map.points.flatMap((p) => p.elements.map((e) => elementKey(p.id, e.id))) };
const suspects = suspectsOf(map);
const fresh = (): BeliefEngine => new BeliefEngine(map, suspects);
const pairs: readonly (readonly [string, string])[] = [['s1@a:N', 's1@a:E'], ...map.points.flatMap((p) => (p.kind === 'outlet' ? [p.id] : [])).map((p) => [`${p}:N`, `${p}:E`] as const)];

/** Neutral to earth in ohms at the board's end and at every outlet. `also`: an outlet that is open as well, which makes them new readings. */
function readings(contact: string, ohm: number, also: readonly string[] = []): Observation[] {
  const hidden = suspects.find((s) => s.id === contact);
  if (!hidden) throw new Error('no such suspect');
  const state = { ...apart, opened: [...apart.opened, ...also] };
  const network = compileNetwork(map, state, hidden.fault(ohm, 0), planPhysics);
  return pairs.map(([a, b]) => {
    const r = resistanceBetween(network, network.index.get(a) ?? -1, network.index.get(b) ?? -1);
    return { probe: { fn: 'continuity', from: [a], to: [b] }, state, displayed: displayOf('continuity', r === 'open' ? Infinity : r) };
  });
}

function weighed(engine: BeliefEngine, observations: readonly Observation[]): number {
  const spy = jest.spyOn(Correlated.prototype, 'evidence');
  engine.believe(observations);
  const count = spy.mock.calls.length;
  spy.mockRestore();
  return count;
}

test('a further reading has only that weighed again which it could bring forward', () => {
  const found = readings('contact p4:NE', 2);
  const warm = fresh();
  let [after, all] = [0, 0];
  for (let n = 1; n <= found.length; n++) {
    const again = weighed(warm, found.slice(0, n));
    if (n < 7) continue;
    after += again;
    all += weighed(fresh(), found.slice(0, n));
  }
  expect(all).toBeGreaterThan(100);
  expect(after).toBeLessThan(0.75 * all);
});

test('what was far behind comes forward where the readings turn', () => {
  const before = readings('contact p4:NE', 5);
  const turned = [...before];
  const warm = fresh();
  warm.believe(before);
  for (const o of [...readings('contact p9:NE', 40, ['p5']), ...readings('contact p9:NE', 40, ['p6'])].filter((_, i) => i % 2 === 0)) {
    turned.push(o);
    expect(mostApart(sharesOf(fresh(), turned), sharesOf(warm, turned))).toBeLessThan(0.01);
  }
  const at = (place: string, observations: readonly Observation[]): number => sharesOf(warm, observations).get(place) ?? 0;
  expect(at('p9', turned)).toBeGreaterThan(10 * at('p9', before));
});

test('where the best cell was not weighed before, what is far behind still has a weight, and its distance', () => {
  const memory = new Memory();
  const engine = { cells: { count: 4, logPrior: new Float64Array(4) }, memory, noiseSd: () => 0.1 } as unknown as BeliefEngine;
  const read = (n: number): Group[] => Array.from({ length: n }, (_, i) => ({ names: [`reading ${i}`], fn: 'continuity', ohm: 1, above: false }) as unknown as Group);
  const first = new Course(engine, read(3));
  first.weighed(0, -5, -Infinity);
  first.weighed(1, -60, -Infinity);
  // The second reading leaves cell 2 out; by the third it is the best of all.
  const second = new Course(engine, read(4));
  second.weighed(0, -7, -Infinity);
  expect(second.isHopeless(1)).toBe(true);
  expect(second.weightBehind(1)).toBeCloseTo(-62, 9);
  const third = new Course(engine, read(5));
  third.weighed(0, -9, -Infinity);
  third.weighed(2, -3, -Infinity);
  expect(third.isHopeless(1)).toBe(true);
  expect(third.weightBehind(1)).toBeCloseTo(-64, 9);
  // What could come forward is weighed: nothing is known of cell 3, and of cell 1 not after many readings.
  expect(third.isHopeless(3)).toBe(false);
  const much = new Course(engine, read(60));
  much.weighed(0, -9, -Infinity);
  expect(much.isHopeless(1)).toBe(false);
});
