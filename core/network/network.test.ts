import { loadVectors } from './fixtures/vectorCase';
import { compileNetwork, resistanceBetween } from '.';

describe('reference readings', () => {
  const cases = loadVectors();
  test('there are 112 cases with 805 readings', () => {
    expect(cases).toHaveLength(112);
    expect(cases.reduce((n, c) => n + c.readings.length, 0)).toBe(805);
  });
  test('a switched section that leaves the board hangs on its way, not on the bar', () => {
    const atBoard = cases.flatMap((c) => (c.installation.points[0]?.elements ?? []).filter((e) => e.kind === 'switch'));
    expect(atBoard.length).toBeGreaterThan(0);
    for (const e of atBoard) expect(e.a).toMatch(/^W\d+$/);
  });
  test.each(cases.map((c) => [c.id, c] as const))('case %i reads as published, to 1e-6', (_, c) => {
    const network = compileNetwork(c.installation, c.state, c.faults, c.physics);
    for (const r of c.readings) {
      const got = resistanceBetween(network, network.index.get(r.from) ?? -1, network.index.get(r.to) ?? -1);
      if (r.ohm === 'open' || got === 'open') expect(got).toBe(r.ohm);
      else expect(Math.abs(got / r.ohm - 1)).toBeLessThan(1e-6);
    }
  });
});
