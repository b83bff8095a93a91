import { formatIn, formatOhm, formatShare, parseOhm } from '.';

const code = (text: string, unit: 'Ω' | 'kΩ' | 'MΩ' = 'Ω'): string => {
  const r = parseOhm(text, unit);
  return r.ok ? String(r.value) : (r.issues[0]?.code ?? '');
};

test('a typed reading becomes ohms in its unit, with a comma or a point', () => {
  expect(code('0,30', 'MΩ')).toBe('300000');
  expect(code('1.6', 'kΩ')).toBe('1600');
  expect(code(' .5 ')).toBe('0.5');
});

test.each([['', 'reading.empty'], ['abc', 'reading.notNumber'], ['1e5', 'reading.notNumber'], ['1.2.3', 'reading.notNumber'], ['NaN', 'reading.notNumber'], ['-3', 'reading.negative'], ['−3', 'reading.negative']])('“%s” is refused as %s', (text, expected) => {
  expect(code(text, 'MΩ')).toBe(expected);
});

test('ohms are written with a unit fit for reading aloud', () => {
  expect([0.35, 31.04, 503, 4700, 3e5, 21.4e6, 450e6, 4.8e9, Infinity].map(formatOhm)).toEqual(['0.35 Ω', '31.0 Ω', '503 Ω', '4.70 kΩ', '0.30 MΩ', '21.4 MΩ', '450 MΩ', '4.80 GΩ', 'no path']);
  expect(formatIn(3e5, 'MΩ')).toBe('0.30 MΩ');
});

test('a share is never a false 0 or 100 per cent', () => {
  expect([0.0004, 0.31, 0.996].map(formatShare)).toEqual(['< 1 %', '31 %', '> 99 %']);
});
