import { suspectsOf } from '../faults';
import { draft } from '../installation/fixtures/drafted';
import { compileNetwork, planPhysics, resistanceBetween } from '../network';
import { shareByPlace } from '../planning';
import type { Probe } from '../probes';
import { displayOf } from '../tester';
import { untouched, type WorkState } from '../workstate';
import { BeliefEngine, tradeOptions, type Observation } from '.';

const PLAN = 5e9;
const drafted = draft('6 ways');
const map = { ...drafted, sections: drafted.sections.map((s) => ({ ...s, lengthKnown: true })) };
const physics = { ...planPhysics, insulationOhmM: () => PLAN };
const ways = [1, 2, 3, 4, 5, 6];
const off = ways.map((w) => `p0.w${w}`);
const loads = ways.map((w) => `c${w}.loads`);

/** Every way to the bars, loads out, then line to neutral again with two loads in; way 4 insulates a quarter as well as the plan says. */
function readings(): Observation[] {
  const real = { ...physics, insulationOhmM: (id: string) => (id === 's4' ? PLAN / 4 : PLAN) };
  const read = (state: WorkState, a: string, b: string): Observation => {
    const n = compileNetwork(map, state, [], real);
    const ohm = resistanceBetween(n, n.index.get(a) ?? -1, n.index.get(b) ?? -1);
    const probe: Probe = { fn: 'insulation', from: [a], to: [b] };
    return { probe, state, displayed: displayOf('insulation', ohm === 'open' ? Infinity : ohm) };
  };
  const all: WorkState = { ...untouched, opened: ['p0'], off, loadsOut: loads };
  const some: WorkState = { ...all, loadsOut: loads.slice(2) };
  return [...ways.flatMap((w) => [read(all, `p0:W${w}`, 'p0:N'), read(all, `p0:W${w}`, 'p0:E')]), read(all, 'p0:N', 'p0:E'), ...ways.slice(2).map((w) => read(some, `p0:W${w}`, 'p0:N'))];
}

test('a cable that insulates badly shows in every reading over it: that is one oddity, not a slip for each, and no break elsewhere', () => {
  const suspects = suspectsOf(map, { sound: 0.5, unknown: 0.004, openCore: 0.2, looseEnd: 0.2, contact: 0.1 });
  const engine = new BeliefEngine(map, suspects, { ...tradeOptions, insulationSd: 0.5, insulationSpread: { circuit: 0, section: 0.3, pair: 0 }, metalMayBe: false, physics });
  const observed = readings();
  const after = engine.believe(observed);
  const shareOf = (share: Float64Array, wanted: (s: (typeof suspects)[number]) => boolean): number => suspects.reduce((sum, s, i) => sum + (wanted(s) ? (share[i] as number) : 0), 0);
  // One odd cable decides nothing by itself: a sound board stays possible, and no break anywhere becomes the likely answer.
  expect(shareOf(after.suspectShare, (s) => s.kind === 'sound')).toBeGreaterThan(0.01);
  expect(Math.max(...shareByPlace(map, suspects, after).filter((p) => p.place !== 'sound').map((p) => p.share))).toBeLessThan(0.5);
  expect(observed.filter((o) => 'ohm' in o.displayed)).toHaveLength(observed.length);
});
