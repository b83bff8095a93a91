import { contrast, pairsInUse, themes } from './tokens';

describe.each(Object.entries(themes))('theme %s', (_, tokens) => {
  test.each(pairsInUse.map((p) => [p.fore, p.back, p] as const))('%s on %s can be read', (fore, back, p) => {
    expect(contrast(tokens[fore], tokens[back])).toBeGreaterThanOrEqual(p.least);
  });
});

test('contrast is that of the published examples: black on white 21, grey #767676 on white 4.54', () => {
  expect(contrast('#000000', '#FFFFFF')).toBeCloseTo(21, 5);
  expect(contrast('#767676', '#FFFFFF')).toBeCloseTo(4.54, 2);
});
