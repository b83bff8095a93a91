import { draftCircuit } from '../installation';
import { draft } from '../installation/fixtures/drafted';
import { Play, type Scenario } from '../simulation';
import { Advisor } from '.';

const drafted = draftCircuit('6 ways');
if (!drafted.ok) throw new Error('draft');
const scenario = (faults: Scenario['faults']): Scenario => ({
  id: 'two', name: 'Two', agreedMin: 90, seed: 5, phrase: '6 ways', map: drafted.value, faults, cantReach: [],
  asked: { complaint: 'rcd trips', shock: false, notes: '', wet: false, works: false },
});

test('two ways that touch earth are hunted down and named as two faults, each mended on its own', () => {
  const play = new Play(scenario([{ kind: 'pointContact', point: 'c2', terminals: ['L', 'E'], ohm: 60_000 }, { kind: 'pointContact', point: 'c5', terminals: ['L', 'E'], ohm: 300_000 }]), 1e12);
  play.makeDead();
  for (const way of [1, 2, 3, 4, 5, 6, 2, 5]) play.read({ fn: 'insulation', from: [`p0:W${way}`], to: ['p0:E'] });
  play.read({ fn: 'insulation', from: ['p0:N'], to: ['p0:E'] });
  play.hunt(20);
  const advice = new Advisor().advise(play.view);
  expect(advice?.verdict.says).toBe('two');
  expect(advice?.two?.share).toBeGreaterThan(0.8);
  const places = (advice?.suspects ?? []).slice(0, 2).map((s) => s.place.slice(1)).sort();
  expect(places).toEqual(['2', '5']);
  expect(advice?.suspects[0]?.speakFor.length).toBeGreaterThan(0);
}, 60000);

test('one fault stays one, whatever is read', () => {
  const play = new Play(scenario([{ kind: 'pointContact', point: 'c4', terminals: ['N', 'E'], ohm: 120 }]), 1e12);
  play.makeDead();
  for (const way of [1, 2, 3, 4, 5, 6]) play.read({ fn: 'insulation', from: [`p0:W${way}`], to: ['p0:E'] });
  expect(play.hunt(20)).toBe(true);
  const advice = new Advisor().advise(play.view);
  expect(advice?.two).toBeNull();
  expect(advice?.verdict.says).toBe('draw');
  expect(advice?.verdict.place).toBe('c4');
}, 60000);

test('of several pairs that explain the readings none is told: an earth broken along its cable with a leak beyond, and a leak before an earth that was never landed', () => {
  const map = draft('radial, 4');
  const play = new Play({
    id: 'pairs', name: 'Pairs', agreedMin: 90, seed: 17, phrase: 'radial, 4', map, cantReach: [],
    faults: [{ kind: 'openCore', section: 's2', core: 'E' }, { kind: 'pointContact', point: 'p3', terminals: ['L', 'E'], ohm: 8000 }],
    asked: { complaint: 'shock', shock: false, notes: '', wet: false, works: false },
  }, 1e12);
  play.record({ type: 'secured', permission: true, off: true, locked: true, key: 'me' }, ...[1, 2, 3, 4].map((n) => ({ type: 'opened' as const, point: `p${n}` })));
  const face = (n: number, core: string): string => `p${n}/f1:${core}`;
  const ohms = (from: string, to: string): void => play.read({ fn: 'continuity', from: [from], to: [to] });
  for (const [a, b] of [['L', 'E'], ['L', 'N'], ['N', 'E']] as const) play.read({ fn: 'insulation', from: [face(1, a)], to: [face(1, b)] });
  for (const [a, b] of [[1, 3], [3, 2], [1, 2]] as const) ohms(face(a, 'E'), face(b, 'E'));
  ohms('s2@b:E', 's3@a:E');
  ohms(face(2, 'L'), face(2, 'E'));
  play.record({ type: 'loadsMoved', parts: map.points.flatMap((p) => p.elements.flatMap((e) => (e.kind === 'load' ? [`${p.id}.${e.id}`] : []))), out: true });
  for (const n of [2, 3]) ohms(face(n, 'L'), face(n, 'E'));
  play.record({ type: 'tookOut', point: 'p1', ends: ['s2@a:L', 's2@a:N', 's2@a:E'] });
  ohms('s2@a:L', 's2@a:E');
  const advice = new Advisor().advise(play.view, false);
  expect(advice?.verdict.says).not.toBe('two');
  // Both truths stand among what may be, and the one that most pairs have in common leads.
  const share = (id: RegExp): number => (advice?.suspects ?? []).filter((s) => id.test(s.id)).reduce((sum, s) => sum + s.share, 0);
  expect(share(/^(open|bridged|loose) s2(@b)?:E$/)).toBeGreaterThan(0.3);
  expect(share(/^contact p3:LE$/)).toBeGreaterThan(0.05);
  expect(Math.max(...(advice?.suspects ?? []).map((s) => s.share))).toBeLessThan(0.95);
});
