import { suspectsOf } from '../faults';
import { draft } from '../installation/fixtures/drafted';
import { planPhysics } from '../network';
import { seededRandom, type Random } from '../numeric';
import { respond, type Probe } from '../probes';
import { displayOf, instrumentSdOhm, isAbove, toY } from '../tester';
import { untouched, type WorkState } from '../workstate';
import { BeliefEngine, tradeOptions, type Observation } from '.';
import { ohmOfT } from './cells';
import { GUESSED_LENGTH_SD } from './group';
import { CPC_TAIL, LENGTH_TAIL } from './tails';

// What the belief says of lengths nobody measured, of areas nobody stated and of a poor end is an integral over all of them. Here it is
// drawn by lot instead, many times: the odds must be the same.

const map = draft('radial, 3');
const order = map.sections.map((s) => s.id);
const far = map.sections.map((s) => s.b);
const state: WorkState = { ...untouched, opened: map.points.map((p) => p.id), loadsOut: map.points.flatMap((p) => p.elements.map((e) => `${p.id}.${e.id}`)) };
const suspects = suspectsOf(map);
const engine = new BeliefEngine(map, suspects, { ...tradeOptions, metalMayBe: false });
const [board] = map.sections.map((s) => s.a);
const probe = (core: 'L' | 'E', k: number): Probe => ({ fn: 'continuity', from: [`${board}:${core}`], to: [`${far[k]}:${core}`] });
const ohmPerM = (i: number, core: 'L' | 'E'): number => planPhysics.ohmPerM(map.sections[i]?.cores.find((c) => c.role === core)?.csaMm2 ?? NaN, false);

interface House { readonly lengths: readonly number[]; readonly cpc: number; readonly poor: number }
/** Ohms of a core up to point `k`, with a poor end of E in section `at`. */
function ohmsOf(h: House, core: 'L' | 'E', k: number, at: number, terminals: number): number {
  let ohm = terminals;
  for (let i = 0; i <= k; i++) ohm += (h.lengths[i] as number) * ohmPerM(i, core) * (core === 'E' ? h.cpc : 1) + (core === 'E' && i === at ? h.poor : 0);
  return ohm;
}
/** What terminals have of a reading: what the engine foresees of it as drawn, less its cable. */
function terminalsOf(core: 'L' | 'E', k: number): number {
  const answers = engine.formulas.of(state, probe(core, k));
  if (!answers) throw new Error('no answer');
  return order.slice(0, k + 1).reduce((ohm, _, i) => ohm - (map.sections[i]?.lengthM ?? NaN) * ohmPerM(i, core), respond(answers.sound, 0, 0.5, 1));
}

/** Lengths and area as the plan has them in life. */
function plan(random: Random): Pick<House, 'lengths' | 'cpc'> {
  const { share, sd } = LENGTH_TAIL.guessed;
  const lengths = map.sections.map((s) => s.lengthM * Math.exp(GUESSED_LENGTH_SD * random.normal() + (random.chance(share / (1 + share)) ? sd * random.normal() : 0)));
  return { lengths, cpc: random.chance(CPC_TAIL.share / (1 + CPC_TAIL.share)) ? Math.exp(CPC_TAIL.sd * random.normal()) : 1 };
}

/** Ohms of a poor end, as its cells have it before any reading. */
function sizesOf(id: string): (random: Random) => number {
  const { cells } = engine;
  const own = [...cells.logPrior.keys()].filter((c) => suspects[cells.suspect[c] as number]?.id === id).map((c) => ({ weight: Math.exp(cells.logPrior[c] as number), centre: cells.tCentre[c] as number, sd: cells.tSd[c] as number }));
  const total = own.reduce((sum, c) => sum + c.weight, 0);
  return (random) => {
    let u = random.next() * total;
    const { centre = NaN, sd = NaN } = own.find((x) => (u -= x.weight) < 0) ?? own[0] ?? {};
    return Math.max(0, ohmOfT(centre + sd * random.normal()));
  };
}

test('the odds of a poor end against a plan that is off are those of a draw by lot', () => {
  const random = seededRandom(11);
  let [compared, worst] = [0, 0];
  for (let house = 0; house < 24; house++) {
    const at = random.integer(0, 2);
    const id = `resistive ${order[at]}@b:E`;
    const truth: House = { ...plan(random), poor: random.chance(0.5) ? 0.2 * 10 ** random.uniform(0, 0.5) : 0 };
    const taken = ([['E', 2], ['L', 2], ['E', at === 2 ? 1 : at]] as const).map(([core, k]) => ({ core, k, terminals: terminalsOf(core, k), shown: displayOf('continuity', ohmsOf(truth, core, k, at, terminalsOf(core, k))) }));
    const observations = taken.map(({ core, k, shown }): Observation => ({ probe: probe(core, k), state, displayed: shown }));
    const chance = (h: House): number => taken.reduce((p, { core, k, terminals, shown }) => {
      const ohm = ohmsOf(h, core, k, at, terminals);
      const sd = instrumentSdOhm('continuity', ohm) / Math.hypot(ohm, 0.1);
      return isAbove(shown) ? 0 : p * (Math.exp(-0.5 * ((toY('continuity', shown.ohm) - toY('continuity', ohm)) / sd) ** 2) / sd);
    }, 1);
    const sizeOf = sizesOf(id);
    let [sound, poor, squares] = [0, 0, 0];
    for (let n = 0; n < 60_000; n++) {
      const drawn = plan(random);
      const [a, b] = [chance({ ...drawn, poor: 0 }), chance({ ...drawn, poor: sizeOf(random) })];
      sound += a;
      poor += b;
      squares += a * a;
    }
    // Where a few draws are all that came near, the lot says nothing.
    if ((sound * sound) / squares < 40) continue;
    const belief = engine.believe(observations);
    const i = suspects.findIndex((s) => s.id === id);
    const odds = ((belief.suspectShare[i] as number) / (suspects[i]?.prior ?? NaN)) / ((belief.suspectShare[0] as number) / (suspects[0]?.prior ?? NaN));
    compared++;
    worst = Math.max(worst, Math.abs(Math.log(odds / (poor / sound))));
  }
  expect(compared).toBeGreaterThan(8);
  expect(worst).toBeLessThan(Math.log(4));
});

test('the odds of a contact along a cable against one at its ends are those of a draw by lot, whatever lengths the readings show', () => {
  const random = seededRandom(5);
  const loop = (i: number, length: number): number => 2 * length * ohmPerM(i, 'L');
  const ids = [`contact ${order[1]}:LN`, `contact ${far[0]}:LN`, `contact ${far[1]}:LN`] as const;
  const between = (k: number | null): Probe => { const p = k === null ? board : far[k]; return { fn: 'continuity', from: [`${p}:L`], to: [`${p}:N`] }; };
  /** Ohms from L to N, read at the board (null) or at point `k`, with the contact so far along the second cable. */
  const ohmsAt = (lengths: readonly number[], along: number, ohm: number, k: number | null): number => {
    const [first, second] = [loop(0, lengths[0] as number), loop(1, lengths[1] as number)];
    return ohm + (k === null ? first + along * second : k === 0 ? along * second : (1 - along) * second);
  };
  const sizeOf = sizesOf(ids[0]);
  let [compared, worst] = [0, 0];
  for (let house = 0; house < 12; house++) {
    const lengths = plan(random).lengths.map((m) => m * (house % 2 ? 1.6 : 1));
    const [along, ohm] = [random.uniform(0, 1), random.uniform(0.3, 1)];
    const shown = ([null, 0, 1] as const).map((k) => ({ k, shown: displayOf('continuity', ohmsAt(lengths, along, ohm, k)) }));
    const observations = shown.map((x): Observation => ({ probe: between(x.k), state, displayed: x.shown }));
    const chance = (drawn: readonly number[], at: number, own: number): number => shown.reduce((p, x) => {
      const foreseen = ohmsAt(drawn, at, own, x.k);
      const sd = instrumentSdOhm('continuity', foreseen, own) / Math.hypot(foreseen, 0.1);
      return isAbove(x.shown) ? 0 : p * (Math.exp(-0.5 * ((toY('continuity', x.shown.ohm) - toY('continuity', foreseen)) / sd) ** 2) / sd);
    }, 1);
    const sums = [0, 0, 0];
    let squares = 0;
    for (let n = 0; n < 60_000; n++) {
      const { lengths: drawn } = plan(random);
      const own = sizeOf(random);
      const [cable, near, beyond] = [chance(drawn, random.uniform(0, 1), own), chance(drawn, 0, own), chance(drawn, 1, own)];
      for (const [i, p] of [cable, near, beyond].entries()) sums[i] = (sums[i] as number) + p;
      squares += cable * cable;
    }
    if ((sums[0] as number) ** 2 / squares < 60) continue;
    const belief = engine.believe(observations);
    const weightOf = (id: string): number => {
      const i = suspects.findIndex((s) => s.id === id);
      return (belief.suspectShare[i] as number) / (suspects[i]?.prior ?? NaN);
    };
    compared++;
    const likeliest = Math.max(...sums);
    for (const i of [1, 2]) if ((sums[i] as number) > 0.1 * likeliest) worst = Math.max(worst, Math.abs(Math.log(weightOf(ids[0]) / weightOf(ids[i] as string) / ((sums[0] as number) / (sums[i] as number)))));
  }
  expect(compared).toBeGreaterThan(5);
  // Nearer than this no Gaussian comes: a cable that is shorter than drawn cannot be less than none.
  expect(worst).toBeLessThan(Math.log(7));
});
