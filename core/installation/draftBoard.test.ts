import { allEnds, boardPart, checkInstallation, circuitsOf, defaultDevice, draftCircuit, editMap, endsAtPoint, landingOf, protectionsOf, type Device, type Installation } from '.';
import { edited } from './fixtures/drafted';

const draft = (phrase: string): Installation => {
  const r = draftCircuit(phrase);
  if (!r.ok) throw new Error(`${phrase}: ${JSON.stringify(r.issues)}`);
  return r.value;
};
const code = (phrase: string): string => {
  const r = draftCircuit(phrase);
  return r.ok ? '' : (r.issues[0]?.code ?? '');
};
const ways = (map: Installation) => (map.points[0]?.elements ?? []).flatMap((e) => (e.kind === 'way' ? [e] : []));
const neutralOf = (map: Installation, n: number): string => map.sections[n - 1]?.cores.find((c) => c.id === 'N')?.a ?? '';

test('ten ways, an RCD on six of them and RCBOs on the rest', () => {
  const map = draft('10 ways, RCD on 1 to 6, RCBOs on 7 to 10');
  expect(checkInstallation(map)).toEqual([]);
  expect([ways(map).length, map.sections.length]).toEqual([10, 10]);
  expect(ways(map).map((w) => w.device?.kind)).toEqual([...Array<string>(6).fill('mcb'), ...Array<string>(4).fill('rcbo')]);
  // Behind the RCD the neutrals have a bar of their own; an RCBO takes its neutral to itself.
  expect([1, 6, 7, 10].map((n) => neutralOf(map, n))).toEqual(['NG1', 'NG1', 'N7', 'N10']);
  expect(ways(map)[0]?.a).toBe('LG1');
  expect(ways(map)[6]?.a).toBe('L');
});

test('without a word about devices every way is a breaker that leaves neutral through', () => {
  const map = draft('6 ways');
  expect(ways(map).every((w) => w.device?.kind === 'mcb' && w.device.opens === 'line')).toBe(true);
  expect([1, 6].map((n) => neutralOf(map, n))).toEqual(['N', 'N']);
});

test('two RCDs part the neutral bar in two; fuses and the earthing are understood', () => {
  const map = draft('Board, 8 ways, RCD on 1-4, RCD on 5 to 8, TT');
  expect([1, 5].map((n) => neutralOf(map, n))).toEqual(['NG1', 'NG2']);
  expect(map.supply).toMatchObject({ arrangement: 'TT', phases: 1 });
  expect(ways(draft('4 ways, fuses on 1 to 3 and 4')).map((w) => w.device?.kind)).toEqual(['fuse', 'fuse', 'fuse', 'fuse']);
});

test('every way is a circuit of its own, and all earths land in one bar', () => {
  const map = draft('12 ways, RCBO on all');
  const circuits = circuitsOf(map);
  expect(new Set(map.sections.map((s) => circuits.get(s.id))).size).toBe(12);
  expect(circuits.has('p0')).toBe(false);
  expect(new Set(endsAtPoint(map, 'p0').filter((e) => e.role === 'E').map((e) => e.terminal))).toEqual(new Set(['E']));
  expect(new Set(allEnds(map).map((e) => e.key)).size).toBe(12 * 6);
});

test.each([
  ['ways', 'draft.shape'], ['board', 'board.count'], ['1 way', 'board.tooSmall'], ['40 ways', 'board.tooMany'], ['6 ways, RCD on 5 to 9', 'board.noSuchWay'], ['6 ways, RCD on 0', 'board.noSuchWay'],
  ['6 ways, RCD on 1 to 3, RCD on 3 to 6', 'board.twoRcds'], ['6 ways, RCD on 1 to 6, RCBO on 2', 'board.rcboBehindRcd'], ['6 ways, tower', 'board.part'],
])('“%s” is refused as %s', (phrase, expected) => {
  expect(code(phrase)).toBe(expected);
});

test('circuits of one board: two that share nothing but the bars are two', () => {
  const ring = draft('ring, 5, spur at 2');
  const index = circuitsOf(ring);
  expect(new Set([...ring.points.slice(1).map((p) => index.get(p.id)), ...ring.sections.map((s) => index.get(s.id))])).toEqual(new Set([0]));
});

test('each terminal of a board is a bar or one way’s own', () => {
  const map = draft('4 ways, RCD on 1 to 2, RCBO on 4');
  const parts = Object.fromEntries((map.points[0]?.terminals ?? []).map((t) => [t.id, boardPart(t)]));
  expect(parts).toEqual({ L: 'line bar', N: 'neutral bar', E: 'earth bar', LG1: 'line bar', NG1: 'neutral bar', W1: 'way line', W2: 'way line', W3: 'way line', W4: 'way line', N4: 'way neutral' });
});

describe('the device of a way', () => {
  const map = draft('4 ways, RCBO on 4');
  const set = (way: string, device: Device): string => {
    const r = editMap(map, { edit: 'setDevice', way, device });
    return r.ok ? 'ok' : (r.issues[0]?.code ?? '');
  };
  const breaker = defaultDevice('mcb');
  test('is changed for another that opens the same poles', () => {
    const r = editMap(map, { edit: 'setDevice', way: 'w2', device: { ...breaker, curve: 'C', ratingA: 16 } });
    expect(r.ok && ways(r.value)[1]?.device).toMatchObject({ kind: 'mcb', curve: 'C', ratingA: 16 });
    expect(r.ok && ways(r.value)[0]?.device).toEqual(breaker);
    expect(set('w1', defaultDevice('fuse'))).toBe('ok');
  });
  test.each([[0], [-6], [NaN], [Infinity]])('with a rating of %d A is refused', (ratingA) => {
    expect(set('w2', { ...breaker, ratingA })).toBe('board.noRating');
  });
  test('an RCBO needs its residual current, and cannot stand where the neutral is not wired to it', () => {
    expect(set('w4', { ...defaultDevice('rcbo'), residualMa: null })).toBe('board.noResidual');
    expect(set('w2', defaultDevice('rcbo'))).toBe('board.otherPoles');
  });
  test('of a way that is not there is refused', () => {
    expect(set('w9', breaker)).toBe('map.noPoint');
  });
});

test('where a circuit lands: its way, the bar of its RCD or its own terminal, and earth', () => {
  const map = draft('6 ways, RCD on 1 to 3, RCBO on 6');
  expect(landingOf(map, 'c2')).toEqual({ line: 'W2', neutral: 'NG1', earth: 'E' });
  expect(landingOf(map, 's5')).toEqual({ line: 'W5', neutral: 'N', earth: 'E' });
  expect(landingOf(map, 'c6.loads')).toEqual({ line: 'W6', neutral: 'N6', earth: 'E' });
  expect(landingOf(draft('ring, 4'), 'p2')).toEqual({ line: 'W', neutral: 'N', earth: 'E' });
});

test('what an RCD goes at and its type are said device by device: all poles of a group, an RCBO, the main switch; nothing else has any', () => {
  const map = edited(draft('6 ways, RCD on 1 to 3, RCBOs on 4 to 5'), { edit: 'setSupply', supply: { arrangement: 'TT', phases: 1, main: { ratingA: 80, residualMa: 300 } } });
  const said = edited(map, ...['G1', 'w4', 'main'].map((device) => ({ edit: 'setResidual' as const, device, residualMa: 100, type: 'A' as const })));
  expect(['G1', 'w4', 'main', 'w5', 'w6'].map((id) => protectionsOf(said).find((d) => d.id === id)).map((d) => [d?.residualMa, d?.residualType])).toEqual([[100, 'A'], [100, 'A'], [100, 'A'], [30, null], [null, null]]);
  expect(checkInstallation(said)).toEqual([]);
  const refused = (device: string, residualMa: number): string => {
    const r = editMap(map, { edit: 'setResidual', device, residualMa, type: null });
    return r.ok ? '' : (r.issues[0]?.code ?? '');
  };
  expect([refused('G1', 0), refused('G1', NaN), refused('w6', 30)]).toEqual(['board.noResidual', 'board.noResidual', 'map.noPoint']);
  // Taken back: nobody knows the type again.
  expect(protectionsOf(edited(said, { edit: 'setResidual', device: 'w4', residualMa: 30, type: null })).find((d) => d.id === 'w4')).toMatchObject({ residualMa: 30, residualType: null });
});
