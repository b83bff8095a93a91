import { draft, drawn } from '../installation/fixtures/drafted';
import { Play } from '../simulation';
import { Advisor, type Advice } from '.';

// "With everything unplugged it held": the loads of the way whose breaker tripped come back first, and what then reads nothing is read in ohms there.

const map = draft('8 ways, RCD on 1 to 4, TN-C-S');

function advices(way: string, ohm: number): Advice[] {
  const point = `c${way.slice(1)}`;
  const p = new Play({ id: 'cured', name: 'Cured', agreedMin: 90, seed: 3, phrase: '', map, faults: [{ kind: 'loadFault', point, load: 'loads', terminals: ['L', 'N'], ohm }], cantReach: [], asked: { complaint: 'mcb trips', shock: false, notes: '', wet: false, works: false } }, 1e12);
  for (const [question, answer] of Object.entries({ went: way, unplugged: 'cured', breakerWhen: 'atOnce', since: 'suddenly' })) p.record({ type: 'answered', question, answer });
  p.makeDead();
  p.record({ type: 'loadsMoved', parts: map.points.flatMap((x) => x.elements.flatMap((e) => (e.kind === 'load' ? [`${x.id}.${e.id}`] : []))), out: true });
  const advisor = new Advisor();
  const seen: Advice[] = [];
  for (let i = 0; i < 8; i++) {
    const a = advisor.advise(p.view, true) as Advice;
    seen.push(a);
    if (a.verdict.says !== 'none' || !a.steps[0]) break;
    p.make(a.steps[0]);
  }
  return seen;
}

test.each([['w5', 1.4], ['w2', 0.3], ['w8', 0.8]])('%s, %f Ω inside a load: only its circuit is read, its loads go in, and it is known', (way, ohm) => {
  const seen = advices(way, ohm);
  const steps = seen.flatMap((a) => a.steps.slice(0, 1));
  const ways = new Set(steps.flatMap((s) => s.probes.flatMap((q) => [...q.from, ...q.to])).filter((k) => /:W\d/.test(k)));
  expect([...ways]).toEqual([`p0:W${way.slice(1)}`]);
  expect(steps.flatMap((s) => s.actions)[0]).toMatchObject({ do: 'plugIn', parts: [`c${way.slice(1)}.loads`] });
  expect(steps[steps.length - 1]?.probes.map((q) => q.fn)).toContain('continuity');
  expect(seen[seen.length - 1]?.verdict).toMatchObject({ says: 'draw', place: `c${way.slice(1)}` });
});

// What is plugged in and on shows itself: a kettle reads 0.00 MΩ between line and neutral, as a shorted iron does. Ohms tell them apart.
describe('everything put in and on again', () => {
  const drawnMap = drawn(draft('5 ways, RCD on 1 to 5, TN-C-S'), 'w2', 'radial, 4');
  const loadKeys = drawnMap.points.flatMap((x) => x.elements.flatMap((e) => (e.kind === 'load' ? [`${x.id}.${e.id}`] : [])));
  const start = (): { p: Play; advisor: Advisor } => {
    const p = new Play({ id: 'on', name: 'On', agreedMin: 90, seed: 3, phrase: '', map: drawnMap, faults: [], cantReach: [], asked: { complaint: 'mcb trips', shock: false, notes: '', wet: false, works: false } }, 1e12);
    for (const [question, answer] of Object.entries({ went: 'w2', unplugged: 'cured', breakerWhen: 'atOnce', since: 'suddenly' })) p.record({ type: 'answered', question, answer });
    p.makeDead();
    p.record({ type: 'loadsMoved', parts: loadKeys, out: false });
    return { p, advisor: new Advisor() };
  };
  const read = (p: Play, fn: 'continuity' | 'insulation', ohm: number): void =>
    p.record({ type: 'read', probe: { fn, from: ['p0:W2'], to: ['p0:NG1'] }, displayed: { ohm }, unit: fn === 'insulation' ? 'MΩ' : 'Ω', conditions: ['dry'], testVolt: fn === 'insulation' ? 500 : null, unsteady: false, climbing: false, beforeProof: false, retest: null });

  test('with loads on the first reading between line and neutral is in ohms', () => {
    const { p, advisor } = start();
    const step = advisor.advise(p.view, true)?.steps.find((s) => s.probes.some((q) => q.to.concat(q.from).every((k) => !/:E$/.test(k))));
    expect(step?.probes.find((q) => q.to.concat(q.from).every((k) => !/:E$/.test(k)))?.fn).toBe('continuity');
  });

  test('0.00 MΩ between line and neutral accuses no appliance; half an ohm does, and 25 Ω, as a heater has, speaks against a short', () => {
    const shorted = (...readings: readonly ['continuity' | 'insulation', number][]): number => {
      const { p, advisor } = start();
      p.record({ type: 'read', probe: { fn: 'insulation', from: ['p0:W4'], to: ['p0:E'] }, displayed: { ohm: 200e6 }, unit: 'MΩ', conditions: ['dry'], testVolt: 500, unsteady: false, climbing: false, beforeProof: false, retest: null });
      for (const [fn, ohm] of readings) read(p, fn, ohm);
      return (advisor.advise(p.view, true)?.suspects ?? []).filter((s) => s.kind === 'loadFault' && s.id.endsWith(':LN')).reduce((sum, s) => sum + s.share, 0);
    };
    expect(shorted(['insulation', 0])).toBeLessThan(1.25 * shorted());
    expect(shorted(['insulation', 0], ['continuity', 0.5])).toBeGreaterThan(0.7);
    // What is faulty inside and of just so many ohms no reading tells from a heater.
    expect(shorted(['insulation', 0], ['continuity', 25])).toBeLessThan(0.4 * shorted());
  });
});
