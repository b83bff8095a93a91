/** A seeded source of random numbers (mulberry32): the same seed gives the same run everywhere. */
export interface Random {
  /** Uniform in [0, 1). */
  next(): number;
  uniform(low: number, high: number): number;
  /** Whole number from low to high, both included. */
  integer(low: number, high: number): number;
  /** Standard normal. */
  normal(): number;
  chance(probability: number): boolean;
  pick<T>(items: readonly T[]): T;
}

export function seededRandom(seed: number): Random {
  let state = (seed ^ 0x9e3779b9) >>> 0;
  const next = (): number => {
    state = (state + 0x6d2b79f5) >>> 0;
    let t = state;
    t = Math.imul(t ^ (t >>> 15), t | 1);
    t ^= t + Math.imul(t ^ (t >>> 7), t | 61);
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296;
  };
  for (let i = 0; i < 8; i++) next();
  const uniform = (low: number, high: number): number => low + (high - low) * next();
  return {
    next,
    uniform,
    integer: (low, high) => low + Math.floor(next() * (high - low + 1)),
    normal: () => Math.sqrt(-2 * Math.log(1 - next())) * Math.cos(2 * Math.PI * next()),
    chance: (probability) => next() < probability,
    pick: (items) => {
      const item = items[Math.floor(next() * items.length)];
      if (item === undefined) throw new Error('pick from an empty list');
      return item;
    },
  };
}
