import { cellsOf } from '../belief';
import { suspectsOf } from '../faults';
import { arrangements, checkSupply, editMap, originLoops, prospectiveAmp, withOriginLoops, type Installation, type Supply } from '../installation';
import { draft, edited } from '../installation/fixtures/drafted';
import { untouched } from '../workstate';
import { profiles } from '../profiles';
import { furthestLeft, loopsOf } from './loops';
import { LiveEvidence } from './evidence';
import { Energised, magnitude } from './measure';
import type { LiveTest } from './tests';

const board = (phrase = '4 ways'): Installation => draft(phrase);
const everyLoad = (map: Installation): string[] => map.points.flatMap((p) => p.elements.flatMap((e) => (e.kind === 'load' ? [`${p.id}.${e.id}`] : [])));

test.each(arrangements.filter((a) => a !== 'IT').flatMap((a) => (a === 'TN-C-S' ? [[a, 0.34, 0.34]] : a === 'TT' ? [[a, 63, 0.41], [a, 18.5, 0.2]] : [[a, 0.62, 0.3], [a, 0.11, 0.4]]) as [typeof a, number, number][]))(
  '%s: the network built from the loops typed in, %d Ω to earth and %d Ω to neutral, gives these loops back', (arrangement, earthOhm, neutralOhm) => {
    const supply = withOriginLoops({ arrangement, phases: 1 }, { earthOhm, neutralOhm });
    const map = { ...board(), supply };
    const live = Energised.of(map, { ...untouched, loadsOut: everyLoad(map) });
    const loop = (to: string): number => magnitude(live.loop('p0:L', to) ?? { re: NaN, im: NaN });
    expect(Math.abs(loop('p0:E') / earthOhm - 1)).toBeLessThan(0.04);
    expect(Math.abs(loop('p0:N') / neutralOhm - 1)).toBeLessThan(0.04);
    expect(originLoops(supply).earthOhm).toBeCloseTo(earthOhm, 9);
    expect(originLoops(supply).neutralOhm).toBeCloseTo(neutralOhm, 9);
  });

test('nothing measured leaves nothing said; a loop taken back goes', () => {
  const bare: Supply = { arrangement: 'TN-S', phases: 1 };
  expect(originLoops(bare)).toEqual({ earthOhm: null, neutralOhm: null });
  expect(withOriginLoops(withOriginLoops(bare, { earthOhm: 0.5, neutralOhm: 0.3 }), { earthOhm: null, neutralOhm: null })).toEqual(bare);
});

test('prospective current by hand: 0.25 Ω of 230 V is 920 A, the smaller loop decides, twice that between the lines of three phases', () => {
  expect(prospectiveAmp(230, 1, { earthOhm: null, neutralOhm: 0.25 })).toBeCloseTo(920, 6);
  expect(prospectiveAmp(230, 1, { earthOhm: 0.1, neutralOhm: 0.25 })).toBeCloseTo(2300, 6);
  expect(prospectiveAmp(230, 3, { earthOhm: 0.5, neutralOhm: 0.25 })).toBeCloseTo(1840, 6);
  expect(prospectiveAmp(230, 3, { earthOhm: null, neutralOhm: null })).toBeNull();
});

test('a main switch with no rating, or a breaking capacity of nothing, is refused with the way out', () => {
  for (const s of [{ main: { ratingA: NaN, residualMa: null } }, { main: { ratingA: 100, residualMa: -30 } }, { breakingKa: 0 }, { lineOhm: NaN }]) {
    const checked = checkSupply({ arrangement: 'TT', phases: 1, ...s });
    expect(checked.ok).toBe(false);
    if (!checked.ok) expect(checked.issues[0]?.code).toBe('supply.figure');
  }
  const refused = editMap(board(), { edit: 'setSupply', supply: { arrangement: null, phases: 1, breakingKa: -6 } });
  expect(refused.ok).toBe(false);
});

test('at the origin the prospective current is held against what the devices can break; elsewhere it is not', () => {
  const map: Installation = { ...board(), supply: { arrangement: 'TN-S', phases: 1, breakingKa: 6 } };
  const at = (ohm: number): boolean | null | undefined => loopsOf(map, [{ kind: 'loop', from: 'p0:L', to: 'p0:N', ohm, noTrip: false }], profiles.gb)[0]?.breaks;
  // 230 V over 6 kA is 38.3 mΩ.
  expect([at(0.039), at(0.038)]).toEqual([true, false]);
  expect(loopsOf(map, [{ kind: 'loop', from: 'c1:L', to: 'c1:E', ohm: 0.01, noTrip: false }], profiles.gb)[0]?.breaks).toBeNull();
});

test('the furthest point of a way is asked for until it is read: on a radial it is the last one', () => {
  const map = edited(board(), { edit: 'drawCircuit', way: 'w2', phrase: 'radial, 4' });
  const points = map.points.filter((p) => p.name.startsWith('Way 2'));
  const loop = (point: string) => ({ kind: 'loop' as const, from: `${point}/f1:L`, to: `${point}/f1:E`, ohm: 0.8, noTrip: true });
  expect(furthestLeft(map, [])).toEqual([]);
  expect(furthestLeft(map, [loop(points[0]?.id ?? '')])).toEqual([{ way: 'w2', furthest: points.at(-1)?.id, readAt: [points[0]?.id] }]);
  expect(furthestLeft(map, [loop(points.at(-1)?.id ?? '')])).toEqual([]);
  // A loop to neutral is no Zs.
  expect(furthestLeft(map, [{ ...loop(points[0]?.id ?? ''), to: `${points[0]?.id}/f1:N` }])).toEqual([]);
});

/** How much likelier a test makes a lost supply neutral, against nothing wrong. */
function neutralLostBy(map: Installation, test: LiveTest): number {
  const suspects = suspectsOf(map);
  const cells = cellsOf(suspects);
  const bias = new LiveEvidence(map, suspects, cells).bias([{ test, state: untouched }]);
  const of = (id: string): number => bias[cells.suspect.indexOf(suspects.findIndex((x) => x.id === id))] as number;
  return Math.exp(of('supply neutral') - of('sound'));
}

test('a conductor that is neutral and earth in one is lost: the earth bar stands at any volts, and none of them acquits it', () => {
  const map = { ...board('6 ways'), supply: { arrangement: 'TN-C-S', phases: 1 } satisfies Supply };
  const volts = (from: string, to: string, volt: number): LiveTest => ({ kind: 'voltage', from, to, volt, meter: 'low' });
  for (const volt of [30, 60, 94, 140, 190, 225]) {
    expect(neutralLostBy(map, volts('p0:E', 'ground', volt))).toBeGreaterThan(3);
    expect(neutralLostBy(map, volts('metal:tap', 'ground', volt))).toBeGreaterThan(1);
    // Neutral and earth are still joined: volts between them are not of that.
    expect(neutralLostBy(map, volts('p0:N', 'p0:E', volt))).toBeLessThan(1.5);
  }
  // Earth that comes in by itself holds the bar, whatever neutral does.
  const own = { ...map, supply: { arrangement: 'TN-S', phases: 1 } satisfies Supply };
  expect(neutralLostBy(own, volts('p0:E', 'ground', 94))).toBeLessThan(1.5);
  expect(neutralLostBy(own, volts('p0:N', 'p0:E', 94))).toBeGreaterThan(3);
});
