import { drawCase, families } from '../../bench/world';
import { suspectsOf } from '../faults';
import { seededRandom } from '../numeric';
import { SimulatedTester } from '../simulation';
import { BeliefEngine } from '.';
import { asPlanned, mostApart, sharesOf } from './fixtures/asPlanned';

// What a further reading does not touch is not worked out again; what comes out is the same as if everything were.

test.each([...families, 'board'] as const)('reading after reading or all at once, the belief is the same: %s', (family) => {
  const c = drawCase(family, 8, 0.4);
  const suspects = suspectsOf(c.plan);
  const kept = new BeliefEngine(c.plan, suspects);
  const tester = new SimulatedTester(c.truth, seededRandom(c.seed), 0);
  let most = 0;
  for (const observations of asPlanned(kept, c.start, (state, probe) => tester.read(state, probe))) {
    most = Math.max(most, observations.length);
    expect(mostApart(sharesOf(new BeliefEngine(c.plan, suspects), observations), sharesOf(kept, observations))).toBeLessThan(0.01);
  }
  expect(most).toBeGreaterThan(3);
});
