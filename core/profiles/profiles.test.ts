import { clashes, profileIds, profiles } from '.';

test('British wiring: black was neutral and is now a line, blue the reverse; one line and its neutral clash in nothing', () => {
  expect(clashes(profiles.gb, ['L1', 'L2', 'L3', 'N', 'E']).sort()).toEqual(['black', 'blue']);
  expect(clashes(profiles.gb, ['L', 'N', 'E'])).toEqual([]);
});

test('Australia and New Zealand: black and blue clash as well, white does not', () => {
  const found = clashes(profiles.aunz, ['L1', 'L2', 'L3', 'N', 'E']);
  expect(found).toEqual(expect.arrayContaining(['black', 'blue']));
  expect(found).not.toContain('white');
});

test('old continental wiring: red may be an earth, grey a neutral', () => {
  expect(profiles.iec.colours.E?.before).toContain('red');
  expect(clashes(profiles.iec, ['L', 'N', 'E'])).toEqual(['grey']);
});

test.each(profileIds)('%s names colours for every conductor of a three-phase supply', (id) => {
  for (const role of ['L', 'L1', 'L2', 'L3', 'N', 'E'] as const) expect(profiles[id].colours[role]?.now.length).toBeGreaterThan(0);
  expect(profiles[id].colours.E?.now).toEqual(['green-yellow']);
});
