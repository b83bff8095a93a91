import { draftCircuit, protectionsOf, residualDeviceOf, type Installation } from '../installation';
import { suspectsOf, type Fault } from '../faults';
import { elementKey, untouched, type WorkState } from '../workstate';
import { angle, chanceOfTrip, compileLive, Energised, indicatorOhm, magnitude, usualService } from '.';
import { randomScene, slowVolts } from './fixtures/slow';

const draft = (phrase: string): Installation => {
  const r = draftCircuit(phrase);
  if (!r.ok) throw new Error(phrase);
  return r.value;
};
const at = (map: Installation, supply: Partial<NonNullable<Installation['supply']>>): Installation => ({ ...map, supply: { arrangement: null, phases: 1, ...supply } });
const volts = (e: Energised, a: string, b: string, ohm: number = indicatorOhm.high): number => magnitude(e.voltage(a, b, ohm) ?? { re: NaN, im: 0 });
const device = (map: Installation, id: string) => {
  const d = protectionsOf(map).find((p) => p.id === id);
  if (!d) throw new Error(id);
  return d;
};
const loadsOut = (map: Installation): string[] => map.points.flatMap((p) => p.elements.flatMap((e) => (e.kind === 'load' ? [elementKey(p.id, e.id)] : [])));
const residualMa = (map: Installation, id: string, faults: Fault[], state: WorkState = untouched, service = usualService): number => 1000 * magnitude(Energised.of(map, state, faults, service).residual(device(map, id)));

test('300 random installations, energised: every voltage as a slow plain solver says, magnitude and angle, to 1e-6', () => {
  let worst = 0;
  let compared = 0;
  for (let seed = 1; seed <= 300; seed++) {
    const { map, state, faults } = randomScene(seed);
    const network = compileLive(map, state, faults);
    const mine = new Energised(network).volts;
    const slow = slowVolts(network);
    for (const [i, v] of slow.entries()) {
      const size = Math.hypot(v.re, v.im);
      if (size < 1e-3) continue;
      const error = Math.hypot((mine.re[i] as number) - v.re, (mine.im[i] as number) - v.im) / size;
      worst = Math.max(worst, error);
      compared++;
    }
  }
  console.log(`energised: ${compared} voltages of 300 installations, worst relative difference ${worst.toExponential(1)}`);
  expect(compared).toBeGreaterThan(5000);
  expect(worst).toBeLessThan(1e-6);
});

test('a sound outlet: 230 V line to neutral, line to earth, next to none between neutral and earth', () => {
  const e = Energised.of(draft('radial, 3'), untouched);
  expect(volts(e, 'p2:L', 'p2:N')).toBeGreaterThan(225);
  expect(volts(e, 'p2:L', 'p2:E')).toBeGreaterThan(225);
  expect(volts(e, 'p2:N', 'p2:E')).toBeLessThan(2);
});

test('a broken neutral shows an induced voltage to a multimeter, and next to none under a low impedance', () => {
  const map = draft('radial, 4');
  // With nothing plugged in: a load would hold it at line voltage.
  const e = Energised.of(map, { ...untouched, loadsOut: map.points.flatMap((p) => p.elements.map((x) => `${p.id}.${x.id}`)) }, [{ kind: 'openCore', section: 's3', core: 'N' }]);
  // A neutral that is broken floats between line and earth.
  const ghost = volts(e, 'p4:N', 'p4:E', indicatorOhm.high);
  expect(ghost).toBeGreaterThan(30);
  expect(volts(e, 'p4:N', 'p4:E', indicatorOhm.low)).toBeLessThan(2);
  // Line itself is real and stays.
  expect(volts(e, 'p4:L', 'p4:E', indicatorOhm.low)).toBeGreaterThan(220);
});

test('a broken neutral with a load on it: neutral beyond sits at line voltage', () => {
  const map = draft('lights, 4');
  const e = Energised.of(map, untouched, [{ kind: 'openCore', section: 's1', core: 'N' }]);
  expect(volts(e, 'p2:N', 'p2:E', indicatorOhm.low)).toBeGreaterThan(200);
  expect(volts(e, 'p2:L', 'p2:N', indicatorOhm.low)).toBeLessThan(20);
});

test('line to earth in TN-S: the current is U0 over the whole loop, and the RCD goes at once', () => {
  const map = draft('6 ways, RCD on 1 to 6');
  const fault: Fault = { kind: 'pointContact', point: 'c2', terminals: ['L', 'E'], ohm: 2000 };
  const e = Energised.of(map, { ...untouched, loadsOut: loadsOut(map) }, [fault]);
  const i = magnitude(e.residual(device(map, 'G1')));
  // 230 V over 2 kΩ and less than an ohm of cable: 115 mA, and capacitance in quadrature.
  expect(i).toBeGreaterThan(0.1149);
  expect(i).toBeLessThan(0.116);
  expect(chanceOfTrip(device(map, 'G1'), 0, i).atOnce).toBeGreaterThan(0.99);
});

test('neutral to earth: holds while nothing runs and the supply neutral is quiet, goes when enough load shares the neutral', () => {
  const map = at(draft('6 ways, RCD on 1 to 6'), { arrangement: 'TN-C-S' });
  const fault: Fault = { kind: 'pointContact', point: 'c2', terminals: ['N', 'E'], ohm: 0.2 };
  const quiet = residualMa(map, 'G1', [fault], { ...untouched, loadsOut: loadsOut(map) });
  const loaded = residualMa(map, 'G1', [fault]);
  expect(quiet).toBeLessThan(10);
  expect(loaded).toBeGreaterThan(30);
});

test('a drop in the supply neutral trips an RCD on neutral to earth with all its ways off', () => {
  const map = at(draft('6 ways, RCD on 1 to 6'), { arrangement: 'TN-S' });
  const state: WorkState = { ...untouched, off: [1, 2, 3, 4, 5, 6].map((n) => `p0.w${n}`) };
  const fault: Fault = { kind: 'pointContact', point: 'c2', terminals: ['N', 'E'], ohm: 0.2 };
  expect(residualMa(map, 'G1', [fault], state)).toBeGreaterThan(100);
  expect(residualMa(map, 'G1', [], state)).toBeLessThan(1);
});

test('a neutral in another device’s bar: both devices see the load as residual, insulation has nothing to do with it', () => {
  const map = draft('6 ways, RCD on 1 to 3, RCD on 4 to 6');
  const fault: Fault = { kind: 'landed', end: 's2@a:N', terminal: 'NG2' };
  const load = map.nominalVolt / 150;
  for (const g of ['G1', 'G2']) {
    const mA = residualMa(map, g, [fault]);
    expect(mA / 1000).toBeGreaterThan(0.9 * load);
    expect(mA / 1000).toBeLessThan(1.1 * load);
  }
  expect(residualMa(map, 'G1', [fault], { ...untouched, off: ['p0.w2'] })).toBeLessThan(10);
});

test('standing leakage of several appliances adds up behind one device, and not by magnitudes alone', () => {
  const map = draft('6 ways, RCD on 1 to 6');
  const kiln: Installation = { ...map, points: map.points.map((p) => ({ ...p, elements: p.elements.map((x) => (x.kind === 'load' ? { ...x, leakMa: 4 } : x)) })) };
  const all = residualMa(kiln, 'G1', []);
  const one = residualMa(kiln, 'G1', [], { ...untouched, off: [2, 3, 4, 5, 6].map((n) => `p0.w${n}`) });
  expect(all).toBeGreaterThan(23);
  expect(all).toBeLessThanOrEqual(6 * one * 1.001);
  // With a resistive leak of the same size beside them the sum is less than the sum of the parts.
  const wet = residualMa(kiln, 'G1', [{ kind: 'pointContact', point: 'c1', terminals: ['L', 'E'], ohm: 10000 }]);
  expect(wet).toBeLessThan(all + 23 - 5);
  expect(wet).toBeGreaterThan(Math.hypot(all, 23) * 0.97);
});

test('the loop at the furthest point is Ze + (R1 + R2); L–N and L–E loops part a bad neutral from a bad earth', () => {
  const map = at(draft('radial, 4'), { arrangement: 'TN-S', lineOhm: 0.1, neutralOhm: 0.1, earthOhm: 0.25 });
  const e = Energised.of(map, { ...untouched, loadsOut: loadsOut(map) });
  const last = map.points.at(-1)?.id ?? '';
  const zs = magnitude(e.loop(`${last}:L`, `${last}:E`) ?? { re: 0, im: 0 });
  const metres = map.sections.reduce((s, x) => s + x.lengthM, 0);
  // Sixteen terminations of 3.5 mΩ lie on the way there and back.
  expect(Math.abs(zs - (0.35 + metres * (0.00741 + 0.0121) + 16 * 0.0035))).toBeLessThan(0.005);
  const bad = Energised.of(map, { ...untouched, loadsOut: loadsOut(map) }, [{ kind: 'termination', end: 's2@b:N', ohm: 3 }]);
  const loop = (to: string): number => magnitude(bad.loop(`${last}:L`, `${last}:${to}`) ?? { re: 0, im: 0 });
  expect(loop('N')).toBeGreaterThan(3);
  expect(loop('E')).toBeCloseTo(zs, 3);
});

test('a lost combined neutral and earth makes the earth terminal itself live, seen only against an independent earth', () => {
  const map = at(draft('6 ways'), { arrangement: 'TN-C-S' });
  const e = Energised.of(map, untouched, [{ kind: 'supply', lost: 'neutral' }]);
  expect(volts(e, 'p0:E', 'ground', indicatorOhm.low)).toBeGreaterThan(100);
  expect(volts(e, 'p0:N', 'p0:E', indicatorOhm.low)).toBeLessThan(1);
});

test('TT: a fault to earth is limited by the electrode, far below what an MCB needs, far above an RCD', () => {
  const map = at(draft('6 ways, RCD on 1 to 6'), { arrangement: 'TT', earthOhm: 60 });
  const e = Energised.of(map, { ...untouched, loadsOut: loadsOut(map) }, [{ kind: 'pointContact', point: 'c3', terminals: ['L', 'E'], ohm: 0.1 }]);
  const i = magnitude(e.residual(device(map, 'G1')));
  expect(i).toBeGreaterThan(3);
  expect(i).toBeLessThan(4);
  expect(chanceOfTrip(device(map, 'w3'), i, 0).atOnce).toBeLessThan(0.01);
  // Until it trips, all metal on that electrode stands at dangerous voltage.
  expect(volts(e, 'p0:E', 'ground', indicatorOhm.low)).toBeGreaterThan(200);
});

test('a clamp round line and neutral of a way sees no load, round the line alone all of it', () => {
  const map = draft('4 ways, RCBOs on 1 to 4');
  const e = Energised.of(map, untouched);
  expect(magnitude(e.clamp(['way p0.w2']))).toBeCloseTo(230 / 150, 1);
  expect(magnitude(e.clamp(['way p0.w2', 'pole p0.n2']))).toBeLessThan(0.002);
});

test('the angle: leakage of cable leads by a quarter, a resistive contact does not', () => {
  const map = draft('2 ways, RCBOs on 1 to 2');
  const sound = Energised.of(map, { ...untouched, loadsOut: loadsOut(map) }).residual(device(map, 'w1'));
  expect(angle(sound)).toBeGreaterThan(85);
  const damp = Energised.of(map, { ...untouched, loadsOut: loadsOut(map) }, [{ kind: 'pointContact', point: 'c1', terminals: ['L', 'E'], ohm: 5000 }]).residual(device(map, 'w1'));
  expect(Math.abs(angle(damp))).toBeLessThan(5);
});

test('who watches a way: its own RCBO before its group before the main device', () => {
  const map = at(draft('6 ways, RCD on 1 to 3, RCBOs on 4 to 5'), { main: { ratingA: 80, residualMa: 100 } });
  expect(residualDeviceOf(map, 'w2')?.id).toBe('G1');
  expect(residualDeviceOf(map, 'w4')?.id).toBe('w4');
  expect(residualDeviceOf(map, 'w6')?.id).toBe('main');
});

test('laws on random installations: residual currents of all ways without neutrals of their own close with the supply; each suspect compiles', () => {
  for (let seed = 400; seed < 430; seed++) {
    const { map, state, faults } = randomScene(seed);
    const e = Energised.of(map, state, faults);
    // All current that leaves by the line and does not come back by the neutral goes by earth.
    const main = protectionsOf(map).find((p) => p.id === 'main');
    if (!main) throw new Error('no main');
    const away = e.residual(main);
    const byEarth = e.current('supply earth');
    if (map.supply?.arrangement === 'TN-C-S') continue;
    // The earthing conductor of TN-S and TT runs from the earth bar outwards.
    expect(Math.hypot(away.re - byEarth.re, away.im - byEarth.im)).toBeLessThan(1e-6 + 1e-6 * magnitude(away));
  }
  const map = draft('4 ways, RCD on 1 to 2');
  for (const s of suspectsOf(map)) expect(Number.isFinite(magnitude(Energised.of(map, untouched, s.fault(10, 0.4)).current('supply line')))).toBe(true);
});
