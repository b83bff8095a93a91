import { draftCircuit, editMap, terminalKey } from '../installation';
import { Play, type Scenario } from '../simulation';
import { Advisor } from '.';

const drafted = draftCircuit('6 ways');
if (!drafted.ok) throw new Error('draft');
const scenario = (faults: Scenario['faults']): Scenario => ({
  id: 'facts', name: 'Facts', agreedMin: 90, seed: 3, phrase: '6 ways', map: drafted.value, faults, cantReach: [],
  asked: { complaint: 'rcd trips', shock: false, notes: '', wet: false, works: false },
});
const clear = (play: Play): void => {
  for (const way of [1, 2, 4, 5]) play.read({ fn: 'insulation', from: [`p0:W${way}`], to: ['p0:E'] });
};

test('metal that helps a protective conductor is a fact, no verdict: the fault beside it is still found', () => {
  const play = new Play(scenario([{ kind: 'joined', terminals: [terminalKey('c2', 'E'), 'p0:E'], ohm: 0.7 }, { kind: 'pointContact', point: 'c5', terminals: ['N', 'E'], ohm: 900 }]), 1e12);
  play.makeDead();
  play.record({ type: 'tookOut', point: 'p0', ends: ['s2@a:E'] });
  for (let i = 0; i < 2; i++) play.read({ fn: 'continuity', from: ['s2@a:E'], to: ['p0:E'] });
  clear(play);
  const before = new Advisor().advise(play.view);
  expect(before?.verdict.says).not.toBe('place');
  play.hunt(25);
  const advice = new Advisor().advise(play.view);
  expect(advice?.verdict.place).toMatch(/^(c5|s5)/);
  expect(['place', 'draw']).toContain(advice?.verdict.says);
});

test('loads that stayed in on two circuits are two facts, and neither keeps the other from being one', () => {
  const play = new Play(scenario([{ kind: 'joined', terminals: ['c6:L', 'c6:N'], ohm: 210 }, { kind: 'joined', terminals: ['c3:L', 'c3:N'], ohm: 140 }]), 1e12);
  play.makeDead();
  for (const fn of ['continuity', 'insulation', 'continuity', 'insulation'] as const) for (const way of [3, 6]) play.read({ fn, from: [`p0:W${way}`], to: ['p0:N'] });
  clear(play);
  const advice = new Advisor().advise(play.view);
  expect(advice?.facts.map((f) => f.place).sort()).toEqual(['state c3.loads', 'state c6.loads']);
  expect(advice?.verdict.says).not.toBe('place');
});

test('a load that stayed in against the record is a fact: it is named, and no cable is blamed for it', () => {
  const play = new Play(scenario([{ kind: 'joined', terminals: ['c6:L', 'c6:N'], ohm: 210 }]), 1e12);
  play.makeDead();
  for (let i = 0; i < 2; i++) play.read({ fn: 'continuity', from: ['p0:W6'], to: ['p0:N'] });
  clear(play);
  const advice = new Advisor().advise(play.view);
  const blamed = (advice?.places ?? []).filter((p) => /^(c6|s6)$/.test(p.place)).reduce((sum, p) => sum + p.share, 0);
  expect(blamed).toBeLessThan(0.5);
  expect(advice?.verdict.says).not.toBe('place');
});

test('metal that is read with the circuit’s own earth out of its terminal is plain, although a conductor might be open besides', () => {
  const board = draftCircuit('10 ways');
  const drawn = board.ok ? editMap(board.value, { edit: 'drawCircuit', way: 'w7', phrase: 'radial, 1' }) : board;
  if (!drawn.ok) throw new Error('draft');
  const play = new Play({ ...scenario([{ kind: 'joined', terminals: ['c7:E', 'p0:E'], ohm: 0.3 }]), map: drawn.value, asked: { complaint: 'inspection', shock: false, notes: '', wet: false, works: false } }, 1e12);
  play.makeDead();
  play.record({ type: 'tookOut', point: 'p0', ends: ['s7@a:E'] }, { type: 'opened', point: 'c7' });
  for (const place of ['s7@a:E', 'c7:E']) play.read({ fn: 'continuity', from: ['p0:E'], to: [place] });
  expect(new Advisor().advise(play.view, false)?.facts).toContainEqual(expect.objectContaining({ kind: 'metalPath', place: 'c7' }));
});
