import { BeliefEngine } from '../core/belief';
import { suspectsOf } from '../core/faults';
import { seededRandom } from '../core/numeric';
import { plan, tradeCosts, type Situation } from '../core/planning';
import { elementKey, untouched } from '../core/workstate';
import { boardOfCircuits } from './world';
const map = boardOfCircuits(seededRandom(4), 12, () => 5);
const board = map.points[0]!;
const state = { ...untouched, loadsOut: map.points.flatMap((p) => p.elements.flatMap((e) => (e.kind === 'load' ? [elementKey(p.id, e.id)] : []))), off: board.elements.map((e) => elementKey(board.id, e.id)), opened: [board.id] };
const situation: Situation = { state, at: [board.id], proved: new Set(), unreachable: new Set(), longLead: true };
for (let i = 0; i < 6; i++) {
  const engine = new BeliefEngine(map, suspectsOf(map));
  const belief = engine.believe([]);
  const t = performance.now();
  plan(engine, belief, [], situation, { costs: tradeCosts, mostProbes: 3, rejected: new Set<string>(), keep: 3 });
  console.log((performance.now() - t).toFixed(0));
}
