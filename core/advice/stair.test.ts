import { circuitOfWay, editMap } from '../installation';
import { draft } from '../installation/fixtures/drafted';
import type { Fault } from '../faults';
import { Play } from '../simulation';
import { Advisor, type Advice } from '.';

const stair = draft('lights, 3, two-way switch');
const [first, second] = stair.points.filter((p) => p.elements.some((e) => e.kind === 'switch')).map((p) => p.id) as [string, string];
const thrown = (point: string): Fault => ({ kind: 'thrown', point, element: 'sw' });
const strappers = stair.sections.find((s) => s.cores.some((c) => c.role === 'T1'))?.id ?? '';

/** A staircase whose switches really stand so, whatever is recorded. */
const play = (faults: readonly Fault[], complaint: 'dead' | 'inspection'): Play => {
  const p = new Play({ id: 'stair', name: 'Stair', agreedMin: 90, seed: 4, phrase: 'lights, 3, two-way switch', map: stair, faults, cantReach: [], asked: { complaint, shock: false, notes: '', wet: false, works: false } }, 1e12);
  p.makeDead();
  return p;
};
const advise = (p: Play): Advice => new Advisor().advise(p.view, true) as Advice;

test.each([['as recorded', []], ['the first', [first]], ['the second', [second]], ['both', [first, second]]])('a staircase with nothing wrong is no fault, whichever throw is made: %s', (_, points) => {
  const p = play(points.map(thrown), 'inspection');
  for (let i = 0; i < 20; i++) {
    const a = advise(p);
    expect(['place', 'two', 'unknown']).not.toContain(a.verdict.says);
    for (const s of a.suspects) if (s.kind !== 'sound' && s.kind !== 'thrown') expect(s.share).toBeLessThan(0.5);
    const [step] = a.steps;
    if (!step) break;
    p.make(step);
  }
  const end = advise(p);
  expect(end.suspects[0]?.kind).toBe('sound');
  expect(end.suspects[0]?.share).toBeGreaterThan(0.8);
});

test('a lamp that no line reaches through two-way switches: the switch is moved, before anything is taken apart', () => {
  const p = play([thrown(second)], 'dead');
  p.record({ type: 'opened', point: 'p5' });
  p.read({ fn: 'continuity', from: ['s1@a:L'], to: ['p5:L'] });
  const [step] = advise(p).steps;
  expect(step?.actions).toHaveLength(1);
  expect(step?.actions[0]).toMatchObject({ do: 'switch', off: true });
  if (step) p.make(step);
  const a = advise(p);
  expect(a.facts).toContainEqual(expect.objectContaining({ kind: 'thrown' }));
  expect(a.verdict.says).not.toBe('place');
});

test.each([['as recorded', []], ['the first', [first]], ['the second', [second]]])('a strapper that is broken is found, whichever throw is made: %s', (_, points) => {
  const p = play([...points.map(thrown), { kind: 'openCore', section: strappers, core: 'T1' }], 'dead');
  p.hunt(30);
  const { verdict } = advise(p);
  expect(['place', 'repeat']).toContain(verdict.says);
  // At a strapper's end or along it: the same two cores of one cable.
  expect([strappers, first, second]).toContain(verdict.place);
});

test('a switch that stood the other way is recorded so: every reading so far has it, and nothing is in doubt', () => {
  const p = play([thrown(second)], 'dead');
  p.record({ type: 'opened', point: 'p5' });
  p.read({ fn: 'continuity', from: ['s1@a:L'], to: ['p5:L'] });
  p.record({ type: 'switched', part: `${first}.sw`, off: true });
  p.read({ fn: 'continuity', from: ['s1@a:L'], to: ['p5:L'] });
  p.record({ type: 'stoodOther', part: `${second}.sw` });
  const [before, after] = p.view.readings.map((r) => r.state.off);
  expect(before).toContain(`${second}.sw`);
  expect(after).toEqual(expect.arrayContaining([`${first}.sw`, `${second}.sw`]));
  expect(p.view.readings[0]?.state.off).not.toContain(`${first}.sw`);
  expect(p.view.state.off).toContain(`${second}.sw`);
  expect(advise(p).facts).toEqual([]);
});

test.each([['as recorded', false], ['the other way', true]])('a lamp that leaks to earth behind two-way switches is found, whichever throw is made: %s', (_, other) => {
  const board = draft('4 ways, RCD on 1 to 4');
  const drawn = editMap(board, { edit: 'drawCircuit', way: 'w2', phrase: 'lights, 3, two-way switch' });
  if (!drawn.ok) throw new Error('draw');
  const map = drawn.value;
  const points = circuitOfWay(map, 'w2').points;
  const lamp = points.findLast((p) => p.kind === 'lamp')?.id ?? '';
  const stairSwitch = points.find((p) => p.elements.some((e) => e.kind === 'switch'))?.id ?? '';
  const p = new Play({
    id: 'lamp', name: 'Lamp', agreedMin: 90, seed: 4, phrase: '4 ways, RCD on 1 to 4', map, cantReach: [],
    faults: [{ kind: 'loadFault', point: lamp, load: 'lamp', terminals: ['L', 'E'], ohm: 35 }, ...(other ? [thrown(stairSwitch)] : [])],
    asked: { complaint: 'rcd trips', shock: false, notes: '', wet: false, works: false },
  }, 1e12);
  p.record({ type: 'answered', question: 'unplugged', answer: 'cured' });
  p.makeDead();
  // All lamps back in, as whoever follows "unplugged: then it holds" has them.
  p.record({ type: 'loadsMoved', parts: points.flatMap((x) => x.elements.flatMap((e) => (e.kind === 'load' ? [`${x.id}.${e.id}`] : []))), out: false });
  p.read({ fn: 'insulation', from: ['p0:W2'], to: ['p0:E'] });
  p.hunt(25);
  expect(advise(p).verdict.place).toContain(lamp);
});

test('which throw is made is told by its own circuit: what is read of another leaves it as it was', () => {
  const drawn = editMap(draft('4 ways'), { edit: 'drawCircuit', way: 'w2', phrase: 'lights, 3, two-way switch' });
  if (!drawn.ok) throw new Error('draw');
  const map = drawn.value;
  const points = circuitOfWay(map, 'w2').points;
  const [one, other] = points.filter((x) => x.elements.some((e) => e.kind === 'switch')).map((x) => x.id) as [string, string];
  const lamp = points.findLast((x) => x.kind === 'lamp')?.id ?? '';
  const p = new Play({ id: 'way', name: 'Way', agreedMin: 90, seed: 4, phrase: '4 ways', map, faults: [thrown(other)], cantReach: [], asked: { complaint: 'dead', shock: false, notes: '', wet: false, works: false } }, 1e12);
  p.makeDead();
  p.record({ type: 'opened', point: lamp });
  for (const off of [true, false]) {
    p.read({ fn: 'continuity', from: ['p0:W2'], to: [`${lamp}:L`] });
    p.record({ type: 'switched', part: `${one}.sw`, off });
  }
  const share = (): number | undefined => advise(p).facts.find((f) => f.kind === 'thrown')?.share;
  const before = share();
  expect(before).toBeGreaterThan(0.85);
  for (const [a, b] of [['p0:W1', 'p0:E'], ['p0:W3', 'p0:N'], ['p0:W4', 'p0:E']] as const) p.read({ fn: 'insulation', from: [a], to: [b] });
  expect(share()).toBeCloseTo(before as number, 3);
});
