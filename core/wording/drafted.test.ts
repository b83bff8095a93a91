import { draftCircuit } from '../installation';
import { draftedWords } from '.';

const heard = (phrase: string): string => {
  const r = draftCircuit(phrase);
  if (!r.ok) throw new Error(phrase);
  return draftedWords(r.value);
};

test('a phrase is said back as it was heard: how many, what is behind which protection, and the names', () => {
  expect(heard('6 way board, RCD on ways 1 to 5: Kitchen, Garden, Lights up, Lights down, Heater, Cooker')).toBe('6 ways, 5 behind an RCD: Kitchen, Garden, Lights up, Lights down, Heater, Cooker. A circuit can stay undrawn.');
  expect(heard('10 ways, RCD on 1 to 6, RCBOs on 7 to 10')).toBe('10 ways, 6 behind an RCD, 4 on an RCBO. Labels and devices can come later; a circuit can stay undrawn.');
  expect(heard('4 ways, RCD on all')).toMatch(/^4 ways, all behind an RCD\./);
  expect(heard('3 ways')).toMatch(/^3 ways\. Labels/);
  expect(heard('ring, 9')).toMatch(/^9 points, 10 cables\./);
  expect(heard('radial, 1')).toMatch(/^1 point, 1 cable\./);
});
