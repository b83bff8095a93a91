import { draftCircuit, editMap } from '../installation';
import { Play, type Scenario } from '../simulation';
import { othersWords } from '../wording';
import { Advisor } from '.';

const drafted = draftCircuit('4 ways, RCD on 1 to 4');
if (!drafted.ok) throw new Error('draft');
const scenario = (faults: Scenario['faults'], complaint: Scenario['asked']['complaint']): Scenario => ({
  id: 'n', name: 'N', agreedMin: 90, seed: 4, phrase: '4 ways', map: drafted.value, faults, cantReach: [], asked: { complaint, shock: false, notes: '', wet: false, works: false },
});
/** Every way to earth and its neutral, loads out and in. */
function sweep(play: Play): void {
  for (const w of [1, 2, 3, 4]) play.read({ fn: 'insulation', from: [`p0:W${w}`], to: ['p0:E'] });
  play.read({ fn: 'insulation', from: ['p0:NG1'], to: ['p0:E'] });
}

test('one load that stayed in does not make a board sound: the ways that were not read stay suspected', () => {
  const play = new Play(scenario([{ kind: 'joined', terminals: ['c4:L', 'c4:N'], ohm: 160 }], 'mcb trips'), 1e12);
  play.makeDead();
  for (let i = 0; i < 3; i++) play.read({ fn: 'continuity', from: ['p0:W4'], to: ['p0:NG1'] });
  const advice = new Advisor().advise(play.view);
  expect(advice?.verdict.says).not.toBe('sound');
  const unread = (advice?.places ?? []).filter((p) => /^[cs][123](\.|$)/.test(p.place)).reduce((sum, p) => sum + p.share, 0);
  expect(unread).toBeGreaterThan(0.3);
});

test('insulation that passes is no fault, however uneven: a way at 2 MΩ among better ones is not blamed', () => {
  const play = new Play(scenario([{ kind: 'pointContact', point: 'c2', terminals: ['L', 'E'], ohm: 2.2e6 }], 'rcd trips'), 1e12);
  play.makeDead();
  sweep(play);
  sweep(play);
  const advice = new Advisor().advise(play.view);
  expect(['place', 'draw']).not.toContain(advice?.verdict.says);
});

test('on a way that nobody has drawn no conductor is called whole', () => {
  const play = new Play(scenario([], 'rcd trips'), 1e12);
  play.makeDead();
  sweep(play);
  play.record({ type: 'loadsMoved', parts: ['c2.loads'], out: false });
  play.read({ fn: 'continuity', from: ['p0:W2'], to: ['p0:NG1'] });
  const cleared = new Advisor().advise(play.view, false)?.cleared ?? [];
  expect(cleared.length).toBeGreaterThan(0);
  expect(cleared.filter((c) => c.conductors.length === 1 && /^[cs]\d/.test(c.place))).toEqual([]);
});

test('what may lie behind a switch of a way that nobody has drawn is neither cleared nor called sound by readings at the board', () => {
  const play = new Play(scenario([], 'rcd trips'), 1e12);
  play.makeDead();
  play.record({ type: 'loadsMoved', parts: [1, 2, 3, 4].map((w) => `c${w}.loads`), out: false });
  sweep(play);
  play.record({ type: 'loadsMoved', parts: [1, 2, 3, 4].map((w) => `c${w}.loads`), out: true });
  sweep(play);
  const advice = new Advisor().advise(play.view, false);
  const atWays = (advice?.cleared ?? []).filter((c) => /^[cs]\d/.test(c.place));
  expect(atWays.some((c) => c.conductors.includes('L'))).toBe(true);
  for (const c of atWays) if (c.conductors.includes('L')) expect(c.asFar).not.toBe('all');
  expect(advice?.verdict.says).not.toBe('sound');
  // What a switch keeps from power keeps no power off.
  expect(advice?.hazards.filter((h) => h.conductors.includes('L') && h.conductors.includes('E'))).toEqual([]);
  const behind = (advice?.places ?? []).filter((p) => /^[cs]\d/.test(p.place)).reduce((sum, p) => sum + p.share, 0);
  expect(behind).toBeGreaterThan(0.1);
});

test('a step begins with a reading that tells something: not one after which the same is likely whatever it shows', () => {
  const board = draftCircuit('6 ways, RCD on 1 to 3');
  const drawn = board.ok ? editMap(board.value, { edit: 'drawCircuit', way: 'w2', phrase: 'ring, 5' }) : board;
  if (!drawn.ok) throw new Error('draft');
  const play = new Play({ ...scenario([], 'rcd trips'), map: drawn.value }, 1e12);
  play.record({ type: 'answered', question: 'tripsWhen', answer: 'moreLoad' });
  play.makeDead();
  let looked = 0;
  for (let i = 0; i < 8; i++) {
    const steps = new Advisor().advise(play.view)?.steps ?? [];
    const rows = steps.map((s) => s.outcomes.filter((o) => o.count > 0).length);
    // Where any step tells something, none that does not stands beside it.
    if (rows.some((n) => n >= 2)) expect(Math.min(...rows)).toBeGreaterThanOrEqual(2);
    const [step] = steps;
    if (!step) break;
    looked++;
    play.make(step);
  }
  expect(looked).toBeGreaterThan(3);
}, 120_000);

test('nothing wrong is one line: loads that are in as recorded are counted there, not once more among the others', () => {
  const drawn = editMap(drafted.value, { edit: 'drawCircuit', way: 'w1', phrase: 'ring, 5' });
  if (!drawn.ok) throw new Error('draw');
  const play = new Play({ ...scenario([], 'rcd trips'), map: drawn.value }, 1e12);
  play.makeDead(false);
  for (let i = 0; i < 2; i++) {
    sweep(play);
    const advice = new Advisor().advise(play.view, false);
    const listed = advice?.suspects.find((s) => s.kind === 'sound');
    expect(listed?.share).toBeCloseTo(advice?.places.find((p) => p.place === 'sound')?.share ?? NaN, 9);
    expect(advice && othersWords(drawn.value, advice)).not.toMatch(/nothing wrong/i);
    const all = (advice?.suspects ?? []).reduce((sum, s) => sum + s.share, (advice?.others.share ?? 0) + (advice?.unknownShare ?? 0));
    expect(all).toBeCloseTo(1, 6);
  }
});
