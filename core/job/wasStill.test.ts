import { Advisor } from '../advice';
import { draftCircuit, loadsOf } from '../installation';
import { Play } from '../simulation';
import type { EventBody } from './events';

const drafted = draftCircuit('radial, 4');
if (!drafted.ok) throw new Error('draft');
const map = drafted.value;
const plugs = map.points.flatMap((p) => loadsOf(p).map((l) => `${p.id}.${l.id}`));
const move = (part: string, out: boolean): EventBody => ({ type: 'loadsMoved', parts: [part], out });

/** A job in which something at the third outlet shows 36 Ω between line and neutral. */
function play(): Play {
  const p = new Play({ id: 'w', name: 'W', agreedMin: 90, seed: 6, phrase: 'radial, 4', map, faults: [{ kind: 'joined', terminals: ['p3:L', 'p3:N'], ohm: 36 }], cantReach: [], asked: { complaint: 'rcd trips', shock: false, notes: '', wet: false, works: false } }, 1e12);
  p.makeDead();
  p.record({ type: 'loadsMoved', parts: plugs, out: true });
  return p;
}
const read = (p: Play): void => p.read({ fn: 'continuity', from: ['s1@a:L'], to: ['s1@a:N'] });

test('a record that was wrong is put right for the readings since it was said, and for no earlier ones', () => {
  const p = play();
  const [part = ''] = plugs;
  read(p);
  p.record(move(part, false));
  read(p);
  p.record(move(part, true));
  read(p);
  p.record({ type: 'wasStill', part, now: 'out' });
  read(p);
  expect(p.view.readings.map((r) => r.state.loadsOut.includes(part))).toEqual([true, false, false, true]);
  p.record({ type: 'wasStill', part, now: 'in' });
  expect(p.view.readings.map((r) => r.state.loadsOut.includes(part))).toEqual([true, false, false, false]);
  expect(p.view.state.loadsOut).toEqual(plugs.slice(1));
});

test('ends and switches are put right in the same way, and an event that is struck out puts nothing right', () => {
  const p = play();
  p.record({ type: 'tookOut', point: 'p2', ends: ['s2@b:N'] });
  read(p);
  p.record({ type: 'wasStill', part: 's2@b:N', now: 'in' });
  expect(p.view.readings[0]?.state.out).not.toContain('s2@b:N');
  expect(p.view.state.out).not.toContain('s2@b:N');
  p.record({ type: 'struck', target: p.file.events.at(-1)?.id ?? '', why: 'it never was' });
  expect(p.view.readings[0]?.state.out).toContain('s2@b:N');
});

test('once the record is right nothing is in doubt, and nothing is blamed for what was in', () => {
  const p = play();
  for (let i = 0; i < 2; i++) read(p);
  p.read({ fn: 'continuity', from: ['p3:L'], to: ['p3:N'] });
  p.read({ fn: 'continuity', from: ['p4:L'], to: ['p4:N'] });
  const shareOf = (test: (kind: string, conductors: readonly string[]) => boolean): number => {
    const now = new Advisor().believe(p.view);
    return (now?.engine.suspects ?? []).reduce((sum, s, i) => sum + (test(s.kind, s.conductors) ? (now?.belief.suspectShare[i] ?? 0) : 0), 0);
  };
  const doubts = (): number => {
    const advice = new Advisor().advise(p.view, false);
    return [...(advice?.facts ?? []), ...(advice?.fit.doubts ?? [])].filter((f) => f.kind === 'loadIn').reduce((sum, f) => sum + f.share, 0);
  };
  expect(doubts()).toBeGreaterThan(0.5);
  p.record({ type: 'wasStill', part: plugs.find((k) => k.startsWith('p3.')) ?? '', now: 'out' });
  expect(doubts()).toBeLessThan(0.1);
  expect(shareOf((kind, [a, b]) => kind !== 'loadFault' && kind !== 'loadIn' && a === 'L' && b === 'N')).toBeLessThan(0.1);
});

test('a faulty plug that was overlooked is weighed against the point that it sits in, looked for by name, and named once it is found', () => {
  const p = new Play({ id: 'l', name: 'L', agreedMin: 90, seed: 6, phrase: 'radial, 4', map, faults: [{ kind: 'pointContact', point: 'p3', terminals: ['L', 'N'], ohm: 1.3 }], cantReach: [], asked: { complaint: 'mcb trips', shock: false, notes: '', wet: false, works: false } }, 1e12);
  p.record({ type: 'answered', question: 'unplugged', answer: 'cured' });
  p.makeDead();
  p.record({ type: 'loadsMoved', parts: plugs, out: true });
  for (const at of ['s1@a', 'p2', 'p3', 'p4']) for (let i = 0; i < 2; i++) p.read({ fn: 'continuity', from: [`${at}:L`], to: [`${at}:N`] });
  const advise = () => new Advisor().advise(p.view);
  const left = advise()?.suspects.find((s) => s.kind === 'loadLeft');
  expect(left).toMatchObject({ place: 'p3.plug', conductors: ['L', 'N'] });
  expect(advise()?.look).toMatchObject({ point: 'p3', plug: 'p3.plug' });
  p.record({ type: 'seen', what: 'nothingIn', place: 'p3', gone: false });
  expect(advise()?.suspects.find((s) => s.kind === 'loadLeft')?.share ?? 0).toBeLessThan((left?.share ?? 0) / 5);
  p.record({ type: 'wasStill', part: 'p3.plug', now: 'in' });
  expect(advise()?.suspects[0]).toMatchObject({ kind: 'loadFault', place: 'p3.plug' });
});
