import { allEnds, checkInstallation, draftCircuit, editMap, MOST_ON_MAP, placeExists, type Installation, type MapEdit } from '.';
import { seededRandom } from '../numeric';

const draft = (phrase: string): Installation => {
  const r = draftCircuit(phrase);
  if (!r.ok) throw new Error(JSON.stringify(r.issues));
  return r.value;
};
const edited = (map: Installation, e: MapEdit): Installation => {
  const r = editMap(map, e);
  if (!r.ok) throw new Error(JSON.stringify(r.issues));
  return r.value;
};
const codes = (phrase: string): string[] => {
  const r = draftCircuit(phrase);
  return r.ok ? [] : r.issues.map((i) => i.code);
};

test('“ring, 9” is a board, nine outlets and ten cables that come back', () => {
  const map = draft('ring, 9');
  expect(map.points).toHaveLength(10);
  expect(map.sections).toHaveLength(10);
  expect(map.sections.at(-1)?.b).toBe('p0');
});

test('“lights, 6, one switch” switches the line before the first light', () => {
  const map = draft('lights, 6, one switch');
  expect(map.points.filter((p) => p.kind === 'lamp')).toHaveLength(6);
  expect(map.sections[1]?.cores.find((c) => c.id === 'L')?.a).toBe('SL');
});

test('a branch leaves the point it was asked at', () => {
  const map = draft('tree, 4, branch 2 at 3');
  expect(map.points).toHaveLength(7);
  expect(map.sections.filter((s) => s.a === 'p3')).toHaveLength(2);
});

test.each([['ring, 1', 'draft.ringTooSmall'], ['radial', 'draft.count'], ['star, 4', 'draft.shape'], ['ring, 4, spur at 9', 'draft.noSuchPoint'], ['radial, 500', 'draft.tooMany'], ['ring, 4, tower', 'draft.part']])('“%s” is answered with %s', (phrase, code) => {
  expect(codes(phrase)).toContain(code);
});

test('a point put into a cable shares its length, and the outer ends keep their names', () => {
  const map = draft('radial, 3');
  const before = allEnds(map).filter((e) => e.section.id === 's2').map((e) => e.key);
  const after = edited(map, { edit: 'insertPoint', section: 's2', kind: 'joint', name: 'Hidden' });
  for (const key of before) expect(placeExists(after, key)).toBe(true);
  const halves = after.sections.filter((s) => s.a === 'p1' || s.b === 'p2');
  expect(halves.reduce((sum, s) => sum + s.lengthM, 0)).toBeCloseTo(7, 9);
  const home = allEnds(after).find((e) => e.key === before.at(-1));
  expect(home?.point).toBe('p2');
});

test('taking the point out again leaves one cable of the old length with its old ends', () => {
  const map = draft('radial, 3');
  const put = edited(map, { edit: 'insertPoint', section: 's2', kind: 'joint', name: 'Hidden' });
  const joint = put.points.find((p) => p.name === 'Hidden');
  const back = edited(put, { edit: 'removePoint', point: joint?.id ?? '' });
  expect(allEnds(back).map((e) => e.key).sort()).toEqual(allEnds(map).map((e) => e.key).sort());
  expect(back.sections.find((s) => s.id === 's2')?.lengthM).toBeCloseTo(7, 9);
});

test.each([
  [{ edit: 'setLength', section: 's1', lengthM: 0, known: true }, 'map.lengthZero'],
  [{ edit: 'setLength', section: 's1', lengthM: 10000, known: true }, 'map.lengthHuge'],
  [{ edit: 'setLength', section: 's1', lengthM: NaN, known: true }, 'map.lengthZero'],
  [{ edit: 'setLength', section: 's1', lengthM: 1e-300, known: true }, 'map.lengthZero'],
  [{ edit: 'setLoad', point: 'p1', watt: 1e-308, loadClass: 'resistive' }, 'map.watt'],
  [{ edit: 'setMetal', point: 'p1', ohm: 1e-300 }, 'map.metal'],
  [{ edit: 'setSupply', supply: { arrangement: 'TT', phases: 1, earthOhm: 1e-300 } }, 'supply.figure'],
  [{ edit: 'renamePoint', point: 'p1', name: 'Outlet 2' }, 'map.sameName'],
  [{ edit: 'removePoint', point: 'p0' }, 'map.boardStays'],
  [{ edit: 'removePoint', point: 'p99' }, 'map.noPoint'],
] as const)('%o is refused as %s', (e, code) => {
  const r = editMap(draft('radial, 3'), e);
  expect(r.ok ? '' : r.issues[0]?.code).toBe(code);
});

test('what is more than one map carries is refused with the number, and the map stays as it was', () => {
  const full = Array.from({ length: 24 }, (_, i) => `w${i + 1}`).reduce<{ map: Installation; refused: string[] }>(({ map, refused }, way) => {
    const r = editMap(map, { edit: 'drawCircuit', way, phrase: 'radial, 9' });
    return r.ok ? { map: r.value, refused } : { map, refused: [...refused, `${r.issues[0]?.code} ${r.issues[0]?.figures?.points}`] };
  }, { map: draft('24 ways'), refused: [] });
  expect(full.map.points.length).toBeLessThanOrEqual(MOST_ON_MAP.points);
  expect(checkInstallation(full.map)).toEqual([]);
  expect(full.refused[0]).toMatch(/^map\.tooManyPoints 1\d\d$/);
  const file = { ...full.map, points: [...full.map.points, ...full.map.points.map((p) => ({ ...p, id: `${p.id}x`, name: `${p.name} x` }))] };
  expect(checkInstallation(file)[0]?.code).toBe('map.tooManyPoints');
});

test('whatever is edited in whatever order, the map stays sound and no id is used twice', () => {
  for (let seed = 1; seed <= 40; seed++) {
    const random = seededRandom(seed);
    let map = draft(random.pick(['ring, 5, spur at 2', 'radial, 4', 'lights, 4, one switch', 'tree, 3, branch 2 at 2']));
    for (let i = 0; i < 12; i++) {
      const point = random.pick(map.points).id;
      const e = random.pick<MapEdit>([
        { edit: 'insertPoint', section: random.pick(map.sections).id, kind: random.pick(['joint', 'outlet', 'switch']), name: 'X' },
        { edit: 'addBranch', point, kind: 'outlet', name: 'Y' },
        { edit: 'removePoint', point },
        { edit: 'swapPoints', first: point, second: random.pick(map.points).id },
        { edit: 'setKind', point, kind: random.pick(['lamp', 'outlet', 'fixed']) },
      ]);
      if (e.edit === 'setKind' && map.points.find((p) => p.id === e.point)?.kind === 'board') continue;
      const r = editMap(map, e);
      if (!r.ok) continue;
      map = r.value;
      const problems = checkInstallation(map);
      const ends = allEnds(map).map((x) => x.key);
      if (problems.length || new Set(ends).size !== ends.length) throw new Error(`seed ${seed} after ${JSON.stringify(e)}: ${JSON.stringify(problems)} ${ends.join()}`);
    }
  }
});
