import { BeliefEngine, type Observation } from '../core/belief';
import { suspectsOf, type Suspect } from '../core/faults';
import { boardOf, draftCircuit, endsAtPoint, type Installation } from '../core/installation';
import { solved } from '../core/network';
import { seededRandom } from '../core/numeric';
import { applyAction, plan, shareByPlace, tradeCosts, type Situation } from '../core/planning';
import { drawTruth, lifelike, SimulatedTester } from '../core/simulation';
import { elementKey, untouched } from '../core/workstate';
import { boardOfCircuits } from './world';

/** Times in milliseconds, counts per update or plan, by circuit size. */
interface SpeedRow {
  readonly what: string;
  readonly cells: number;
  readonly updates: number;
  readonly warmMs: Spread;
  readonly coldMs: Spread;
  readonly planMs: Spread;
  /** Median share of a cold belief's time that a warm one takes, update by update in the same run. */
  readonly warmToCold: number;
  /** Pieces of metal solved (potential matrices), medians. */
  readonly warmSolved: number;
  readonly coldSolved: number;
  readonly planSolved: number;
  readonly heapMB: number;
}
interface Spread { readonly median: number; readonly worst: number }

const PASSES = 2;
const MOST_READINGS = 10;
const quantile = (xs: readonly number[], q: number): number => [...xs].sort((a, b) => a - b)[Math.min(xs.length - 1, Math.floor(xs.length * q))] ?? NaN;
const median = (xs: readonly number[]): number => quantile(xs, 0.5);
const spreadOf = (xs: readonly number[]): Spread => ({ median: median(xs), worst: Math.max(...xs) });

/** Every update and every plan of eight hunts at each size, and on a board of twelve circuits with sixty points, lengths guessed, each done warm and cold; each row at least 20 of them. */
export function measureSpeed(): SpeedRow[] {
  console.log('\nSpeed: every update of eight hunts (ring and radial; two contacts, an open core, a resistive end), lengths guessed. ms: median (worst)');
  console.log(['circuit', 'cells', 'updates', 'warm ms', 'cold ms', 'plan ms', 'warm/cold', 'solved w/c/p', 'heap MB'].map((h, i) => h.padStart(i < 3 || i > 5 ? 13 : 16)).join(''));
  const circuits = [8, 14, 20, 30].map((points) => ({ what: `${points} points`, maps: ['ring', 'radial'].map((shape) => drafted(`${shape}, ${points}`)) }));
  const board = { what: '12 ways, 60', maps: [1, 2].map((seed) => boardOfCircuits(seededRandom(seed), 12, () => 5)) };
  return [...circuits, board].map(({ what, maps }) => {
    const row = measure(what, maps);
    const ms = (s: Spread): string => `${s.median.toFixed(1)} (${s.worst.toFixed(0)})`.padStart(16);
    console.log([row.what.padStart(13), String(row.cells).padStart(13), String(row.updates).padStart(13), ms(row.warmMs), ms(row.coldMs), ms(row.planMs), row.warmToCold.toFixed(2).padStart(13),
      `${row.warmSolved}/${row.coldSolved}/${row.planSolved}`.padStart(13), row.heapMB.toFixed(0).padStart(13)].join(''));
    return row;
  });
}

const faults: readonly { readonly kind: Suspect['kind']; readonly ohm: number }[] = [
  { kind: 'contact', ohm: 300 }, { kind: 'contact', ohm: 3e5 }, { kind: 'openCore', ohm: Infinity }, { kind: 'resistiveEnd', ohm: 1.5 },
];

function drafted(phrase: string): Installation {
  const draft = draftCircuit(phrase);
  if (!draft.ok) throw new Error(`no draft of ${phrase}`);
  return draft.value;
}

function measure(what: string, maps: readonly Installation[]): SpeedRow {
  const warm: number[] = [], cold: number[] = [], planned: number[] = [], ratio: number[] = [];
  const counts = { warm: [] as number[], cold: [] as number[], plan: [] as number[] };
  let cells = 0;
  for (let pass = 0; pass <= PASSES; pass++)
    for (const map of maps)
      for (const [i, f] of faults.entries()) {
        const hunt = new TimedHunt(map, f.kind, f.ohm, map.points.length * 10 + i);
        cells = hunt.cells;
        hunt.run();
        if (pass === 0) continue; // the machine warms up
        warm.push(...hunt.warm.map((x) => x.ms));
        cold.push(...hunt.cold.map((x) => x.ms));
        planned.push(...hunt.planned.map((x) => x.ms));
        ratio.push(...hunt.warm.map((x, k) => x.ms / (hunt.cold[k]?.ms ?? NaN)));
        counts.warm.push(...hunt.warm.map((x) => x.solved));
        counts.cold.push(...hunt.cold.map((x) => x.solved));
        counts.plan.push(...hunt.planned.map((x) => x.solved));
      }
  return {
    what, cells, updates: warm.length, warmMs: spreadOf(warm), coldMs: spreadOf(cold), planMs: spreadOf(planned), warmToCold: median(ratio),
    warmSolved: median(counts.warm), coldSolved: median(counts.cold), planSolved: median(counts.plan), heapMB: process.memoryUsage().heapUsed / 1e6,
  };
}

interface Timed { readonly ms: number; readonly solved: number }

/** One hunt by the planner's first step; every belief worked out warm and cold with a clock. */
class TimedHunt {
  readonly warm: Timed[] = [];
  readonly cold: Timed[] = [];
  readonly planned: Timed[] = [];
  readonly cells: number;
  private readonly suspects: readonly Suspect[];
  private readonly tester: SimulatedTester;
  private situation: Situation;

  constructor(
    private readonly map: Installation,
    kind: Suspect['kind'],
    ohm: number,
    seed: number,
  ) {
    const board = boardOf(map);
    if (!board) throw new Error('no board');
    this.suspects = suspectsOf(map);
    const random = seededRandom(seed);
    const hidden = random.pick(this.suspects.filter((s) => s.kind === kind)).fault(ohm, random.uniform(0.1, 0.9));
    this.tester = new SimulatedTester(drawTruth(map, hidden, { ...lifelike, lengthSd: 0.4 }, random), random, 0);
    // One circuit is out of the board; of many the neutrals and earths stay in their bars, loads out.
    const many = board.elements.length > 1;
    const loadsOut = many ? map.points.flatMap((p) => p.elements.flatMap((e) => (e.kind === 'load' ? [elementKey(p.id, e.id)] : []))) : [];
    const state = { ...untouched, loadsOut, out: many ? [] : endsAtPoint(map, board.id).map((e) => e.key), off: board.elements.map((e) => elementKey(board.id, e.id)), opened: [board.id] };
    this.situation = { state, at: [board.id], proved: new Set(), unreachable: new Set(), longLead: true };
    this.cells = new BeliefEngine(map, this.suspects).cells.count;
  }

  run(): void {
    const engine = new BeliefEngine(this.map, this.suspects);
    const observations: Observation[] = [];
    let belief = engine.believe([]);
    while (observations.length < MOST_READINGS && (shareByPlace(this.map, this.suspects, belief)[0]?.share ?? 0) < 0.95) {
      const [step] = timed(this.planned, () => plan(engine, belief, observations, this.situation, { costs: tradeCosts, mostProbes: 3, rejected: new Set<string>(), keep: 3 }));
      if (!step) break;
      const state = step.actions.reduce(applyAction, this.situation.state);
      this.situation = { ...this.situation, state, at: step.at };
      for (const probe of step.probes) {
        observations.push({ probe, state, displayed: this.tester.read(state, probe) });
        belief = timed(this.warm, () => engine.believe(observations));
        timed(this.cold, () => new BeliefEngine(this.map, this.suspects).believe([...observations]));
      }
    }
  }
}

function timed<T>(into: Timed[], work: () => T): T {
  const before = solved.pieces;
  const began = performance.now();
  const result = work();
  into.push({ ms: performance.now() - began, solved: solved.pieces - before });
  return result;
}
