import { draft } from '../installation/fixtures/drafted';
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
  expect(steps[steps.length - 1]?.probes[0]?.fn).toBe('continuity');
  expect(seen[seen.length - 1]?.verdict).toMatchObject({ says: 'draw', place: `c${way.slice(1)}` });
});
