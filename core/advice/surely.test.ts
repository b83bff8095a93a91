import { suspectsOf } from '../faults';
import { draft } from '../installation/fixtures/drafted';
import { surelyAt } from './surely';

// What is said of a place beside the place: only what is as sure, and of an appliance, which is put right whole, only what hardly anything speaks against.

const map = draft('radial, 3');
const suspects = suspectsOf(map);

/** The conductors that are named where two suspects of one place share it so. */
function named(first: string, other: string, share: number): readonly string[] | null {
  const suspectShare = Float64Array.from(suspects, (s) => (s.id === first ? share : s.id === other ? 1 - share : 0));
  const place = suspects.find((s) => s.id === first)?.place ?? '';
  return surelyAt({ map, engine: { suspects }, belief: { suspectShare } }, place).conductors;
}

test.each([[0.97, null], [0.995, ['N', 'E']]] as const)('an appliance at %f for N–E', (share, conductors) => {
  expect(named('load p2.plug:NE', 'load p2.plug:LE', share)).toEqual(conductors);
});

test.each([[0.93, null], [0.97, ['L', 'E']]] as const)('a cable at %f for L–E', (share, conductors) => {
  expect(named('contact s2:LE', 'contact s2:NE', share)).toEqual(conductors);
});
