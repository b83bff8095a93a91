import { together, type Beside, type Pair } from './rows';

type Shown = { ohm: number } | { above: number } | null;
const row = (name: string, displayed: Shown, more: { stale?: boolean; shared?: boolean; pair?: Pair } = {}): Beside => ({
  name, cells: [{ pair: more.pair ?? 'LE', stale: more.stale ?? false, shared: more.shared ?? false, reading: displayed === null ? null : { event: { displayed } } }],
});

test('2, 3 and 6 MΩ side by side are 1 MΩ, and the 2 MΩ way carries half of it', () => {
  const t = together([row('a', { ohm: 2e6 }), row('b', { ohm: 3e6 }), row('c', { ohm: 6e6 })], 'LE');
  expect(t?.ohm).toBeCloseTo(1e6, 3);
  expect(t?.most).toEqual({ name: 'a', share: expect.closeTo(0.5, 9) as number });
  expect(t?.of).toBe(3);
});

test('one poor way among good ones carries nearly all', () => {
  const t = together([row('a', { above: 999e6 }), row('b', { ohm: 4e4 }), row('c', { ohm: 3e8 })], 'LE');
  expect(t?.most.name).toBe('b');
  expect(t?.most.share).toBeGreaterThan(0.99);
  expect(t?.atLeast).toBe(false);
});

test('off scale everywhere says only a least value; a way alone, another pair, another state or a shared bar says nothing', () => {
  expect(together([row('a', { above: 1e9 }), row('b', { above: 1e9 })], 'LE')).toMatchObject({ atLeast: true, ohm: expect.closeTo(5e8, 0) as number });
  expect(together([row('a', { ohm: 1e6 }), row('b', null)], 'LE')).toBeNull();
  expect(together([row('a', { ohm: 1e6 }), row('b', { ohm: 1e6 }, { stale: true })], 'LE')).toBeNull();
  expect(together([row('a', { ohm: 1e6 }), row('b', { ohm: 1e6 }, { shared: true })], 'LE')).toBeNull();
  expect(together([row('a', { ohm: 1e6 }), row('b', { ohm: 1e6 }, { pair: 'LN' })], 'LE')).toBeNull();
});

test('with loads in each line reads the bar that they share: such readings are no sum to earth, between line and neutral they are', () => {
  const two = (pair: 'LE' | 'LN') => ['a', 'b'].map((n) => ({ ...row(n, { ohm: 6e8 }, { pair }), loadsIn: true }));
  expect(together(two('LE'), 'LE')).toBeNull();
  expect(together(two('LN'), 'LN')).toMatchObject({ of: 2, ohm: expect.closeTo(3e8, 0) as number });
});
