import { BeliefEngine, type Observation } from '../belief';
import { suspectsOf } from '../faults';
import { circuitOfWay, type Installation } from '../installation';
import { draft, drawn } from '../installation/fixtures/drafted';
import { tradeCosts } from '../planning';
import { Play } from '../simulation';
import { untouched, type WorkState } from '../workstate';
import { confirmation } from './confirm';
import { Advisor, type Advice } from '.';

/** Follows the advice to its end; what was taken out and put in, in order, and the last card. */
function hunt(map: Installation, point: string, terminals: readonly string[], ohm: number): { moved: string[]; end: Advice } {
  const p = new Play({ id: 'lamp', name: 'Lamp', agreedMin: 90, seed: 7, phrase: '', map, faults: [{ kind: 'loadFault', point, load: 'lamp', terminals: [...terminals] as [string, string], ohm }], cantReach: [], asked: { complaint: 'rcd trips', shock: false, notes: '', wet: false, works: false } }, 1e12);
  p.makeDead();
  const moved: string[] = [];
  const advisor = new Advisor();
  let end = advisor.advise(p.view, true) as Advice;
  for (let i = 0; i < 30 && end.steps[0]; i++) {
    for (const a of end.steps[0].actions) if (a.do === 'unplug' || a.do === 'plugIn') moved.push(...a.parts.map((part) => `${a.do} ${part}`));
    p.make(end.steps[0]);
    end = advisor.advise(p.view, true) as Advice;
  }
  return { moved, end };
}

const board = drawn(draft('3 ways, RCBOs on 1 to 3'), 'w2', 'lights, 5');
const lamps = circuitOfWay(board, 'w2').points.map((p) => p.id);

test.each([[3, 'L', 0.22], [0, 'L', 45], [4, 'N', 0.5], [1, 'L', 30000]] as const)('a lamp that is faulty proves itself once, and is then named: lamp %i, %s to earth, %f Ω', (n, core, ohm) => {
  const { moved, end } = hunt(board, lamps[n] as string, [core === 'L' ? 'L' : 'N', 'E'], ohm);
  expect(end.unknownShare).toBeLessThan(0.05);
  expect(end.verdict).toMatchObject({ says: 'place', place: `${lamps[n]}.lamp` });
  for (const part of new Set(moved.map((m) => m.split(' ')[1]))) expect(moved.filter((m) => m === `plugIn ${part}`).length).toBeLessThanOrEqual(2);
});

// A cable of 21 m where 10 were guessed, and thin protective conductors all along: high in E where only E was read piece by piece.
describe('a poor end where a longer cable would read so too', () => {
  const map = drawn(draft('5 ways, RCD on 1 to 5'), 'w3', 'radial, 6');
  const points = circuitOfWay(map, 'w3').points.map((p) => p.id);
  const [first = '', second = ''] = points;
  const last = points.at(-1) ?? '';
  const told = (more = 0): { play: Play; read: (from: string, to: string, ohm: number) => void; card: () => Advice } => {
    const play = new Play({ id: 'long', name: 'Long', agreedMin: 90, seed: 7, phrase: '', map, faults: [], cantReach: [], asked: { complaint: 'inspection', shock: false, notes: '', wet: false, works: false } }, 1e12);
    play.makeDead();
    const advisor = new Advisor();
    const read = (from: string, to: string, ohm: number): void => play.record({ type: 'read', probe: { fn: 'continuity', from: [from], to: [to] }, displayed: { ohm }, unit: 'Ω', conditions: ['dry'], testVolt: null, unsteady: false, climbing: false, beforeProof: false, retest: null });
    read('p0:E', `${last}/f1:E`, 0.93 + more);
    read('p0:W3', `${last}/f1:L`, 0.4);
    read('p0:NG1', `${last}/f1:N`, 0.42);
    read(`${last}/f1:E`, `${second}/f1:E`, 0.38);
    read('p0:E', `${second}/f1:E`, 0.55 + more);
    read(`${second}/f1:E`, `${first}/f1:E`, 0.15);
    play.record({ type: 'tookOut', point: 'p0', ends: ['s3@a:E'] });
    read(`${second}/f1:E`, 's3@a:E', 0.55 + more);
    read(`${first}/f1:E`, 's3@a:E', 0.4 + more);
    return { play, read, card: () => advisor.advise(play.view, true) as Advice };
  };

  test('is compared with another conductor over the same stretch before it is named', () => {
    const { card } = told(0.35);
    const asked = card();
    expect(asked.verdict).toMatchObject({ says: 'confirm', place: first });
    expect(asked.steps[0]).toMatchObject({ actions: [], probes: [{ fn: 'continuity', from: ['p0:W3'], to: [`${first}/f1:L`] }], why: { code: 'compare' } });
  });

  test('is not likely where a guessed cable and a thinner core alone explain it', () => {
    const { card } = told();
    expect(card().verdict.says).toBe('none');
    expect(card().places.find((p) => p.place === first)?.share ?? 0).toBeLessThan(0.7);
  });

  test('is none where the other conductor is as long', () => {
    const { read, card } = told();
    read('p0:W3', `${first}/f1:L`, 0.17);
    expect(card().verdict.says).not.toBe('place');
    expect(card().places.find((p) => p.place === first)?.share ?? 0).toBeLessThan(0.5);
  });

  test('is named where the other conductor is as drawn', () => {
    const { read, card } = told(0.35);
    read('p0:W3', `${first}/f1:L`, 0.09);
    expect(card().verdict).toMatchObject({ says: 'place', place: first });
  });
});

// A lamp beyond a cut, told by other means than dead readings.
describe('an appliance beyond a cut', () => {
  const place = `${lamps[3]}.lamp`;
  const cut = board.sections.find((x) => x.b === lamps[2]);
  const [near, beyond] = [`p0:W2`, `${cut?.id}@a:L`];
  const suspects = suspectsOf(board);
  const engine = new BeliefEngine(board, suspects);
  const reading = (from: string, to: string, ohm: number, apart: boolean): Observation => ({ probe: { fn: 'insulation', from: [from], to: [to] }, displayed: { ohm }, state: stateWith(apart) });
  function stateWith(apart: boolean): WorkState {
    return { ...untouched, opened: [lamps[1] ?? ''], out: ['L', 'N', 'E'].map((c) => `${cut?.id}@a:${c}`), loadsOut: apart ? [place] : [] };
  }
  /** The card with that lamp in the lead, in or out now. */
  const asked = (apart: boolean, ...observations: Observation[]): ReturnType<typeof confirmation> => {
    const belief = engine.believe(observations);
    const lead = engine.cells.logPrior.findIndex((_, c) => suspects[engine.cells.suspect[c] as number]?.id === `load ${place}:LE`);
    const weight = belief.weight.map((_, c) => (c === lead ? 0.97 : 0));
    return confirmation({ view: { state: stateWith(apart) }, map: board, engine, belief: { ...belief, weight }, observations }, place, tradeCosts);
  };

  test('is put in again and read where the leads reach it', () => {
    const step = asked(true, reading(beyond, `${cut?.id}@a:E`, 33e6, true), reading(near, 'p0:E', 65e6, true));
    expect(step).toMatchObject({ actions: [{ do: 'plugIn', parts: [place] }], probes: [{ from: [beyond] }] });
  });

  test('is not asked for where no reading reaches it, nor again once it was read in and out', () => {
    expect(asked(true, reading(near, 'p0:E', 65e6, true))).toBeNull();
    const both = [reading(beyond, `${cut?.id}@a:E`, 33e6, true), reading(beyond, `${cut?.id}@a:E`, 34e6, false)];
    for (const apart of [true, false]) expect(asked(apart, ...both)).toBeNull();
  });
});
