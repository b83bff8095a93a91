import { draftCircuit } from '../installation';
import { seededRandom } from '../numeric';
import type { Probe } from '../probes';
import { isAbove } from '../tester';
import { untouched } from '../workstate';
import { drawTruth, lifelike, potteryScenarios, practiceTruth, SimulatedTester, trueResistance } from '.';

const drafted = draftCircuit('radial, 4');
if (!drafted.ok) throw new Error('draft');
const map = drafted.value;
const probe: Probe = { fn: 'continuity', from: ['p0:W'], to: ['p3:L'] };

test('the same seed gives the same truth and the same readings; another seed another', () => {
  const read = (seed: number): unknown => {
    const random = seededRandom(seed);
    return new SimulatedTester(drawTruth(map, [], lifelike, random), random, 0).read(untouched, probe);
  };
  expect(read(4)).toEqual(read(4));
  expect(new Set([1, 2, 3, 4, 5, 6].map((s) => JSON.stringify(read(s)))).size).toBeGreaterThan(2);
});

test('the truth strays from the plan by about the scatter that was asked for', () => {
  const ratios = Array.from({ length: 60 }, (_, i) => drawTruth(map, [], lifelike, seededRandom(i)).installation.sections.map((s, n) => s.lengthM / (map.sections[n]?.lengthM ?? 1))).flat();
  const mean = ratios.reduce((s, r) => s + r, 0) / ratios.length;
  const sd = Math.sqrt(ratios.reduce((s, r) => s + (r - mean) ** 2, 0) / ratios.length);
  expect(mean).toBeCloseTo(1, 1);
  expect(sd).toBeGreaterThan(0.06);
  expect(sd).toBeLessThan(0.1);
});

test('a reading is within the meter’s accuracy of what is really there', () => {
  for (let seed = 1; seed <= 40; seed++) {
    const random = seededRandom(seed);
    const truth = drawTruth(map, [{ kind: 'termination', end: 's2@a:L', ohm: 3.4 }], lifelike, random);
    const real = trueResistance(truth, untouched, probe);
    const shown = new SimulatedTester(truth, random, 0).read(untouched, probe);
    if (real === 'open' || isAbove(shown)) throw new Error(`seed ${seed} reads off scale`);
    // Gain 2 %, residual 0.02 Ω, two digits and half a digit of rounding.
    expect(Math.abs(shown.ohm - real)).toBeLessThanOrEqual(0.02 * real + 0.02 + 0.025 + 1e-9);
  }
});

test('slips come about as often as they are asked for', () => {
  const random = seededRandom(9);
  const tester = new SimulatedTester(drawTruth(map, [], lifelike, random), random, 0.2);
  const slips = Array.from({ length: 500 }, () => tester.read(untouched, probe)).filter((d) => isAbove(d) || d.ohm > 0.5).length;
  expect(slips / 500).toBeGreaterThan(0.13);
  expect(slips / 500).toBeLessThan(0.27);
});

test('ties join what one lead holds', () => {
  const truth = drawTruth(map, [], lifelike, seededRandom(1));
  const state = { ...untouched, loadsOut: [] };
  const single = trueResistance(truth, state, { fn: 'continuity', from: ['p0:W'], to: ['p3:N'] });
  const tied = trueResistance(truth, state, { fn: 'continuity', from: ['p0:W', 'p0:N'], to: ['p3:N'] });
  expect(single === 'open' || single > 1e6).toBe(true);
  expect(tied).toBeLessThan(1);
});

test('in the pottery a fault is gone once the suspect at its place was mended, and not before', () => {
  for (const s of potteryScenarios().filter((x) => x.faults.every((f) => f.kind === 'termination' || f.kind === 'openCore' || f.kind === 'contact'))) {
    const file = { practice: { seed: s.seed, faults: [...s.faults] } };
    expect(practiceTruth(file, s.map, [])?.truth.faults).toHaveLength(1);
    expect(practiceTruth(file, s.map, ['loose s99@b:L'])?.truth.faults).toHaveLength(1);
    const fault = s.faults[0];
    const id = fault?.kind === 'termination' ? `loose ${fault.end}` : fault?.kind === 'openCore' ? `open ${fault.section}:${fault.core}` : fault?.kind === 'contact' ? `contact ${fault.section}:${fault.cores.join('')}` : '';
    expect(practiceTruth(file, s.map, [id])?.truth.faults).toHaveLength(0);
    expect(practiceTruth({}, s.map, [])).toBeNull();
  }
});
