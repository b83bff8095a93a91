import { BeliefEngine, tradeOptions, type Observation } from '../belief';
import { suspectsOf, type Suspect } from '../faults';
import { circuitOfWay, draftCircuit, editMap, pointOfPlace, type Installation } from '../installation';
import { compileNetwork, planPhysics, resistanceBetween } from '../network';
import { applyAction, plan, shareByPlace, tradeCosts, type Action, type Situation } from '.';
import { probesFor } from './candidates';
import { respond, StateModel, type Probe } from '../probes';
import { displayOf } from '../tester';
import { elementKey, setEnds, untouched, type WorkState } from '../workstate';

/** A board of undrawn circuits as one network: what is a way's own, and what it only borrows over the bars. */
const draft = (phrase: string): Installation => {
  const r = draftCircuit(phrase);
  if (!r.ok) throw new Error(phrase);
  return r.value;
};
const partsOf = (map: Installation, kinds: readonly string[]): string[] => map.points.flatMap((p) => p.elements.flatMap((e) => (kinds.includes(e.kind) ? [elementKey(p.id, e.id)] : [])));
const dead = (map: Installation): WorkState => ({ ...untouched, off: partsOf(map, ['way', 'pole']), loadsOut: partsOf(map, ['load']), opened: ['p0'] });
const suspect = (map: Installation, id: string): Suspect => {
  const s = suspectsOf(map).find((x) => x.id === id);
  if (!s) throw new Error(id);
  return s;
};
/** The exact network, read with a good meter. */
function read(map: Installation, state: WorkState, s: Suspect, ohm: number, probe: Probe): Observation {
  const n = compileNetwork(map, state, s.fault(ohm, 0.5), planPhysics);
  const r = resistanceBetween(n, n.index.get(probe.from[0] ?? '') ?? -1, n.index.get(probe.to[0] ?? '') ?? -1);
  return { probe, state, displayed: displayOf(probe.fn, r === 'open' ? Infinity : r) };
}
const insulation = (a: string, b: string): Probe => ({ fn: 'insulation', from: [a], to: [b] });

test('one neutral that touches earth makes every way on its bar look bad, until its own neutral is pulled', () => {
  const map = draft('6 ways');
  const s = suspect(map, 'contact s4:NE');
  const state = dead(map);
  const ohms = (st: WorkState, p: Probe): number => {
    const d = read(map, st, s, 50, p).displayed;
    return 'ohm' in d ? d.ohm : Infinity;
  };
  expect(ohms(state, insulation('p0:N', 'p0:E'))).toBeLessThan(1e4);
  const pulled = (n: number): WorkState => setEnds(state, [`s${n}@a:N`], true);
  expect(ohms(pulled(2), insulation('p0:N', 'p0:E'))).toBeLessThan(1e4);
  // A pull gives two reads: the bar is clear, the tail is not.
  expect(ohms(pulled(4), insulation('p0:N', 'p0:E'))).toBe(Infinity);
  expect(ohms(pulled(4), insulation('s4@a:N', 'p0:E'))).toBeLessThan(1e4);
});

test('behind an RCD that is off the fault shows on its own bar alone', () => {
  const map = draft('6 ways, RCD on 1 to 3');
  const s = suspect(map, 'contact s2:NE');
  const own = read(map, dead(map), s, 50, insulation('p0:NG1', 'p0:E')).displayed;
  const main = read(map, dead(map), s, 50, insulation('p0:N', 'p0:E')).displayed;
  expect('ohm' in own && own.ohm).toBeLessThan(1e4);
  expect('above' in main).toBe(true);
});

test('a load left in lends line the fault of the neutral: an innocent way reads low L–E', () => {
  const map = draft('6 ways');
  const s = suspect(map, 'contact s4:NE');
  const loadIn: WorkState = { ...dead(map), loadsOut: dead(map).loadsOut.filter((l) => !l.startsWith('c2.')) };
  const innocent = read(map, loadIn, s, 50, insulation('p0:W2', 'p0:E')).displayed;
  const guilty = read(map, loadIn, s, 50, insulation('p0:W4', 'p0:E')).displayed;
  expect('ohm' in innocent && innocent.ohm).toBeLessThan(1e4);
  expect('above' in guilty).toBe(true);
});

test('the closed formulas read a board as the exact network does, whatever the suspect and whatever was pulled', () => {
  const map = draft('5 ways, RCD on 1 to 2, RCBO on 5');
  for (const state of [dead(map), setEnds(dead(map), ['s2@a:N', 's3@a:N'], true), { ...dead(map), loadsOut: [] }, untouched]) {
    const model = new StateModel(map, state, planPhysics);
    for (const s of suspectsOf(map).filter((x) => !['sound', 'unknown', 'crossed', 'notLanded', 'terminal'].includes(x.kind) && !x.place.startsWith('state '))) {
      const ohm = s.unknown.of === 'shunt' ? 50 : s.unknown.of === 'series' && s.unknown.ohm ? 5 : Infinity;
      for (const [a, b] of [['p0:W1', 'p0:E'], ['p0:N', 'p0:E'], ['p0:NG1', 'p0:E'], ['p0:W5', 'p0:N5'], ['p0:W3', 'p0:N']] as const) {
        const probe: Probe = { fn: 'continuity', from: [a], to: [b] };
        const leads = model.leads(probe);
        const sound = model.sound(probe);
        if (!leads || !sound) throw new Error(`${a} ${b}`);
        const got = respond(model.response(s, probe, leads, sound), ohm === Infinity ? Infinity : ohm, 0.5, 1);
        const n = compileNetwork(map, state, s.fault(ohm, 0.5), planPhysics);
        const exact = resistanceBetween(n, n.index.get(a) ?? -1, n.index.get(b) ?? -1);
        const want = exact === 'open' ? Infinity : exact;
        if (want > 1e7 ? got < 1e6 : Math.abs(got - want) > 0.02 * want + 1e-3) throw new Error(`${s.id}, ${a} to ${b}: ${got} for ${want}`);
      }
    }
  }
});

/** Follows the plan until a place is sure; gives the place and the minutes. */
function hunt(map: Installation, s: Suspect, ohm: number): { place: string; minutes: number } {
  const engine = new BeliefEngine(map, suspectsOf(map), tradeOptions);
  let situation: Situation = { state: dead(map), at: ['p0'], proved: new Set(['p0']), unreachable: new Set(), longLead: true };
  const observations: Observation[] = [];
  let belief = engine.believe([]);
  let minutes = 0;
  for (let i = 0; i < 60; i++) {
    const [top] = shareByPlace(map, engine.suspects, belief);
    if (top && top.share > 0.95) return { place: top.place, minutes };
    const [step] = plan(engine, belief, observations, situation, { costs: tradeCosts, mostProbes: 3, rejected: new Set(), keep: 1 });
    if (!step) break;
    minutes += step.minutes;
    const state = step.actions.reduce(applyAction, situation.state);
    for (const probe of step.probes) observations.push(read(map, state, s, ohm, probe));
    situation = { ...situation, state };
    belief = engine.believe(observations);
  }
  return { place: shareByPlace(map, engine.suspects, belief)[0]?.place ?? '', minutes };
}
const circuitOf = (map: Installation, place: string): string => (place.startsWith('s') ? (map.sections.find((x) => x.id === place)?.b ?? '') : place);

test.each([
  ['8 ways', 'contact s5:NE', 40, 'c5'], ['8 ways', 'contact s3:LE', 2e3, 'c3'], ['8 ways', 'contact s7:LN', 0.2, 'c7'],
  ['10 ways, RCD on 1 to 6, RCBOs on 7 to 10', 'contact s2:NE', 300, 'c2'], ['10 ways, RCD on 1 to 6, RCBOs on 7 to 10', 'contact s8:NE', 300, 'c8'], ['6 ways, RCD on 1 to 6', 'contact s6:LE', 5e4, 'c6'],
])('%s with %s: the hunt at the board names the circuit', (phrase, id, ohm, circuit) => {
  const map = draft(phrase);
  const found = hunt(map, suspect(map, id), ohm);
  expect(circuitOf(map, found.place)).toBe(circuit);
});

test('behind an RCBO that opens both poles a neutral fault shows on its own tail alone, nothing pulled', () => {
  const map = draft('6 ways, RCBO on all');
  const s = suspect(map, 'contact s4:NE');
  const ohm = (a: string): number => {
    const d = read(map, dead(map), s, 40, insulation(a, 'p0:E')).displayed;
    return 'ohm' in d ? d.ohm : Infinity;
  };
  expect(ohm('p0:N4')).toBeLessThan(1e4);
  expect(['p0:N', 'p0:N3', 'p0:N5'].map(ohm)).toEqual([Infinity, Infinity, Infinity]);
  expect(circuitOf(map, hunt(map, s, 40).place)).toBe('c4');
});

test('a ring on a board of ways that touches somewhere is split: at the board and at a point in its midst, in one step', () => {
  const drawn = editMap(draft('4 ways'), { edit: 'drawCircuit', way: 'w2', phrase: 'ring, 8' });
  if (!drawn.ok) throw new Error('draw');
  const map = drawn.value;
  const engine = new BeliefEngine(map, suspectsOf(map), tradeOptions);
  const state = dead(map);
  const s = suspect(map, `contact ${circuitOfWay(map, 'w2').points[5]?.id}:LE`);
  const seen = [read(map, state, s, 8000, insulation('p0:W2', 'p0:E')), read(map, state, s, 8000, { ...insulation('p0:W2', 'p0:E'), fn: 'continuity' })];
  const belief = engine.believe(seen);
  const situation: Situation = { state, at: ['p0'], proved: new Set(['p0']), unreachable: new Set(), longLead: true };
  const [first] = plan(engine, belief, seen, situation, { costs: tradeCosts, mostProbes: 3, rejected: new Set(), keep: 5 });
  const pulls = (first?.actions ?? []).flatMap((a) => (a.do === 'takeOut' ? [a] : []));
  expect(pulls.map((a) => a.point)).toContain('p0');
  expect(pulls.some((a) => a.point !== 'p0')).toBe(true);
  expect(first?.bits).toBeGreaterThan(0.6);
});

test('after plugs were moved their own circuits are read, at the board and at their points, and where the leads are: nowhere else', () => {
  const drawn = ['w1', 'w2', 'w3'].reduce<Installation>((map, way) => {
    const r = editMap(map, { edit: 'drawCircuit', way, phrase: 'radial, 3' });
    if (!r.ok) throw new Error(way);
    return r.value;
  }, draft('4 ways, RCD on 1 to 4'));
  const state = dead(drawn);
  const circuit = (way: string): string[] => circuitOfWay(drawn, way).points.filter((p) => p.kind !== 'board').map((p) => p.id);
  const [one, two, three] = [circuit('w1'), circuit('w2'), circuit('w3')];
  const plugs = (points: readonly string[]): string[] => state.loadsOut.filter((k) => points.includes(k.split('.')[0] ?? ''));
  const at = three[1] ?? '';
  const situation: Situation = { state, at: [at], proved: new Set(), unreachable: new Set(), longLead: false };
  for (const moved of [one, [...one, ...two]]) {
    const action: Action = { do: 'plugIn', point: moved[0] ?? '', parts: plugs(moved) };
    const probes = probesFor(drawn, situation, applyAction(state, action), [action], () => ['insulation']);
    const touched = new Set(probes.flatMap((p) => [...p.from, ...p.to]).map((k) => pointOfPlace(drawn, k)));
    expect([...touched].filter((p) => p !== 'p0' && p !== at && !moved.includes(p))).toEqual([]);
    // Every way whose plugs were moved is read at the board too.
    for (const way of moved === one ? ['W1'] : ['W1', 'W2']) expect(probes.some((p) => [...p.from, ...p.to].includes(`p0:${way}`))).toBe(true);
  }
});

test('a long lead from a point goes to its own circuit’s terminals and to the bars, wherever it is put first', () => {
  const drawn = editMap(draft('4 ways'), { edit: 'drawCircuit', way: 'w2', phrase: 'radial, 3' });
  if (!drawn.ok) throw new Error('draw');
  const map = drawn.value;
  const own = new Set(circuitOfWay(map, 'w2').points.map((p) => p.id));
  const ways = partsOf(map, ['way', 'pole']);
  const situation: Situation = { state: { ...untouched, off: ways, opened: ['p0'] }, at: ['p0'], proved: new Set(['p0', ...own]), unreachable: new Set(), longLead: true };
  for (const point of own) {
    const actions: Action[] = [{ do: 'open', point }];
    const probes = probesFor(map, situation, actions.reduce(applyAction, situation.state), actions, () => ['continuity']);
    const long = probes.filter((p) => [...p.from, ...p.to].some((k) => pointOfPlace(map, k) === point) && [...p.from, ...p.to].some((k) => pointOfPlace(map, k) === 'p0'));
    expect(long.length).toBeGreaterThan(0);
    for (const k of long.flatMap((p) => [...p.from, ...p.to])) expect(k).not.toMatch(/^p0:W[134]$/);
  }
});
