import { draft } from '../installation/fixtures/drafted';
import { asideGuide, enoughGuide, soundGuide, verdictGuide, nothingFoundTitle } from '.';

const map = draft('4 ways, RCD on 1 to 2, RCD on 3 to 4');
const sure = (kind: 'otherBar' | 'contact') => ({ kind, conductors: ['N'], open: [] });

test('a neutral in another bar is put right at the board, not along its cable, and into the bar of its own device', () => {
  const text = verdictGuide(map, { place: 's2', onGuess: false, surely: sure('otherBar') }, false);
  expect(text).toContain('At the board');
  expect(text).toContain('RCD 1');
  expect(text).not.toMatch(/dug|gnawed|lengths/);
});

test('a cable is looked along, and what hangs on guessed lengths says so', () => {
  expect(verdictGuide(map, { place: 's2', onGuess: true, surely: sure('contact') }, false)).toMatch(/look along it.*guessed/);
});

test('what may still be plugged in is looked for before a cover comes off', () => {
  expect(verdictGuide(map, { place: 'c2', onGuess: false, surely: sure('contact') }, true)).toMatch(/^Look first.*If not, open/);
});

test('"nothing wrong" says that a reading of the line stops at a switch that is off, where there is one, or where nobody has drawn the circuit', () => {
  for (const phrase of ['6 ways, RCD on 1 to 6', 'lights, 4, one switch', 'lights, 3, two-way switch']) expect(soundGuide(draft(phrase), 'rcd trips')).toMatch(/behind a switch that was off was not reached.*two-way switches once each way/);
  // Once every switch on every way is on, it was.
  expect(soundGuide(draft('2 ways'), 'rcd trips', ['c1'])).toMatch(/was not reached/);
  expect(soundGuide(draft('2 ways'), 'rcd trips', ['c1', 'c2'])).not.toMatch(/was not reached/);
  expect(soundGuide(draft('ring, 6'), 'rcd trips')).toMatch(/would hardly cause what was complained of/);
  expect(soundGuide(draft('ring, 6'), 'inspection')).toMatch(/not read is not proved/);
});

test('leaving it says the chance that is left, what surer takes, and of what comes and goes what to do', () => {
  const words = (complaint: 'rcd trips' | 'inspection', minutes: number | null): string => enoughGuide(draft('6 ways, RCD on 1 to 6'), complaint, { share: 0.88, minutes, mended: false });
  expect(words('rcd trips', 22)).toMatch(/chance of 12 % is left that a fault here causes it.*22 min more.*behind a switch.*note when it does/);
  expect(words('inspection', null)).toMatch(/something here is wrong\. No reading in reach tells more.*not read is not proved/);
});

test('after something was found and put right, it is not said that nothing was found', () => {
  const found = { leaks: false, mended: true };
  for (const complaint of ['rcd trips', 'dead', 'inspection', null] as const) {
    expect(nothingFoundTitle(complaint, found)).toBe('Nothing more found');
    expect(enoughGuide(draft('radial, 4'), complaint, { share: 0.9, minutes: null, mended: true })).toMatch(/another fault here causes it|something else here is wrong/);
  }
  expect(nothingFoundTitle('rcd trips', { leaks: true, mended: true })).toBe('No other fault found: leakage may explain it');
  expect(nothingFoundTitle('rcd trips', { leaks: false, mended: false })).toBe('Nothing found that explains it');
});

test('a device that is named is replaced, leakage behind it is spread, a lost supply is the operator’s: none of them is opened to look', () => {
  const guide = (place: string, kind: 'rcdSensitive' | 'rcdBlind' | 'standingLeak' | 'overload' | 'supplyLost' | null): string => verdictGuide(map, { place, onGuess: false, surely: { kind, conductors: ['G1'], open: [] } }, false);
  expect(guide('p0.G1', 'rcdSensitive')).toMatch(/^Replace RCD 1/);
  expect(guide('p0.G1', 'rcdBlind')).toMatch(/^Replace RCD 1/);
  expect(guide('p0.G1', 'standingLeak')).toMatch(/Nothing single to mend.*clamp/);
  expect(guide('p0.w3', 'overload')).toMatch(/take off Way 3/);
  expect(guide('p0.G1', null)).toMatch(/^Ramp RCD 1/);
  expect(guide('supply', 'supplyLost')).toMatch(/network operator/);
  for (const kind of ['rcdSensitive', 'standingLeak', null] as const) expect(guide('p0.G1', kind)).not.toMatch(/open, look/);
});

test('a lamp is left out, an appliance unplugged and marked', () => {
  const home = draft('lights, 3');
  const lamp = home.points.find((p) => p.kind === 'lamp')?.id ?? '';
  expect(asideGuide(home, `${lamp}.lamp`)).toMatch(/lamp out.*holder/);
  expect(asideGuide(home, `${lamp}.lamp`)).not.toContain('unplugged');
  const ring = draft('ring, 4');
  expect(asideGuide(ring, `${ring.points.find((p) => p.kind === 'outlet')?.id ?? ''}.plug`)).toMatch(/unplugged and mark it/);
});

test('what hangs behind switches is read again between the conductors that the complaint is about', () => {
  const map = draft('6 ways, RCD on 1 to 6');
  const guide = (complaint: 'rcd trips' | 'mcb trips'): string => enoughGuide(map, complaint, { share: 0.9, minutes: null, mended: false });
  expect(guide('mcb trips')).toMatch(/read L–N and L–E again/);
  expect(guide('rcd trips')).toMatch(/read L–E again/);
});
