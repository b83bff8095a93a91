import { Advisor } from '../advice';
import { draft } from '../installation/fixtures/drafted';
import type { Fault } from '../faults';
import { Play, type Scenario } from '.';

/** A made-up staircase: three loop-in lights, the second worked from two places. */
const loop = draft('lights, 3, loop-in, two-way at 2');
const stair = draft('lights, 3, two-way switch');

function verdictOf(map: typeof loop, faults: readonly Fault[], complaint: 'dead' | 'rcd trips', apart = true): { says: string | undefined; place: string | undefined } {
  const scenario: Scenario = { id: 'lights', name: 'Stair', agreedMin: 45, seed: 7, phrase: 'lights', map, faults: [...faults], cantReach: [], asked: { complaint, shock: false, notes: '', wet: false, works: false } };
  const play = new Play(scenario, 1e12);
  play.makeDead(apart);
  play.hunt(30);
  const advice = new Advisor().advise(play.view);
  return { says: advice?.verdict.says, place: advice?.suspects[0]?.place };
}

const cable = (map: typeof loop, a: string, b: string): string => {
  const id = (name: string): string => map.points.find((p) => p.name === name)?.id ?? name;
  return map.sections.find((s) => s.a === id(a) && s.b === id(b))?.id ?? `${a} to ${b}`;
};

test.each<[string, typeof loop, string, string, (s: string) => Fault, 'dead' | 'rcd trips']>([
  ['a strapper broken between two-way switches', stair, 'Switch 1', 'Switch 2', (section) => ({ kind: 'openCore', section, core: 'T2' }), 'dead'],
  ['the switched line broken in a drop', loop, 'Light 3', 'Switch 3', (section) => ({ kind: 'openCore', section, core: 'SL' }), 'dead'],
  ['line to earth in the three cores between two switches', loop, 'Switch 2, first', 'Switch 2, second', (section) => ({ kind: 'contact', section, cores: ['L', 'E'], fraction: 0.5, ohm: 40 }), 'rcd trips'],
  ['neutral broken from light to light', loop, 'Light 1', 'Light 2', (section) => ({ kind: 'openCore', section, core: 'N' }), 'dead'],
])('the hunt with the practice tester names %s', (_, map, a, b, fault, complaint) => {
  const section = cable(map, a, b);
  expect(verdictOf(map, [fault(section)], complaint)).toEqual({ says: 'place', place: section });
}, 60000);

/** Lamps in and everything joined: every reading goes through lamps or round a loop of the two switches. */
const long = draft('lights, 6, two-way switch at 3');
const strappers = cable(long, 'Switch 1', 'Switch 2');

test.each<[string, Fault, string]>([
  ['the second strapper broken', { kind: 'openCore', section: strappers, core: 'T2' }, strappers],
  ['the first strapper broken', { kind: 'openCore', section: strappers, core: 'T1' }, strappers],
  ['an end of the second strapper loose in the second switch', { kind: 'termination', end: `${strappers}@b:T2`, ohm: 'open' }, long.points.find((p) => p.name === 'Switch 2')?.id ?? ''],
  ['the second switch not closing on the first strapper', { kind: 'element', point: long.points.find((p) => p.name === 'Switch 2')?.id ?? '', element: 'sw', ohm: 'open' }, long.points.find((p) => p.name === 'Switch 2')?.id ?? ''],
])('with nothing taken apart at first, the hunt still names %s', (_, fault, place) => {
  expect(verdictOf(long, [fault], 'dead', false)).toEqual({ says: 'place', place });
}, 60000);
