import { draftCircuit, type Installation } from '../installation';
import { drawn } from '../installation/fixtures/drafted';
import { Play, type Scenario } from '../simulation';
import { outcomeMeaning, outcomeRange, suspectTitle } from '../wording';
import { explains } from './explains';
import { suspectsOf } from '../faults';
import { Advisor, type Outcome } from '.';

// The table of a step: what may be read, in order, each figure in one row, each row with what it would mean.

const drafted = (phrase: string): Installation => {
  const r = draftCircuit(phrase);
  if (!r.ok) throw new Error(phrase);
  return r.value;
};

function playOf(phrase: string, complaint: Scenario['asked']['complaint'], faults: Scenario['faults']): Play {
  const play = new Play({ id: 'rows', name: 'Rows', agreedMin: 90, seed: 11, phrase, map: drafted(phrase), faults, cantReach: [], asked: { complaint, shock: complaint === 'shock', notes: '', wet: false, works: false } }, 1e12);
  play.makeDead();
  return play;
}

/** What is enough to be worth a reading, in bits. */
const TELLS = 0.1;

test.each<[string, Scenario['asked']['complaint'], Scenario['faults']]>([
  ['ring, 8', 'dead', [{ kind: 'openCore', section: 's4', core: 'N' }]],
  ['radial, 7', 'shock', [{ kind: 'openCore', section: 's3', core: 'E' }]],
  ['lights, 6, one switch', 'mcb trips', [{ kind: 'pointContact', point: 'p5', terminals: ['L', 'N'], ohm: 0.4 }]],
  ['6 ways, RCD on 1 to 6', 'rcd trips', [{ kind: 'pointContact', point: 'c3', terminals: ['N', 'E'], ohm: 80 }]],
])('%s, %s: rows stand in order, do not overlap, are no two alike, and a reading that tells something has two at least', (phrase, complaint, faults) => {
  const play = playOf(phrase, complaint, faults);
  const map = drafted(phrase);
  const titles = new Map(suspectsOf(map).map((s) => [s.id, suspectTitle(map, s)]));
  let tables = 0;
  for (let i = 0; i < 6; i++) {
    const advice = new Advisor().advise(play.view);
    for (const step of advice?.steps ?? []) {
      const rows: readonly Outcome[] = step.outcomes.filter((o) => o.count > 0);
      const { fn } = step.probes[0] ?? { fn: 'continuity' };
      const words = rows.map((o) => outcomeRange(fn, o));
      expect(new Set(words).size).toBe(words.length);
      const means = rows.map((o) => outcomeMeaning(map, o, titles));
      if (rows.length > 2) for (const [k, m] of means.entries()) if (k > 0 && rows[k]?.above === rows[k - 1]?.above) expect(m).not.toBe(means[k - 1]);
      for (const [k, o] of rows.entries()) if (k > 0) expect(o.low).toBeGreaterThanOrEqual((rows[k - 1] as Outcome).high * 0.999);
      if (step.probes.length === 1 && step.bits > TELLS) {
        expect(words.length).toBeGreaterThan(1);
        expect(words).not.toContain('any figure');
        tables++;
      }
    }
    if (!advice?.steps.length || play.hunt(1)) break;
  }
  expect(tables).toBeGreaterThan(0);
}, 120_000);

test('a path and no path are never one row where they speak for different places: a leak of kilohms in a ring, split at its middle', () => {
  const map = drafted('ring, 5');
  const play = new Play({ id: 'split', name: 'Split', agreedMin: 90, seed: 11, phrase: '', map, faults: [{ kind: 'contact', section: 's2', cores: ['L', 'E'], fraction: 0.4, ohm: 3000 }], cantReach: [], asked: { complaint: 'rcd trips', shock: false, notes: '', wet: false, works: false } }, 1e12);
  play.makeDead();
  let tables = 0;
  for (let i = 0; i < 8; i++) {
    const advice = new Advisor().advise(play.view);
    const [step] = advice?.steps ?? [];
    if (!advice || !step || advice.verdict.says === 'place') break;
    const [probe] = step.probes;
    const rows = step.outcomes.filter((o) => o.count > 0);
    if (probe?.fn === 'continuity' && advice.suspects[0]?.conductors.length === 2) {
      expect(rows.filter((o) => o.low < 20e3 && o.high > 1e6).map((o) => outcomeRange('continuity', o))).toEqual([]);
      tables++;
    }
    play.make(step);
  }
  expect(tables).toBeGreaterThan(0);
}, 60_000);

test('what healthy insulation may show, from a few megohms to beyond the range, has its row: with loads in that may show less, too', () => {
  const map = drawn(drawn(drafted('8 ways, RCD on 1 to 4, RCD on 5 to 8'), 'w1', 'lights, 4, one switch'), 'w5', 'ring, 5');
  const play = new Play({ id: 'fine', name: 'Fine', agreedMin: 90, seed: 5, phrase: '', map, faults: [], cantReach: [], asked: { complaint: 'rcd trips', shock: false, notes: '', wet: false, works: false } }, 1e12);
  play.record({ type: 'answered', question: 'went', answer: 'G1' }, { type: 'answered', question: 'tripsWhen', answer: 'odd' });
  // As a careful person does it: nothing is unplugged before the first reading.
  play.record({ type: 'secured', permission: true, off: true, locked: true, key: 'with me' }, { type: 'opened', point: 'p0' }, { type: 'proved', point: 'p0', checks: [], earthPlace: 'rod' });
  let tables = 0;
  for (let i = 0; i < 5; i++) {
    const step = new Advisor().advise(play.view)?.steps[0];
    if (!step) break;
    const rows = step.outcomes.filter((o) => o.count > 0);
    if (step.probes[0]?.fn === 'insulation' && rows.some((o) => o.high > 999e6)) {
      for (const ohm of [5e6, 50e6, 500e6]) expect({ ohm, rows: rows.filter((o) => o.low <= ohm && o.high >= ohm).length }).toEqual({ ohm, rows: 1 });
      tables++;
    }
    play.make(step);
  }
  expect(tables).toBeGreaterThan(0);
}, 60_000);

test('an earth that is lost explains a shock: what leaks beyond it stands on the metal, and nothing trips', () => {
  const map = drafted('radial, 7');
  const view = playOf('radial, 7', 'shock', []).view;
  const loose = suspectsOf(map).find((s) => s.id === 'open s3:E');
  if (!loose) throw new Error('no such suspect');
  const e = explains(view, loose, [Infinity], 0.5);
  expect(e.says).toBe('yes');
  expect(e.says === 'yes' ? e.points : []).toEqual(expect.arrayContaining(['p3', 'p7']));
});
