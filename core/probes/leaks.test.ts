import { drawCase } from '../../bench/world';
import { suspectsOf } from '../faults';
import { compileNetwork, planPhysics, resistanceBetween } from '../network';
import { seededRandom } from '../numeric';
import { spotsAt } from '../planning';
import type { WorkState } from '../workstate';
import { insulationSlopes, respond, StateModel, type Probe } from '.';

const STEP = 1e-3;

test('the slope of a reading with each cable’s insulation is that of the exact network', () => {
  const failures: string[] = [];
  let compared = 0;
  for (let seed = 1; seed <= 24; seed++) {
    const random = seededRandom(seed);
    const { plan, start } = drawCase((['ring', 'radial', 'lighting', 'outdoor', 'board'] as const)[seed % 5] ?? 'ring', seed);
    const state: WorkState = { ...start, opened: plan.points.map((p) => p.id), loadsOut: plan.points.flatMap((p) => p.elements.map((e) => `${p.id}.${e.id}`)) };
    const model = new StateModel(plan, state, planPhysics);
    const spots = plan.points.flatMap((p) => spotsAt(plan, state, p).spots.map((x) => x.place));
    const suspects = suspectsOf(plan).filter((s) => ['contact', 'pointContact', 'openCore', 'sound'].includes(s.kind));
    for (let i = 0; i < 30; i++) {
      const suspect = random.pick(suspects);
      const probe: Probe = { fn: 'insulation', from: [random.pick(spots)], to: [random.pick(spots)] };
      const leads = model.leads(probe);
      const sound = model.sound(probe);
      if (!leads || !sound || model.field.piece(leads[0].node) === model.field.piece(leads[1].node)) continue;
      const x = suspect.kind === 'openCore' ? Infinity : suspect.kind === 'sound' ? 0 : 10 ** random.uniform(6, 9.5);
      const d = random.uniform(0.1, 0.9);
      const response = model.response(suspect, probe, leads, sound);
      // A break in a conductor that no lead is on changes the detours alone, and is left out.
      if (suspect.kind === 'openCore' && response === sound) continue;
      const ohm = respond(response, x, d, 1);
      if (ohm > 1e12) continue;
      const slopes = new Float64Array(plan.sections.length);
      insulationSlopes(slopes, model.leakage(), model.probePotentials(leads), response, model.leakage().site(suspect, leads, response), x, d, 1);
      for (const [n, section] of plan.sections.entries()) {
        const read = (factor: number): number => {
          const physics = { ...planPhysics, insulationOhmM: (id: string) => planPhysics.insulationOhmM(id) * (id === section.id ? factor : 1) };
          const network = compileNetwork(plan, state, suspect.fault(x, d), physics);
          const r = resistanceBetween(network, network.index.get(probe.from[0] ?? '') ?? -1, network.index.get(probe.to[0] ?? '') ?? -1);
          return r === 'open' ? Infinity : r;
        };
        const exact = (read(1 + STEP) - read(1 - STEP)) / (2 * STEP);
        compared++;
        const allowed = 0.003 * ohm;
        if (Math.abs(exact - (slopes[n] as number)) > allowed) failures.push(`seed ${seed} ${suspect.id} ${x.toPrecision(3)} d ${d.toFixed(2)} ${probe.from[0]}–${probe.to[0]} ${section.id}: ${((slopes[n] as number) / ohm).toFixed(4)} but ${(exact / ohm).toFixed(4)} of ${ohm.toPrecision(3)} Ω`);
      }
    }
  }
  expect(compared).toBeGreaterThan(1000);
  expect(failures.slice(0, 12)).toEqual([]);
});
