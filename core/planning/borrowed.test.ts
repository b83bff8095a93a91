import { BeliefEngine, type Observation } from '../belief';
import { suspectsOf, type Suspect } from '../faults';
import { circuitOfWay, editMap, loadsOf, type Installation } from '../installation';
import { draft } from '../installation/fixtures/drafted';
import { compileNetwork, planPhysics, resistanceBetween } from '../network';
import { displayOf } from '../tester';
import { elementKey, untouched, type WorkState } from '../workstate';
import { applyAction, plan, tradeCosts, type Situation } from '.';
import type { Probe } from '../probes';

// A load that returns by another circuit's neutral shows only while it is in: which one it is, loads put in and taken out tell.

const partsOf = (map: Installation, kinds: readonly string[]): string[] => map.points.flatMap((p) => p.elements.flatMap((e) => (kinds.includes(e.kind) ? [elementKey(p.id, e.id)] : [])));
const dead = (map: Installation, loadsOut: readonly string[]): WorkState => ({ ...untouched, off: partsOf(map, ['way', 'pole']), loadsOut: [...loadsOut], opened: ['p0'] });
function read(map: Installation, state: WorkState, s: Suspect, ohm: number, probe: Probe): Observation {
  // Its own ohms are the way: with the load out there is none.
  const n = compileNetwork(map, state, s.site.on === 'pair' && state.loadsOut.includes(s.site.part ?? '') ? [] : s.fault(ohm, 0.5), planPhysics);
  const r = resistanceBetween(n, n.index.get(probe.from[0] ?? '') ?? -1, n.index.get(probe.to[0] ?? '') ?? -1);
  return { probe, state, displayed: displayOf(probe.fn, r === 'open' ? Infinity : r) };
}
const barToBar: Probe = { fn: 'continuity', from: ['p0:NG1'], to: ['p0:NG2'] };

test('a way between two neutral bars that goes when one way’s loads come out was that way’s, not another’s whose loads stayed in', () => {
  const map = draft('4 ways, RCD on 1 to 2, RCD on 3 to 4');
  const engine = new BeliefEngine(map, suspectsOf(map));
  const both = dead(map, ['c1.loads', 'c2.loads']);
  const one = dead(map, ['c1.loads', 'c2.loads', 'c4.loads']);
  const belief = engine.believe([{ probe: barToBar, state: both, displayed: { ohm: 5950 } }, { probe: barToBar, state: one, displayed: { above: 100_000 } }]);
  const from = (way: number): number => engine.suspects.reduce((sum, s, i) => (s.kind === 'borrowed' && s.place === `c${way}` ? sum + (belief.suspectShare[i] as number) : sum), 0);
  expect(from(4)).toBeGreaterThan(4 * from(3));
});

test('however many lamps hang on it, the hunt for a borrowed neutral ends at the lamp that borrows', () => {
  const drawn = editMap(draft('4 ways, RCD on 1 to 2, RCD on 3 to 4'), { edit: 'drawCircuit', way: 'w1', phrase: 'lights, 7' });
  if (!drawn.ok) throw new Error('draw');
  const map = drawn.value;
  const lamps = circuitOfWay(map, 'w1').points.flatMap((p) => loadsOf(p).map((l) => elementKey(p.id, l.id)));
  expect(lamps.length).toBeGreaterThan(5);
  const engine = new BeliefEngine(map, suspectsOf(map));
  for (const [n, lamp] of [lamps[1], lamps.at(-2)].entries()) {
    const truth = engine.suspects.find((s) => s.kind === 'borrowed' && s.site.on === 'pair' && s.site.part === lamp && s.conductors.includes('c3'));
    if (!truth) throw new Error(lamp);
    // All other loads are out; of this way's, all are in or all are out.
    let state = dead(map, partsOf(map, ['load']).filter((l) => n === 0 || !lamps.includes(l)));
    const observations = [read(map, { ...state, loadsOut: state.loadsOut.filter((l) => !lamps.includes(l)) }, truth, 2600, barToBar)];
    const ofLamp = (): number => engine.believe(observations).suspectShare.reduce((sum, share, i) => (engine.suspects[i]?.place === truth.place && engine.suspects[i]?.kind === 'borrowed' ? sum + share : sum), 0);
    for (let k = 0; k < 9 && ofLamp() < 0.95; k++) {
      const situation: Situation = { state, at: ['p0'], proved: new Set(['p0']), unreachable: new Set(), longLead: true };
      const [step] = plan(engine, engine.believe(observations), observations, situation, { costs: tradeCosts, mostProbes: 3, rejected: new Set(), keep: 1 });
      if (!step) break;
      state = step.actions.reduce(applyAction, state);
      for (const probe of step.probes) observations.push(read(map, state, truth, 2600, probe));
    }
    expect(ofLamp()).toBeGreaterThan(0.95);
  }
});
