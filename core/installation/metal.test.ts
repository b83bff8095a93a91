import { BeliefEngine, tradeOptions } from '../belief';
import { suspectsOf, type Fault } from '../faults';
import { compileNetwork, planPhysics, resistanceBetween } from '../network';
import { shareByPlace } from '../planning';
import type { Probe } from '../probes';
import { displayOf } from '../tester';
import { untouched, type WorkState } from '../workstate';
import { editMap, endsAtPoint, type Installation } from '.';
import { draft, edited } from './fixtures/drafted';

const read = (map: Installation, state: WorkState, faults: Fault[], a: string, b: string): number => {
  const n = compileNetwork(map, state, faults, planPhysics);
  const ohm = resistanceBetween(n, n.index.get(a) ?? -1, n.index.get(b) ?? -1);
  return ohm === 'open' ? Infinity : ohm;
};
const plain = draft('radial, 4');
const third = plain.points[3]?.id ?? '';
const cpc = (map: Installation): number => read(map, untouched, [], 'p0:E', `${third}:E`);

test('metal lies beside the CPC as one resistance beside another', () => {
  const alone = cpc(plain);
  const both = cpc(edited(plain, { edit: 'setMetal', point: third, ohm: 0.4 }));
  expect(both).toBeCloseTo(1 / (1 / alone + 1 / 0.4), 9);
  expect(cpc(edited(plain, { edit: 'setMetal', point: third, ohm: 0.4 }, { edit: 'setMetal', point: third, ohm: null }))).toBe(alone);
});

test('a broken CPC still reads to earth through the metal beyond it; without the metal it reads nothing', () => {
  const section = plain.sections.find((s) => s.b === third)?.id ?? '';
  const broken: Fault[] = [{ kind: 'openCore', section, core: 'E' }];
  expect(read(plain, untouched, broken, 'p0:E', `${third}:E`)).toBeGreaterThan(1e6);
  expect(read(edited(plain, { edit: 'setMetal', point: third, ohm: 0.4 }), untouched, broken, 'p0:E', `${third}:E`)).toBeCloseTo(0.4, 2);
});

test('a CPC that reads far below its cable is told as metal that helps, and metal is no longer suspected once it is marked', () => {
  const out = endsAtPoint(plain, 'p0').map((e) => e.key);
  const state: WorkState = { ...untouched, off: ['p0.way'], opened: ['p0'], out };
  // Of 0.1 Ω three cables shorter than drawn would show as much; that a point reads less than those before it no cables show.
  const withMetal = edited(plain, { edit: 'setMetal', point: third, ohm: 0.05 });
  // The CPC is in its bar: that is where the metal leads to.
  const joined = { ...state, out: out.filter((k) => !k.endsWith(':E')) };
  const observed = ['p1', 'p2', third, 'p4'].map((p) => {
    const probe: Probe = { fn: 'continuity', from: ['p0:E'], to: [`${p}:E`] };
    return { probe, state: joined, displayed: displayOf('continuity', read(withMetal, joined, [], 'p0:E', `${p}:E`)) };
  });
  const engine = new BeliefEngine(plain, suspectsOf(plain), tradeOptions);
  const belief = engine.believe(observed);
  const metal = engine.suspects.reduce((sum, s, i) => sum + (s.kind === 'metalPath' ? (belief.suspectShare[i] ?? 0) : 0), 0);
  expect(metal).toBeGreaterThan(0.5);
  expect(shareByPlace(plain, engine.suspects, belief)[0]?.place).toBe(third);
  expect(suspectsOf(withMetal).filter((s) => s.kind === 'metalPath').map((s) => s.place)).not.toContain(third);
});

test('no ohms, none below zero, none of a thousand: refused with the limit', () => {
  for (const ohm of [0, -1, NaN, 5000]) {
    const r = editMap(plain, { edit: 'setMetal', point: third, ohm });
    expect(r.ok ? [] : r.issues.map((i) => i.code)).toEqual(['map.metal']);
  }
});
