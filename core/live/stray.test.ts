import { strayWords } from '../wording';
import { strayOf } from './stray';
import type { LiveTest } from './tests';

const clamp = (around: string, mA: number, peak = false): LiveTest => ({ kind: 'clamp', around, mA, filtered: true, peak });

test('9 mA lost and 22 in the earth: at least 13 come from elsewhere, at most 31', () => {
  const s = strayOf([clamp('main', 9), clamp('earth', 22)]);
  expect(s).toMatchObject({ leastMa: 13, mostMa: 31 });
  if (s) expect(strayWords(s)).toMatch(/At least 13 mA of it comes from elsewhere/);
});

test('9 mA lost and 4 in the earth: at least 5 leave by other metal', () => {
  expect(strayOf([clamp('main', 9), clamp('earth', 4)])?.leastMa).toBe(-5);
});

test('within what a clamp tells the two are one current; one figure alone, or a peak, says nothing', () => {
  expect(strayOf([clamp('main', 9), clamp('earth', 9.8)])?.leastMa).toBe(0);
  expect(strayOf([clamp('main', 9)])).toBeNull();
  expect(strayOf([clamp('main', 9), clamp('earth', 40, true)])).toBeNull();
});

test('the latest figure counts', () => {
  expect(strayOf([clamp('main', 9), clamp('earth', 30), clamp('earth', 12)])?.leastMa).toBeCloseTo(3, 9);
});
