import { Play, potteryScenarios } from '@core/simulation';
import { createEngineHost } from './engineHost';

const scenario = potteryScenarios()[2];
if (!scenario) throw new Error('no scenario');
const play = new Play(scenario, Date.now());
play.makeDead();
play.hunt(1);
const { events } = play.file;
const ask = (from: number, to = events.length, job = 'j') => ({ job, revision: to, from, events: events.slice(from, to), now: Date.now() });

test('a gap in the log is answered with “need all”', () => {
  const host = createEngineHost();
  expect(host.believe(ask(5)).says).toBe('need all');
  expect(host.believe(ask(0, 6)).says).toBe('advice');
  expect(host.believe(ask(9)).says).toBe('need all');
  expect(host.believe(ask(6)).says).toBe('advice');
});

test('the same log in pieces or at once gives the same advice', async () => {
  const pieces = createEngineHost();
  for (let k = 3; k <= events.length; k++) pieces.believe(ask(k === 3 ? 0 : k - 1, k));
  const whole = createEngineHost();
  whole.believe(ask(0));
  const [a, b] = [await pieces.plan('j', events.length, Date.now()), await whole.plan('j', events.length, Date.now())];
  if (a.says !== 'advice' || b.says !== 'advice') throw new Error('no advice');
  // Two readings of one step may stand in either order.
  const first = (x: typeof a): string => (x.says === 'advice' ? [JSON.stringify(x.advice?.steps[0]?.actions), ...(x.advice?.steps[0]?.probes ?? []).map((p) => JSON.stringify(p)).sort()].join() : '');
  expect(first(a)).toBe(first(b));
  for (const s of a.advice?.suspects ?? []) expect(b.advice?.suspects.find((x) => x.id === s.id)?.share).toBeCloseTo(s.share, 1);
});

test('a plan for an older revision is stale', async () => {
  const host = createEngineHost();
  host.believe(ask(0, 6));
  const planning = host.plan('j', 6, Date.now());
  host.believe(ask(6));
  expect((await planning).says).toBe('stale');
});
