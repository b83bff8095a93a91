import { editMap } from '../installation';
import { draft } from '../installation/fixtures/drafted';
import { beforeLive } from '../job';
import { Play, type Scenario } from '../simulation';
import { Advisor, type Advice } from '.';

// A step in two halves, "ways off, then close it": whoever has done the first is led on to the second.

const drawn = editMap(draft('6 ways, RCD on 1 to 6, TN-S'), { edit: 'drawCircuit', way: 'w3', phrase: 'ring, 5' });
if (!drawn.ok) throw new Error('draw');
const map = drawn.value;
const asked: Scenario['asked'] = { complaint: 'rcd trips', shock: false, notes: '', wet: false, works: false };

test.each([['told that it cannot be reset', 'atOnce'], ['that trips at odd times', 'odd']])('%s: after what is done first, closing the device comes next', (_, tripsWhen) => {
  const play = new Play({ id: 'h', name: 'H', agreedMin: 90, seed: 4, phrase: '6 ways', map, faults: [{ kind: 'contact', section: 's3', cores: ['L', 'E'], fraction: 0.5, ohm: 3000 }], cantReach: [], asked }, 1e12);
  play.record({ type: 'answered', question: 'tripsWhen', answer: tripsWhen });
  if (tripsWhen === 'atOnce') for (const pole of ['G1L', 'G1N']) play.record({ type: 'switched', part: `p0.${pole}`, off: true });
  const advisor = new Advisor();
  let met = 0;
  for (let i = 0; i < 6; i++) {
    const { liveSteps: [live], verdict } = advisor.advise(play.view) as Advice;
    if (!live || verdict.says !== 'none') break;
    const { before } = beforeLive(map, play.view.state, live.step);
    for (const e of before) play.record(e);
    if (before.length && live.step.do === 'close') {
      const { device } = live.step;
      const [next] = (advisor.advise(play.view) as Advice).liveSteps;
      expect(next?.step).toEqual({ do: 'close', device, first: [], out: [] });
      met++;
    }
    play.makeLive(live.step);
  }
  expect(met).toBeGreaterThan(0);
});
