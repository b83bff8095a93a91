import { drawCase, families } from '../../bench/world';
import { endKeyOf } from '../installation/keys';
import { seededRandom } from '../numeric';
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

test('ohms between two nodes by their loops are those of the whole piece: rings, loads across, links and metal beside', () => {
  let checked = 0;
  for (let seed = 1; seed <= 10; seed++)
    for (const family of [...families, 'board'] as const) {
      const { plan, start } = drawCase(family, seed);
      const board = plan.points.find((p) => p.kind === 'board');
      const links = board ? [{ id: 'k', a: `${board.id}:N`, b: `${board.id}:E` }] : [];
      const bridged = { ...plan, points: plan.points.map((p) => (p.kind === 'board' ? p : { ...p, metalOhm: 0.4 })) };
      for (const state of [start, { ...start, out: [], off: [], loadsOut: [], links }]) {
        const make = (): Field => new Field(skeletonOf(bridged, state, planPhysics));
        const [whole, asked] = [make(), make()];
        const random = seededRandom(seed);
        for (let k = 0; k < 30; k++) {
          const [a, b] = [random.integer(0, whole.nodeCount - 1), random.integer(0, whole.nodeCount - 1)];
          if (whole.piece(a) !== whole.piece(b)) continue;
          checked++;
          const exact = whole.metal(a, b, a, b);
          // Nothing of this field is solved: it goes by loops alone.
          expect(Math.abs(asked.metalAcross(a, b) - exact)).toBeLessThan(1e-9 * (1 + exact));
          // Further ways beside the tree only lessen it.
          expect(asked.metalAlongTree(a, b)).toBeGreaterThanOrEqual(exact - 1e-9 * (1 + exact));
        }
      }
    }
  expect(checked).toBeGreaterThan(500);
});
