import { Advisor, type Advice } from '../advice';
import { Play, potteryScenarios } from '.';

const scenario = (id: string): ConstructorParameters<typeof Play>[0] => {
  const s = potteryScenarios().find((x) => x.id === id);
  if (!s) throw new Error(id);
  return s;
};
const advise = (p: Play): Advice => {
  const a = new Advisor().advise(p.view);
  if (!a) throw new Error('no advice');
  return a;
};

test('kiln leakage: working the devices alone says that it adds up and nothing single is faulty', () => {
  const p = new Play(scenario('pottery-kiln-leakage'), 1e12);
  expect(p.workDevices(20)).toBeGreaterThan(4);
  expect(advise(p).suspects[0]).toMatchObject({ kind: 'standingLeak' });
  // No cover came off for it.
  expect(p.view.state.opened).toEqual([]);
});

test('a device that goes early: dead tests find nothing, the ramp with its ways off does', () => {
  const p = new Play(scenario('pottery-early-device'), 1e12);
  p.makeLive({ do: 'ramp', device: 'G1', first: ['w1', 'w2', 'w3', 'w4', 'w5'] });
  expect(advise(p).suspects[0]).toMatchObject({ kind: 'rcdSensitive', conductors: ['G1'] });
});

test('a heater left in lends its line to a neutral on earth: every way looks bad, and the advice names the one', () => {
  const s = scenario('pottery-drying-heater');
  const p = new Play(s, 1e12);
  p.workDevices(3);
  p.makeDead();
  // The heater hangs on the wall: its load was never out.
  p.record({ type: 'loadsMoved', parts: ['c1.loads'], out: false });
  const innocent = (): number => {
    p.read({ fn: 'insulation', from: ['p0:W1'], to: ['p0:E'] });
    const d = p.view.readings.at(-1)?.event.displayed;
    return d && 'ohm' in d ? d.ohm : Infinity;
  };
  expect(innocent()).toBeLessThan(1e5);
  expect(p.hunt(40)).toBe(true);
  expect(p.verdict().place).toMatch(/^(c5|s5)$/);
}, 60000);

test('a three-phase kiln with an element burnt through: found by reading with its loads in', () => {
  const p = new Play(scenario('pottery-kiln-element'), 1e12);
  p.makeDead();
  expect(p.hunt(40)).toBe(true);
  const { place, suspect } = p.verdict();
  expect(place).toMatch(/\.load2$/);
  expect(suspect).toMatch(/^open load/);
}, 60000);

test('steam in the kiln hood, hunted while it is still wet: the lamp in the hood is named', () => {
  const s = scenario('pottery-steam');
  const p = new Play(s, 1e12);
  p.workDevices(6);
  p.makeDead();
  expect(p.hunt(40)).toBe(true);
  expect(p.verdict().place).toBe(s.map.points.find((x) => x.name === 'Hood lamp')?.id);
}, 60000);
