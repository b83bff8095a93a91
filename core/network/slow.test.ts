import { randomScene, slowVolts } from '../live/fixtures/slow';
import { seededRandom } from '../numeric';
import { compileNetwork, planPhysics, resistanceBetween } from '.';

test('300 random installations, dead, from milliohms to gigaohms: every reading as a slow plain solver of another design says, to 1e-6', () => {
  let compared = 0;
  let worst = 0;
  let [least, most] = [Infinity, 0];
  for (let seed = 1; seed <= 300; seed++) {
    const { map, state, faults } = randomScene(seed);
    const network = compileNetwork(map, { ...state, off: map.points.flatMap((p) => p.elements.flatMap((e) => (e.kind === 'way' || e.kind === 'pole' ? [`${p.id}.${e.id}`] : []))) }, faults, planPhysics);
    const random = seededRandom(seed);
    const branches = network.branches.map((b) => ({ a: b.a, b: b.b, re: 1 / b.ohm, im: 0, part: b.part }));
    for (let k = 0; k < 3; k++) {
      const [a, b] = [random.integer(0, network.nodes.length - 1), random.integer(0, network.nodes.length - 1)];
      const mine = resistanceBetween(network, a, b);
      if (a === b || mine === 'open') continue;
      const slow = slowVolts({ nodes: network.nodes, index: network.index, branches, sources: [{ a: b, b: a, re: 1, im: 0, part: 'one ampere' }], ground: b, distorting: new Set() })[a]?.re ?? NaN;
      worst = Math.max(worst, Math.abs(mine / slow - 1));
      [least, most] = [Math.min(least, mine), Math.max(most, mine)];
      compared++;
    }
  }
  console.log(`dead: ${compared} readings of 300 installations from ${least.toExponential(1)} to ${most.toExponential(1)} Ω, worst relative difference ${worst.toExponential(1)}`);
  expect(compared).toBeGreaterThan(300);
  expect(most).toBeGreaterThan(1e9);
  expect(worst).toBeLessThan(1e-6);
});
