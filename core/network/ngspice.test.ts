import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { compileNetwork, netlistOf, resistanceBetween } from '.';
import { loadVectors } from './fixtures/vectorCase';

const folder = mkdtempSync(join(tmpdir(), 'gutter-spice-'));

/** Ohms by ngspice: one volt across the pair, its current read. */
function simulate(netlist: string): number {
  const file = join(folder, 'case.cir');
  writeFileSync(file, netlist);
  const text = execFileSync('ngspice', ['-b', file], { encoding: 'utf8', stdio: ['ignore', 'pipe', 'ignore'] });
  return Number(/1\/i\(v2\) = (\S+)/.exec(text)?.[1]);
}

test('another simulator reads the same from our netlist: 1e-4 up to 1 GΩ, 1e-2 above; no path is never simulated', () => {
  let compared = 0;
  let noPath = 0;
  for (const c of loadVectors().filter((x) => x.id % 6 === 0)) {
    const network = compileNetwork(c.installation, c.state, c.faults, c.physics);
    for (const r of c.readings.slice(0, 3)) {
      const mine = resistanceBetween(network, network.index.get(r.from) ?? -1, network.index.get(r.to) ?? -1);
      const netlist = netlistOf(`case ${c.id}`, network, [r.from, r.to]);
      if (mine === 'open') {
        noPath++;
        if (netlist !== null) expect(simulate(netlist)).toBeGreaterThan(1e12);
        continue;
      }
      if (netlist === null) {
        expect(mine).toBe(0);
        continue;
      }
      expect(Math.abs(simulate(netlist) / mine - 1)).toBeLessThan(mine <= 1e9 ? 1e-4 : 1e-2);
      compared++;
    }
  }
  console.log(`ngspice: ${compared} readings compared, ${noPath} without a path`);
  expect(compared).toBeGreaterThan(20);
});
