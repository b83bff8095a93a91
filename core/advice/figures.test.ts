import { protectionsOf } from '../installation';
import { draft } from '../installation/fixtures/drafted';
import { Play, type Scenario } from '../simulation';
import { Advisor } from '.';

// Leakage that adds up and a device that opens early trip with the same ways and hold with the same: half the leakage at half the rating.
// No verdict parts them before a ramp, or a clamp, was read (field guide, section 5).

const map = draft('8 ways, RCD on 1 to 8, TN-S');
const device = protectionsOf(map).find((d) => d.id === 'G1');

test.each<[string, Scenario['faults']]>([['a device that opens at 13 mA', [{ kind: 'device', device: 'G1', sensitivity: 0.45, blind: false }]], ['leakage that adds up', map.points.filter((p) => p.kind === 'undrawn').map((p) => ({ kind: 'leaky', point: p.id, load: 'loads', mA: 3.6 }))]])('%s: named without a dead test, and with a figure of the device', (_, faults) => {
  const play = new Play({ id: 'g', name: 'G', agreedMin: 90, seed: 9, phrase: '', map, faults: [...faults], cantReach: [], asked: { complaint: 'rcd trips', shock: false, notes: '', wet: false, works: false } }, 1e12);
  play.record({ type: 'answered', question: 'tripsWhen', answer: 'moreLoad' }, { type: 'answered', question: 'unplugged', answer: 'still' });
  const advisor = new Advisor();
  for (let i = 0; i < 24; i++) {
    const advice = advisor.advise(play.view);
    if (!advice) break;
    const figure = play.view.liveReadings.some(({ event: { test: t } }) => (t.kind === 'ramp' && t.device === device?.id) || (t.kind === 'clamp' && t.around === device?.id));
    if (advice.verdict.says === 'place') {
      expect(advice.verdict.place).toBe('p0.G1');
      expect(figure).toBe(true);
      return;
    }
    const [live] = advice.liveSteps;
    if (!live || advice.verdict.says !== 'none') break;
    play.makeLive(live.step);
  }
  throw new Error('nothing was named');
});
