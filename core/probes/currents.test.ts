import { drawCase, families } from '../../bench/world';
import { suspectsOf } from '../faults';
import type { Installation } from '../installation';
import { draft } from '../installation/fixtures/drafted';
import { compileNetwork, planPhysics, resistanceBetween } from '../network';
import { seededRandom } from '../numeric';
import { spotsAt } from '../planning';
import { untouched, type WorkState } from '../workstate';
import { lengthSlopes, respond, StateModel, type Probe } from '.';

const STEP = 1e-3;

interface Case { readonly seed: number; readonly plan: Installation; readonly state: WorkState }

/** Circuits of the benchmark with their ends out at the board and no load in. */
const apart = (): Case[] =>
  Array.from({ length: 16 }, (_, i) => {
    const { plan, start } = drawCase(families[(i + 1) % 4] ?? 'ring', i + 1);
    return { seed: i + 1, plan, state: { ...start, opened: plan.points.map((p) => p.id), loadsOut: plan.points.flatMap((p) => p.elements.map((e) => `${p.id}.${e.id}`)) } };
  });

/** The same joined, and stair lights with their lamps in: loops through copper and through loads. */
const joined = (): Case[] =>
  Array.from({ length: 12 }, (_, i) => {
    const plan = i % 2 ? draft('lights, 6, two-way switch at 3') : drawCase('ring', i + 1).plan;
    const throws = plan.points.flatMap((p) => p.elements.flatMap((e) => (e.kind === 'switch' && e.contrary === undefined ? [`${p.id}.${e.id}`] : [])));
    return { seed: 100 + i, plan, state: { ...untouched, opened: plan.points.map((p) => p.id), off: throws.filter((_t, n) => (i >> (n + 1)) & 1) } };
  });

test('the slope of a reading with each cable’s length is that of the exact network', () => {
  const failures: string[] = [];
  let compared = 0;
  for (const { seed, plan, state } of [...apart(), ...joined()]) {
    const random = seededRandom(seed);
    const model = new StateModel(plan, state, planPhysics);
    const spots = plan.points.flatMap((p) => spotsAt(plan, state, p).spots.map((x) => x.place));
    const suspects = suspectsOf(plan).filter((s) => ['contact', 'pointContact', 'resistiveEnd', 'openCore', 'sound'].includes(s.kind));
    for (let i = 0; i < 30; i++) {
      const suspect = random.pick(suspects);
      const probe: Probe = { fn: 'continuity', from: [random.pick(spots)], to: [random.pick(spots)] };
      const leads = model.leads(probe);
      const sound = model.sound(probe);
      if (!leads || !sound || leads[0].node === leads[1].node) continue;
      const x = suspect.kind === 'openCore' ? Infinity : suspect.kind === 'sound' ? 0 : 10 ** random.uniform(-1, 2);
      const d = random.uniform(0.1, 0.9);
      const response = model.response(suspect, probe, leads, sound);
      const ohm = respond(response, x, d, 1);
      if (ohm > 1e5) continue;
      const slopes = new Float64Array(plan.sections.length);
      lengthSlopes(slopes, model.cores(), model.probeCurrents(leads), response, model.siteCurrents(suspect), x, d, 1);
      for (const [n, section] of plan.sections.entries()) {
        const read = (factor: number): number => {
          const longer = { ...plan, sections: plan.sections.map((s) => (s === section ? { ...s, lengthM: s.lengthM * factor } : s)) };
          const network = compileNetwork(longer, state, suspect.fault(x, d), planPhysics);
          const r = resistanceBetween(network, network.index.get(probe.from[0] ?? '') ?? -1, network.index.get(probe.to[0] ?? '') ?? -1);
          return r === 'open' ? Infinity : r;
        };
        const exact = (read(1 + STEP) - read(1 - STEP)) / (2 * STEP);
        compared++;
        if (Math.abs(exact - (slopes[n] as number)) > 0.004 + 0.03 * Math.abs(exact)) failures.push(`seed ${seed} ${suspect.id} ${x} d ${d.toFixed(2)} ${probe.from[0]}–${probe.to[0]} ${section.id}: ${(slopes[n] as number).toFixed(4)} but ${exact.toFixed(4)} (reads ${ohm.toFixed(2)})`);
      }
    }
  }
  expect(compared).toBeGreaterThan(1000);
  expect(failures.slice(0, 12)).toEqual([]);
});
