import { behindWay, editMap, protectionsOf } from '../installation';
import { draft } from '../installation/fixtures/drafted';
import { Play, type Scenario } from '../simulation';
import { Advisor, type Advice } from '.';

// What trips may stand off: no volts and no lamp is asked for behind it before it was seen to hold (field guide, section 3: reset first).

const board = draft('6 ways, RCD on 1 to 6, TN-S');
const drawn = editMap(board, { edit: 'drawCircuit', way: 'w3', phrase: 'ring, 5' });
if (!drawn.ok) throw new Error('draw');
const map = drawn.value;
const behind = new Set(protectionsOf(map).filter((d) => d.kind !== 'main').flatMap((d) => [d.id, ...d.carries]).flatMap((w) => behindWay(map, w).points.map((p) => p.id)));

test.each(['rcd trips', 'mcb trips'] as const)('"%s": nothing behind it is measured live before it was closed and held', (complaint) => {
  const scenario: Scenario = { id: 's', name: 'S', agreedMin: 90, seed: 4, phrase: '6 ways', map, faults: [], cantReach: [], asked: { complaint, shock: false, notes: '', wet: false, works: false } };
  const play = new Play(scenario, 1e12);
  const advisor = new Advisor();
  for (let i = 0; i < 6; i++) {
    const { liveSteps } = advisor.advise(play.view) as Advice;
    for (const { step } of liveSteps) {
      if (step.do === 'voltage') expect(behind.has(step.from.split(/[:/]/)[0] ?? '')).toBe(false);
      if (step.do === 'works') expect(behind.has(step.point)).toBe(false);
    }
    const close = liveSteps.find(({ step }) => step.do === 'close');
    if (!close || play.view.liveReadings.some(({ event: { test } }) => test.kind === 'closed' && test.result === 'holds')) break;
    play.makeLive(close.step);
  }
});

test('what went of one way may stand off: until it is told or seen how it stands, no volts anywhere tell of what lies behind it', () => {
  const scenario: Scenario = { id: 's', name: 'S', agreedMin: 90, seed: 4, phrase: '6 ways', map, faults: [], cantReach: [], asked: { complaint: 'mcb trips', shock: false, notes: '', wet: false, works: false } };
  const play = new Play(scenario, 1e12);
  play.record({ type: 'answered', question: 'went', answer: 'w5' });
  const measured = (): string[] => (new Advisor().advise(play.view) as Advice).liveSteps.filter(({ step }) => step.do === 'voltage' || step.do === 'works').map((s) => s.key);
  expect(measured()).toEqual([]);
  // Another way holds: that says nothing of the one that went.
  play.record({ type: 'liveRead', test: { kind: 'closed', device: 'w3', result: 'holds', tripped: null } });
  expect(measured()).toEqual([]);
});

test('a breaker that goes is no matter for residual devices: none is ramped or closed for it until one goes too', () => {
  const scenario: Scenario = { id: 's', name: 'S', agreedMin: 90, seed: 4, phrase: '6 ways', map, faults: [], cantReach: [], asked: { complaint: 'mcb trips', shock: false, notes: '', wet: false, works: false } };
  const play = new Play(scenario, 1e12);
  play.record({ type: 'answered', question: 'went', answer: 'w5' });
  const residual = protectionsOf(map).filter((d) => d.kind === 'rcd').map((d) => d.id);
  const worked = (): string[] => (new Advisor().advise(play.view) as Advice).liveSteps.flatMap(({ step }) => ((step.do === 'ramp' || step.do === 'close') && residual.includes(step.device) ? [step.device] : []));
  expect(worked()).toEqual([]);
  play.record({ type: 'liveRead', test: { kind: 'closed', device: 'w3', result: 'at once', tripped: residual[0] ?? '' } });
  expect(worked().length).toBeGreaterThan(0);
});
