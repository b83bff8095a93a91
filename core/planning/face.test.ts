import { BeliefEngine, type Observation } from '../belief';
import { suspectsOf } from '../faults';
import { faceKey } from '../installation';
import { draft } from '../installation/fixtures/drafted';
import { probeKey } from '../probes';
import { untouched, type WorkState } from '../workstate';
import { benchCosts, plan, type Situation } from '.';

test('an end that was made again, or the face before it: the face is read again beside its bare terminal', () => {
  const map = draft('radial, 4, 5 5 5 5 m');
  const [board, last] = [map.points[0]?.id ?? '', map.points.at(-1)?.id ?? ''];
  const end = `${map.sections.at(-1)?.id ?? ''}@b:E`;
  const face = faceKey(last, map.points.at(-1)?.faces[0]?.id ?? '', 'E');
  const before = faceKey(map.points.at(-2)?.id ?? '', map.points.at(-2)?.faces[0]?.id ?? '', 'E');
  const tails = map.sections[0]?.cores.map((c) => `s1@a:${c.id}`) ?? [];
  const closed: WorkState = { ...untouched, opened: [board], out: tails, loadsOut: map.points.flatMap((p) => p.elements.map((e) => `${p.id}.${e.id}`)) };
  const opened: WorkState = { ...closed, opened: [board, last] };
  const observations: Observation[] = [
    { probe: { fn: 'continuity', from: ['s1@a:E'], to: [face] }, state: closed, displayed: { above: 100_000 } },
    { probe: { fn: 'continuity', from: ['s1@a:E'], to: [before] }, state: closed, displayed: { ohm: 0.18 } },
    { probe: { fn: 'continuity', from: [before], to: [face] }, state: closed, displayed: { above: 100_000 } },
    { probe: { fn: 'continuity', from: ['s1@a:E'], to: [`${last}:E`] }, state: opened, displayed: { ohm: 0.24 }, remade: [end] },
  ];
  const suspects = suspectsOf(map);
  const engine = new BeliefEngine(map, suspects);
  const belief = engine.believe(observations);
  const share = (id: string): number => belief.suspectShare[suspects.findIndex((s) => s.id === id)] ?? NaN;
  // The loose end was mended by being made again, or it never was and the face makes no contact: the readings cannot tell.
  expect(share(`loose ${end}`)).toBeGreaterThan(0.05);
  expect(share(`face ${face}`)).toBeGreaterThan(0.05);
  const situation: Situation = { state: opened, at: [last], proved: new Set([board, last]), unreachable: new Set(), longLead: true };
  const [step] = plan(engine, belief, observations, situation, { costs: benchCosts, mostProbes: 1, rejected: new Set(), keep: 3, parts: (_, all) => all.map((_s, i) => i) });
  expect(step?.actions).toEqual([]);
  expect(probeKey(step?.probes[0] ?? { fn: 'continuity', from: [], to: [] })).toContain(face);
});
