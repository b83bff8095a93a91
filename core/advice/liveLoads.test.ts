import { editMap, loadOfPart, protectionsOf } from '../installation';
import { draft } from '../installation/fixtures/drafted';
import { Play, type Scenario } from '../simulation';
import { liveStepTitle } from '../wording';
import { tradeCosts } from '../planning';
import { loadTrials } from './liveLoads';
import type { Now } from './now';
import { Advisor, type Advice } from '.';

// Appliances are the commonest cause (field guide, section 3): which of them makes a residual device go is found by plugs, with every cover on.

const board = draft('6 ways, RCD on 1 to 6');
const drawn = editMap(board, { edit: 'drawCircuit', way: 'w4', phrase: 'radial, 5' });
if (!drawn.ok) throw new Error('draw');
const map = drawn.value;
const plugs = map.points.flatMap((p) => p.elements.flatMap((e) => (e.kind === 'load' && e.unplugs && p.kind === 'outlet' ? [{ point: p.id, load: e.id, part: `${p.id}.${e.id}` }] : [])));

const scenario = (where: (typeof plugs)[number], ohm: number): Scenario => ({
  id: 'plug', name: 'Plug', agreedMin: 90, seed: 3, phrase: '6 ways', map, faults: [{ kind: 'loadFault', point: where.point, load: where.load, terminals: ['L', 'E'], ohm }], cantReach: [],
  asked: { complaint: 'rcd trips', shock: false, notes: '', wet: false, works: false },
});
const told = { went: 'G1', unplugged: 'cured', tripsWhen: 'atOnce', since: 'suddenly' };

test.each([[0, 300], [2, 1500], [4, 40]])('plug %i, %i Ω to earth: it is named with the supply on, no cover off, and no plug is moved twice for nothing', (n, ohm) => {
  const where = plugs[n] as (typeof plugs)[number];
  const play = new Play(scenario(where, ohm), 1e12);
  for (const [question, answer] of Object.entries(told)) play.record({ type: 'answered', question, answer });
  const advisor = new Advisor();
  const seen: Advice[] = [];
  for (let i = 0; i < 24; i++) {
    const advice = advisor.advise(play.view) as Advice;
    seen.push(advice);
    const [live] = advice.liveSteps;
    if (advice.verdict.says === 'place' || !live || !advice.liveFirst) break;
    const { state } = play.view;
    const { step } = live;
    if (step.do === 'plugIn') {
      // Nothing is put on a device that is off, nor what is in already.
      expect(protectionsOf(map).find((d) => d.id === step.device)?.poles.some((k) => state.off.includes(k))).toBe(false);
      expect(step.parts.every((k) => state.loadsOut.includes(k))).toBe(true);
      expect(live.cautions).toContain('byThePlug');
    }
    if (step.do === 'close') expect(step.out.every((k) => !state.loadsOut.includes(k) && loadOfPart(map, k)?.load.unplugs === true)).toBe(true);
    play.makeLive(step);
  }
  const last = seen[seen.length - 1] as Advice;
  expect(last.verdict).toMatchObject({ says: 'place', place: where.part });
  expect(play.view.state.opened).toEqual([]);
  expect(play.view.readings).toEqual([]);
});

test('what may hang behind switches is turned on behind a device that is on, and only what is not on already', () => {
  const play = new Play({ ...scenario(plugs[0] as (typeof plugs)[number], 1e9), map: board }, 1e12);
  for (const [question, answer] of Object.entries({ went: 'G1', tripsWhen: 'odd', since: 'suddenly' })) play.record({ type: 'answered', question, answer });
  play.makeDead();
  // Every line is sound as far as a lead reaches: what is left of it hangs behind a switch.
  for (const w of [1, 2, 3, 4, 5, 6]) play.read({ fn: 'insulation', from: [`p0:W${w}`], to: ['p0:E'] });
  const trials = (): { device: string; parts: readonly string[] }[] => loadTrials(new Advisor().believe(play.view) as Now, tradeCosts).flatMap(({ step }) => (step.do === 'turnOn' ? [step] : []));
  expect(trials()).toEqual([]);
  for (const d of protectionsOf(board)) for (const part of d.poles) play.record({ type: 'switched', part, off: false });
  // Nobody has seen yet that it holds as it is.
  expect(trials()).toEqual([]);
  play.record({ type: 'liveRead', test: { kind: 'closed', device: 'G1', result: 'holds', tripped: null } });
  const first = trials();
  expect(first.length).toBeGreaterThan(0);
  expect(first.every((s) => s.device === 'G1')).toBe(true);
  const most = first.reduce((x, y) => (y.parts.length > x.parts.length ? y : x));
  expect(liveStepTitle(board, { do: 'turnOn', ...most })).toMatch(/^Turn on every switch on Way \d.*, RCD 1 on, and see$/);
  play.makeLive({ do: 'turnOn', ...most });
  // The record has them on: what is read then reaches them, and they are not turned on twice.
  expect(play.view.state.on).toEqual(expect.arrayContaining([...most.parts]));
  expect(trials().flatMap((s) => s.parts).filter((k) => most.parts.includes(k))).toEqual([]);
});

test('a short that opens a breaker is not looked for by plugging in', () => {
  const play = new Play({ ...scenario(plugs[1] as (typeof plugs)[number], 0.3), asked: { complaint: 'mcb trips', shock: false, notes: '', wet: false, works: false } }, 1e12);
  for (const [question, answer] of Object.entries({ went: 'w4', unplugged: 'cured', breakerWhen: 'atOnce' })) play.record({ type: 'answered', question, answer });
  const steps = (new Advisor().advise(play.view)?.liveSteps ?? []).map((s) => s.step);
  expect(steps.filter((s) => s.do === 'plugIn' || (s.do === 'close' && s.out.length))).toEqual([]);
});

test('titles say what the hands do, in one sentence', () => {
  const some = [0, 2, 3].map((i) => plugs[i]?.part ?? '');
  expect(liveStepTitle(map, { do: 'close', device: 'G1', first: [], out: ['c2.loads'] })).toBe('Unplug everything on Way 2, lamps out, then close RCD 1');
  expect(liveStepTitle(map, { do: 'plugIn', device: 'G1', parts: ['c2.loads'] })).toBe('Plug in again everything on Way 2, RCD 1 on, and see');
  // Which of them is said, every one; all of a circuit by its name.
  expect(liveStepTitle(map, { do: 'close', device: 'G1', first: [], out: some })).toBe('Unplug everything at Way 4 outlet 1, 3 and 4, then close RCD 1');
  expect(liveStepTitle(map, { do: 'close', device: 'G1', first: [], out: plugs.map((p) => p.part) })).toBe('Unplug everything on Way 4, then close RCD 1');
  expect(liveStepTitle(map, { do: 'close', device: 'G1', first: [], out: ['c1.loads', 'c2.loads', 'c3.loads'] })).toBe('Unplug everything, lamps out, on Way 1, Way 2 and Way 3, then close RCD 1');
});
