import { draftCircuit, placeExists, pointOfPlace, type Installation } from '../installation';
import { compileNetwork, planPhysics, resistanceBetween } from '../network';
import type { WorkState } from '../workstate';
import { untouched } from '../workstate';
import { pairsOf, suspectsOf, tradePriors, type Suspect, type SuspectKind } from '.';

const draft = (phrase: string): Installation => {
  const r = draftCircuit(phrase);
  if (!r.ok) throw new Error(phrase);
  return r.value;
};
const phrases = ['ring, 5, spur at 2', 'radial, 4', 'lights, 4, one switch', 'tree, 3, branch 2 at 2'];
const kindsOf = (map: Installation): Set<SuspectKind> => new Set(suspectsOf(map).map((s) => s.kind));
const find = (map: Installation, id: string): Suspect => {
  const s = suspectsOf(map).find((x) => x.id === id);
  if (!s) throw new Error(id);
  return s;
};
/** Ohms between two places with a suspect true; Infinity: no path but insulation. */
function read(map: Installation, a: string, b: string, suspect: Suspect | null, ohm: number, state: WorkState = untouched): number {
  const n = compileNetwork(map, state, suspect?.fault(ohm, 0.5) ?? [], planPhysics);
  const r = resistanceBetween(n, n.index.get(a) ?? -1, n.index.get(b) ?? -1);
  return r === 'open' || r > 1e9 ? Infinity : r;
}

test.each(phrases)('“%s”: ids are used once, priors are positive and make one', (phrase) => {
  const suspects = suspectsOf(draft(phrase));
  expect(new Set(suspects.map((s) => s.id)).size).toBe(suspects.length);
  expect(suspects.every((s) => s.prior > 0)).toBe(true);
  expect(suspects.reduce((sum, s) => sum + s.prior, 0)).toBeCloseTo(1, 12);
});

test.each(phrases)('“%s”: every suspect stands at a place of the map, and can be built at either end of its range', (phrase) => {
  const map = draft(phrase);
  for (const s of suspectsOf(map)) {
    if (s.kind === 'sound' || s.kind === 'unknown') continue;
    const place = s.place.replace(/^state /, '').split('.')[0] ?? '';
    const known = map.points.some((p) => p.id === place) || map.sections.some((x) => x.id === place) || placeExists(map, place);
    if (!known) throw new Error(`${s.id} stands at ${s.place}`);
    const ohms = s.unknown.of === 'nothing' ? [0] : [...(s.unknown.ohm ?? []), ...(s.unknown.of === 'series' && s.unknown.open ? [Infinity] : [])];
    for (const ohm of ohms) for (const fraction of [0, 0.5, 1]) expect(() => compileNetwork(map, untouched, s.fault(ohm, fraction), planPhysics)).not.toThrow();
  }
});

test('a ring can hold what a ring can: a leg that is missing, a CPC that is not landed, a contact of a face', () => {
  expect([...kindsOf(draft('ring, 5'))]).toEqual(expect.arrayContaining(['openCore', 'looseEnd', 'resistiveEnd', 'contact', 'pointContact', 'crossed', 'terminal', 'face', 'notLanded', 'missingSection', 'endNotOut']));
  expect(kindsOf(draft('radial, 5')).has('missingSection')).toBe(false);
});

test('lights have lamps that fail or are left in, and a switch that opens for good or was forgotten on', () => {
  expect([...kindsOf(draft('lights, 4, one switch'))]).toEqual(expect.arrayContaining(['loadFault', 'loadIn', 'switchOpen', 'switchOn']));
  // What may be plugged in at an outlet can be faulty too; a joint has nothing.
  expect(kindsOf(draft('radial, 4')).has('loadFault')).toBe(true);
});

test('a kind that the circuit cannot host leaves its share to the others, in their proportion', () => {
  const suspects = suspectsOf(draft('radial, 4'));
  const share = (kind: SuspectKind): number => suspects.filter((s) => s.kind === kind).reduce((sum, s) => sum + s.prior, 0);
  expect(share('looseEnd') / share('openCore')).toBeCloseTo((tradePriors.looseEnd ?? 0) / (tradePriors.openCore ?? 1), 9);
  expect(share('switchOpen')).toBe(0);
});

test('terminations outweigh buried cable', () => {
  const suspects = suspectsOf(draft('radial, 4'));
  const share = (kinds: SuspectKind[]): number => suspects.filter((s) => kinds.includes(s.kind)).reduce((sum, s) => sum + s.prior, 0);
  expect(share(['looseEnd', 'resistiveEnd', 'terminal', 'face'])).toBeGreaterThan(2 * share(['openCore', 'contact']));
});

test('a link that was made may have been left in, and nothing else may', () => {
  const map = draft('radial, 3');
  expect(suspectsOf(map).some((s) => s.kind === 'linkLeft')).toBe(false);
  const left = suspectsOf(map, tradePriors, [['p2:L', 'p2:E']]).filter((s) => s.kind === 'linkLeft');
  expect(left.map((s) => s.id)).toEqual(['link p2:L=p2:E']);
});

test('a hidden joint can be the fault, though nobody reads there', () => {
  const map = draft('radial, 3');
  const hidden: Installation = { ...map, points: map.points.map((p) => (p.id === 'p2' ? { ...p, kind: 'joint', reach: 'never', faces: [] } : p)) };
  expect(suspectsOf(hidden).some((s) => s.place === 'p2' && s.kind === 'looseEnd')).toBe(true);
  expect(suspectsOf(hidden).some((s) => s.place === 'p2' && s.kind === 'notLanded')).toBe(false);
});

describe('what each fault does to a radial of three', () => {
  const map = draft('radial, 3');
  test('an open core: nothing beyond, all as before on this side', () => {
    const s = find(map, 'open s2:N');
    expect(read(map, 'p0:N', 'p1:N', s, Infinity)).toBeCloseTo(read(map, 'p0:N', 'p1:N', null, 0), 9);
    expect(read(map, 'p0:N', 'p2:N', s, Infinity)).toBe(Infinity);
    expect(read(map, 'p0:L', 'p2:L', s, Infinity)).toBeCloseTo(read(map, 'p0:L', 'p2:L', null, 0), 9);
  });
  test('a resistive end adds its ohms to everything beyond it, and to nothing else', () => {
    const s = find(map, 'resistive s2@a:N');
    expect(read(map, 'p0:N', 'p3:N', s, 5) - read(map, 'p0:N', 'p3:N', null, 0)).toBeCloseTo(5, 3);
    expect(read(map, 'p0:N', 'p1:N', s, 5)).toBeCloseTo(read(map, 'p0:N', 'p1:N', null, 0), 9);
  });
  test('a contact half way: there and back over half of the cable, and the contact', () => {
    const s = find(map, 'contact s2:LE');
    // 13.5 m of line at 7.41 and of CPC at 12.1 mΩ/m, three terminations of each (3.5 mΩ), the way (2 mΩ), 2 Ω.
    expect(read(map, 'p0:L', 'p0:E', s, 2)).toBeCloseTo(13.5 * (0.00741 + 0.0121) + 6 * 0.0035 + 0.002 + 2, 3);
    expect(read(map, 'p0:L', 'p0:N', s, 2)).toBe(Infinity);
  });
  test('a crossing: line comes out as neutral behind it', () => {
    const s = find(map, 'crossed s2:LN');
    expect(read(map, 'p0:L', 'p3:L', s, 0)).toBe(Infinity);
    expect(read(map, 'p0:L', 'p3:N', s, 0)).toBeLessThan(0.5);
    expect(read(map, 'p0:E', 'p3:E', s, 0)).toBeLessThan(0.7);
  });
  test('a CPC twisted through but not landed: earth goes past, the outlet has none', () => {
    const s = find(map, 'notLanded p2:E');
    expect(read(map, 'p0:E', 'p3:E', s, 0)).toBeLessThan(0.7);
    expect(read(map, 'p0:E', 'p2/f1:E', s, 0)).toBe(Infinity);
  });
  test('a failed terminal: neither its face nor what lies beyond has a path', () => {
    const s = find(map, 'terminal p2:N');
    expect(read(map, 'p0:N', 'p2/f1:N', s, 0)).toBe(Infinity);
    expect(read(map, 'p0:N', 'p3:N', s, 0)).toBe(Infinity);
  });
  test('a failed face contact: only its own face is dead', () => {
    const s = find(map, 'face p2/f1:L');
    expect(read(map, 'p0:L', 'p2/f1:L', s, Infinity)).toBe(Infinity);
    expect(read(map, 'p0:L', 'p3/f1:L', s, Infinity)).toBeLessThan(0.5);
  });
});

test('a leg that is missing leaves a ring open end to end, on all three conductors', () => {
  const map = draft('ring, 4');
  const s = find(map, 'missing s3');
  const out = ['s1@a:L', 's5@b:L', 's1@a:E', 's5@b:E'];
  const state: WorkState = { ...untouched, out };
  expect(read(map, 's1@a:L', 's5@b:L', null, 0, state)).toBeLessThan(1);
  expect(read(map, 's1@a:L', 's5@b:L', s, 0, state)).toBe(Infinity);
  expect(read(map, 's1@a:E', 's5@b:E', s, 0, state)).toBe(Infinity);
});

test('a lamp that touches earth is seen while it is in, and gone with it', () => {
  const map = draft('lights, 3, one switch');
  const s = suspectsOf(map).find((x) => x.kind === 'loadFault' && x.conductors.join('') === 'LE');
  if (!s) throw new Error('no lamp to earth');
  const at = pointOfPlace(map, `${s.place.split('.')[0]}:L`);
  expect(read(map, `${at}:L`, `${at}:E`, s, 2000)).toBeCloseTo(2000, 0);
  expect(read(map, `${at}:L`, `${at}:E`, s, 2000, { ...untouched, loadsOut: [s.place] })).toBe(Infinity);
});

test('a switch keeps from the leads what is wrong on the line of a way that nobody has drawn: more of it on a way for lights, nothing of its neutral and earth', () => {
  const map = draft('3 ways, RCD on 1 to 3');
  const rated = (ratingA: number): Installation => ({ ...map, points: map.points.map((p) => ({ ...p, elements: p.elements.map((e) => (e.kind === 'way' && e.id === 'w2' ? { ...e, device: { kind: 'mcb', ratingA, curve: 'B', opens: 'line', residualMa: null } as const } : e)) })) });
  const share = (m: Installation, id: string): number => (find(m, id).beyond ?? []).reduce((sum, b) => sum + b.share, 0);
  expect(share(rated(6), 'contact c2:LE')).toBeGreaterThan(share(rated(32), 'contact c2:LE'));
  expect(share(rated(32), 'contact c2:LE')).toBeGreaterThan(0);
  expect(share(rated(6), 'contact c2:NE')).toBe(0);
  expect(share(draft('radial, 3'), 'contact p2:LE')).toBe(0);
});

test('pairs are each pair once', () => {
  expect(pairsOf(['a', 'b', 'c'])).toEqual([['a', 'b'], ['a', 'c'], ['b', 'c']]);
  expect(pairsOf(['a'])).toEqual([]);
});
