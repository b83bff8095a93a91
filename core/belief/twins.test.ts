import { suspectsOf } from '../faults';
import { draft } from '../installation/fixtures/drafted';
import { elementKey, untouched } from '../workstate';
import { BeliefEngine, type Observation } from '.';
import { Estimates } from './estimates';
import { earlierFor, type Group } from './group';
import { Grouping } from './grouping';
import { Twins } from './twins';

test('a suspect that is asked about a reading is asked about every earlier one that bears on it: none is explained by what another suspect left behind', () => {
  const map = draft('4 ways, RCD on 1 to 2, RCD on 3 to 4');
  const engine = new BeliefEngine(map, suspectsOf(map));
  const parts = (kinds: readonly string[]): string[] => map.points.flatMap((p) => p.elements.flatMap((e) => (kinds.includes(e.kind) ? [elementKey(p.id, e.id)] : [])));
  // The same two terminals in four states, and never the same figure twice.
  const observations = [[], ['s4@a:N'], ['s3@a:N', 's4@a:N'], ['s2@a:N', 's4@a:N']].map((out, k): Observation => ({
    probe: { fn: 'continuity', from: ['p0:NG1'], to: ['p0:NG2'] }, state: { ...untouched, off: parts(['way', 'pole']), opened: ['p0'], out }, displayed: k % 2 ? { above: 100_000 } : { ohm: 900 * (k + 1) },
  }));
  const groups = new Grouping(engine).of(observations);
  const e = new Estimates(engine.cells.count);
  for (let c = 0; c < engine.cells.count; c++) e.startFrom(c, engine.cells);
  const { rows } = new Twins(engine, groups, e, new Uint8Array(groups.length), null);
  let checked = 0;
  for (const own of rows)
    for (const n of own)
      for (const m of earlierFor(groups[n] as Group)) {
        expect(own).toContain(m);
        checked++;
      }
  expect(checked).toBeGreaterThan(0);
});
