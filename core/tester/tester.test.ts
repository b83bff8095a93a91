import { displayOf, instrumentSdOhm, isAbove, meter, toY } from '.';

test('an ohmmeter shows 0.01 Ω steps below 100 Ω and “no path” above its top', () => {
  expect(displayOf('continuity', 0.347)).toEqual({ ohm: expect.closeTo(0.35, 9) as number });
  expect(isAbove(displayOf('continuity', 2e5))).toBe(true);
  expect(isAbove(displayOf('continuity', Infinity))).toBe(true);
});

test('an insulation tester shows 0.01 MΩ below 10 MΩ, whole megohms above 100, and stops at 999', () => {
  expect(displayOf('insulation', 304_000)).toEqual({ ohm: expect.closeTo(300_000, 3) as number });
  expect(displayOf('insulation', 214.4e6)).toEqual({ ohm: expect.closeTo(214e6, 0) as number });
  expect(displayOf('insulation', 1.2e9)).toEqual({ above: 999e6 });
});

test('“0.00 MΩ” says below half a digit and no more', () => {
  expect(displayOf('insulation', 31)).toEqual({ ohm: 0 });
  expect(instrumentSdOhm('insulation', 31)).toBeGreaterThan(5000);
});

test('the error of a reading grows with it and never falls below the digits', () => {
  let last = 0;
  for (const ohm of [0, 0.1, 1, 10, 90]) {
    const sd = instrumentSdOhm('continuity', ohm);
    expect(sd).toBeGreaterThanOrEqual(last);
    expect(sd).toBeGreaterThan(0.01);
    last = sd;
  }
});

test('the steadied coordinate keeps the order of readings from milliohms to gigaohms', () => {
  for (const fn of ['continuity', 'insulation'] as const) {
    const ys = [0, 0.01, 0.5, 30, 1e4, 1e6, 1e9, 1e12].map((r) => toY(fn, r));
    expect([...ys].sort((a, b) => a - b)).toEqual(ys);
    expect(ys[0]).toBe(0);
    expect(meter[fn].topOhm).toBeGreaterThan(0);
  }
});
