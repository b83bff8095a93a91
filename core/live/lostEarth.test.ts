import { cellsOf } from '../belief';
import { isBreak, suspectsOf, touches, type Fault, type Suspect } from '../faults';
import { circuitOfWay } from '../installation';
import { draft, drawn } from '../installation/fixtures/drafted';
import { untouched } from '../workstate';
import { Energised, indicatorOhm, LiveEvidence, magnitude, usualService, type LiveObservation } from '.';

const map = drawn(drawn(draft('5 ways, RCBOs on 1 to 5'), 'w2', 'radial, 5'), 'w4', 'lights, 4, one switch');
const points = circuitOfWay(map, 'w2').points.map((p) => p.id);
const sections = circuitOfWay(map, 'w2').sections.map((s) => s.id);
const suspects = suspectsOf(map);
const cells = cellsOf(suspects);

/** Shares after volts from neutral to earth at some outlets, which work as they should, in a house with these faults. */
function shares(faults: readonly Fault[], at: readonly string[]): (pick: (s: Suspect) => boolean) => number {
  const house = Energised.of(map, untouched, faults, usualService);
  const seen = at.flatMap((p): LiveObservation[] => {
    const [from, to] = [`${p}/f1:N`, `${p}/f1:E`];
    const volt = house.voltage(from, to, indicatorOhm.low);
    return [{ test: { kind: 'voltage', from, to, volt: volt ? magnitude(volt) : 0, meter: 'low' }, state: untouched }, { test: { kind: 'works', point: p, works: true }, state: untouched }];
  });
  const bias = new LiveEvidence(map, suspects, cells).bias(seen);
  const weight = cells.logPrior.map((x, c) => Math.exp(x + (bias[c] as number)));
  const total = weight.reduce((a, b) => a + b, 0);
  return (pick) => weight.reduce((sum, w, c) => (pick(suspects[cells.suspect[c] as number] as Suspect) ? sum + w / total : sum), 0);
}
const onWay = ({ place }: Suspect): boolean => [...points, ...sections].includes(place.split('.')[0] ?? '');
const brokenEarth = (s: Suspect): boolean => isBreak(s) && s.conductors.includes('E') && onWay(s);

test.each([[300, 0.35], [3000, 0.35], [30_000, 0.08]])('line leaks with %d Ω beyond an earth that is broken: volts on that earth are its own', (ohm, least) => {
  const share = shares([{ kind: 'openCore', section: sections[2] ?? '', core: 'E' }, { kind: 'pointContact', point: points[3] ?? '', terminals: ['L', 'E'], ohm }], [points[4] ?? '', points[3] ?? '']);
  expect(share(brokenEarth)).toBeGreaterThan(least);
  // A hard line to earth on another way would have opened its device.
  expect(share((s) => touches(s) && s.conductors.join() === 'L,E' && !onWay(s))).toBeLessThan(0.05);
});

test('an earth that is whole has no volts on it, and no break is made of that', () => {
  expect(shares([], [points[4] ?? ''])(brokenEarth)).toBeLessThan(0.1);
});
