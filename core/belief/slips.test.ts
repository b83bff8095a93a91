import { suspectsOf } from '../faults';
import { editMap, type Installation } from '../installation';
import { draft } from '../installation/fixtures/drafted';
import { compileNetwork, planPhysics, resistanceBetween } from '../network';
import { seededRandom } from '../numeric';
import { placeNames, shareByPlace } from '../planning';
import { displayOf, isAbove } from '../tester';
import { untouched, type WorkState } from '../workstate';
import { BeliefEngine, twoFaults, type Observation } from '.';

// One entry in fifty is wrong by a decade or a unit: a visit of a hundred readings has some.

function drawn(map: Installation, way: string, phrase: string): Installation {
  const r = editMap(map, { edit: 'drawCircuit', way, phrase });
  if (!r.ok) throw new Error(phrase);
  return r.value;
}
const plan = drawn(drawn(draft('2 ways'), 'w1', 'ring, 8'), 'w2', 'radial, 5');
const suspects = suspectsOf(plan);
const state: WorkState = { ...untouched, opened: plan.points.map((p) => p.id), loadsOut: plan.points.flatMap((p) => p.elements.map((e) => `${p.id}.${e.id}`)) };
const places = ['p0:E', ...plan.points.filter((p) => p.kind !== 'board').map((p) => `${p.id}:E`)];
const pairs = places.flatMap((a, i) => places.slice(i + 1).map((b) => [a, b] as const));

/** Protective conductors from place to place in a sound house whose lengths and areas are not those of the plan; the first readings also a decade too low. */
function house(seed: number, slips: number): { readonly clean: Observation[]; readonly told: Observation[] } {
  const random = seededRandom(seed);
  const thin = random.chance(0.5);
  const truth = { ...plan, sections: plan.sections.map((s) => ({ ...s, lengthM: s.lengthM * Math.exp(0.4 * random.normal()), cores: s.cores.map((c) => (c.role === 'E' && thin ? { ...c, csaMm2: 1 } : c)) })) };
  const network = compileNetwork(truth, state, [], planPhysics);
  const at = (key: string): number => network.index.get(key) ?? -1;
  const clean = pairs.map((pair) => ({ pair, key: random.next() })).sort((x, y) => x.key - y.key).slice(0, 20).map(({ pair: [a, b] }): Observation => {
    const ohm = resistanceBetween(network, at(a), at(b));
    return { probe: { fn: 'continuity', from: [a], to: [b] }, state, displayed: displayOf('continuity', ohm === 'open' ? Infinity : ohm) };
  });
  return { clean, told: clean.map((o, i) => (i < slips && !isAbove(o.displayed) ? { ...o, displayed: { ohm: o.displayed.ohm * 0.1 } } : o)) };
}

test.each([1, 3, 5, 7])('house %d: three entries a decade too low are slips: no place is blamed and no second fault is made up', (seed) => {
  const engine = new BeliefEngine(plan, suspects);
  const { clean, told } = house(seed, 3);
  const without = new Map(shareByPlace(plan, suspects, engine.believe(clean)).map((p) => [p.place, p.share]));
  const belief = engine.believe(told);
  expect(shareByPlace(plan, suspects, belief).filter((p) => p.share > (without.get(p.place) ?? 0) + 0.2)).toEqual([]);
  const name = placeNames(plan);
  expect(twoFaults(engine, belief, told, (i) => name(suspects[i]?.place ?? ''))?.share ?? 0).toBeLessThan(0.5);
});
