import { Advisor } from '../advice';
import { draftCircuit, editMap, type Installation } from '../installation';
import { Play, potteryScenarios } from '../simulation';
import { untouched } from '../workstate';
import { costsOf, minutesFor, parseHabits, startings, tradeCosts, usualHabits, type Situation } from '.';

const map = (): Installation => {
  const r = draftCircuit('radial, 3');
  if (!r.ok) throw new Error('draft');
  return r.value;
};
const situation: Situation = { state: untouched, at: ['p0'], proved: new Set(['p0', 'p1', 'p2', 'p3']), unreachable: new Set(), longLead: true };

test('habits that were kept come back; what is not theirs, or beyond an hour, is the usual', () => {
  const mine = { minutes: { walk: 2, proveOpened: 3 }, startWith: 'resetting' as const };
  expect(parseHabits(JSON.stringify(mine))).toEqual(mine);
  for (const text of [null, '', '{', '[]', '{"minutes":{"walk":-1},"startWith":"clamp"}', '{"minutes":{"walk":90},"startWith":"clamp"}', '{"minutes":{},"startWith":"luck"}']) expect(parseHabits(text)).toEqual(usualHabits);
});

test('own minutes count as said, the rest as usual; putting back costs what splitting does', () => {
  expect(costsOf(usualHabits)).toEqual(tradeCosts);
  expect(costsOf({ minutes: { walk: 4, split: 6 }, startWith: 'clamp' })).toEqual({ ...tradeCosts, walk: 4, split: 6, rejoin: 6 });
});

test('a ladder costs its minutes once, where one has to go there, and nothing elsewhere', () => {
  const edited = editMap(map(), { edit: 'setExtra', point: 'p2', minutes: 7 });
  if (!edited.ok) throw new Error('edit');
  const read = (m: Installation, point: string): number => minutesFor(m, situation, [], [{ fn: 'continuity', from: [`${point}/f1:L`], to: [`${point}/f1:N`] }], tradeCosts).minutes;
  expect(read(edited.value, 'p2') - read(map(), 'p2')).toBeCloseTo(7, 9);
  expect(read(edited.value, 'p3')).toBeCloseTo(read(map(), 'p3'), 9);
  for (const minutes of [NaN, -1, 500]) expect(editMap(map(), { edit: 'setExtra', point: 'p2', minutes }).ok).toBe(false);
});

test('a point that takes half an hour to reach is left for last while others tell as much', () => {
  const scenario = potteryScenarios().find((s) => s.name === 'Shop sockets');
  if (!scenario) throw new Error('scenario');
  const firstAt = (m: Installation): Set<string> => {
    const play = new Play({ ...scenario, map: m }, 1e12);
    play.makeDead();
    // The first step that leaves the board.
    const steps = new Advisor().advise(play.view)?.steps ?? [];
    const away = steps.map((step) => new Set([...step.actions.map((a) => a.point), ...step.probes.flatMap((p) => [...p.from, ...p.to].map((k) => k.split(/[:/@]/)[0] ?? ''))].filter((p) => p !== 'p0' && p.startsWith('p'))));
    return away.find((points) => points.size > 0) ?? new Set();
  };
  const usual = firstAt(scenario.map);
  const dear = [...usual].reduce((m, point) => {
    const e = editMap(m, { edit: 'setExtra', point, minutes: 30 });
    if (!e.ok) throw new Error('edit');
    return e.value;
  }, scenario.map);
  expect(usual.size).toBeGreaterThan(0);
  for (const point of firstAt(dear)) expect([...usual]).not.toContain(point);
});

test('what one likes to begin with never changes what is believed, and shifts the first step only between near equals', () => {
  const scenario = potteryScenarios().find((s) => s.id === 'pottery-early-device');
  if (!scenario) throw new Error('scenario');
  const play = new Play(scenario, 1e12);
  const byStart = startings.map((startWith) => {
    const advisor = new Advisor();
    advisor.settle({ minutes: {}, startWith });
    const advice = advisor.advise(play.view);
    if (!advice) throw new Error('advice');
    return advice;
  });
  const [plain] = byStart;
  for (const a of byStart) {
    expect(a.suspects.map((s) => [s.id, s.share])).toEqual(plain?.suspects.map((s) => [s.id, s.share]));
    const [first] = a.liveSteps;
    const best = Math.min(...a.liveSteps.map((s) => s.cost));
    expect((first?.cost ?? 0) / best).toBeLessThan(1.2);
  }
});
