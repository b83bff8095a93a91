import { editMap, type Installation, type ResidualType } from '../installation';
import { draft, platesRead } from '../installation/fixtures/drafted';
import { profiles, fuseCurrent, loopLimit } from '../profiles';
import { budgetsOf, equivalentInsulation, loopsOf, type LiveTest } from '.';

const clamp = (around: string, mA: number, peak = false): LiveTest => ({ kind: 'clamp', around, mA, filtered: true, peak });
const ramp = (device: string, mA: number | null): LiveTest => ({ kind: 'ramp', device, mA, outgoing: 'out' });
const time = (device: string, multiple: 0.5 | 1 | 5, ms: number | null): LiveTest => ({ kind: 'times', device, multiple, ms });
const map = draft('8 ways, RCD on 1 to 4, RCD on 5 to 8');
const budget = (tests: LiveTest[], id = 'G1') => {
  const b = budgetsOf(map, tests, profiles.gb).find((x) => x.device.id === id);
  if (!b) throw new Error(id);
  return b;
};

test('headroom: ramp less leakage in the worst case, in quadrature where leakage is capacitive', () => {
  const b = budget([ramp('G1', 22), clamp('G1', 9)]);
  expect(b.headroomWorstMa).toBeCloseTo(13, 9);
  expect(b.headroomQuadratureMa).toBeCloseTo(Math.sqrt(22 * 22 - 81), 9);
  expect(b.findings).toEqual(['fine']);
});

test('standing leakage above 30 % of IΔn is high; a third in the other profile lets 9.5 mA through', () => {
  expect(budget([clamp('G1', 9.5)]).findings).toEqual(['standingHigh']);
  expect(budgetsOf(map, [clamp('G1', 9.5)], profiles.aunz)[0]?.findings).toEqual(['fine']);
});

test('below half of IΔn, or going at half, the device has failed; not going at all is said; above IΔn is taken as found', () => {
  expect(budget([ramp('G1', 13)]).findings).toContain('deviceFailed');
  expect(budget([time('G1', 0.5, 80)]).findings).toContain('tripsAtHalf');
  expect(budget([time('G1', 1, null)]).findings).toContain('doesNotTrip');
  expect(budget([time('G1', 5, 55)]).findings).toContain('tooSlow');
  expect(budget([time('G1', 0.5, null), time('G1', 1, 28), time('G1', 5, 19)]).findings).toEqual(['fine']);
  expect(budget([ramp('G1', 34)]).findings).toContain('rampAboveRated');
});

test('without a clamp round the device its ways add up to no more than their sum; the branch with the most is named', () => {
  const b = budget([clamp('w1', 2), clamp('w2', 6.5), clamp('w3', 1)]);
  expect(b.standingMa).toBeCloseTo(9.5, 9);
  expect(b.standingFrom).toBe('sum of ways');
  expect(b.most?.way).toBe('w2');
});

test('what to move: the smallest way that brings both devices within their share', () => {
  const b = budget([clamp('w1', 2), clamp('w2', 5), clamp('w3', 3.5), clamp('w4', 0.5), clamp('w5', 1), clamp('w6', 2.5)]);
  // 11 mA behind RCD 1, 3.5 behind RCD 2: 2 mA moved leaves 9 and makes 5.5.
  expect(b.move).toMatchObject({ says: 'move', way: 'w1', to: 'G2' });
  const only = budget([clamp('w1', 14), clamp('w2', 1), clamp('w5', 1)]);
  expect(only.move).toEqual({ says: 'own device', way: 'w1' });
});

test('equivalent insulation is a floor: 100 m of sound cable pass 0.7 mA, and read as 0.3 MΩ', () => {
  const long: Installation = { ...map, sections: map.sections.map((s) => ({ ...s, lengthM: 100 })) };
  const e = equivalentInsulation(long, 'w1', 0.73);
  expect(e.capacitiveMa).toBeCloseTo(0.72, 2);
  expect(e.floorOhm).toBeGreaterThan(3.1e5);
  expect(e.floorOhm).toBeLessThan(3.3e5);
  expect(e.withoutCapacitanceOhm ?? Infinity).toBeGreaterThan(1e6);
});

test('loop limits: 0.95 × 230 ÷ (5 × 32) = 1.37 Ω; 230 ÷ (4 × 32) = 1.80 Ω; TT: 50 V ÷ 30 mA = 1667 Ω; fuses by their curve', () => {
  const b32 = { kind: 'mcb' as const, curve: 'B' as const, ratingA: 32, residualMa: null };
  expect(loopLimit(profiles.gb, b32, 230, 'TN-S', null).ohm).toBeCloseTo(1.366, 3);
  expect(loopLimit(profiles.gb, b32, 230, 'TN-S', null).coldOhm).toBeCloseTo(1.0925, 3);
  expect(loopLimit(profiles.aunz, b32, 230, 'TN-C-S', null).ohm).toBeCloseTo(1.797, 3);
  expect(loopLimit(profiles.gb, b32, 230, 'TT', 30)).toMatchObject({ because: 'residual' });
  expect(loopLimit(profiles.gb, b32, 230, 'TT', 30).ohm).toBeCloseTo(1667, 0);
  expect(fuseCurrent(30)).toBeGreaterThan(150);
  expect(fuseCurrent(30)).toBeLessThan(200);
});

test('a loop at a point stands beside Ze + (R1 + R2) of the map, and against its device', () => {
  const one = draft('4 ways');
  const drawn: Installation = { ...one, sections: one.sections.map((s) => ({ ...s, lengthM: 20, lengthKnown: true })) };
  const loops = loopsOf(drawn, [{ kind: 'loop', from: 'p0:L', to: 'p0:E', ohm: 0.4, noTrip: false }, { kind: 'loop', from: 'c2:L', to: 'c2:E', ohm: 0.85, noTrip: false }], profiles.gb);
  expect(loops[0]).toMatchObject({ expectedOhm: null, verdict: 'no limit' });
  expect(loops[0]?.prospectiveA).toBeCloseTo(575, 0);
  // 0.4 + 20 m × (7.41 + 12.1) mΩ/m = 0.79, and the terminations.
  expect(loops[1]?.expectedOhm).toBeGreaterThan(0.785);
  expect(loops[1]?.expectedOhm).toBeLessThan(0.82);
  expect(loops[1]).toMatchObject({ verdict: 'within', onGuess: 'w2' });
  const [read] = loopsOf(platesRead(drawn), [{ kind: 'loop', from: 'c2:L', to: 'c2:E', ohm: 0.85, noTrip: false }], profiles.gb);
  expect(read).toMatchObject({ verdict: 'within', onGuess: null });
});

test('a type AC device with electronics behind it may be blinded by them, and is said to be; type A is not, nor AC behind heaters', () => {
  const said = (type: ResidualType, loadClass: 'electronic' | 'resistive') => {
    const edited = [
      { edit: 'setLoad' as const, point: 'c2', watt: 500, loadClass }, ...['c1', 'c3', 'c4'].map((point) => ({ edit: 'setLoad' as const, point, watt: 500, loadClass: 'resistive' as const })),
      { edit: 'setResidual' as const, device: 'G1', residualMa: 30, type },
    ].reduce<Installation>((m, e) => { const r = editMap(m, e); if (!r.ok) throw new Error(r.issues[0]?.code); return r.value; }, map);
    return budgetsOf(edited, [], profiles.gb).find((b) => b.device.id === 'G1')?.findings;
  };
  expect(said('AC', 'electronic')).toEqual(['typeAc']);
  expect(said('A', 'electronic')).toEqual(['nothingMeasured']);
  expect(said('AC', 'resistive')).toEqual(['nothingMeasured']);
});
