import { draftCircuit, type Installation } from '.';

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
