import { drawCase, families, worldPriors } from '../../bench/world';
import { suspectsOf, type Suspect } from '../faults';
import { compileNetwork, planPhysics, resistanceBetween } from '../network';
import { seededRandom, type Random } from '../numeric';
import { inOhms, probesFor, shareByPlace } from '../planning';
import { displayOf, type Displayed } from '../tester';
import type { Probe } from '../probes';
import { untouched, type WorkState } from '../workstate';
import { draft } from '../installation/fixtures/drafted';
import { BeliefEngine, cellsOf, misfitOf, tradeOptions, type Belief, type Observation } from '.';

const options = { ...tradeOptions, insulationSd: 0.5, insulationSpread: { circuit: 0, section: 0.3, pair: 0 }, metalMayBe: false, physics: { ...planPhysics, insulationOhmM: () => 5e9 } };

interface Hunt { readonly engine: BeliefEngine; readonly suspect: Suspect; readonly observations: Observation[]; readonly state: WorkState; readonly probes: Probe[] }

/** A random circuit with one fault and noise-free readings at random probes. */
function hunt(seed: number, readings: number, random: Random, kinds: readonly string[]): Hunt {
  const { plan, start } = drawCase(families[seed % 4] ?? 'ring', seed);
  const engine = new BeliefEngine(plan, suspectsOf(plan, worldPriors), options);
  const out = new Set(start.out);
  const suspect = random.pick(engine.suspects.filter((s) => kinds.includes(s.kind) && !(s.site.on === 'branch' && out.has(s.site.endKey))));
  const ohm = suspect.unknown.of === 'shunt' ? 10 ** random.uniform(0, 3) : suspect.kind === 'resistiveEnd' ? random.uniform(0.6, 20) : Infinity;
  const faults = suspect.fault(ohm, random.uniform(0.2, 0.8));
  const network = compileNetwork(plan, start, faults, options.physics);
  const situation = { state: start, at: ['p0'], proved: new Set<string>(), unreachable: new Set<string>(), longLead: true };
  const probes = probesFor(plan, situation, start, [], inOhms);
  const observations = Array.from({ length: readings }, (): Observation => {
    const probe = random.pick(probes);
    return { probe, state: start, displayed: shown(probe, resistanceBetween(network, network.index.get(probe.from[0] ?? '') ?? -1, network.index.get(probe.to[0] ?? '') ?? -1)) };
  });
  return { engine, suspect, observations, state: start, probes };
}

const shown = (probe: Probe, ohm: number | 'open'): Displayed => displayOf(probe.fn, ohm === 'open' ? Infinity : ohm);
const faultKinds = ['openCore', 'looseEnd', 'resistiveEnd', 'contact', 'pointContact'];
const apart = (a: Belief, b: Belief): number => Math.max(...a.suspectShare.map((x, i) => Math.abs(x - (b.suspectShare[i] as number))));

test('weights sum to one before and after any reading', () => {
  for (let seed = 1; seed <= 12; seed++) {
    const h = hunt(seed, 5, seededRandom(seed), faultKinds);
    for (const o of [[], h.observations]) expect(h.engine.believe(o).weight.reduce((s, w) => s + w, 0)).toBeCloseTo(1, 9);
  }
});

test.each(['lights, 3, two-way switch', '4 ways, RCD on 1 to 4'])('switches that may keep a suspect from the leads split its weight and add none: %s', (phrase) => {
  const suspects = suspectsOf(draft(phrase));
  const { logPrior, suspect } = cellsOf(suspects);
  const sums = suspects.map(() => 0);
  logPrior.forEach((x, c) => (sums[suspect[c] as number] = (sums[suspect[c] as number] as number) + Math.exp(x)));
  for (const [i, s] of suspects.entries()) expect(sums[i]).toBeCloseTo(s.prior, 12);
});

test('a noise-free reading lies at the mode of its own fault: any other value is less likely there', () => {
  for (let seed = 1; seed <= 40; seed++) {
    const random = seededRandom(seed);
    const h = hunt(seed, 1, random, faultKinds);
    const [o] = h.observations;
    if (!o || !('ohm' in o.displayed) || o.displayed.ohm > 5e4) continue;
    const only = new BeliefEngine(h.engine.installation, [{ ...h.suspect, prior: 1 }], options);
    const evidence = (ohm: number): number => only.believe([{ ...o, displayed: { ohm } }]).logEvidence;
    if (h.suspect.unknown.of === 'shunt' || h.suspect.kind === 'resistiveEnd') continue; // their own size is unknown: no single value is the mode
    const at = evidence(o.displayed.ohm);
    for (const f of [0.5, 0.8, 1.3, 2]) if (evidence(o.displayed.ohm * f + (f > 1 ? 0.1 : -0.0)) > at + 0.05) throw new Error(`seed ${seed}: ${h.suspect.id} prefers ${f} × ${o.displayed.ohm}`);
  }
});

test('the true place is never driven out by true readings', () => {
  for (let seed = 1; seed <= 60; seed += 2) {
    const h = hunt(seed, 8, seededRandom(seed * 3), faultKinds);
    const prior = h.engine.believe([]);
    const after = h.engine.believe(h.observations);
    const share = (b: Belief): number => shareByPlace(h.engine.installation, h.engine.suspects, b).find((p) => p.place === h.suspect.place)?.share ?? 1;
    if (share(after) < share(prior) * 0.3) throw new Error(`seed ${seed}: ${h.suspect.id} fell from ${share(prior)} to ${share(after)}`);
  }
});

test('the order of readings is immaterial', () => {
  for (let seed = 1; seed <= 10; seed++) {
    const random = seededRandom(seed * 7);
    const h = hunt(seed, 7, random, faultKinds);
    const shuffled = [...h.observations].sort(() => random.next() - 0.5);
    const difference = apart(h.engine.believe(h.observations), h.engine.believe(shuffled));
    if (difference > 1e-6) throw new Error(`seed ${seed}: ${difference}`);
  }
});

test('belief does not depend on what was believed before: step by step or all at once, it is the same', () => {
  for (let seed = 1; seed <= 8; seed++) {
    const h = hunt(seed, 7, seededRandom(seed * 11), faultKinds);
    const reopened = new BeliefEngine(h.engine.installation, h.engine.suspects, options);
    for (let k = 1; k <= h.observations.length; k++) {
      const difference = apart(h.engine.believe(h.observations.slice(0, k)), reopened.believe(h.observations.slice(0, k)));
      if (difference > 1e-9) throw new Error(`seed ${seed}, reading ${k}: ${difference}`);
      if (k % 2) reopened.believe(h.observations);
    }
  }
});

test('the same reading once more is no new evidence between the places', () => {
  for (let seed = 1; seed <= 12; seed++) {
    const h = hunt(seed, 3, seededRandom(seed * 13), faultKinds);
    const times = (n: number): Belief => h.engine.believe(Array.from({ length: n }, () => h.observations).flat());
    const once = times(3);
    const often = times(20);
    const top = (b: Belief): number => Math.max(...b.suspectShare);
    // Repeats make a slip unlikely; after that they say nothing more, or a coin toss would become certain.
    if (Math.abs(top(often) - top(once)) > 0.02) throw new Error(`seed ${seed}: ${top(once)} grew to ${top(often)}`);
  }
});

test('one wrong reading cannot hold a place for ever: true ones win it back', () => {
  const h = hunt(1, 6, seededRandom(5), ['openCore']);
  const probe = h.probes.find((p) => p.fn === 'continuity' && p.from[0]?.startsWith('s0@a') && p.to[0]?.endsWith(':E')) as Probe;
  const wrong: Observation = { probe, state: h.state, displayed: { ohm: 214 } };
  const share = (o: Observation[]): number => shareByPlace(h.engine.installation, h.engine.suspects, h.engine.believe(o)).find((p) => p.place === h.suspect.place)?.share ?? 0;
  expect(share([...h.observations, wrong])).toBeGreaterThan(share(h.observations) * 0.2);
});

test('how far readings are off is said of the likeliest, even where that is one that none of them touches', () => {
  const map = draft('radial, 4');
  const suspects = suspectsOf(map);
  const plain = new BeliefEngine(map, suspects);
  // Told with the supply on: the neutral is broken between the third and the fourth, or the line is loose in the third. Joints that read whole say nothing to the first.
  const [a, b] = [map.sections[1]?.id, map.sections[2]?.id];
  const broken = suspects.findIndex((s) => s.kind === 'openCore' && s.conductors.join() === 'N' && s.place === map.sections[3]?.id);
  const engine = plain.withBias(Float64Array.from({ length: plain.cells.count }, (_, c) => (plain.cells.suspect[c] === broken ? 9 : suspects[plain.cells.suspect[c] as number]?.id === `loose ${a}@b:L` ? 6 : -9)));
  const across = (core: string, ohm: number): Observation => ({ probe: { fn: 'continuity', from: [`${a}@b:${core}`], to: [`${b}@a:${core}`] }, state: { ...untouched, opened: ['p0', map.sections[1]?.b ?? ''] }, displayed: { ohm } });
  const readings = [across('L', 0.02), across('N', 0.03), across('E', 0.02)];
  const belief = engine.believe(readings);
  expect(belief.suspectShare[broken]).toBeGreaterThan(0.9);
  for (const off of misfitOf(belief, readings)) expect(off).toBeLessThan(2);
});
