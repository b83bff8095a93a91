import { draft } from '../installation/fixtures/drafted';
import { editMap } from '../installation';
import { Play } from '../simulation';
import { Advisor } from '.';

test('what tests with the supply on name beyond doubt is named, once no test tells more: no cover has to come off for it', () => {
  const drawn = editMap(draft('4 ways, RCD on 1 to 2, RCD on 3 to 4'), { edit: 'drawCircuit', way: 'w2', phrase: 'radial, 3' });
  if (!drawn.ok) throw new Error('draw');
  const play = new Play({ id: 'b', name: 'B', agreedMin: 45, seed: 5, phrase: '4 ways', map: drawn.value, faults: [{ kind: 'landed', end: 's2@a:N', terminal: 'NG2' }], cantReach: [], asked: { complaint: 'rcd trips', shock: false, notes: '', wet: false, works: false } }, 1e12);
  const advisor = new Advisor();
  for (let i = 0; i < 12; i++) {
    const advice = advisor.advise(play.view);
    const [live] = advice?.liveSteps ?? [];
    if (!live) {
      expect(advice?.verdict).toMatchObject({ says: 'place' });
      expect(advice?.suspects[0]?.kind).toBe('otherBar');
      expect(play.view.state.opened).toEqual([]);
      return;
    }
    // While a test would tell more, nothing is named.
    expect(advice?.verdict.says).toBe('none');
    play.makeLive(live.step);
  }
  throw new Error('no end');
});
