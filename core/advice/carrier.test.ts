import { draft } from '../installation/fixtures/drafted';
import { Play } from '../simulation';
import type { Displayed } from '../tester';
import { Advisor, type Advice, type StepView, type Verdict } from '.';

// One entry in fifty is not what the meter showed. Whatever a verdict hangs on is read again before it is named, wherever it was taken.

const map = draft('lights, 5');
const lamps = map.points.flatMap((p) => p.elements.flatMap((e) => (e.kind === 'load' ? [`${p.id}.${e.id}`] : [])));
const [line, neutral] = ['s1@a:L', 's1@a:N'];

/** A short between line and neutral among the lamps, all in; then one out, and what was entered after it. */
function advised(lamp: string, ...after: readonly number[]): Advice {
  const play = new Play({ id: 'slip', name: 'Slip', agreedMin: 90, seed: 4, phrase: '', map, faults: [], cantReach: [], asked: { complaint: 'mcb trips', shock: false, notes: '', wet: false, works: false } }, 1e12);
  const type = (fn: 'continuity' | 'insulation', displayed: Displayed): void => play.record({ type: 'read', probe: { fn, from: [line], to: [neutral] }, displayed, unit: 'Ω', conditions: ['dry'], testVolt: fn === 'insulation' ? 500 : null, unsteady: false, climbing: false, beforeProof: false, retest: null });
  play.makeDead();
  play.record({ type: 'loadsMoved', parts: lamps, out: true });
  type('insulation', { ohm: 52e6 });
  play.record({ type: 'loadsMoved', parts: lamps, out: false });
  type('insulation', { ohm: 0 });
  type('continuity', { ohm: 0.88 });
  play.record({ type: 'loadsMoved', parts: [lamp], out: true });
  for (const ohm of after) type('continuity', { ohm });
  return new Advisor().advise(play.view) as Advice;
}

function entered(lamp: string, ...after: readonly number[]): { verdict: Verdict | undefined; repeats: readonly string[] | undefined } {
  const { verdict, steps } = advised(lamp, ...after);
  return { verdict, repeats: steps[0]?.probes.flatMap((p) => [p.fn, ...p.from, ...p.to]) };
}

test.each(lamps.slice(1, 4))('%s out, and the ohms are gone: that alone names nothing, it is read again; twice it names the lamp, and a unit that slipped names none', (lamp) => {
  const once = entered(lamp, 850);
  expect(once.verdict?.says).toBe('repeat');
  expect(once.repeats).toEqual(['continuity', line, neutral]);
  expect(entered(lamp, 850, 852).verdict).toMatchObject({ says: 'place', place: lamp });
  const slipped = entered(lamp, 850, 0.85).verdict;
  expect(slipped?.says === 'place' && slipped.place === lamp).toBe(false);
});

test('a cable cut off at both ends: the reading that shows the fault in it by itself settles it, not twice more that its neighbours are sound', () => {
  const ring = draft('ring, 5');
  const play = new Play({ id: 'cut', name: 'Cut', agreedMin: 90, seed: 11, phrase: '', map: ring, faults: [{ kind: 'contact', section: 's2', cores: ['L', 'E'], fraction: 0.4, ohm: 3000 }], cantReach: [], asked: { complaint: 'rcd trips', shock: false, notes: '', wet: false, works: false } }, 1e12);
  const split = (point: string, ...ends: string[]): void => {
    play.record({ type: 'opened', point }, { type: 'tookOut', point, ends: ends.flatMap((e) => ['L', 'N', 'E'].map((c) => `${e}:${c}`)) });
  };
  const read = (place: string, fn: 'continuity' | 'insulation' = 'continuity'): void => play.read({ fn, from: [`${place}:L`], to: [`${place}:E`] });
  const [near, far] = ring.sections.slice(1, 3).map((x) => [x.a, x.b] as const) as [readonly [string, string], readonly [string, string]];
  play.makeDead();
  split(far[1], 's3@b');
  read(far[1], 'insulation');
  read('s3@b', 'insulation');
  split(near[1], 's2@b');
  read('s2@b');
  read(near[1]);
  split(near[0], 's1@b');
  read('s1@a');
  play.record({ type: 'tookOut', point: near[0], ends: ['L', 'N', 'E'].map((c) => `s2@a:${c}`) });
  read(near[0]);
  const { verdict, steps: [step] } = new Advisor().advise(play.view) as Advice;
  expect(verdict).toMatchObject({ says: 'repeat', place: 's2' });
  expect(step?.why.code).toBe('check');
  expect(step?.probes.flatMap((p) => [...p.from, ...p.to]).every((k) => /^s2@/.test(k))).toBe(true);
  play.make(step as StepView);
  expect(new Advisor().advise(play.view)?.verdict).toMatchObject({ says: 'place', place: 's2' });
}, 60_000);

test('read again: one row is what it showed, and the other what would then be wrong instead, not nothing', () => {
  const [step] = advised(lamps[2] as string, 850).steps;
  expect(step?.why.code).toBe('repeat');
  const rows = (step?.outcomes ?? []).filter((o) => o.count > 0);
  const as = rows.find((o) => o.low <= 850 && o.high >= 850);
  const slipped = rows.find((o) => o.low <= 0.88 && o.high >= 0.88);
  expect(as?.places).toContain(lamps[2]);
  expect(slipped && slipped !== as && slipped.share > 0 && slipped.share < (as?.share ?? 0)).toBe(true);
  expect(slipped?.places).not.toContain(lamps[2]);
});
