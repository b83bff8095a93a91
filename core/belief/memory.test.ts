import { drawCase, families } from '../../bench/world';
import { suspectsOf } from '../faults';
import { seededRandom } from '../numeric';
import { applyAction, plan, shareByPlace, tradeCosts, type Situation } from '../planning';
import { SimulatedTester } from '../simulation';
import { BeliefEngine, type Observation } from '.';

// What a further reading does not touch is not worked out again; what comes out is the same as if everything were.

test.each([...families, 'board'] as const)('reading after reading or all at once, the belief is the same: %s', (family) => {
  const seed = 8;
  const c = drawCase(family, seed, 0.4);
  const suspects = suspectsOf(c.plan);
  const kept = new BeliefEngine(c.plan, suspects);
  const tester = new SimulatedTester(c.truth, seededRandom(seed), 0);
  const observations: Observation[] = [];
  let situation: Situation = { state: c.start, at: ['p0'], proved: new Set(), unreachable: new Set(), longLead: true };
  for (let i = 0; i < 6; i++) {
    const [step] = plan(kept, kept.believe(observations), observations, situation, { costs: tradeCosts, mostProbes: 2, rejected: new Set<string>(), keep: 3 });
    if (!step) break;
    situation = { ...situation, state: step.actions.reduce(applyAction, situation.state), at: step.at };
    for (const probe of step.probes) observations.push({ probe, state: situation.state, displayed: tester.read(situation.state, probe) });
    const [warm, cold] = [kept, new BeliefEngine(c.plan, suspects)].map((e) => new Map(shareByPlace(c.plan, suspects, e.believe([...observations])).map((p) => [p.place, p.share])));
    for (const [place, share] of cold as Map<string, number>) expect(Math.abs(share - ((warm as Map<string, number>).get(place) ?? 0))).toBeLessThan(0.01);
  }
  expect(observations.length).toBeGreaterThan(3);
});
