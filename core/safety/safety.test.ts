import { draft } from '../installation/fixtures/drafted';
import { drawCase, families } from '../../bench/world';
import { draftCircuit, endsAtPoint, type Installation } from '../installation';
import { compileNetwork, planPhysics, resistanceBetween } from '../network';
import { seededRandom } from '../numeric';
import { canReach, spotsAt } from '../planning';
import type { Probe } from '../probes';
import { untouched, type WorkState } from '../workstate';
import { dangers } from './fixtures/dangers';
import { provesAsOne, provingPairs, putBackList, unmetNeeds, type PhysicalStep, type SafetyState } from '.';

interface Scene { map: Installation; safety: SafetyState; step: PhysicalStep }

function randomScene(seed: number): Scene {
  const random = seededRandom(seed);
  const { plan, start } = drawCase(families[seed % 4] ?? 'ring', 1 + (seed % 30));
  const map: Installation = { ...plan, points: plan.points.map((p) => ({ ...p, elements: p.elements.map((e) => (e.kind === 'load' && random.chance(0.3) ? { ...e, loadClass: 'electronic' as const } : e)) })) };
  const opened = map.points.filter(() => random.chance(0.3)).map((p) => p.id);
  const state: WorkState = { ...start, opened: [...start.opened, ...opened], loadsOut: map.points.flatMap((p) => p.elements.flatMap((e) => (e.kind === 'load' && random.chance(0.5) ? [`${p.id}.${e.id}`] : []))) };
  const safety: SafetyState = { secured: random.chance(0.6), proved: new Map(map.points.filter(() => random.chance(0.5)).map((p) => [p.id, random.chance(0.5)])), state };
  const reachable = map.points.filter((p) => canReach({ unreachable: new Set() }, p));
  const point = random.pick(reachable);
  const actions: PhysicalStep['actions'][number][] = [];
  if (point.kind !== 'board' && random.chance(0.5)) actions.push({ do: 'open', point: point.id });
  if (random.chance(0.3) && endsAtPoint(map, point.id).length) actions.push({ do: random.chance(0.5) ? 'takeOut' : 'putBack', point: point.id });
  const load = point.elements.find((e) => e.kind === 'load');
  if (load && random.chance(0.4)) actions.push({ do: 'unplug', point: point.id, parts: [`${point.id}.${load.id}`] });
  if (random.chance(0.1)) actions.push({ do: 'switchesOn', point: point.id });
  const spots = map.points.flatMap((p) => {
    const s = spotsAt(map, { ...state, opened: map.points.map((x) => x.id) }, p);
    return [...s.spots, ...s.copper];
  });
  if (random.chance(0.2)) actions.push({ do: random.chance(0.6) ? 'link' : 'unlink', point: point.id, a: `${point.id}:L`, b: `${point.id}:E` });
  const probes = Array.from({ length: random.integer(0, 3) }, (): Probe => ({ fn: random.chance(0.5) ? 'continuity' : 'insulation', from: random.chance(0.2) ? [`${point.id}:L`, `${point.id}:N`] : [random.pick(spots).place], to: [random.pick(spots).place] }));
  return { map, safety, step: { actions, probes, earthDoubt: random.chance(0.5) } };
}

test('over 5,000 random steps no danger is left once the needs are met', () => {
  for (let seed = 1; seed <= 5000; seed++) {
    const { map, safety, step } = randomScene(seed);
    const left = dangers(map, safety, step, unmetNeeds(map, safety, step));
    if (left.length) throw new Error(`seed ${seed}: ${left.join('; ')}`);
  }
});

test.each(['secured', 'proved', 'opened', 'loadsOut'] as const)('with the need “%s” taken away the check sees the danger', (need) => {
  let seen = 0;
  for (let seed = 1; seed <= 600 && seen === 0; seed++) {
    const { map, safety, step } = randomScene(seed);
    const needs = unmetNeeds(map, safety, step);
    if (needs.some((n) => n.need === need) && dangers(map, safety, step, needs.filter((n) => n.need !== need)).length) seen++;
  }
  expect(seen).toBe(1);
});

test('a load that is wired in comes off by hand: its point is opened and proved first; a plug asks for neither', () => {
  const drafted = draftCircuit('tree, 2');
  if (!drafted.ok) throw new Error('draft');
  const safety: SafetyState = { secured: true, proved: new Map(), state: untouched };
  const step = (parts: string[]): PhysicalStep => ({ actions: [{ do: 'unplug', point: 'p1', parts }], probes: [], earthDoubt: false });
  expect(unmetNeeds(drafted.value, safety, step(['p1.load'])).map((n) => n.need)).toEqual(['opened', 'proved']);
  // The second check sees the hands in the closed point when either need is left out.
  expect(dangers(drafted.value, safety, step(['p1.load']), []).length).toBeGreaterThan(1);
  const plug = draftCircuit('radial, 2');
  if (!plug.ok) throw new Error('draft');
  expect(unmetNeeds(plug.value, safety, step(['p1.plug']))).toEqual([]);
  expect(dangers(plug.value, safety, step(['p1.plug']), [])).toEqual([]);
});

test('who turns switches on in closed accessories touches nothing: it asks for nothing by itself, and what is read then for what that reading needs', () => {
  const map = draft('4 ways');
  const safety: SafetyState = { secured: false, proved: new Map(), state: untouched };
  const round: PhysicalStep = { actions: [{ do: 'switchesOn', point: 'c2' }], probes: [], earthDoubt: false };
  const read: PhysicalStep = { ...round, probes: [{ fn: 'insulation', from: ['p0:W2'], to: ['p0:E'] }] };
  expect(unmetNeeds(map, safety, round)).toEqual([]);
  expect(dangers(map, safety, round, [])).toEqual([]);
  expect(unmetNeeds(map, safety, read).map((n) => n.need)).toEqual(['secured', 'opened', 'proved']);
  expect(dangers(map, safety, read, []).length).toBeGreaterThan(0);
  expect(dangers(map, safety, read, unmetNeeds(map, safety, read))).toEqual([]);
});

test('a broken earth in doubt asks for an independent earth; a proof without it does not count', () => {
  const { plan, start } = drawCase('radial', 2);
  const safety: SafetyState = { secured: true, proved: new Map([['p1', false], ['p0', true]]), state: start };
  const probe: Probe = { fn: 'continuity', from: ['p1:L'], to: ['p1:E'] };
  expect(unmetNeeds(plan, safety, { actions: [], probes: [probe], earthDoubt: true })).toEqual([{ need: 'proved', point: 'p1', toEarth: true }]);
  expect(unmetNeeds(plan, safety, { actions: [], probes: [probe], earthDoubt: false })).toEqual([]);
});

test('line and neutral on one lead put no voltage across electronics; a pair of them does', () => {
  const { plan, start } = drawCase('radial', 2);
  const map: Installation = { ...plan, points: plan.points.map((p) => ({ ...p, elements: p.id === 'p1' ? [{ kind: 'load' as const, id: 'load', name: 'Drive', a: 'L', b: 'N', loadClass: 'electronic' as const, ohm: 300, unplugs: true }] : p.elements.filter((e) => e.kind !== 'load') })) };
  const safety: SafetyState = { secured: true, proved: new Map([['p0', true]]), state: { ...start, loadsOut: [], opened: ['p0'] } };
  const needs = (from: string[], to: string[]): string[] => unmetNeeds(map, safety, { actions: [], probes: [{ fn: 'insulation', from, to }], earthDoubt: false }).map((n) => n.need);
  expect(needs(['p0:W', 'p0:N'], ['p0:E'])).toEqual([]);
  expect(needs(['p0:W'], ['p0:N'])).toEqual(['loadsOut']);
  expect(needs(['p0:W'], ['p0:E'])).toEqual(['loadsOut']);
  expect(needs(['p0:W', 'p0:N'], ['p0:E', 'p1:L'])).toContain('loadsOut');
});

test('a link is laid on bare metal of a dead point: secured, cover off, proved', () => {
  const { plan, start } = drawCase('radial', 2);
  const joint = plan.points.find((p) => p.reach === 'opened' && p.kind !== 'board') ?? plan.points[1];
  const closed: Installation = { ...plan, points: plan.points.map((p) => (p.id === joint?.id ? { ...p, reach: 'opened', faces: [] } : p)) };
  const step: PhysicalStep = { actions: [{ do: 'link', point: joint?.id ?? '', a: `${joint?.id}:L`, b: `${joint?.id}:E` }], probes: [], earthDoubt: true };
  expect(unmetNeeds(closed, { secured: false, proved: new Map(), state: start }, step).map((n) => n.need)).toEqual(['secured', 'opened', 'proved']);
});

test('every pair is asked, the least dangerous first', () => {
  const { plan } = drawCase('radial', 2);
  expect(provingPairs(plan, 'p1')).toEqual([['E', 'N'], ['E', 'L'], ['N', 'L']]);
});

test('a link, a bare end and an open cover keep the power off; loads that are out do not', () => {
  const { plan, start } = drawCase('radial', 2);
  const state: WorkState = { ...start, links: [{ id: 'k', a: 'p1:L', b: 'p1:E' }], loadsOut: ['p1.load'], opened: ['p1'] };
  const list = putBackList(plan, state, true);
  expect(list.filter((i) => i.gatesPower).map((i) => i.kind).sort()).toEqual(['cover', 'ends', 'link']);
  expect(list.find((i) => i.kind === 'load')?.gatesPower).toBe(false);
});

test('a twelve-way board whose ways are on is proved at its bars, in twenty taps at the most; way by way where one circuit may feed another', () => {
  const r = draftCircuit('12 ways, RCD on 1 to 6, RCD on 7 to 12');
  if (!r.ok) throw new Error('draft');
  const asOne = provingPairs(r.value, 'p0', true);
  // Each of line, neutral and earth against each other, and each to an earth of its own; the indicator before and after.
  expect(asOne.map((p) => [...p].sort().join())).toEqual(expect.arrayContaining(['E,N', 'E,L', 'L,N']));
  expect(asOne.length + 3 + 2).toBeLessThanOrEqual(20);
  const each = provingPairs(r.value, 'p0');
  for (let w = 1; w <= 12; w++) expect(each.some((p) => p.includes(`W${w}`))).toBe(true);
  // What stands for them is one with them: nothing but switches that are on lies between.
  const network = compileNetwork(r.value, untouched, [], planPhysics);
  const between = (a: string, b: string): unknown => resistanceBetween(network, network.index.get(a) ?? -1, network.index.get(b) ?? -1);
  for (let w = 1; w <= 12; w++) expect(between('p0:L', `p0:W${w}`)).toBeLessThan(0.1);
  for (const bar of ['NG1', 'NG2']) expect(between('p0:N', `p0:${bar}`)).toBeLessThan(0.1);
  expect(provesAsOne(r.value, 'p0', 0.02, [], null)).toBe(true);
  expect(provesAsOne(r.value, 'p0', 0.3, [], null)).toBe(false);
  expect(provesAsOne(r.value, 'p0', 0.02, [{ what: 'inBar' }], null)).toBe(false);
  expect(provesAsOne(r.value, 'p0', 0.02, [], 'inverter')).toBe(false);
  expect(provesAsOne(r.value, 'c3', 0.02, [], null)).toBe(false);
});
