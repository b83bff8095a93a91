import { suspectsOf } from '../faults';
import { boardOf, draftCircuit, endsAtPoint } from '../installation';
import { compileNetwork, planPhysics, resistanceBetween } from '../network';
import { shareByPlace } from '../planning';
import { displayOf, instrumentSdOhm, UNSTEADY_SD } from '../tester';
import { elementKey, untouched } from '../workstate';
import { BeliefEngine, type Observation } from '.';

test('one ohmmeter shows a fault’s own ohms alike every time: readings compare more finely than each is true', () => {
  const alone = instrumentSdOhm('continuity', 40);
  const compared = instrumentSdOhm('continuity', 40, 39);
  expect(compared).toBeLessThan(alone / 2);
  expect(instrumentSdOhm('continuity', 40, 39, UNSTEADY_SD)).toBeGreaterThan(alone);
  // The ranges of an insulation tester share nothing.
  expect(instrumentSdOhm('insulation', 5e4, 5e4)).toBe(instrumentSdOhm('insulation', 5e4));
});

test('a contact of 25 Ω between neutral and earth is placed by its differences from outlet to outlet, unless the figures would not stand still', () => {
  const draft = draftCircuit('radial, 6');
  if (!draft.ok) throw new Error('no draft');
  const map = { ...draft.value, sections: draft.value.sections.map((s) => ({ ...s, lengthKnown: true })) };
  const board = boardOf(map);
  if (!board) throw new Error('no board');
  const state = { ...untouched, opened: [board.id], off: board.elements.map((e) => elementKey(board.id, e.id)), out: endsAtPoint(map, board.id).map((e) => e.key), loadsOut: map.points.flatMap((p) => p.elements.map((e) => elementKey(p.id, e.id))) };
  const engine = new BeliefEngine(map, suspectsOf(map));
  const hidden = engine.suspects.find((s) => s.id === 'contact p2:NE');
  if (!hidden) throw new Error('no such suspect');
  const network = compileNetwork(map, state, hidden.fault(25, 0), planPhysics);
  const pairs = [['s1@a:N', 's1@a:E'], ...['p1', 'p2', 'p3', 'p6'].map((p) => [`${p}:N`, `${p}:E`])] as [string, string][];
  const readings = (unsteady: boolean): Observation[] => pairs.map(([a, b]) => {
    const ohm = resistanceBetween(network, network.index.get(a) ?? -1, network.index.get(b) ?? -1);
    return { probe: { fn: 'continuity', from: [a], to: [b] }, state, displayed: displayOf('continuity', ohm === 'open' ? Infinity : ohm), unsteady };
  });
  const around = (unsteady: boolean): number => shareByPlace(map, engine.suspects, engine.believe(readings(unsteady))).filter((p) => ['s1', 'p2', 's2'].includes(p.place)).reduce((sum, p) => sum + p.share, 0);
  expect(around(false)).toBeGreaterThan(0.7);
  expect(around(true)).toBeLessThan(0.6);
});
