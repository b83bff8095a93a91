import { suspectsOf } from '../faults';
import { boardOf, endsAtPoint, terminalKey, type Installation } from '../installation';
import { draft } from '../installation/fixtures/drafted';
import type { Probe } from '../probes';
import { displayOf, type Displayed } from '../tester';
import { untouched, type WorkState } from '../workstate';
import { BeliefEngine, type Observation } from '.';
import { meet, reachOf } from './reach';

const map: Installation = draft('4 ways');
const board = boardOf(map)?.id ?? '';
const bar = (id: string): string => terminalKey(board, id);
const neutralOf = (way: string): string => endsAtPoint(map, board).find((e) => e.role === 'N' && endsAtPoint(map, board).some((x) => x.terminal === way && x.section.id === e.section.id))?.key ?? '';
const off: WorkState = { ...untouched, off: map.points.flatMap((p) => p.elements.filter((e) => e.kind === 'way').map((e) => `${p.id}.${e.id}`)) };
const noLoads: WorkState = { ...off, loadsOut: map.points.flatMap((p) => p.elements.filter((e) => e.kind === 'load').map((e) => `${p.id}.${e.id}`)) };
const probe = (fn: Probe['fn'], a: string, b: string): Probe => ({ fn, from: [a], to: [b] });
const reach = (fn: Probe['fn'], a: string, b: string, state = off, loads = true) => reachOf(map, probe(fn, a, b), state, loads);

test('a load of one way is seen from that way, and from bars on which its line is; not from another way', () => {
  const [one, same, other] = [reach('continuity', bar('W1'), bar('N')), reach('insulation', bar('W1'), bar('N')), reach('continuity', bar('W2'), bar('N'))];
  expect(meet(one, same)).toBe(true);
  expect(meet(one, other)).toBe(false);
  expect(meet(reach('continuity', bar('L'), bar('N')), other)).toBe(true);
});

test('neutral to earth of the whole board is seen from every way by its loads, unless they are out or its neutral is', () => {
  const one = reach('insulation', bar('W1'), bar('E'));
  expect(meet(one, reach('insulation', bar('W2'), bar('E')))).toBe(true);
  expect(meet(one, reach('insulation', bar('N'), bar('E')))).toBe(true);
  expect(meet(one, reach('insulation', bar('W2'), bar('E'), noLoads, false))).toBe(false);
  expect(meet(one, reach('insulation', bar('W2'), bar('E'), { ...off, out: [neutralOf('W2')] }))).toBe(false);
});

/** Shares of all suspects of one way, of their sum. */
function within(way: string, observations: readonly Observation[]): number[] {
  const engine = new BeliefEngine(map, suspectsOf(map));
  const { suspectShare } = engine.believe(observations);
  const own = engine.suspects.flatMap((s, i) => (s.place === way || s.place.startsWith(`${way}.`) ? [suspectShare[i] as number] : []));
  const sum = own.reduce((x, y) => x + y, 0);
  return own.map((x) => x / sum);
}

test.each([['off scale', { above: 999e6 }], ['as one before', displayOf('insulation', 41e6)], ['as no other', displayOf('insulation', 260e6)]] as const)('sound insulation of one way leaves what is believed of another as it was, whatever it is: %s', (_, displayed: Displayed) => {
  const far = map.points.find((p) => p.kind === 'undrawn' && endsAtPoint(map, p.id).some((e) => endsAtPoint(map, board).some((x) => x.terminal === 'W2' && x.section.id === e.section.id)))?.id ?? '';
  const before: Observation[] = [
    { probe: probe('insulation', bar('W1'), bar('E')), state: noLoads, displayed: displayOf('insulation', 41e6) },
    { probe: probe('insulation', bar('W2'), bar('E')), state: noLoads, displayed: displayOf('insulation', 4e4) },
    { probe: probe('continuity', bar('W2'), bar('E')), state: noLoads, displayed: displayOf('continuity', 4e4) },
  ];
  const plain = within(far, before);
  expect(plain.length).toBeGreaterThan(3);
  const then = within(far, [...before, { probe: probe('insulation', bar('W3'), bar('E')), state: noLoads, displayed }]);
  for (const [i, x] of then.entries()) expect(x).toBeCloseTo(plain[i] as number, 3);
});
