import { draftCircuit } from '../installation';
import { helpWords } from '../wording';
import { Play } from '../simulation';
import { Advisor, type Advice } from '.';

// Where no reading in reach tells more, the app says what would, and each can be done.

const drafted = draftCircuit('radial, 3');
if (!drafted.ok) throw new Error('draft');
const map = drafted.value;
const play = (): Play => {
  const p = new Play({ id: 'h', name: 'H', agreedMin: 90, seed: 4, phrase: 'radial, 3', map, faults: [{ kind: 'contact', section: 's2', cores: ['L', 'N'], fraction: 0.5, ohm: 30 }], cantReach: [], asked: { complaint: 'mcb trips', shock: false, notes: '', wet: false, works: false } }, 1e12);
  p.makeDead();
  p.read({ fn: 'continuity', from: ['s1@a:L'], to: ['s1@a:N'] });
  return p;
};
const adviceOf = (p: Play): Advice => {
  const a = new Advisor().advise(p.view);
  if (!a) throw new Error('no advice');
  return a;
};
/** Everything offered is turned down until nothing is left. */
function turnedDown(cantReach: readonly string[] = []): { readonly p: Play; readonly count: number } {
  const p = play();
  for (const point of cantReach) p.record({ type: 'cantReach', point, can: false });
  for (let count = 0; count < 200; ) {
    const { steps } = adviceOf(p);
    if (!steps.length) return { p, count };
    for (const s of steps) {
      p.record({ type: 'notNow', step: s.key });
      count++;
    }
  }
  throw new Error('steps without end');
}

test('with a step at hand nothing else is offered as help', () => {
  const a = adviceOf(play());
  expect(a.steps.length).toBeGreaterThan(0);
  expect(a.help).toEqual([]);
});

test('all turned down: that comes first, then what else would help, leaving it safe last; each says why in words', () => {
  const { p, count } = turnedDown();
  const { help } = adviceOf(p);
  expect(help[0]).toEqual({ help: 'turnedDown', count });
  expect(help.at(-1)).toEqual({ help: 'safe' });
  expect(help.map((h) => h.help)).toEqual(expect.arrayContaining(['lengths', 'wait']));
  for (const h of help) {
    const { label, why } = helpWords(map, h);
    expect(`${label} ${why}`).not.toMatch(/undefined|NaN|\bp\d|\bs\d/);
  }
  for (const e of p.file.events.filter((x) => x.type === 'notNow')) p.record({ type: 'struck', target: e.id, why: 'offered again' });
  expect(adviceOf(p).steps.length).toBeGreaterThan(0);
}, 60000);

test('a point that cannot be reached, with belief on it, is named with its share', () => {
  const { p } = turnedDown(['p2', 'p3']);
  const reach = adviceOf(p).help.filter((h) => h.help === 'reach');
  expect(reach.map((h) => h.help === 'reach' && h.point)).toContain('p2');
  for (const h of reach) if (h.help === 'reach') expect(h.share).toBeGreaterThan(0.02);
}, 60000);
