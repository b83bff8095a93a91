import { BeliefEngine, type Observation } from '../core/belief';
import { suspectsOf } from '../core/faults';
import { draftCircuit } from '../core/installation/draft';
import { boardOf, endsAtPoint } from '../core/installation';
import { seededRandom } from '../core/numeric';
import { plan, tradeCosts, type Situation } from '../core/planning';
import { drawTruth, lifelike, SimulatedTester } from '../core/simulation';
import { elementKey, untouched, type WorkState } from '../core/workstate';

interface SpeedRow { readonly points: number; readonly cells: number; readonly warmMs: number; readonly coldMs: number; readonly planMs: number; readonly ratioPlanToWarm: number; readonly heapMB: number }

const REPEATS = 20;
const median = (xs: number[]): number => [...xs].sort((a, b) => a - b)[Math.floor(xs.length / 2)] ?? NaN;

/** Medians of 20 for a cold belief, a warm update by one reading, and the next step, against circuit size. */
export function measureSpeed(): SpeedRow[] {
  console.log(`\nSpeed, medians of ${REPEATS}: belief after nine readings of a ring with a contact of 300 Ω, the plan at its slowest step`);
  console.log(`${'points'.padStart(7)}${'cells'.padStart(8)}${'warm ms'.padStart(10)}${'cold ms'.padStart(10)}${'plan ms'.padStart(10)}${'plan/warm'.padStart(11)}${'heap MB'.padStart(10)}`);
  return [8, 14, 20, 30].map((points) => {
    const row = measure(points);
    console.log(`${String(row.points).padStart(7)}${String(row.cells).padStart(8)}${row.warmMs.toFixed(1).padStart(10)}${row.coldMs.toFixed(1).padStart(10)}${row.planMs.toFixed(1).padStart(10)}${row.ratioPlanToWarm.toFixed(1).padStart(11)}${row.heapMB.toFixed(0).padStart(10)}`);
    return row;
  });
}

function measure(points: number): SpeedRow {
  const drafted = draftCircuit(`ring, ${points}`);
  if (!drafted.ok) throw new Error('draft failed');
  const installation = drafted.value;
  const board = boardOf(installation);
  if (!board) throw new Error('no board');
  const state: WorkState = { ...untouched, out: endsAtPoint(installation, board.id).map((e) => e.key), off: board.elements.map((e) => elementKey(board.id, e.id)), opened: [board.id] };
  const suspects = suspectsOf(installation);
  const fault = suspects.filter((s) => s.kind === 'contact')[points]?.fault(300, 0.4) ?? [];
  const random = seededRandom(points);
  const tester = new SimulatedTester(drawTruth(installation, fault, lifelike, random), random, 0);
  const situation: Situation = { state, at: [board.id], proved: new Set(), unreachable: new Set() };
  const options = { costs: tradeCosts, mostProbes: 3, rejected: new Set<string>(), keep: 3 };
  const engine = new BeliefEngine(installation, suspects);
  const observations: Observation[] = [];
  let slowest = { ms: 0, readings: 0 };
  let belief = engine.believe([]);
  while (observations.length < 9) {
    const began = performance.now();
    const [step] = plan(engine, belief, observations, situation, options);
    const ms = performance.now() - began;
    if (observations.length > 0 && ms > slowest.ms) slowest = { ms, readings: observations.length };
    const probe = step?.probes[0];
    if (!probe) break;
    observations.push({ probe, state: step.stateAfter, displayed: tester.read(step.stateAfter, probe) });
    belief = engine.believe(observations, belief);
  }
  const warm: number[] = [];
  const cold: number[] = [];
  const planned: number[] = [];
  for (let i = 0; i < REPEATS; i++) {
    const fresh = new BeliefEngine(installation, suspects);
    let t = performance.now();
    fresh.believe(observations);
    cold.push(performance.now() - t);
    const next = new BeliefEngine(installation, suspects);
    const before = next.believe(observations.slice(0, -1));
    t = performance.now();
    next.believe(observations, before);
    warm.push(performance.now() - t);
    // The plan is measured where it was slowest, not after the hunt is over.
    const early = observations.slice(0, slowest.readings);
    const doubt = next.believe(early);
    t = performance.now();
    plan(next, doubt, early, situation, options);
    planned.push(performance.now() - t);
  }
  const [warmMs, coldMs, planMs] = [median(warm), median(cold), median(planned)];
  return { points, cells: engine.cells.count, warmMs, coldMs, planMs, ratioPlanToWarm: planMs / warmMs, heapMB: process.memoryUsage().heapUsed / 1e6 };
}
