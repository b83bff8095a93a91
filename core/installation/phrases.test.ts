import { draftCircuit, editMap, type Installation } from '.';

const map = (phrase: string): Installation => {
  const r = draftCircuit(phrase);
  if (!r.ok) throw new Error(`${phrase}: ${JSON.stringify(r.issues)}`);
  return r.value;
};
const refused = (phrase: string): string | undefined => {
  const r = draftCircuit(phrase);
  return r.ok ? undefined : r.issues[0]?.code;
};

test.each([
  ['ring of 8 sockets', 'ring', 8], ['a ring final of 8', 'ring', 8], ['Radial with 5 outlets', 'radial', 5], ['radial circuit 5', 'radial', 5], ['lights, 6', 'lights', 6], ['lighting circuit of 6 lamps', 'lights', 6],
])('“%s” is a %s of %d', (phrase, shape, n) => {
  expect(map(phrase).shape).toBe(shape);
  expect(map(phrase).points.filter((p) => p.kind !== 'board')).toHaveLength(n);
});

test('“radial 5, 2.5/1.5, 6 4 4 4 7 m”: areas and lengths are as said, and no longer guessed', () => {
  const { sections } = map('radial 5, 2.5/1.5, 6 4 4 4 7 m');
  expect(sections.map((s) => [s.lengthM, s.lengthKnown])).toEqual([[6, true], [4, true], [4, true], [4, true], [7, true]]);
  expect(sections[0]?.cores.map((c) => c.csaMm2)).toEqual([2.5, 2.5, 1.5]);
  // An older cable with a thinner CPC; a ring has one cable more than points.
  expect(map('ring of 3 sockets, 2.5/1').sections[3]?.cores.map((c) => c.csaMm2)).toEqual([2.5, 2.5, 1]);
  expect(map('radial, 2, 4 mm²').sections[0]?.cores.map((c) => c.csaMm2)).toEqual([4, 4, 1.5]);
});

test('lengths that do not fit the cables are refused with the count, and sizes that no cable has', () => {
  expect(refused('radial 5, 6 4 m')).toBe('draft.lengths');
  expect(refused('ring, 3, 4 4 4 m')).toBe('draft.lengths');
  expect(refused('radial, 2, 0 4 m')).toBe('draft.lengthRange');
  expect(refused('radial, 2, 0.01/0.01')).toBe('draft.csaRange');
});

test.each([['6 way board, RCD on ways 1 to 5', 6, [1, 2, 3, 4, 5], 30], ['a board of 8 ways, 30 mA RCD on all', 8, [1, 2, 3, 4, 5, 6, 7, 8], 30], ['4-way board, 100 mA RCD on all ways', 4, [1, 2, 3, 4], 100]])('“%s” has %d ways', (phrase, ways, group, mA) => {
  const board = map(phrase).points[0];
  const of = board?.elements.flatMap((e) => (e.kind === 'way' ? [e] : [])) ?? [];
  expect(of).toHaveLength(ways);
  expect(of.flatMap((w, i) => (w.group ? [i + 1] : []))).toEqual(group);
  expect(board?.elements.find((e) => e.kind === 'pole')).toMatchObject({ residualMa: mA });
});

describe('names after a colon', () => {
  const namesOf = (phrase: string): string[] => map(phrase).points.slice(1).map((p) => p.name);

  test.each([
    ['radial, 3: Sink, Oven, Hob', ['Sink', 'Oven', 'Hob']], ['radial: Sink, Oven and Hob', ['Sink', 'Oven and Hob']], ['radial, 3: Sink, Oven and Hob', ['Sink', 'Oven', 'Hob']],
    ['ring 3: Door, , Window', ['Door', 'Outlet 2', 'Window']], ['radial, 3: Sink', ['Sink', 'Outlet 2', 'Outlet 3']], ['lights, 2, one switch: Porch, Hall', ['Switch', 'Porch', 'Hall']],
    ['tree, 2, spur at 1: Pump, Fan, Heater', ['Pump', 'Fan', 'Heater']], ['4 ways, RCD on 1 to 4: Lights, Kiln, Wheel room', ['Lights', 'Kiln', 'Wheel room', 'Way 4']], ['board: Lights, Kiln', ['Lights', 'Kiln']],
  ])('“%s”', (phrase, names) => expect(namesOf(phrase)).toEqual(names));

  test('more names than points, and one name twice, are refused; a count that is missing is that of the names', () => {
    expect(refused('radial, 2: a, b, c')).toBe('draft.names');
    expect(refused('radial, 2: a, A')).toBe('map.sameName');
    expect(refused('radial, 2: Board, b')).toBe('map.sameName');
    expect(refused('radial:')).toBe('draft.count');
    expect(map('radial: a, b, c, d').points).toHaveLength(5);
  });

  test('in a way of a board a name stands by itself, unless another point has it', () => {
    const board = map('3 ways: Lights, Kiln, Wheel');
    const drawn = editMap(board, { edit: 'drawCircuit', way: 'w2', phrase: 'radial: Wheel, Shelf' });
    if (!drawn.ok) throw new Error(JSON.stringify(drawn.issues));
    expect(drawn.value.points.map((p) => p.name)).toEqual(['Board', 'Lights', 'Kiln Wheel', 'Shelf', 'Wheel']);
  });
});
