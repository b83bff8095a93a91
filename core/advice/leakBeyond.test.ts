import { circuitOfWay } from '../installation';
import { draft, drawn } from '../installation/fixtures/drafted';
import { leaksBeyond, type SuspectView } from '.';

const map = drawn(drawn(draft('5 ways, RCBOs on 1 to 5'), 'w2', 'radial, 4'), 'w4', 'radial, 3');
const at = (way: string, n: number): string => circuitOfWay(map, way).points[n]?.id ?? '';
const cable = circuitOfWay(map, 'w2').sections[2]?.id ?? '';
const broken = (conductors: readonly string[]): Pick<SuspectView, 'kind' | 'place' | 'conductors' | 'explains'> => ({ kind: 'openCore', place: cable, conductors, explains: { says: 'no', share: 0, code: 'explains.rcdNo', points: [], figure: null, hangs: 'size' } });
const read = (place: string): Parameters<typeof leaksBeyond>[0] => ({ map, liveMetal: { place, volt: 152, toNeutral: true } });

test('volts on an earth that is broken are from something that leaks beyond the break: that is said with the break', () => {
  expect(leaksBeyond(read(`${at('w2', 3)}/f1:E`), broken(['E']))).toBe(true);
  expect(leaksBeyond({ map, liveMetal: null }, broken(['E']))).toBe(false);
});

test('volts on another way, or a conductor that is no earth, say nothing of that', () => {
  expect(leaksBeyond(read(`${at('w4', 1)}/f1:E`), broken(['E']))).toBe(false);
  expect(leaksBeyond(read(`${at('w2', 3)}/f1:E`), broken(['N']))).toBe(false);
});
