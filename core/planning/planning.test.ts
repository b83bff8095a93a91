import { drawCase, families, worldPriors } from '../../bench/world';
import { BeliefEngine, tradeOptions, type Observation } from '../belief';
import { suspectsOf } from '../faults';
import { endsAtPoint, findPoint, parsePlace, pointOfPlace } from '../installation';
import { seededRandom } from '../numeric';
import type { Probe } from '../probes';
import { unmetNeeds } from '../safety';
import { dangers } from '../safety/fixtures/dangers';
import { drawTruth, lifelike, SimulatedTester } from '../simulation';
import { setEnds, type WorkState } from '../workstate';
import { benchCosts, inMegohms, minutesFor, plan, probesFor, shareByPlace, spotsAt, stepKey, tradeCosts, type PlanOptions, type Situation, type Step } from '.';

const options = (more: Partial<PlanOptions> = {}): PlanOptions => ({ costs: tradeCosts, mostProbes: 3, rejected: new Set(), keep: 40, ...more });

interface Scene { readonly engine: BeliefEngine; readonly situation: Situation; readonly observations: Observation[]; readonly state: WorkState }

/** A random job some readings into its hunt, with some points out of reach and some parted. */
function scene(seed: number): Scene {
  const random = seededRandom(seed);
  const { plan: map, start } = drawCase(families[seed % 4] ?? 'ring', seed);
  const engine = new BeliefEngine(map, suspectsOf(map, worldPriors), tradeOptions);
  const fault = random.pick(engine.suspects.filter((s) => ['looseEnd', 'contact', 'resistiveEnd'].includes(s.kind)));
  const tester = new SimulatedTester(drawTruth(map, fault.fault(fault.unknown.of === 'shunt' ? 40 : Infinity, 0.5), lifelike, random), random, 0);
  const unreachable = new Set(map.points.filter((p) => p.kind !== 'board' && random.chance(0.15)).map((p) => p.id));
  let state = start;
  const point = random.pick(map.points.slice(1));
  if (random.chance(0.3) && !unreachable.has(point.id) && point.reach !== 'never')
    state = { ...setEnds(state, endsAtPoint(map, point.id).filter((e) => e.section.id === endsAtPoint(map, point.id)[0]?.section.id).map((e) => e.key), true), opened: [...state.opened, point.id] };
  const situation: Situation = { state, at: ['p0'], proved: new Set(['p0']), unreachable, longLead: random.chance(0.7) };
  const observations: Observation[] = [];
  for (let i = random.integer(0, 3); i > 0; i--) {
    const probe = random.pick(probesFor(map, situation, state, [], inMegohms));
    observations.push({ probe, state, displayed: tester.read(state, probe) });
  }
  return { engine, situation, observations, state };
}

const steps = (s: Scene, o = options()): Step[] => plan(s.engine, s.engine.believe(s.observations), s.observations, s.situation, o);
const pointsOf = (s: Scene, step: Step): string[] => [...step.actions.map((a) => a.point), ...step.probes.flatMap((p) => [...p.from, ...p.to].map((k) => pointOfPlace(s.engine.installation, k)))];

test('no step goes where nobody can reach, nor behind a cover that it does not take off', () => {
  for (let seed = 1; seed <= 24; seed++) {
    const s = scene(seed);
    for (const step of steps(s)) {
      for (const id of pointsOf(s, step)) {
        const point = findPoint(s.engine.installation, id);
        if (!point || point.reach === 'never' || s.situation.unreachable.has(id)) {
          // A switch may be flicked from wherever it is; hands go nowhere else.
          if (step.actions.every((a) => a.point !== id || a.do === 'switch') && !step.probes.some((p) => [...p.from, ...p.to].some((k) => pointOfPlace(s.engine.installation, k) === id))) continue;
          throw new Error(`seed ${seed}: ${stepKey(step)} goes to ${id}`);
        }
      }
      const open = new Set([...s.state.opened, ...step.actions.flatMap((a) => (a.do === 'open' ? [a.point] : []))]);
      for (const key of step.probes.flatMap((p) => [...p.from, ...p.to])) {
        const at = pointOfPlace(s.engine.installation, key);
        const covered = parsePlace(key)?.at === 'end' || findPoint(s.engine.installation, at)?.reach !== 'face';
        if (covered && !open.has(at)) throw new Error(`seed ${seed}: ${key} is behind its cover`);
      }
    }
  }
});

test('over 5,000 steps of the planner none leaves a danger once its needs are met, by a check of its own', () => {
  let checked = 0;
  for (let seed = 1; checked < 5000; seed++) {
    const s = scene(seed);
    const map = s.engine.installation;
    const random = seededRandom(seed);
    const safety = { secured: random.chance(0.5), proved: new Map(map.points.filter(() => random.chance(0.4)).map((p) => [p.id, random.chance(0.5)])), state: s.state };
    for (const step of steps(s, options({ keep: 80 }))) {
      const physical = { actions: step.actions, probes: step.probes, earthDoubt: random.chance(0.5) };
      const left = dangers(map, safety, physical, unmetNeeds(map, safety, physical));
      if (left.length) throw new Error(`seed ${seed}, ${stepKey(step)}: ${left.join('; ')}`);
      checked++;
    }
  }
  console.log(`${checked} steps of the planner checked`);
});

test('steps come cheapest first, each with something to learn', () => {
  for (let seed = 1; seed <= 8; seed++) {
    const list = steps(scene(seed));
    for (const [i, step] of list.entries()) {
      expect(step.bits).toBeGreaterThan(0);
      expect(step.minutes).toBeGreaterThan(0);
      expect(step.cost).toBeGreaterThanOrEqual(list[i - 1]?.cost ?? 0);
    }
  }
});

test('no reading is proposed twice in one state', () => {
  for (let seed = 1; seed <= 12; seed++) {
    const s = scene(seed);
    for (const step of steps(s)) {
      if (step.actions.length) continue;
      for (const p of step.probes) expect(s.observations.some((o) => o.state === s.state && o.probe.fn === p.fn && o.probe.from[0] === p.from[0] && o.probe.to[0] === p.to[0])).toBe(false);
    }
  }
});

test('what was turned down leaves the plan', () => {
  const s = scene(3);
  const first = steps(s).find((x) => x.probes.length === 1);
  if (!first) throw new Error('no single step');
  expect(steps(s, options({ rejected: new Set([stepKey(first)]) })).map(stepKey)).not.toContain(stepKey(first));
});

describe('minutes of hands and feet', () => {
  const { plan: map, start } = drawCase('radial', 1);
  const at = (places: string[], proved: string[] = []): Situation => ({ state: start, at: places, proved: new Set(proved), unreachable: new Set(), longLead: true });
  const probe = (from: string, to: string): Probe => ({ fn: 'continuity', from: [from], to: [to] });
  test('a reading where the leads are costs the reading alone', () => {
    expect(minutesFor(map, at(['p0']), [], [probe('s0@a:L', 's0@a:N')], benchCosts).minutes).toBeCloseTo(0.3, 9);
  });
  test('each new place is walked to once: open 2.5, split 2, two readings 0.6, one walk 0.5', () => {
    const actions = [{ do: 'open', point: 'p3' }, { do: 'takeOut', point: 'p3', ends: ['s3@a:L'] }] as const;
    expect(minutesFor(map, at(['p0']), actions, [probe('p3:L', 'p3:N'), probe('p3:L', 'p3:E')], benchCosts).minutes).toBeCloseTo(5.6, 9);
  });
  test('proving is charged where it is owed: 0.5 at a closed face, 1.5 where it is opened, nothing where it was done', () => {
    const m = (s: Situation, actions: Step['actions'] = []): number => minutesFor(map, s, actions, [probe('s0@a:L', 'p2:L')], tradeCosts).minutes;
    expect(m(at(['p0'], ['p0']))).toBeCloseTo(0.5 + 0.3 + 0.5, 9);
    expect(m(at(['p0'], ['p0']), [{ do: 'open', point: 'p2' }])).toBeCloseTo(0.5 + 0.3 + 2.5 + 1.5, 9);
    expect(m(at(['p0'], ['p0', 'p2']))).toBeCloseTo(0.5 + 0.3, 9);
  });
});

test('a point that is taken apart shows its terminals and each free end as places of their own', () => {
  const { plan: map, start } = drawCase('radial', 1);
  const state: WorkState = { ...setEnds(start, ['s2@b:L'], true), opened: ['p3'] };
  const point = findPoint(map, 'p3');
  if (!point) throw new Error('no p3');
  const { spots, copper } = spotsAt(map, state, point);
  expect(spots.map((s) => s.place)).toEqual(['p3:L', 'p3:N', 'p3:E', 's2@b:L']);
  expect(copper.map((s) => s.place)).toContain('s3@a:L');
  expect(copper.map((s) => s.place)).not.toContain('s2@b:L');
});

test('a hidden joint and its cables are one place, for no reading parts them', () => {
  for (let seed = 1; seed <= 40; seed++) {
    const { plan: map } = drawCase('radial', seed);
    const joint = map.points.find((p) => p.reach === 'never');
    if (!joint) continue;
    const engine = new BeliefEngine(map, suspectsOf(map));
    const places = shareByPlace(map, engine.suspects, engine.believe([])).map((p) => p.place);
    const sections = map.sections.filter((s) => s.a === joint.id || s.b === joint.id).map((s) => s.id);
    expect(places.filter((p) => p === joint.id || sections.includes(p))).toHaveLength(1);
    return;
  }
  throw new Error('no hidden joint drawn');
});
