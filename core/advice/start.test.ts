import { questions } from '../asking';
import { draftCircuit } from '../installation';
import type { Complaint } from '../job';
import { seededRandom } from '../numeric';
import { Play } from '../simulation';
import { Advisor } from '.';

const complaints: readonly (Complaint | null)[] = ['rcd trips', 'mcb trips', 'dead', 'shock', 'flicker or heat', 'inspection', null];

describe.each(['4 ways', '12 ways, RCBOs on 1 to 12, TN-C-S', 'radial, 5'])('%s, nothing read', (phrase) => {
  test.each(complaints)('“%s”: there is always a first thing to do', (complaint) => {
    const drafted = draftCircuit(phrase);
    if (!drafted.ok) throw new Error('draft');
    const play = new Play({ id: 'start', name: 'Start', agreedMin: 90, seed: 2, phrase, map: drafted.value, faults: [], cantReach: [], asked: { complaint: complaint ?? 'inspection', shock: false, notes: '', wet: false, works: false } }, 1e12);
    if (complaint === null) play.record({ type: 'asked', complaint, shock: false, notes: '' });
    const random = seededRandom(phrase.length);
    const nothing = questions.map((q) => ({ type: 'answered', question: q.id, answer: null }) as const);
    const something = questions.map((q) => ({ type: 'answered', question: q.id, answer: random.pick(q.answers).id }) as const);
    const poorJoint = [['smell', 'none'], ['since', 'worse'], ['moves', 'moved']].map(([question = '', answer = '']) => ({ type: 'answered', question, answer }) as const);
    for (const told of [nothing, poorJoint, something]) {
      play.record(...told);
      const advice = new Advisor().advise(play.view);
      expect(advice?.steps.length || advice?.liveSteps.length || (advice?.verdict.says === 'drawNext' ? 1 : 0)).toBeGreaterThan(0);
    }
  });
});
