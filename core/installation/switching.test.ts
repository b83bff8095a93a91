import { BeliefEngine } from '../belief';
import { suspectsOf, type Fault } from '../faults';
import { compileNetwork, planPhysics, resistanceBetween } from '../network';
import { shareByPlace } from '../planning';
import type { Probe } from '../probes';
import { displayOf } from '../tester';
import { untouched, type WorkState } from '../workstate';
import { editMap, endsAtPoint, type Installation } from '.';
import { draft, edited, refusals } from './fixtures/drafted';

const point = (map: Installation, name: string): string => map.points.find((p) => p.name === name)?.id ?? `no ${name}`;

/** Ohms of a probe, or 'open' where only insulation lies between. */
function read(map: Installation, state: WorkState, faults: Fault[], a: string, b: string): number | 'open' {
  const n = compileNetwork(map, state, faults, planPhysics);
  const ohm = resistanceBetween(n, n.index.get(a) ?? -1, n.index.get(b) ?? -1);
  return ohm === 'open' || ohm > 1e6 ? 'open' : ohm;
}

/** Is the lamp between line and neutral, seen from the board with the way off? */
const lit = (map: Installation, off: string[]): boolean => {
  const ohm = read(map, { ...untouched, off: ['p0.way', ...off] }, [], 'p0:W', 'p0:N');
  return ohm !== 'open' && ohm > 400 && ohm < 600;
};

test('two-way switches: each of the two turns the light on and off, whatever the other does', () => {
  const map = draft('lights, 1, two-way switch');
  const [a, b] = [`${point(map, 'Switch 1')}.sw`, `${point(map, 'Switch 2')}.sw`];
  expect([[], [a], [a, b], [b]].map((off) => lit(map, off))).toEqual([true, false, true, false]);
});

test('loop-in with a second switch: the same, over the three cores between them', () => {
  const map = draft('lights, 1, loop-in, two-way at 1');
  const [a, b] = [`${point(map, 'Switch 1, first')}.sw`, `${point(map, 'Switch 1, second')}.sw`];
  const all = [[], [a], [a, b], [b]].map((off) => lit(map, off));
  expect(all).toEqual([false, true, false, true]);
});

test('loop-in: the line goes on past a light whose switch is off, and the light’s own switch works its lamp alone', () => {
  const map = draft('lights, 3, loop-in');
  const off = map.points.filter((p) => p.kind === 'switch').map((p) => `${p.id}.sw`);
  // Lamps out, or the switched lines meet over them.
  const loadsOut = map.points.filter((p) => p.kind === 'lamp').map((p) => `${p.id}.lamp`);
  expect(read(map, { ...untouched, off, loadsOut }, [], 'p0:W', `${point(map, 'Light 3')}:L`)).toBeLessThan(1);
  expect(read(map, { ...untouched, off, loadsOut }, [], 'p0:W', `${point(map, 'Light 2')}:SL`)).toBe('open');
  const two = off.filter((k) => k !== `${point(map, 'Switch 2')}.sw`);
  expect(read(map, { ...untouched, off: two, loadsOut }, [], 'p0:W', `${point(map, 'Light 2')}:SL`)).toBeLessThan(1);
  expect(read(map, { ...untouched, off: two, loadsOut }, [], 'p0:W', `${point(map, 'Light 1')}:SL`)).toBe('open');
});

test('a strapper that is broken shows in one position of the switches only, and is named by it', () => {
  const map = draft('lights, 3, two-way switch');
  const [first, second] = [point(map, 'Switch 1'), point(map, 'Switch 2')];
  const cable = map.sections.find((s) => s.cores.some((c) => c.id === 'T2'))?.id ?? '';
  const faults: Fault[] = [{ kind: 'openCore', section: cable, core: 'T2' }];
  const out = endsAtPoint(map, 'p0').filter((e) => e.role !== 'L').map((e) => e.key);
  const base: WorkState = { ...untouched, off: ['p0.way'], out, opened: map.points.map((p) => p.id), loadsOut: map.points.flatMap((p) => p.elements.filter((e) => e.kind === 'load').map((e) => `${p.id}.${e.id}`)) };
  const on = (off: string[]): WorkState => ({ ...base, off: [...base.off, ...off] });
  const through: Probe = { fn: 'continuity', from: ['p0:W'], to: [`${point(map, 'Light 3')}:L`] };
  const readings = ([[on([]), through], [on([`${first}.sw`, `${second}.sw`]), through], [on([`${first}.sw`, `${second}.sw`]), { fn: 'continuity', from: [`${first}:T2`], to: [`${second}:T2`] }]] as [WorkState, Probe][]).map(([state, probe]) => {
    const ohm = read(map, state, faults, probe.from[0] ?? '', probe.to[0] ?? '');
    return { state, probe, displayed: displayOf(probe.fn, ohm === 'open' ? Infinity : ohm) };
  });
  expect(readings.map((r) => 'ohm' in r.displayed)).toEqual([true, false, false]);
  const engine = new BeliefEngine(map, suspectsOf(map));
  const belief = engine.believe(readings);
  const places = shareByPlace(map, engine.suspects, belief);
  // The cable and the four ends at its two switches: nothing else.
  const named = places.filter((p) => [cable, first, second].includes(p.place)).reduce((s, p) => s + p.share, 0);
  expect(named).toBeGreaterThan(0.95);
  const core = engine.suspects.reduce((s, x, i) => (x.conductors.includes('T2') ? s + (belief.suspectShare[i] ?? 0) : s), 0);
  expect(core).toBeGreaterThan(0.95);
});

test('strappers that change places are no fault: nobody is sent to look for them', () => {
  const map = draft('lights, 2, two-way switch');
  expect(suspectsOf(map).some((s) => s.kind === 'crossed' && s.conductors.join() === 'T1,T2')).toBe(false);
  expect(suspectsOf(map).some((s) => s.kind === 'crossed' && s.conductors.includes('T1'))).toBe(true);
});

test('loop-in is for lights; too many of them are too many points', () => {
  expect(refusals('ring, 5, loop-in')).toEqual(['draft.loopInLights']);
  expect(refusals('lights, 40, loop-in')).toEqual(['draft.tooMany']);
  expect(refusals('lights, 3, two-way at 4')).toEqual(['draft.noSuchPoint']);
});

test('a point put into a run of strappers passes them through; a switch of a pair is not taken away alone', () => {
  const map = draft('lights, 1, two-way switch');
  const cable = map.sections.find((s) => s.cores.some((c) => c.id === 'T1'))?.id ?? '';
  const joined = edited(map, { edit: 'insertPoint', section: cable, kind: 'joint', name: 'Stair joint' });
  expect(lit(joined, []) || lit(joined, [`${point(map, 'Switch 1')}.sw`])).toBe(true);
  expect(read(joined, untouched, [], `${point(map, 'Switch 1')}:T1`, `${point(map, 'Switch 2')}:T1`)).toBeLessThan(1);
  const gone = editMap(map, { edit: 'removePoint', point: point(map, 'Switch 2') });
  expect(gone.ok ? [] : gone.issues.map((i) => i.code)).toEqual(['map.wiring']);
});
