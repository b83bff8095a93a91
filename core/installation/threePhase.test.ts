import { suspectsOf } from '../faults';
import { Energised, magnitude } from '../live';
import { provingPairs } from '../safety';
import { untouched } from '../workstate';
import { boardOf, checkInstallation, editMap, landingOf, protectionsOf, type Installation } from '.';
import { draft, edited, refusals } from './fixtures/drafted';

/** A kiln of 9 kW on three lines, way 4. */
const kiln = (): Installation => {
  const drawn = edited(draft('5 ways, three phase, 3-pole on 4'), { edit: 'drawCircuit', way: 'w4', phrase: 'tree, 2' });
  const last = drawn.points.filter((p) => p.name.startsWith('Way 4')).at(-1)?.id ?? '';
  return edited(drawn, { edit: 'renamePoint', point: last, name: 'Kiln' }, { edit: 'setLoad', point: last, watt: 9000, loadClass: 'resistive' });
};
const volts = (e: Energised, a: string, b: string): number => magnitude(e.voltage(a, b, 1e7) ?? { re: NaN, im: NaN });

test('ways of one pole follow each other round the phases; a way of three poles takes all three by one handle', () => {
  const map = draft('5 ways, three phase, 3-pole on 4, RCD on 1 to 3');
  const board = boardOf(map);
  expect(board?.terminals.filter((t) => t.role.startsWith('L')).map((t) => t.id)).toEqual(expect.arrayContaining(['L1', 'L2', 'L3', 'L1G1', 'L2G1', 'L3G1', 'W4', 'W4b', 'W4c']));
  expect(['w1', 'w2', 'w3', 'w5'].map((w) => board?.elements.find((e) => e.id === w)?.a)).toEqual(['L1G1', 'L2G1', 'L3G1', 'L2']);
  const of = (id: string) => protectionsOf(map).find((d) => d.id === id);
  expect(of('w4')?.poles).toEqual(['p0.w4', 'p0.w4b', 'p0.w4c']);
  expect(of('G1')?.poles).toEqual(['p0.G1L1', 'p0.G1L2', 'p0.G1L3', 'p0.G1N']);
  expect(landingOf(map, 'c4')).toEqual({ line: 'W4', neutral: 'N', earth: 'E' });
  expect(checkInstallation(map)).toEqual([]);
});

test('what cannot be is refused: a three-pole RCBO, a three-phase ring', () => {
  expect(refusals('5 ways, 3-pole on 2, RCBO on 2')).toContain('board.threePoleRcbo');
  expect(refusals('5 ways, 3-pole on 9')).toContain('board.noSuchWay');
  const ring = editMap(draft('5 ways, 3-pole on 4'), { edit: 'drawCircuit', way: 'w4', phrase: 'ring, 4' });
  expect(ring.ok ? '' : ring.issues[0]?.code).toBe('board.threePoleShape');
});

test('230 V from each line to neutral, 398 V between two lines, also between two ways of one pole', () => {
  const e = Energised.of(draft('5 ways, three phase, 3-pole on 4'), untouched);
  for (const l of ['L1', 'L2', 'L3']) expect(Math.abs(volts(e, `p0:${l}`, 'p0:N') / 230 - 1)).toBeLessThan(0.02);
  for (const [a, b] of [['p0:L1', 'p0:L2'], ['c1:L', 'c2:L'], ['c4:L2', 'c4:L3']] as const) expect(Math.abs(volts(e, a, b) / (230 * Math.sqrt(3)) - 1)).toBeLessThan(0.02);
  // Ways 1 and 5 stand on L1 and L2; ways 1 and 4 share L1 no more than their own drop.
  expect(volts(e, 'c1:L', 'c4:L1')).toBeLessThan(5);
});

test('three equal elements leave nothing in the neutral; with one open it carries what a line carries, and the other two heat on', () => {
  const map = kiln();
  const last = map.points.find((p) => p.name === 'Kiln');
  const only = map.points.flatMap((p) => p.elements.flatMap((e) => (e.kind === 'load' && p.id !== last?.id ? [`${p.id}.${e.id}`] : [])));
  const section = map.sections.find((s) => s.b === last?.id)?.id ?? '';
  const amp = (faults: Parameters<typeof Energised.of>[2]): Record<string, number> => {
    const e = Energised.of(map, { ...untouched, loadsOut: only }, faults, { load: 1, neutralVolt: 0, leak: 1 });
    return Object.fromEntries(['L1', 'L2', 'L3', 'N'].map((c) => [c, magnitude(e.current(`core ${section}:${c}`))]));
  };
  const sound = amp([]);
  for (const l of ['L1', 'L2', 'L3']) expect(Math.abs((sound[l] ?? 0) / (3000 / 230) - 1)).toBeLessThan(0.03);
  expect(sound.N).toBeLessThan(0.05);
  const open = amp([{ kind: 'element', point: last?.id ?? '', element: 'load2', ohm: 'open' }]);
  expect(open.L2).toBeLessThan(0.05);
  expect(Math.abs((open.N ?? 0) / (open.L1 ?? 1) - 1)).toBeLessThan(0.05);
});

test('an element that is open is a suspect of its own place; a load whose size is a guess is none', () => {
  const suspects = suspectsOf(kiln()).filter((s) => s.kind === 'loadOpen');
  expect(suspects.map((s) => s.conductors[0])).toEqual(['L1', 'L2', 'L3']);
  expect(suspectsOf(draft('5 ways, three phase, 3-pole on 4')).some((s) => s.kind === 'loadOpen')).toBe(false);
});

test('a load by its plate: 3 kW at 230 V is 17.6 Ω; nothing, or a power station, is refused', () => {
  const map = edited(draft('radial, 2'), { edit: 'setKind', point: 'p1', kind: 'fixed' }, { edit: 'setLoad', point: 'p1', watt: 3000, loadClass: 'resistive' });
  expect(map.points[1]?.elements).toMatchObject([{ kind: 'load', a: 'L', b: 'N', guessed: false }]);
  expect((map.points[1]?.elements[0] as { ohm: number }).ohm).toBeCloseTo(17.63, 2);
  for (const watt of [NaN, 0, -5, 1e9]) {
    const r = editMap(map, { edit: 'setLoad', point: 'p1', watt, loadClass: 'resistive' });
    expect(r.ok ? '' : r.issues[0]?.code).toBe('map.watt');
  }
});

test('proving dead at a three-phase board: every bar to earth and neutral, the lines with each other, every pole of a way', () => {
  const pairs = provingPairs(draft('4 ways, three phase, 3-pole on 4'), 'p0').map((p) => p.join(' '));
  expect(pairs).toEqual(expect.arrayContaining(['E N', 'E L1', 'N L2', 'E L3', 'L1 L2', 'L1 L3', 'L2 L3', 'E W1', 'N W1', 'E W4', 'E W4b', 'E W4c', 'N W4c']));
  expect(pairs.indexOf('E N')).toBeLessThan(pairs.indexOf('L1 L2'));
});

test('edits keep three lines three: a point in between, a branch, another kind', () => {
  const map = kiln();
  const trunk = map.sections.find((s) => s.id === 's4')?.id ?? '';
  const more = edited(map, { edit: 'insertPoint', section: trunk, kind: 'joint', name: 'Isolator box' }, { edit: 'addBranch', point: map.points.find((p) => p.name === 'Kiln')?.id ?? '', kind: 'fixed', name: 'Fan' });
  for (const name of ['Isolator box', 'Fan']) expect(more.points.find((p) => p.name === name)?.terminals.map((t) => t.id)).toEqual(['L1', 'L2', 'L3', 'N', 'E']);
  expect(checkInstallation(more)).toEqual([]);
  const kept = edited(more, { edit: 'setKind', point: more.points.find((p) => p.name === 'Fan')?.id ?? '', kind: 'outlet' });
  expect(kept.points.find((p) => p.name === 'Fan')?.terminals.map((t) => t.role)).toEqual(['L1', 'L2', 'L3', 'N', 'E']);
});
