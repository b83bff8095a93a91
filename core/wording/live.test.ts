import { draft } from '../installation/fixtures/drafted';
import { liveStepTitle, liveWhy } from '.';

// What goes off first and what is closed then, as one would call it out to a mate at the board.

const map = draft('4 ways, RCD on 1 to 4');
const close = (device: string, first: string[]): string => liveStepTitle(map, { do: 'close', device, first, out: [] });

test.each([
  ['G1', ['w1', 'w2', 'w3', 'w4'], 'All ways of RCD 1 off, then close it'],
  ['G1', ['w3', 'w4'], 'Way 3 and Way 4 off, then close RCD 1'],
  ['G1', ['w1', 'w2', 'w4'], 'Way 3 alone on RCD 1'],
  ['w3', ['w1', 'w2', 'w4'], 'All other ways of RCD 1 off, then close Way 3'],
  ['w3', ['w1'], 'Way 1 off, then close Way 3'],
  ['w3', [], 'Way 3 on, and see if it holds'],
])('%s with %j off first', (device, first, title) => expect(close(device, first)).toBe(title));

test('a clamp before a job is left says that it tripped and reads sound; power comes on with every cover on, whatever comes off for the clamp then', () => {
  const clamp = { do: 'clamp', around: 'G1', all: true } as const;
  expect(liveStepTitle(map, clamp)).toMatch(/^Everything back in and on, then clamp .*RCD 1/);
  expect(liveWhy(clamp, true)).toMatch(/reads sound.*goes back first, covers on, lock off/);
  expect(liveWhy({ do: 'works', point: 'c1' }, true)).toContain('covers on');
});
