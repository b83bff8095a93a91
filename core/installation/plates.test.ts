import { asGuessed, checkInstallation, protectionsOf } from '.';
import { devicePlate } from '../wording';
import { draft, drawn, edited, platesRead } from './fixtures/drafted';

const guessed = (phrase: string): string[] => protectionsOf(draft(phrase)).filter((d) => d.guessed).map((d) => d.id);

test('of a board that is told by its ways nobody has read a rating; what was said of a device is no guess', () => {
  expect(guessed('3 ways, RCD on 1 to 3')).toEqual(['w1', 'w2', 'w3', 'G1']);
  expect(guessed('3 ways, 100 mA RCD on 1 to 3')).toEqual(['w1', 'w2', 'w3']);
  expect(guessed('2 ways, RCBOs on 1 to 2')).toEqual(['w1', 'w2']);
  const sub = (phrase: string): boolean[] => protectionsOf(drawn(draft('2 ways'), 'w2', phrase)).filter((d) => /\./.test(d.id)).map((d) => d.guessed);
  expect(new Set(sub('sub-board, 3, RCD'))).toEqual(new Set([true]));
  expect(sub('sub-board, 3, RCD 100 mA').filter((x) => !x)).toHaveLength(1);
});

test('that it is what was guessed changes no figure, and is then no guess; so does saying another', () => {
  for (const phrase of ['6 ways, RCD on 1 to 3, RCBOs on 4 to 6', '3 ways']) {
    const map = drawn(draft(phrase), 'w1', 'sub-board, 3, RCD');
    const read = platesRead(map);
    expect(checkInstallation(read)).toEqual([]);
    const plain = (x: typeof map): unknown => protectionsOf(x).map((d) => ({ ...d, guessed: null }));
    expect(plain(read)).toEqual(plain(map));
    expect(protectionsOf(read).filter((d) => d.guessed)).toEqual([]);
    for (const d of protectionsOf(read)) {
      expect(asGuessed(read, d.id)).toBeNull();
      expect(devicePlate(read, d.id)).not.toMatch(/guess/);
    }
    for (const d of protectionsOf(map)) expect(/guess/.test(devicePlate(map, d.id))).toBe(d.guessed);
  }
  const other = edited(draft('3 ways, RCD on 1 to 3'), { edit: 'setResidual', device: 'G1', residualMa: 100, type: null });
  expect(protectionsOf(other).find((d) => d.id === 'G1')).toMatchObject({ residualMa: 100, guessed: false });
});
