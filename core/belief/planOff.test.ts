import { suspectsOf } from '../faults';
import { draft } from '../installation/fixtures/drafted';
import type { Installation } from '../installation';
import { compileNetwork, planPhysics, resistanceBetween } from '../network';
import { shareByPlace } from '../planning';
import type { Probe } from '../probes';
import type { Fault } from '../faults';
import { displayOf } from '../tester';
import { untouched, type WorkState } from '../workstate';
import { BeliefEngine, type Belief, type Observation } from '.';
import { PlanOff } from './planOff';
import { LENGTH_TAIL, type Gaussian } from './tails';

const drafted = draft('radial, 5, 7 5 9 5 6 m');
const first = drafted.points[0]?.id ?? '';
const away = drafted.sections[0]?.cores.map((c) => `s1@a:${c.id}`) ?? [];
const state: WorkState = { ...untouched, opened: drafted.points.map((p) => p.id), out: away, loadsOut: drafted.points.flatMap((p) => p.elements.map((e) => `${p.id}.${e.id}`)) };

/** Every core from the board to every outlet, by a long lead whose own ohms are taken off, in the house as it is. */
function sweep(house: Installation, faults: Fault[] = [], physics = planPhysics): Observation[] {
  const network = compileNetwork(house, state, faults, physics);
  return house.points.filter((p) => p.id !== first).flatMap((p) => (['L', 'N', 'E'] as const).map((c): Observation => {
    const probe: Probe = { fn: 'continuity', from: [`s1@a:${c}`], to: [`${p.id}:${c}`] };
    const ohm = resistanceBetween(network, network.index.get(`s1@a:${c}`) ?? -1, network.index.get(`${p.id}:${c}`) ?? -1);
    return { probe, state, displayed: displayOf('continuity', ohm === 'open' ? Infinity : ohm) };
  }));
}

const suspects = suspectsOf(drafted);
const believe = (o: Observation[]): Belief => new BeliefEngine(drafted, suspects).believe(o);
const shareOf = (b: Belief, id: string): number => b.suspectShare[suspects.findIndex((s) => s.id === id)] ?? NaN;
const worstPlace = (b: Belief): { place: string; share: number } => shareByPlace(drafted, suspects, b).find((p) => p.place !== 'sound') ?? { place: '', share: 0 };

test('one cable that is longer or shorter than drawn, in all its cores alike, is no poor end', () => {
  for (const section of ['s2', 's3', 's4'])
    for (const factor of [0.4, 0.6, 1.6, 2, 3]) {
      const house = { ...drafted, sections: drafted.sections.map((s) => (s.id === section ? { ...s, lengthM: s.lengthM * factor } : s)) };
      const after = believe(sweep(house));
      expect({ section, factor, worst: worstPlace(after).share > 0.3 ? worstPlace(after) : null }).toEqual({ section, factor, worst: null });
      expect(shareOf(after, 'unknown')).toBeLessThan(0.1);
    }
});

test('protective conductors of another area all along are no fault of one place', () => {
  for (const area of [1, 2.5]) {
    const house = { ...drafted, sections: drafted.sections.map((s) => ({ ...s, cores: s.cores.map((c) => (c.role === 'E' ? { ...c, csaMm2: area } : c)) })) };
    const after = believe(sweep(house));
    expect(worstPlace(after).share).toBeLessThan(0.3);
  }
});

test('two things of a plan that are off together are no fault either: thinner protective conductors and a longer cable, one cable longer and one shorter', () => {
  const off = (areaE: number, lengths: Readonly<Record<string, number>>): Installation => ({ ...drafted, sections: drafted.sections.map((s) => ({ ...s, lengthM: s.lengthM * (lengths[s.id] ?? 1), cores: s.cores.map((c) => (c.role === 'E' && areaE ? { ...c, csaMm2: areaE } : c)) })) });
  for (const house of [off(1, { s3: 2 }), off(2.5, { s2: 1.8 }), off(0, { s2: 0.5, s4: 2 })]) {
    const after = believe(sweep(house));
    expect(worstPlace(after).share).toBeLessThan(0.3);
    expect(shareOf(after, 'unknown')).toBeLessThan(0.1);
  }
});

test('a poor end is still found where one core alone reads too high from there on', () => {
  const after = believe(sweep(drafted, [{ kind: 'termination', end: 's3@b:N', ohm: 1.1 }]));
  // Which end of that cable it is, terminals alone cannot tell.
  const ends = ['s3@a:N', 's3@b:N'].reduce((sum, e) => sum + shareOf(after, `resistive ${e}`), 0);
  expect(ends).toBeGreaterThan(0.9);
});

/** Copper changes by 0.393 % a kelvin from 20 °C (IEC 60228). */
const at = (celsius: number): typeof planPhysics => ({ ...planPhysics, ohmPerM: (csa, flexible) => planPhysics.ohmPerM(csa, flexible) * (1 + 0.00393 * (celsius - 20)) });

test.each([-10, 0, 10, 30, 40])('at %i °C sound copper is sound, and a poor end is still found', (celsius) => {
  const after = believe(sweep(drafted, [], at(celsius)));
  expect(worstPlace(after).share).toBeLessThan(0.3);
  expect(shareOf(after, 'unknown')).toBeLessThan(0.1);
  const poor = believe(sweep(drafted, [{ kind: 'termination', end: 's3@b:N', ohm: 1.1 }], at(celsius)));
  expect(['s3@a:N', 's3@b:N'].reduce((sum, e) => sum + shareOf(poor, `resistive ${e}`), 0)).toBeGreaterThan(0.9);
});

test('a stated area is taken at its word: a protective conductor that reads half as much again is then no thinner one', () => {
  const stated = draft('radial, 5, 2.5/1.5, 7 5 9 5 6 m');
  expect(stated.sections.every((s) => s.cpcKnown)).toBe(true);
});

test('a poor end that insulation is read through parts nothing: two ends that predict every reading alike stand alike', () => {
  const map = draft('radial, 3');
  const all = suspectsOf(map);
  const bad: Fault[] = [{ kind: 'pointContact', point: 'p3', terminals: ['N', 'E'], ohm: 3e5 }];
  const open: WorkState = { ...untouched, opened: map.points.map((p) => p.id), out: ['s1@a:L', 's1@a:N', 's1@a:E'], loadsOut: map.points.flatMap((p) => p.elements.map((e) => `${p.id}.${e.id}`)) };
  const network = compileNetwork(map, open, bad, planPhysics);
  const read = (a: string, b: string): Observation => {
    const ohm = resistanceBetween(network, network.index.get(a) ?? -1, network.index.get(b) ?? -1);
    return { probe: { fn: 'insulation', from: [a], to: [b] }, state: open, displayed: displayOf('insulation', ohm === 'open' ? Infinity : ohm) };
  };
  const after = new BeliefEngine(map, all).believe([read('s1@a:L', 's1@a:N'), read('s1@a:L', 's1@a:E')]);
  const ends = all.flatMap((s, i) => (s.kind === 'resistiveEnd' && s.conductors[0] === 'L' ? [after.suspectShare[i] as number] : []));
  expect(ends.length).toBeGreaterThan(3);
  expect(Math.max(...ends) / Math.min(...ends)).toBeLessThan(1.05);
});

test('a ring longer than drawn with an earth broken in it: reading after reading goes the long way round, and each of them says the same', () => {
  const ring = draft('ring, 4');
  const joined: WorkState = { ...untouched, opened: ring.points.map((p) => p.id), loadsOut: ring.points.flatMap((p) => p.elements.map((e) => `${p.id}.${e.id}`)) };
  const all = suspectsOf(ring);
  const engine = new BeliefEngine(ring, all);
  const pairs = [['p0', 'p4'], ['p0', 'p3'], ['p0', 'p2'], ['p4', 'p3'], ['p3', 'p2'], ['p2', 'p3'], ['p2', 'p4'], ['p3', 'p1'], ['p0', 'p1'], ['p2', 'p1']] as const;
  for (const longer of [1.6, 2.2, 3]) {
    const house = { ...ring, sections: ring.sections.map((s) => ({ ...s, lengthM: s.lengthM * longer })) };
    const network = compileNetwork(house, joined, [{ kind: 'openCore', section: 's3', core: 'E' }], planPhysics);
    const at = (key: string): number => network.index.get(key) ?? -1;
    const read = pairs.map(([a, b]): Observation => {
      const ohm = resistanceBetween(network, at(`${a}:E`), at(`${b}:E`));
      return { probe: { fn: 'continuity', from: [`${a}:E`], to: [`${b}:E`] }, state: joined, displayed: displayOf('continuity', ohm === 'open' ? Infinity : ohm) };
    });
    for (let k = 6; k <= read.length; k++) {
      const belief = engine.believe(read.slice(0, k));
      const there = all.reduce((sum, s, i) => (/^(open s3:E|loose s3@[ab]:E|notLanded p[23]:E)$/.test(s.id) ? sum + (belief.suspectShare[i] ?? 0) : sum), 0);
      expect({ longer, k, there: there > 0.5 ? 'there' : there }).toEqual({ longer, k, there: 'there' });
    }
  }
});

test('of many cables that all read as drawn each is so for itself: a hundred of them cost no more than a hundred times one', () => {
  const gained = (cables: number): number => {
    const variance = LENGTH_TAIL.guessed.sd ** 2;
    const off = new PlanOff(Array.from({ length: cables }, () => ({ share: LENGTH_TAIL.guessed.share, variance })), cables);
    // One reading a cable, half an ohm each and as drawn, good for a hundredth.
    const ones = (x: number): Float64Array => new Float64Array(cables).fill(x);
    const inverse = new Float64Array(cables * cables).map((_, i) => (i % (cables + 1) === 0 ? 1e4 : 0));
    const all: Gaussian = { count: cables, stride: cables, ohm: ones(0.5), scaleOhm: ones(0.1), inverse, solved: new Float64Array(4 * cables), g: new Float64Array(3), h: Float64Array.of(1, 0, 1, 0, 0, 1) };
    return off.weigh(all, ones(0), new Float64Array(3 * cables), (i, into) => {
      into.fill(0);
      into[i] = 0.5;
      return true;
    });
  };
  expect(gained(1)).toBeLessThan(0);
  expect(gained(1)).toBeGreaterThan(Math.log(1 - LENGTH_TAIL.guessed.share));
  expect(gained(100)).toBeCloseTo(100 * gained(1), 6);
});
