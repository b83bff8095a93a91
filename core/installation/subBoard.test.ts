import { BeliefEngine, tradeOptions } from '../belief';
import { suspectsOf } from '../faults';
import { chanceOfTrip, Energised, largest, lineParts, loopsOf, magnitude, watching } from '../live';
import { profiles } from '../profiles';
import { provingPairs } from '../safety';
import { suspectTitle } from '../wording';
import { untouched } from '../workstate';
import { checkInstallation, draftCircuit, editMap, isDrawn, labelOfWay, nearestDevice, protectionsOf, residualDeviceOf, upstreamOf, type Installation, type Protection } from '.';
import { draft, edited } from './fixtures/drafted';

const shed = (): Installation => edited(draft('6 ways, RCD on 1 to 4'), { edit: 'setLabel', way: 'w5', label: 'Clay shed' }, { edit: 'drawCircuit', way: 'w5', phrase: 'sub-board, 3' });
const named = (map: Installation, name: string): string => map.points.find((p) => p.name === name)?.id ?? '';

test('a cable to a board of its own stands in the place of the lump; cable, ends and label keep their names', () => {
  const map = shed();
  expect(checkInstallation(map)).toEqual([]);
  expect(map.points.filter((p) => p.name.startsWith('Clay shed')).map((p) => [p.name, p.kind])).toEqual([['Clay shed sub-board', 'subboard'], ['Clay shed way 1', 'undrawn'], ['Clay shed way 2', 'undrawn'], ['Clay shed way 3', 'undrawn']]);
  expect([labelOfWay(map, 'w5'), isDrawn(map, 'w5')]).toEqual(['Clay shed', true]);
  expect(map.sections.find((s) => s.id === 's5')?.cores.map((c) => c.a)).toEqual(['W5', 'N', 'E']);
});

test('what hangs on its ways is live through both boards, and dead beyond the switch that is off', () => {
  const map = shed();
  const way2 = named(map, 'Clay shed way 2');
  const volt = (off: string[]): number => magnitude(Energised.of(map, { ...untouched, off }).voltage(`${way2}:L`, `${way2}:N`, 7e3) ?? { re: NaN, im: 0 });
  expect(volt([])).toBeGreaterThan(220);
  const hub = named(map, 'Clay shed sub-board');
  for (const off of ['p0.w5', `${hub}.main`, `${hub}.w2`]) expect(volt([off])).toBeLessThan(5);
  expect(volt([`${hub}.w1`])).toBeGreaterThan(220);
});

test('its circuits can be drawn later, even a ring that comes back to it; a drawn one is drawn once', () => {
  const map = shed();
  const way1 = named(map, 'Clay shed way 1');
  const ring = edited(map, { edit: 'drawLump', point: way1, phrase: 'ring, 4' });
  expect(checkInstallation(ring)).toEqual([]);
  const hub = named(map, 'Clay shed sub-board');
  expect(ring.sections.filter((s) => (s.a === hub && s.cores[0]?.a === 'W1') || (s.b === hub && s.cores[0]?.b === 'W1'))).toHaveLength(2);
  const again = editMap(ring, { edit: 'drawLump', point: way1, phrase: 'radial, 2' });
  expect(again.ok ? '' : again.issues[0]?.code).toBe('draft.notALump');
  const itself = editMap(map, { edit: 'drawLump', point: way1, phrase: '8 ways' });
  expect(itself.ok ? '' : itself.issues[0]?.code).toBe('board.feedsItself');
});

test.each([['sub-board', 'draft.subBoardCount'], ['sub-board, 0', 'draft.subBoardSize'], ['sub-board, 40', 'draft.subBoardSize']])('“%s” is refused as %s', (phrase, code) => {
  const r = draftCircuit(phrase);
  expect(r.ok ? '' : r.issues[0]?.code).toBe(code);
});

test('at the sub-board a person reads every line to earth and to neutral, and no line to its own line', () => {
  const map = shed();
  const pairs = provingPairs(map, named(map, 'Clay shed sub-board')).map((p) => p.join(' '));
  expect(pairs).toEqual(['E N', 'E L', 'N L', 'E B', 'N B', 'E W1', 'N W1', 'E W2', 'N W2', 'E W3', 'N W3']);
});

test('a low reading that goes when the shed’s way 2 is switched off is in way 2 of the shed, or at its own terminal there', () => {
  const map = shed();
  const hub = named(map, 'Clay shed sub-board');
  const loads = map.points.flatMap((p) => p.elements.flatMap((e) => (e.kind === 'load' ? [`${p.id}.${e.id}`] : [])));
  const ways = map.points[0]?.elements.map((e) => `p0.${e.id}`) ?? [];
  const engine = new BeliefEngine(map, suspectsOf(map), tradeOptions);
  const read = (off: string[], ohm: number) => ({ probe: { fn: 'insulation' as const, from: ['p0:W5'], to: ['p0:E'] }, state: { ...untouched, off: [...ways, ...off], loadsOut: loads, opened: ['p0'] }, displayed: ohm > 9e8 ? { above: 999e6 } : { ohm } });
  const belief = engine.believe([read([], 30e3), read([`${hub}.w2`], 1e9), read([`${hub}.w1`, `${hub}.w3`], 30e3)]);
  const here = named(map, 'Clay shed way 2');
  const section = map.sections.find((s) => s.b === here)?.id ?? '';
  const share = engine.suspects.reduce((sum, s, i) => sum + (s.place === here || s.place === section || s.place.startsWith(`${here}.`) || (s.place === hub && s.conductors.includes('W2')) ? (belief.suspectShare[i] as number) : 0), 0);
  expect(share).toBeGreaterThan(0.9);
});

describe('devices of a sub-board', () => {
  const behindRcd = (): Installation => edited(draft('6 ways, RCD on 1 to 4'), { edit: 'setLabel', way: 'w5', label: 'Clay shed' }, { edit: 'drawCircuit', way: 'w5', phrase: 'sub-board, 3, RCD' });
  const device = (map: Installation, id: string): Protection => {
    const found = protectionsOf(map).find((d) => d.id === id);
    if (!found) throw new Error(`no device ${id}`);
    return found;
  };
  /** Chance of opening at once, with a contact of some ohms at a point and everything on. */
  const opens = (map: Installation, id: string, point: string, terminals: [string, string], ohm: number): number => {
    const e = Energised.of(map, untouched, [{ kind: 'pointContact', point, terminals, ohm }]);
    const d = device(map, id);
    return chanceOfTrip(d, magnitude(largest(lineParts(d).map((parts) => e.clamp(parts)))), d.residualMa === null ? 0 : magnitude(e.residual(d))).atOnce;
  };

  test('each way has one of its own, and what stands before it is its RCD, the way of the board and the main switch', () => {
    const map = behindRcd();
    expect(checkInstallation(map)).toEqual([]);
    const hub = named(map, 'Clay shed sub-board');
    expect(upstreamOf(protectionsOf(map), device(map, `${hub}.w2`)).map((d) => d.id)).toEqual([`${hub}.main`, 'w5', 'main']);
    expect(nearestDevice(map, named(map, 'Clay shed way 2'))?.id).toBe(`${hub}.w2`);
    expect(nearestDevice(map, hub)?.id).toBe('w5');
    expect(residualDeviceOf(map, `${hub}.w2`)?.id).toBe(`${hub}.main`);
    expect(residualDeviceOf(shed(), `${named(shed(), 'Clay shed sub-board')}.w2`)).toBeUndefined();
    // Closing the way of the board is watched by all that it feeds.
    expect(watching(map, untouched, 'w5').map((d) => d.id).sort()).toEqual(['main', `${hub}.main`, `${hub}.w1`, `${hub}.w2`, `${hub}.w3`, 'w5'].sort());
    expect(watching(map, untouched, 'w1').map((d) => d.id)).not.toContain(`${hub}.w1`);
  });

  test('a short of 1.6 Ω behind way 2 opens its 16 A breaker, hardly the 32 A one before it and never its neighbour', () => {
    const map = behindRcd();
    const hub = named(map, 'Clay shed sub-board');
    const way2 = named(map, 'Clay shed way 2');
    // 230 V over 1.6 Ω and a loop of some 0.6 Ω: about 105 A, above 4 × 16 A and below 4 × 32 A.
    expect(opens(map, `${hub}.w2`, way2, ['L', 'N'], 1.6)).toBeGreaterThan(0.95);
    expect(opens(map, 'w5', way2, ['L', 'N'], 1.6)).toBeLessThan(0.3);
    expect(opens(map, `${hub}.w1`, way2, ['L', 'N'], 1.6)).toBeLessThan(0.05);
  });

  test('5 kΩ to earth behind it (46 mA) opens its RCD and no other; between line and neutral it opens none', () => {
    const map = behindRcd();
    const hub = named(map, 'Clay shed sub-board');
    const way3 = named(map, 'Clay shed way 3');
    expect(opens(map, `${hub}.main`, way3, ['L', 'E'], 5e3)).toBeGreaterThan(0.95);
    expect(opens(map, 'G1', way3, ['L', 'E'], 5e3)).toBeLessThan(0.05);
    expect(opens(map, `${hub}.main`, way3, ['L', 'N'], 5e3)).toBeLessThan(0.05);
  });

  test('a loop behind it is held against its own device: 16 A allows twice the ohms of 32 A', () => {
    const map = shed();
    const at = (name: string): string => named(map, name);
    const [view] = loopsOf(map, [{ kind: 'loop', from: `${at('Clay shed way 2')}:L`, to: `${at('Clay shed way 2')}:E`, ohm: 1.9, noTrip: false }], profiles.gb);
    const [feeder] = loopsOf(map, [{ kind: 'loop', from: `${at('Clay shed sub-board')}:L`, to: `${at('Clay shed sub-board')}:E`, ohm: 1.9, noTrip: false }], profiles.gb);
    expect((view?.limit?.ohm ?? NaN) / (feeder?.limit?.ohm ?? NaN)).toBeCloseTo(2, 6);
    expect([view?.verdict, feeder?.verdict].map((v) => v?.split(',')[0])).toEqual(['within', 'over']);
  });

  test('before work at it the incoming neutral is proved dead too', () => {
    const map = behindRcd();
    expect(provingPairs(map, named(map, 'Clay shed sub-board')).map((p) => p.join(' '))).toContain('E NI');
  });

  test('its devices are said better one by one; a rating of nothing and an RCBO without a neutral of its own are refused', () => {
    const map = shed();
    const way = `${named(map, 'Clay shed sub-board')}.w2`;
    const set = (ratingA: number, kind: 'mcb' | 'rcbo' = 'mcb'): ReturnType<typeof editMap> => editMap(map, { edit: 'setDevice', way, device: { kind, curve: 'C', ratingA, opens: 'line', residualMa: kind === 'rcbo' ? 30 : null } });
    const done = set(20);
    expect(done.ok && device(done.value, way)).toMatchObject({ curve: 'C', ratingA: 20, kind: 'mcb' });
    expect([set(0), set(16, 'rcbo')].map((r) => (r.ok ? '' : r.issues[0]?.code))).toEqual(['board.noRating', 'board.otherPoles']);
  });

  test('one more way comes with a device and a circuit of its own; the sub-board keeps its place on its cable', () => {
    const map = shed();
    const hub = named(map, 'Clay shed sub-board');
    const more = edited(map, { edit: 'addBranch', point: hub, kind: 'outlet', name: 'Extractor' });
    expect(checkInstallation(more)).toEqual([]);
    expect([labelOfWay(more, `${hub}.w4`), nearestDevice(more, named(more, 'Extractor'))?.id]).toEqual(['Extractor', `${hub}.w4`]);
    const volt = (off: string[]): number => magnitude(Energised.of(more, { ...untouched, off }).voltage(`${named(more, 'Extractor')}:L`, `${named(more, 'Extractor')}:N`, 7e3) ?? { re: NaN, im: 0 });
    expect(volt([])).toBeGreaterThan(220);
    expect(volt([`${hub}.w4`])).toBeLessThan(5);
    const swapped = editMap(map, { edit: 'swapPoints', first: hub, second: named(map, 'Clay shed way 1') });
    expect(swapped.ok ? '' : swapped.issues[0]?.code).toBe('map.boardStays');
  });

  test('in words: its breakers, bars and ways by their names, no key of ours', () => {
    const map = edited(behindRcd(), { edit: 'addBranch', point: named(behindRcd(), 'Clay shed sub-board'), kind: 'outlet', name: 'Extractor' });
    const hub = named(map, 'Clay shed sub-board');
    const title = (id: string): string => suspectsOf(map).filter((s) => s.id === id).map((s) => suspectTitle(map, s)).join();
    expect(title(`overload ${hub}.w4`)).toBe('Extractor, way 4 of Clay shed sub-board is overloaded');
    expect(title(`overload ${hub}.w1`)).toBe('Way 1 of Clay shed sub-board is overloaded');
    expect(title(`switch ${hub}.w2`)).toBe('Way 2 in Clay shed sub-board does not close, or is off');
    expect(title(`contact ${hub}:W2E`)).toBe('Way 2 touches E bar in Clay shed sub-board');
    expect(title(`contact ${hub}:ENI`)).toBe('E bar touches incoming N in Clay shed sub-board');
    for (const s of suspectsOf(map)) expect(suspectTitle(map, s)).not.toMatch(/\bW\d|\bNI\b|c\d+\./);
  });

  test('“sub-board, 3, RCD 0” is refused', () => expect(draftCircuit('sub-board, 3, RCD 0')).toMatchObject({ ok: false, issues: [{ code: 'board.noResidual' }] }));
});
