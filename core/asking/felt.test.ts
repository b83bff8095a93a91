import { suspectsOf } from '../faults';
import { cellsOf, ohmOfT } from '../belief';
import { draft } from '../installation/fixtures/drafted';
import type { Asked, Complaint } from '../job';
import { feltAs } from './felt';
import { shifted } from './bearing';
import { traitShares } from './interview';

const path = (...conductors: string[]) => ({ kind: 'pointContact' as const, conductors });
const felt = (complaint: Complaint, conductors: string[], ohm: number): number => feltAs(complaint, path(...conductors))?.(ohm) ?? 1;

test('a breaker that trips wants a short: 230 V over some ohms, not milliamperes to earth', () => {
  expect(felt('mcb trips', ['L', 'N'], 1)).toBe(1);
  expect(felt('mcb trips', ['L', 'N'], 5000)).toBeLessThan(0.1);
  expect(felt('mcb trips', ['N', 'E'], 1)).toBeLessThan(0.1);
});

test('a residual device wants milliamperes: line to earth up to some kilohms, neutral to earth far less', () => {
  expect(felt('rcd trips', ['L', 'E'], 8000)).toBe(1);
  expect(felt('rcd trips', ['L', 'E'], 5e5)).toBeLessThan(0.2);
  expect(felt('rcd trips', ['N', 'E'], 50)).toBe(1);
  expect(felt('rcd trips', ['N', 'E'], 5e4)).toBeLessThan(0.1);
  expect(felt('rcd trips', ['L', 'N'], 0.5)).toBeLessThan(0.1);
});

test('people err: no size is ever ruled out by a complaint, and an inspection says nothing about sizes', () => {
  for (const complaint of ['rcd trips', 'mcb trips', 'shock', 'dead', 'flicker or heat', 'inspection'] as const)
    for (const pair of [['L', 'N'], ['L', 'E'], ['N', 'E']])
      for (const ohm of [0, 1, 100, 1e4, 1e6, Infinity]) expect(felt(complaint, pair, ohm)).toBeGreaterThan(0.02);
  expect(feltAs('inspection', path('L', 'E'))).toBeNull();
});

test('in the belief a size that goes with the complaint starts above one that does not', () => {
  const asked: Asked = { complaint: 'mcb trips', shock: false, notes: '', answers: {}, seen: [] };
  const map = draft('radial, 4');
  const suspects = shifted(map, suspectsOf(map), asked);
  const cells = cellsOf(suspects);
  const prior = (ohm: number): number => {
    const own = Array.from({ length: cells.count }, (_, c) => c).filter((c) => suspects[cells.suspect[c] as number]?.id === 'contact p2:LE');
    const best = own.sort((a, b) => Math.abs(Math.log((ohmOfT(cells.tCentre[a] as number) + 0.1) / ohm)) - Math.abs(Math.log((ohmOfT(cells.tCentre[b] as number) + 0.1) / ohm)))[0] as number;
    return Math.exp(cells.logPrior[best] as number);
  };
  expect(prior(1)).toBeGreaterThan(5 * prior(1e4));
});

test('a shock: a broken earth, an appliance and line on earth come before neutral on earth, which puts a few volts on metal', () => {
  const told = traitShares(draft('6 ways, RCD on 1 to 6'), { complaint: 'shock', shock: true, notes: '', answers: {}, seen: [] });
  const place = (t: string): number => told.findIndex((s) => s.trait === t);
  for (const t of ['appliance', 'noEarth', 'lineEarth']) expect(place(t)).toBeLessThan(place('neutralEarth'));
});
