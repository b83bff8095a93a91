import { draftCircuit } from '../installation';
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
  expect(advice?.two?.share).toBeGreaterThan(0.85);
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
