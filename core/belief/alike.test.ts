import { drawCase, families } from '../../bench/world';
import { suspectsOf } from '../faults';
import { draft } from '../installation/fixtures/drafted';
import type { Installation } from '../installation';
import { compileNetwork, planPhysics, resistanceBetween } from '../network';
import { seededRandom } from '../numeric';
import { applyAction, plan, shareByPlace, tradeCosts, type Situation } from '../planning';
import type { Probe } from '../probes';
import { SimulatedTester } from '../simulation';
import { displayOf } from '../tester';
import { untouched, type WorkState } from '../workstate';
import { BeliefEngine, type Observation } from '.';
import { Alike } from './alike';
import { Correlated } from './correlated';
import type { Estimates } from './estimates';

// What saves work may not change what is believed: cells that are weighed for others, and cells that are not weighed to the end.

afterEach(() => jest.restoreAllMocks());

const withAreaOfEarth = (map: Installation, times: number): Installation => ({ ...map, sections: map.sections.map((s) => ({ ...s, cores: s.cores.map((k) => (k.role === 'E' ? { ...k, csaMm2: times * k.csaMm2 } : k)) })) });

/** A few readings as the plan asks for them, with protective conductors of another area than drawn. */
function visit(family: (typeof families)[number] | 'board', seed: number): { readonly engine: () => BeliefEngine; readonly observations: Observation[] } {
  const c = drawCase(family, seed, 0.4);
  const suspects = suspectsOf(c.plan);
  const tester = new SimulatedTester({ ...c.truth, installation: withAreaOfEarth(c.truth.installation, 0.5) }, seededRandom(seed), 0);
  const engine = (): BeliefEngine => new BeliefEngine(c.plan, suspects);
  const asking = engine();
  const observations: Observation[] = [];
  let situation: Situation = { state: c.start, at: ['p0'], proved: new Set(), unreachable: new Set(), longLead: true };
  for (let i = 0; i < 6; i++) {
    const [step] = plan(asking, asking.believe(observations), observations, situation, { costs: tradeCosts, mostProbes: 2, rejected: new Set<string>(), keep: 3 });
    if (!step) break;
    situation = { ...situation, state: step.actions.reduce(applyAction, situation.state), at: step.at };
    for (const probe of step.probes) observations.push({ probe, state: situation.state, displayed: tester.read(situation.state, probe) });
  }
  return { engine, observations };
}

const shares = (engine: BeliefEngine, observations: readonly Observation[]): Map<string, number> => new Map(shareByPlace(engine.installation, engine.suspects, engine.believe(observations)).map((p) => [p.place, p.share]));

function mostApart(x: ReadonlyMap<string, number>, y: ReadonlyMap<string, number>): number {
  return Math.max(...[...x].map(([place, share]) => Math.abs(share - (y.get(place) ?? 0))));
}

test.each([...families, 'board'] as const)('suspects that are weighed for each other believe what each by itself would: %s', (family) => {
  const { engine, observations } = visit(family, 5);
  let merged = 0;
  const share = Alike.prototype.share;
  jest.spyOn(Alike.prototype, 'share').mockImplementation(function (this: Alike, e: Estimates) {
    merged += this.first.filter((m, c) => m !== c).length;
    share.call(this, e);
  });
  const together = shares(engine(), observations);
  expect(merged).toBeGreaterThan(0);
  jest.spyOn(Alike.prototype as unknown as { name: (c: number) => number }, 'name').mockImplementation((c) => c);
  merged = 0;
  const apart = shares(engine(), observations);
  expect(merged).toBe(0);
  expect(mostApart(together, apart)).toBeLessThan(0.005);
});

test.each([0.35, 2.5])('what is far behind is charged what the plan owes without being weighed to the end: protective conductors of %f times the area', (factor) => {
  const drawn = draft('radial, 8');
  const first = drawn.points[0]?.id ?? '';
  const state: WorkState = { ...untouched, opened: drawn.points.map((p) => p.id), out: drawn.sections[0]?.cores.map((c) => `s1@a:${c.id}`) ?? [], loadsOut: drawn.points.flatMap((p) => p.elements.map((e) => `${p.id}.${e.id}`)) };
  const network = compileNetwork(withAreaOfEarth(drawn, factor), state, [], planPhysics);
  const observations = drawn.points.filter((p) => p.id !== first).flatMap((p) => ['L', 'N', 'E'].map((core): Observation => {
    const probe: Probe = { fn: 'continuity', from: [`s1@a:${core}`], to: [`${p.id}:${core}`] };
    const ohm = resistanceBetween(network, network.index.get(`s1@a:${core}`) ?? -1, network.index.get(`${p.id}:${core}`) ?? -1);
    return { probe, state, displayed: displayOf('continuity', ohm === 'open' ? Infinity : ohm) };
  }));
  const engine = (): BeliefEngine => new BeliefEngine(drawn, suspectsOf(drawn));
  const sparing = shares(engine(), observations);
  const evidence = Correlated.prototype.evidence;
  jest.spyOn(Correlated.prototype, 'evidence').mockImplementation(function (this: Correlated, c, e, _best, kept) {
    return evidence.call(this, c, e, -Infinity, kept);
  });
  expect(mostApart(sparing, shares(engine(), observations))).toBeLessThan(0.005);
});
