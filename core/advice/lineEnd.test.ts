import { circuitOfWay, draftCircuit, editMap } from '../installation';
import type { Fault } from '../faults';
import { Play } from '../simulation';

const board = draftCircuit('4 ways');
if (!board.ok) throw new Error('draft');
const drawn = editMap(board.value, { edit: 'drawCircuit', way: 'w2', phrase: 'radial, 3' });
if (!drawn.ok) throw new Error('draw');
const map = drawn.value;
const [first] = circuitOfWay(map, 'w2').points;

// Both read open from the way to every outlet: the terminal is told from the cable by the copper itself.
test.each<[string, Fault, string]>([
  ['broken in the first cable', { kind: 'openCore', section: 's2', core: 'L' }, 's2'],
  ['not in its device', { kind: 'termination', end: 's2@a:L', ohm: 'open' }, 'p0'],
])('a line that is %s is found as that', (_, fault, place) => {
  const play = new Play({ id: 'line', name: 'Line', agreedMin: 90, seed: 5, phrase: '4 ways', map, faults: [fault], cantReach: [], asked: { complaint: 'dead', shock: false, notes: '', wet: false, works: false } }, 1e12);
  play.makeDead();
  for (let i = 0; i < 2; i++) play.read({ fn: 'continuity', from: ['p0:W2'], to: [`${first?.id}/f1:L`] });
  play.hunt(12);
  expect(play.verdict()).toMatchObject({ place });
  expect(play.verdict().share).toBeGreaterThan(0.95);
});
