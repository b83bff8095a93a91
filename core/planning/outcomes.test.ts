import { BeliefEngine, noPrediction, type Observation } from '../belief';
import { suspectsOf } from '../faults';
import { endsAtPoint } from '../installation';
import { draft } from '../installation/fixtures/drafted';
import type { Probe } from '../probes';
import { untouched } from '../workstate';
import { forecast as forecastOf, frontOf, information, outcomeClasses, PARTS, type Forecast, type Front } from './outcomes';

const front = (weights: number[]): Front => ({
  cells: Int32Array.from(weights, (_, i) => i), weight: Float64Array.from(weights), place: Int32Array.from(weights, (_, i) => i), suspects: [], of: new Int32Array(0),
  entropy: -weights.reduce((s, w) => s + w * Math.log2(w), 0),
});
/** Of each cell its parts: y, s.d. and chance. */
const partsOf = (cells: number[][][]): Pick<Forecast, 'y' | 'sd' | 'share'> => {
  const [y, sd, share] = [0, 1, 2].map((k) => Float64Array.from(cells.flatMap((parts) => Array.from({ length: PARTS }, (_, i) => parts[i]?.[k] ?? 0)))) as [Float64Array, Float64Array, Float64Array];
  return { y, sd, share };
};
const forecast = (y: number[], sd = 0.02): Forecast => ({ probe: { fn: 'continuity', from: ['a'], to: ['b'] }, ...partsOf(y.map((at) => [[at, sd, 1]])) });

test('what a load may span tells as much as the chance that one is in: 0.45 of two equal places leaves 0.775 of the entropy of 0.55 to 1', () => {
  const spans: Forecast = { ...forecast([]), ...partsOf([[[16, 0.02, 0.55], [4, 1, 0.45]], [[16, 0.02, 1]]]) };
  const p = 0.55 / 1.55;
  const left = 0.775 * -(p * Math.log2(p) + (1 - p) * Math.log2(1 - p));
  expect(information(front([0.5, 0.5]), spans)).toBeCloseTo(1 - left, 1.7);
});

test('a reading that parts two equal places tells one bit, less the share of slips', () => {
  expect(information(front([0.5, 0.5]), forecast([1, 5]))).toBeCloseTo(1, 1);
});

test('a reading that is the same for all tells nothing', () => {
  expect(information(front([0.3, 0.3, 0.4]), forecast([2, 2, 2]))).toBeCloseTo(0, 6);
  // However wide: off scale or not by chance is no knowledge of the place.
  for (const sd of [0.3, 1, 2, 4]) expect(information(front(Array.from({ length: 20 }, () => 0.05)), forecast(Array.from({ length: 20 }, () => 17), sd))).toBeCloseTo(0, 6);
});

test('four equal places in two heaps: one of two bits', () => {
  expect(information(front([0.25, 0.25, 0.25, 0.25]), forecast([1, 1, 6, 6]))).toBeCloseTo(1, 1);
});

test('two that lie within the meter’s error are hardly parted', () => {
  expect(information(front([0.5, 0.5]), forecast([2, 2.02], 0.1))).toBeLessThan(0.1);
});

test('off scale is an outcome of its own', () => {
  expect(information(front([0.5, 0.5]), forecast([1, 30]))).toBeCloseTo(1, 1);
});

test('classes of outcomes hold all the weight between them', () => {
  const f = forecast([1, 1.1, 4, 30]);
  const classes = outcomeClasses(f, Float64Array.from([0.2, 0.3, 0.4, 0.1]), 3);
  expect(classes.length).toBe(3);
  expect(classes.reduce((s, c) => s + c.reduce((x, y) => x + y, 0), 0)).toBeCloseTo(1, 6);
});

test('cells that answer alike are told once, and get what each would have been told by itself', () => {
  const map = draft('ring, 6');
  const engine = new BeliefEngine(map, suspectsOf(map));
  const state = { ...untouched, out: endsAtPoint(map, 'p0').map((e) => e.key), opened: ['p0', 'p3'] };
  const read = (fn: Probe['fn'], from: string, to: string, ohm: number): Observation => ({ probe: { fn, from: [from], to: [to] }, state, displayed: { ohm } });
  const belief = engine.believe([read('insulation', 's1@a:L', 's1@a:E', 40e3), read('continuity', 's1@a:L', 'p3:L', 0.12), read('insulation', 's1@a:N', 's1@a:E', 300e6)]);
  const front = frontOf(engine, belief, (s) => s);
  expect(front.cells.length).toBeGreaterThan(40);
  const out = noPrediction();
  for (const probe of [read('insulation', 's1@a:L', 's1@a:N', 1).probe, read('insulation', 'p3:N', 'p3:E', 1).probe, read('continuity', 's1@a:N', 'p3:N', 1).probe]) {
    const answers = engine.formulas.of(state, probe);
    if (!answers) throw new Error('no answers');
    const f = forecastOf(engine, belief, front, answers);
    for (const [i, c] of front.cells.entries()) {
      engine.predict(belief, c, probe.fn, answers.to(belief.cells.suspect[c] as number), out, answers.others[0]?.to(belief.cells.suspect[c] as number) ?? null);
      expect([f.y[PARTS * i], f.sd[PARTS * i]]).toEqual([expect.closeTo(out.y, 9), expect.closeTo(out.sd, 9)]);
      if (out.spans) expect([f.y[PARTS * i + 1], f.sd[PARTS * i + 1]]).toEqual([expect.closeTo(out.usualY, 9), expect.closeTo(out.usualSd, 9)]);
    }
  }
});
