import { editMap } from '../installation';
import { draft } from '../installation/fixtures/drafted';
import { beforeLive } from '../job';
import { Play, type Scenario } from '../simulation';
import { liveStepTitle, liveWhy } from '../wording';
import { Advisor, type Advice } from '.';

// A breaker that goes after minutes of use and reads sound carries too much, or nothing is wrong: the line is clamped with everything on (field guide, section 3).

const drawn = editMap(draft('5 ways, RCD on 1 to 5'), { edit: 'drawCircuit', way: 'w2', phrase: 'radial, 4' });
if (!drawn.ok) throw new Error('draw');
const map = drawn.value;

function afterSound(): Play {
  const scenario: Scenario = { id: 's', name: 'S', agreedMin: 90, seed: 4, phrase: '5 ways', map, faults: [], cantReach: [], asked: { complaint: 'mcb trips', shock: false, notes: '', wet: false, works: false } };
  const play = new Play(scenario, 1e12);
  play.record({ type: 'answered', question: 'went', answer: 'w2' }, { type: 'answered', question: 'breakerWhen', answer: 'minutes' });
  play.makeDead(false);
  for (const to of ['p0:NG1', 'p0:E'])
    play.record({ type: 'read', probe: { fn: 'insulation', from: ['p0:W2'], to: [to] }, displayed: { above: 999e6 }, unit: 'MΩ', conditions: [], testVolt: 500, unsteady: false, climbing: false, beforeProof: false, retest: null });
  return play;
}
const advise = (play: Play): Advice => new Advisor().advise(play.view) as Advice;
const shareOf = (a: Advice, kind: string): number => a.suspects.filter((s) => s.kind === kind).reduce((sum, s) => sum + s.share, 0);

test('where it reads sound the line of the breaker that went is measured with everything on, before anything is left or drawn', () => {
  const a = advise(afterSound());
  const [live] = a.liveSteps;
  expect(a.liveFirst).toBe(true);
  expect(live?.step).toMatchObject({ do: 'clamp', around: 'w2/L', all: true });
  expect(live && liveStepTitle(map, live.step)).toMatch(/^Everything back in and on, then clamp line of/);
  expect(live && liveWhy(live.step, false)).toContain('how much runs on it together');
  expect(['enough', 'drawNext']).not.toContain(a.verdict.says);
});

test('50 A on a breaker of 32 A is an overload; 4 A with everything on is none', () => {
  const read = (mA: number): Advice => {
    const play = afterSound();
    play.record({ type: 'energised' }, ...beforeLive(map, play.view.state, { do: 'clamp', around: 'w2/L', all: true }).before, { type: 'liveRead', test: { kind: 'clamp', around: 'w2/L', mA, filtered: true, peak: false } });
    return advise(play);
  };
  const before = shareOf(advise(afterSound()), 'overload');
  expect(shareOf(read(50e3), 'overload')).toBeGreaterThan(Math.max(0.6, before));
  expect(shareOf(read(4e3), 'overload')).toBeLessThan(0.5 * before);
});
