import { drawCase, families } from '../../bench/world';
import { suspectsOf } from '../faults';
import { draft } from '../installation/fixtures/drafted';
import type { Installation } from '../installation';
import { compileNetwork, planPhysics, resistanceBetween } from '../network';
import { seededRandom } from '../numeric';
import type { Probe } from '../probes';
import { SimulatedTester } from '../simulation';
import { displayOf } from '../tester';
import { untouched, type WorkState } from '../workstate';
import { BeliefEngine, type Observation } from '.';
import { Alike } from './alike';
import { Correlated } from './correlated';
import type { Estimates } from './estimates';
import { asPlanned, mostApart, sharesOf } from './fixtures/asPlanned';
import { Memory } from './memory';

// What saves work may not change what is believed: cells that are weighed for others, and cells that are not weighed to the end.

afterEach(() => jest.restoreAllMocks());

const withAreaOfEarth = (map: Installation, times: number): Installation => ({ ...map, sections: map.sections.map((s) => ({ ...s, cores: s.cores.map((k) => (k.role === 'E' ? { ...k, csaMm2: times * k.csaMm2 } : k)) })) });

/** A few readings as the plan asks for them, with protective conductors of another area than drawn. */
function visit(family: (typeof families)[number] | 'board', seed: number): { readonly engine: () => BeliefEngine; readonly observations: Observation[] } {
  const c = drawCase(family, seed, 0.4);
  const engine = (): BeliefEngine => new BeliefEngine(c.plan, suspectsOf(c.plan));
  const tester = new SimulatedTester({ ...c.truth, installation: withAreaOfEarth(c.truth.installation, 0.5) }, seededRandom(seed), 0);
  return { engine, observations: [...asPlanned(engine(), c.start, (state, probe) => tester.read(state, probe))].at(-1) ?? [] };
}

test.each([...families, 'board'] as const)('suspects that are weighed for each other believe what each by itself would: %s', (family) => {
  const { engine, observations } = visit(family, 5);
  let merged = 0;
  const share = Alike.prototype.share;
  jest.spyOn(Alike.prototype, 'share').mockImplementation(function (this: Alike, e: Estimates) {
    merged += this.first.filter((m, c) => m !== c).length;
    share.call(this, e);
  });
  const together = sharesOf(engine(), observations);
  expect(merged).toBeGreaterThan(0);
  // Every cell answers by a name of its own.
  jest.spyOn(Memory.prototype, 'answersIn').mockImplementation((_reading, cells) => Float64Array.from({ length: cells }, (_, c) => c));
  merged = 0;
  const apart = sharesOf(engine(), observations);
  expect(merged).toBe(0);
  expect(mostApart(together, apart)).toBeLessThan(0.005);
});

test.each([['radial, 8', 0.35], ['radial, 8', 2.5], ['lights, 8', 0.35], ['lights, 8', 2.5], ['tree, 6', 0.35]] as const)('what is far behind is charged what the plan owes without being weighed to the end: %s, protective conductors of %f times the area', (phrase, factor) => {
  const drawn = draft(phrase);
  const first = drawn.points[0]?.id ?? '';
  const state: WorkState = { ...untouched, opened: drawn.points.map((p) => p.id), out: drawn.sections[0]?.cores.map((c) => `s1@a:${c.id}`) ?? [], loadsOut: drawn.points.flatMap((p) => p.elements.map((e) => `${p.id}.${e.id}`)) };
  const network = compileNetwork(withAreaOfEarth(drawn, factor), state, [], planPhysics);
  const observations = drawn.points.filter((p) => p.id !== first).flatMap((p) => ['L', 'N', 'E'].flatMap((core): Observation[] => {
    const probe: Probe = { fn: 'continuity', from: [`s1@a:${core}`], to: [`${p.id}:${core}`] };
    const [a, b] = [network.index.get(`s1@a:${core}`), network.index.get(`${p.id}:${core}`)];
    if (a === undefined || b === undefined) return [];
    const ohm = resistanceBetween(network, a, b);
    return [{ probe, state, displayed: displayOf('continuity', ohm === 'open' ? Infinity : ohm) }];
  }));
  const engine = (): BeliefEngine => new BeliefEngine(drawn, suspectsOf(drawn));
  const sparing = sharesOf(engine(), observations);
  const evidence = Correlated.prototype.evidence;
  jest.spyOn(Correlated.prototype, 'evidence').mockImplementation(function (this: Correlated, c, e, _best, kept) {
    return evidence.call(this, c, e, -Infinity, kept);
  });
  expect(mostApart(sparing, sharesOf(engine(), observations))).toBeLessThan(0.005);
});

test('a cell that is given up is worth no more than it was given up at, also where metal beside it would show any reading', () => {
  const drawn = draft('tree, 6');
  const state: WorkState = { ...untouched, opened: drawn.points.map((p) => p.id), loadsOut: drawn.points.flatMap((p) => p.elements.flatMap((e) => (e.kind === 'load' ? [`${p.id}.${e.id}`] : []))) };
  const network = compileNetwork(withAreaOfEarth(drawn, 0.35), state, [], planPhysics);
  const [first, ...others] = drawn.points.map((p) => p.id);
  const observations = others.map((p): Observation => {
    const probe: Probe = { fn: 'continuity', from: [`${first}:E`], to: [`${p}:E`] };
    const ohm = resistanceBetween(network, network.index.get(`${first}:E`) ?? -1, network.index.get(`${p}:E`) ?? -1);
    return { probe, state, displayed: displayOf('continuity', ohm === 'open' ? Infinity : ohm) };
  });
  // As if the plan were off in something for which the sound circuit pays so much.
  const PAID = -10;
  jest.spyOn(Correlated.prototype as unknown as { soundGains(): number }, 'soundGains').mockReturnValue(PAID);
  const evidence = Correlated.prototype.evidence;
  let givenUp = 0;
  jest.spyOn(Correlated.prototype, 'evidence').mockImplementation(function (this: Correlated, c, e, best, kept) {
    const worth = evidence.call(this, c, e, best, kept);
    if (this.reach !== -Infinity && Number.isFinite(best)) {
      givenUp++;
      expect(worth).toBeLessThan(best - this.reach + 1);
    }
    return worth;
  });
  new BeliefEngine(drawn, suspectsOf(drawn)).believe(observations);
  expect(givenUp).toBeGreaterThan(0);
});
