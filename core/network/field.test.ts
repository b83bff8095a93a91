import { drawCase, families } from '../../bench/world';
import { endKeyOf } from '../installation/keys';
import { planPhysics } from '.';
import { Field } from './field';
import { skeletonOf } from './skeleton';

test('parting a bridge parts its leakage: both sides together are the whole, and an end that is off takes its half cable along', () => {
  for (let seed = 1; seed <= 12; seed++) {
    const { plan, start } = drawCase(families[seed % 4] ?? 'ring', seed);
    const field = new Field(skeletonOf(plan, { ...start, out: [] }, planPhysics));
    for (const section of plan.sections)
      for (const core of section.cores) {
        const branch = field.branch(`${section.id}:${core.id}`);
        if (!branch?.bridge) continue;
        const whole = field.leakage(branch);
        // Half of the cable to each of its other cores.
        const half = ((section.cores.length - 1) * section.lengthM) / 2 / planPhysics.insulationOhmM(section.id);
        for (const side of ['a', 'b'] as const) {
          const off = field.leakage(branch, endKeyOf(section, side, core.id));
          expect(off.near + off.beyond).toBeCloseTo(whole.near + whole.beyond, 15);
          expect(Math.abs(Math.abs(off.beyond - whole.beyond) / half - 1)).toBeLessThan(1e-6);
        }
      }
  }
});
