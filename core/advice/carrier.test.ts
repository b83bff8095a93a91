import { draft } from '../installation/fixtures/drafted';
import { Play } from '../simulation';
import type { Displayed } from '../tester';
import { Advisor, type Verdict } from '.';

// One entry in fifty is not what the meter showed. Whatever a verdict hangs on is read again before it is named, wherever it was taken.

const map = draft('lights, 5');
const lamps = map.points.flatMap((p) => p.elements.flatMap((e) => (e.kind === 'load' ? [`${p.id}.${e.id}`] : [])));
const [line, neutral] = ['s1@a:L', 's1@a:N'];

/** A short between line and neutral among the lamps, all in; then one out, and what was entered after it. */
function entered(lamp: string, ...after: readonly number[]): { verdict: Verdict | undefined; repeats: readonly string[] | undefined } {
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
  const advice = new Advisor().advise(play.view);
  return { verdict: advice?.verdict, repeats: advice?.steps[0]?.probes.flatMap((p) => [p.fn, ...p.from, ...p.to]) };
}

test.each(lamps.slice(1, 4))('%s out, and the ohms are gone: that alone names nothing, it is read again; twice it names the lamp, and a unit that slipped names none', (lamp) => {
  const once = entered(lamp, 850);
  expect(once.verdict?.says).toBe('repeat');
  expect(once.repeats).toEqual(['continuity', line, neutral]);
  expect(entered(lamp, 850, 852).verdict).toMatchObject({ says: 'place', place: lamp });
  const slipped = entered(lamp, 850, 0.85).verdict;
  expect(slipped?.says === 'place' && slipped.place === lamp).toBe(false);
});
