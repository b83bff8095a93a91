import { execFileSync } from 'node:child_process';
import { mkdtempSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { compileLive, Energised, liveNetlist, magnitude } from '.';
import { randomScene } from './fixtures/slow';

const folder = mkdtempSync(join(tmpdir(), 'gutter-live-'));

/** Volts of every node by ngspice, by node name. */
function simulate(netlist: string): Map<string, { re: number; im: number }> {
  const file = join(folder, 'case.cir');
  writeFileSync(file, netlist);
  const text = execFileSync('ngspice', ['-b', file], { encoding: 'utf8', stdio: ['ignore', 'pipe', 'ignore'] });
  const found = new Map<string, { re: number; im: number }>();
  for (const m of text.matchAll(/v([ri])\((\w+)\)\s*=\s*(\S+)/g)) {
    const old = found.get(m[2] ?? '') ?? { re: NaN, im: NaN };
    found.set(m[2] ?? '', m[1] === 'r' ? { ...old, re: Number(m[3]) } : { ...old, im: Number(m[3]) });
  }
  return found;
}

test('another simulator finds the same voltages from our netlist, in magnitude and angle: 1e-4, and 1e-2 behind more than 1 GΩ', () => {
  let compared = 0;
  const worst = { near: 0, island: 0 };
  for (let seed = 1; seed <= 30; seed++) {
    const { map, state, faults } = randomScene(seed);
    const network = compileLive(map, state, faults);
    const e = new Energised(network);
    const mine = e.volts;
    const theirs = simulate(liveNetlist(`seed ${seed}`, network));
    for (const i of network.nodes.keys()) {
      const v = theirs.get(`n${i + 1}`);
      if (!v || i === network.ground) continue;
      const size = Math.hypot(v.re, v.im);
      if (!(size > 0.01)) continue;
      const kind = magnitude(e.impedance(i, network.ground)) > 1e9 ? 'island' : 'near';
      worst[kind] = Math.max(worst[kind], Math.hypot((mine.re[i] as number) - v.re, (mine.im[i] as number) - v.im) / size);
      compared++;
    }
  }
  console.log(`ngspice .ac: ${compared} voltages, worst relative difference ${worst.near.toExponential(1)}, above 1 GΩ ${worst.island.toExponential(1)}`);
  expect(compared).toBeGreaterThan(600);
  expect(worst.near).toBeLessThan(1e-4);
  expect(worst.island).toBeLessThan(1e-2);
});
