import { editMap } from '../installation';
import { draft } from '../installation/fixtures/drafted';
import { Play, type Scenario } from '../simulation';
import { Advisor } from '.';

// Devices are worked where something trips. What flickers, is dead or shocks is on a circuit that holds: switching the others tells nothing of it.

const drawn = editMap(draft('4 ways, RCD on 1 to 4, TN-S'), { edit: 'drawCircuit', way: 'w2', phrase: 'ring, 4' });
if (!drawn.ok) throw new Error('draw');
const map = drawn.value;

test.each<[Scenario['asked']['complaint'], Scenario['faults']]>([
  ['flicker or heat', [{ kind: 'termination', end: 's2@b:N', ohm: 1.5 }]],
  ['dead', [{ kind: 'termination', end: 's2@b:N', ohm: 'open' }]],
  ['shock', [{ kind: 'termination', end: 's2@b:E', ohm: 'open' }]],
])('"%s": no device is closed, ramped or freed of its loads to see whether it holds, and nothing goes first that tells next to nothing', (complaint, faults) => {
  const play = new Play({ id: 'w', name: 'W', agreedMin: 90, seed: 14, phrase: '', map, faults, cantReach: [], asked: { complaint, shock: complaint === 'shock', notes: '', wet: false, works: false } }, 1e12);
  play.record({ type: 'answered', question: 'where', answer: 'w2' });
  const advisor = new Advisor();
  for (let i = 0; i < 6; i++) {
    const advice = advisor.advise(play.view);
    expect(advice?.liveSteps.filter(({ step }) => ['close', 'ramp', 'plugIn', 'turnOn'].includes(step.do))).toEqual([]);
    const [live] = advice?.liveSteps ?? [];
    if (!live || !advice?.liveFirst) return;
    if (!(live.step.do === 'voltage' && live.step.to === 'ground')) expect(live.bits).toBeGreaterThan(0.1);
    play.makeLive(live.step);
  }
});
