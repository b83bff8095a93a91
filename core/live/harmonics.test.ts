import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { loadsOf, type Installation, type Load } from '../installation';
import { draft, edited } from '../installation/fixtures/drafted';
import { profiles } from '../profiles';
import { elementKey, untouched, type WorkState } from '../workstate';
import { budgetsOf, clampAmp, compileLive, Energised, Harmonics, leakMaOf, liveNetlist, networkAt, soundView, SUPPLY_NEUTRAL, type LiveTest } from '.';
import { randomScene } from './fixtures/slow';

/** Lumps of some power and class on the first ways; all other loads out. */
function board(phrase: string, loads: readonly { readonly watt: number; readonly loadClass: Load['loadClass'] }[]): { map: Installation; state: WorkState } {
  const map = edited(draft(phrase), ...loads.map((l, i) => ({ edit: 'setLoad' as const, point: `c${i + 1}`, ...l })));
  const loadsOut = map.points.flatMap((p) => (loads.some((_, i) => p.id === `c${i + 1}`) ? [] : loadsOf(p).map((l) => elementKey(p.id, l.id))));
  return { map, state: { ...untouched, loadsOut } };
}
const clamp = ({ map, state }: { map: Installation; state: WorkState }, around: string, filtered: boolean, peak = false): number => clampAmp(map, soundView(Energised.of(map, state)), null, state, { around, filtered, peak });
/** r.m.s. of the orders of a rectifier's current beside its fundamental of 1. */
const OVER_50_HZ = Math.hypot(0.6, 0.35, 0.15, 0.08);

test('a power supply of 1 A reads 1 A through the 50 Hz filter and 1.23 A without it; a heater reads the same both ways', () => {
  const supply = board('3 ways, RCD on 1 to 3', [{ watt: 230, loadClass: 'electronic' }]);
  expect(clamp(supply, 'w1/L', true)).toBeCloseTo(1, 1);
  expect(clamp(supply, 'w1/L', false) / clamp(supply, 'w1/L', true)).toBeCloseTo(Math.hypot(1, OVER_50_HZ), 2);
  const heater = board('3 ways, RCD on 1 to 3', [{ watt: 230, loadClass: 'resistive' }]);
  expect(clamp(heater, 'w1/L', false)).toBeCloseTo(clamp(heater, 'w1/L', true), 6);
  // What it draws above 50 Hz comes back through the neutral: the RCD sees none of it, only what its filter leaks.
  const more = Math.sqrt(clamp(supply, 'G1', false) ** 2 - clamp(supply, 'G1', true) ** 2);
  const leak = leakMaOf('undrawn', loadsOf(supply.map.points.find((p) => p.id === 'c1') ?? { elements: [] })[0] as Load) / 1000;
  expect(more / (leak * Math.hypot(0.35, 0.3, 0.2, 0.15))).toBeCloseTo(1, 1);
});

test('three equal power supplies on three phases: 50 Hz cancels in the neutral, the third and ninth harmonic add to 1.8 times one line', () => {
  const three = board('3 ways, three phase', [0, 1, 2].map(() => ({ watt: 2300, loadClass: 'electronic' as const })));
  const e = Energised.of(three.map, three.state);
  const line = clamp(three, 'w1/L', true);
  expect(line).toBeGreaterThan(9);
  expect(Math.hypot(e.current(SUPPLY_NEUTRAL).re, e.current(SUPPLY_NEUTRAL).im)).toBeLessThan(0.1 * line + 1);
  expect(new Harmonics(e).through([SUPPLY_NEUTRAL]) / line).toBeCloseTo(3 * Math.hypot(0.6, 0.08), 1);
});

test('while a motor of 2 A starts its line shows six times that; nothing starts in a heater', () => {
  const of = (loadClass: Load['loadClass']): number => {
    const b = board('3 ways', [{ watt: 460, loadClass }]);
    return clamp(b, 'w1/L', true, true) / clamp(b, 'w1/L', true);
  };
  expect(of('winding')).toBeCloseTo(6, 1);
  expect(of('resistive')).toBeCloseTo(1, 6);
});

test('a way that is off, and a place that no clamp goes round, show nothing', () => {
  const b = board('3 ways', [{ watt: 460, loadClass: 'electronic' }]);
  expect(clamp({ ...b, state: { ...b.state, off: ['p0.w1'] } }, 'w1/L', false)).toBeLessThan(1e-5);
  expect(clamp(b, 'w99/L', false)).toBe(0);
});

test('6 mA without the filter beside 4 mA with it are 4.5 mA of harmonics, and said; what stands is the 50 Hz figure', () => {
  const { map } = board('3 ways, RCD on 1 to 3', []);
  const read = (mA: number, filtered: boolean): LiveTest => ({ kind: 'clamp', around: 'G1', mA, filtered, peak: false });
  const of = (...tests: LiveTest[]) => budgetsOf(map, tests, profiles.gb)[0];
  expect(of(read(6, false), read(4, true))).toMatchObject({ standingMa: 4, findings: ['harmonics'] });
  expect(of(read(6, false), read(4, true))?.harmonicMa).toBeCloseTo(Math.sqrt(20), 9);
  expect(of(read(6, false))).toMatchObject({ standingMa: 6, harmonicMa: null, findings: ['fine'] });
  expect(of(read(4.1, false), read(4, true))?.findings).toEqual(['fine']);
});

test('another simulator finds the same volts at 150 Hz from our netlist', () => {
  const folder = mkdtempSync(join(tmpdir(), 'gutter-harmonic-'));
  let [compared, worst] = [0, 0];
  for (let seed = 1; seed <= 12; seed++) {
    const { map: plain, state, faults } = randomScene(seed);
    const map: Installation = { ...plain, points: plain.points.map((p, i) => ({ ...p, elements: p.elements.map((e) => (e.kind === 'load' && i % 2 === 0 ? { ...e, loadClass: 'electronic' } : e)) })) };
    const network = networkAt(new Energised(compileLive(map, { ...state, off: [], loadsOut: [] }, faults)), 3);
    if (!network.sources.length) continue;
    const { re, im } = new Energised(network).volts;
    const file = join(folder, `${seed}.cir`);
    writeFileSync(file, liveNetlist(`seed ${seed}`, network, 150));
    const text = execFileSync('ngspice', ['-b', file], { encoding: 'utf8', stdio: ['ignore', 'pipe', 'ignore'] });
    const theirs = new Map([...text.matchAll(/v([ri])\((\w+)\)\s*=\s*(\S+)/g)].map((m) => [`${m[1]} ${m[2]}`, Number(m[3])]));
    for (const i of network.nodes.keys()) {
      const [r, x] = [theirs.get(`r n${i + 1}`), theirs.get(`i n${i + 1}`)];
      const size = Math.hypot(re[i] as number, im[i] as number);
      if (r === undefined || x === undefined || i === network.ground || size < 0.01) continue;
      worst = Math.max(worst, Math.hypot((re[i] as number) - r, (im[i] as number) - x) / size);
      compared++;
    }
  }
  console.log(`150 Hz: ${compared} voltages, worst relative difference to ngspice ${worst.toExponential(1)}`);
  expect(compared).toBeGreaterThan(50);
  expect(worst).toBeLessThan(1e-4);
});
