import { suspectsOf, type Fault } from '../faults';
import { draftCircuit, type Installation } from '../installation';
import { compileNetwork, planPhysics, resistanceBetween } from '../network';
import { placeNames } from '../planning';
import type { Probe } from '../probes';
import { displayOf } from '../tester';
import { elementKey, setEnds, untouched, type WorkState } from '../workstate';
import { BeliefEngine, twoFaults, type Observation } from '.';

const drafted = draftCircuit('6 ways');
if (!drafted.ok) throw new Error('draft');
const map: Installation = drafted.value;
const parts = (kinds: readonly string[]): string[] => map.points.flatMap((p) => p.elements.flatMap((e) => (kinds.includes(e.kind) ? [elementKey(p.id, e.id)] : [])));
const dead: WorkState = { ...untouched, off: parts(['way', 'pole']), loadsOut: parts(['load']), opened: ['p0'] };
const ir = (a: string, b: string): Probe => ({ fn: 'insulation', from: [a], to: [b] });
const engine = new BeliefEngine(map, suspectsOf(map));
const name = placeNames(map);
const placeOf = (i: number): string => name(engine.suspects[i]?.place ?? '');

function read(faults: readonly Fault[], state: WorkState, probe: Probe): Observation {
  const n = compileNetwork(map, state, faults, planPhysics);
  const r = resistanceBetween(n, n.index.get(probe.from[0] ?? '') ?? -1, n.index.get(probe.to[0] ?? '') ?? -1);
  return { probe, state, displayed: displayOf(probe.fn, r === 'open' ? Infinity : r) };
}
/** The board's first sweep: every way to neutral and to earth, and the bar to earth. */
const sweep = (faults: readonly Fault[], state = dead): Observation[] => [
  ...[1, 2, 3, 4, 5, 6].flatMap((w) => [read(faults, state, ir(`p0:W${w}`, 'p0:N')), read(faults, state, ir(`p0:W${w}`, 'p0:E'))]), read(faults, state, ir('p0:N', 'p0:E')),
];
const touch = (point: string, a: string, b: string, ohm: number): Fault => ({ kind: 'pointContact', point, terminals: [a, b], ohm });
const both = (observations: Observation[]): { share: number; places: string[] } => {
  const two = twoFaults(engine, engine.believe(observations), observations, placeOf);
  if (!two) throw new Error('no pair');
  const then = two.engine.believe(observations);
  const second = [...then.suspectShare.keys()].filter((i) => !['sound', 'unknown'].includes(engine.suspects[i]?.kind ?? '')).sort((a, b) => (then.suspectShare[b] as number) - (then.suspectShare[a] as number))[0] ?? 0;
  return { share: two.share, places: [placeOf(two.first.suspect), placeOf(second)].sort() };
};

test('line to earth on two ways: two faults, each on its own way', () => {
  // Swept once, a second low way may be a slip of the pen; swept again and again, it is none.
  const faults = [touch('c2', 'L', 'E', 60_000), touch('c5', 'L', 'E', 300_000)];
  const once = both(sweep(faults)).share;
  expect(once).toBeLessThan(0.4);
  const found = both([...sweep(faults), ...sweep(faults), ...sweep(faults)]);
  expect(found.share).toBeGreaterThan(Math.max(0.4, 2 * once));
  expect(found.places).toEqual(['c2', 'c5'].map((p) => name(p)).sort());
});

test('line to neutral in one circuit and neutral to earth in another is two faults, not three: the first only borrows its L–E over the bar', () => {
  const faults = [touch('c2', 'L', 'N', 3), touch('c5', 'N', 'E', 400)];
  const pulled = setEnds(dead, ['s5@a:N'], true);
  // In ohms: 3 Ω is less than any load that may have been left in.
  const ohms = read(faults, dead, { fn: 'continuity', from: ['p0:W2'], to: ['p0:N'] });
  const pulledReads = [ohms, read(faults, pulled, ir('p0:N', 'p0:E')), read(faults, pulled, ir('s5@a:N', 'p0:E'))];
  const found = both([...sweep(faults), ...sweep(faults), ...pulledReads, ...pulledReads]);
  expect(found.share).toBeGreaterThan(0.9);
  expect(found.places).toEqual(['c2', 'c5'].map((p) => name(p)).sort());
});

test('one fault is not called two, nor is a sound board', () => {
  for (const faults of [[touch('c3', 'L', 'E', 20_000)], [touch('c4', 'N', 'E', 50)], []]) {
    const observations = sweep(faults);
    expect(twoFaults(engine, engine.believe(observations), observations, placeOf)?.share ?? 0).toBeLessThan(0.2);
  }
});
