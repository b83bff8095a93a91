import { draft } from '../installation/fixtures/drafted';
import { retestResults } from '../retest';
import { Play } from '../simulation';
import { Advisor } from '.';

/** Heat at a joint that is found and mended; its retests are read, the rest of the circuit is not. */
function mended(explains: 'yes' | 'no'): Play {
  const play = new Play({
    id: 'answered', name: 'Answered', agreedMin: 90, seed: 17, phrase: 'radial, 6', map: draft('radial, 6'), cantReach: [],
    faults: [{ kind: 'termination', end: 's3@b:L', ohm: 2.5 }], asked: { complaint: 'flicker or heat', shock: false, notes: '', wet: false, works: false },
  }, 1e12);
  play.makeDead();
  play.record({ type: 'mended', suspect: 'resistive s3@b:L', place: 'p3', how: 'repaired', text: '', explains });
  for (const r of retestResults(play.view)) if (r.item.probe && r.verdict === 'open') play.record({ type: 'read', probe: r.item.probe, displayed: r.item.leastOhm === null ? { ohm: r.item.expectedOhm ?? 0 } : { above: 999e6 }, unit: 'Ω', conditions: [], testVolt: null, unsteady: false, climbing: false, beforeProof: false, retest: r.item.id });
  return play;
}

test('a complaint that the repair explains is answered: what was not read is suspected no more than at an inspection, and keeps no power off', () => {
  const answered = new Advisor().advise(mended('yes').view, false);
  expect(answered?.hazards).toEqual([]);
  const heats = (a: typeof answered): number => (a?.places ?? []).filter((p) => /^p\d/.test(p.place)).reduce((sum, p) => sum + p.share, 0);
  for (const s of answered?.suspects ?? []) expect(s.explains.says).toBe('not asked');
  // What was mended but explains nothing leaves the cause to be found.
  const open = new Advisor().advise(mended('no').view, false);
  expect(heats(open)).toBeGreaterThan(2 * heats(answered));
  expect(open?.suspects[0]?.explains.says).toBe('yes');
});

test('a repair that explained it and did not cure it: the complaint stands again', () => {
  const play = mended('yes');
  play.record({ type: 'liveTest', test: 'live function', result: 'does not work: the lights still flicker', because: null });
  const advice = new Advisor().advise(play.view, false);
  expect(advice?.suspects[0]?.explains.says).toBe('yes');
});
