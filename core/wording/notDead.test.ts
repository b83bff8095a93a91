import { draftCircuit } from '../installation';
import { notDeadReasons } from '.';

const drafted = draftCircuit('radial, 3');
if (!drafted.ok) throw new Error('draft');

test('not dead: neutral to earth says a borrowed neutral first, line the wrong way first, earth to a rod that the earth is live', () => {
  const first = (from: string, to: string): string => notDeadReasons(drafted.value, 'p2', from, to)[0] ?? '';
  expect(first('E', 'N')).toMatch(/borrowed neutral/);
  expect(first('E', 'L')).toMatch(/wrong way/);
  expect(first('rod', 'E')).toMatch(/earth itself is live/);
  expect(first('rod', 'N')).toMatch(/borrowed neutral/);
});
