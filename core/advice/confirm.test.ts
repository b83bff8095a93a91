import { circuitOfWay, type Installation } from '../installation';
import { draft, drawn } from '../installation/fixtures/drafted';
import { Play } from '../simulation';
import { Advisor, type Advice } from '.';

/** Follows the advice to its end; what was taken out and put in, in order, and the last card. */
function hunt(map: Installation, point: string, terminals: readonly string[], ohm: number): { moved: string[]; end: Advice } {
  const p = new Play({ id: 'lamp', name: 'Lamp', agreedMin: 90, seed: 7, phrase: '', map, faults: [{ kind: 'loadFault', point, load: 'lamp', terminals: [...terminals] as [string, string], ohm }], cantReach: [], asked: { complaint: 'rcd trips', shock: false, notes: '', wet: false, works: false } }, 1e12);
  p.makeDead();
  const moved: string[] = [];
  const advisor = new Advisor();
  let end = advisor.advise(p.view, true) as Advice;
  for (let i = 0; i < 30 && end.steps[0]; i++) {
    for (const a of end.steps[0].actions) if (a.do === 'unplug' || a.do === 'plugIn') moved.push(...a.parts.map((part) => `${a.do} ${part}`));
    p.make(end.steps[0]);
    end = advisor.advise(p.view, true) as Advice;
  }
  return { moved, end };
}

const board = drawn(draft('3 ways, RCBOs on 1 to 3'), 'w2', 'lights, 5');
const lamps = circuitOfWay(board, 'w2').points.map((p) => p.id);

test.each([[3, 'L', 0.22], [0, 'L', 45], [4, 'N', 0.5], [1, 'L', 30000]] as const)('a lamp that is faulty proves itself once, and is then named: lamp %i, %s to earth, %f Ω', (n, core, ohm) => {
  const { moved, end } = hunt(board, lamps[n] as string, [core === 'L' ? 'L' : 'N', 'E'], ohm);
  expect(end.unknownShare).toBeLessThan(0.05);
  expect(end.verdict).toMatchObject({ says: 'place', place: `${lamps[n]}.lamp` });
  for (const part of new Set(moved.map((m) => m.split(' ')[1]))) expect(moved.filter((m) => m === `plugIn ${part}`).length).toBeLessThanOrEqual(2);
});
