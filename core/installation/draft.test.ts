import { checkInstallation, draftCircuit, editMap, endsAtPoint, MOST_POINTS, type Installation, type MapEdit } from '.';
import { seededRandom } from '../numeric';

const draft = (phrase: string): Installation => {
  const r = draftCircuit(phrase);
  if (!r.ok) throw new Error(`${phrase}: ${JSON.stringify(r.issues)}`);
  return r.value;
};
const edited = (map: Installation, e: MapEdit): Installation => {
  const r = editMap(map, e);
  if (!r.ok) throw new Error(JSON.stringify(r.issues));
  return r.value;
};
const codeOf = (map: Installation, e: MapEdit): string => {
  const r = editMap(map, e);
  return r.ok ? '' : (r.issues[0]?.code ?? '');
};
const names = (map: Installation): string[] => map.points.map((p) => p.name);
/** The order of the points along the trunk, walked from the board. */
function walk(map: Installation): string[] {
  const seen = ['p0'];
  for (let here = 'p0'; ; ) {
    const next = endsAtPoint(map, here).map((e) => e.section[e.side === 'a' ? 'b' : 'a']).find((p) => !seen.includes(p));
    if (next === undefined) return seen;
    seen.push(next);
    here = next;
  }
}

test.each([
  ['ring, 9', 9, 10], ['Ring 9', 9, 10], ['radial, 5', 5, 5], ['lights, 6, one switch', 7, 7], ['lights 6 and a switch at 3', 7, 7], ['lighting, 4', 4, 4],
  ['tree, 4, branch 2 at 3', 6, 6], ['tree, 4; branch of 2 from 1; spur at 4', 7, 7], ['ring, 8, spur at 4', 9, 10],
])('“%s” is %i points and %i cables', (phrase, points, sections) => {
  const map = draft(phrase);
  expect([map.points.length - 1, map.sections.length]).toEqual([points, sections]);
  expect(checkInstallation(map)).toEqual([]);
});

test('every point but the board is joined to it, whatever was asked', () => {
  for (let seed = 1; seed <= 60; seed++) {
    const random = seededRandom(seed);
    const count = random.integer(2, 12);
    const shape = random.pick(['ring', 'radial', 'lights', 'tree']);
    const branches = Array.from({ length: random.integer(0, 3) }, () => `branch ${random.integer(1, 3)} at ${random.integer(1, count)}`);
    const map = draft([`${shape}, ${count}`, ...branches].join(', '));
    const reached = new Set(['p0']);
    for (let grew = true; grew; ) {
      grew = false;
      for (const s of map.sections) if (reached.has(s.a) !== reached.has(s.b)) grew = Boolean(reached.add(s.a).add(s.b));
    }
    expect(reached.size).toBe(map.points.length);
    expect(map.sections.length).toBe(map.points.length - (shape === 'ring' ? 0 : 1));
    expect(new Set(names(map)).size).toBe(map.points.length);
  }
});

test('lengths and order are guesses until someone says otherwise', () => {
  const map = draft('radial, 3');
  expect(map.orderKnown).toBe(false);
  expect(map.sections.every((s) => !s.lengthKnown && s.lengthM > 0)).toBe(true);
});

test('lights are wired in 1.5 mm² with a 1.0 CPC, outlets in 2.5 with 1.5', () => {
  expect(draft('lights, 3').sections[0]?.cores.map((c) => c.csaMm2)).toEqual([1.5, 1.5, 1]);
  expect(draft('radial, 3').sections[0]?.cores.map((c) => c.csaMm2)).toEqual([2.5, 2.5, 1.5]);
});

test('as many points as one can work on, and not one more', () => {
  expect(draftCircuit(`radial, ${MOST_POINTS}`).ok).toBe(true);
  expect(draftCircuit(`radial, ${MOST_POINTS - 1}, branch 2 at 1`).ok).toBe(false);
  expect(draftCircuit('ring, 1').ok).toBe(false);
  expect(draftCircuit('ring, 2').ok).toBe(true);
  expect(draftCircuit('radial, 0').ok).toBe(false);
});

test.each(['', '   ', ',,,', 'ring, nine', '9', 'ring, 9, 9, 9', 'ring, -4', 'lights, 3, switch at 7', '🙂', 'ring, 3, spur'])('“%s” is refused with a reason, and nothing throws', (phrase) => {
  const r = draftCircuit(phrase);
  expect(r.ok).toBe(false);
  expect(r.ok ? '' : r.issues[0]?.code).toMatch(/^draft\./);
});

describe('edits', () => {
  test('renaming trims, keeps ids, and takes no name that is there in other letters', () => {
    const map = edited(draft('radial, 3'), { edit: 'renamePoint', point: 'p2', name: '  Sink wall ' });
    expect(map.points[2]).toMatchObject({ id: 'p2', name: 'Sink wall' });
    expect(codeOf(map, { edit: 'renamePoint', point: 'p1', name: 'SINK WALL' })).toBe('map.sameName');
    expect(codeOf(map, { edit: 'renamePoint', point: 'p1', name: ' ' })).toBe('map.emptyName');
  });
  test('changing places twice is as if nothing was changed', () => {
    const map = draft('ring, 5');
    const once = edited(map, { edit: 'swapPoints', first: 'p2', second: 'p3' });
    expect(walk(once).slice(0, 5)).toEqual(['p0', 'p1', 'p3', 'p2', 'p4']);
    const twice = edited(once, { edit: 'swapPoints', first: 'p2', second: 'p3' });
    expect(walk(twice)).toEqual(walk(map));
    expect(twice.sections).toEqual(map.sections);
  });
  test('a switch that changes places with a light still switches the lights behind it', () => {
    const map = draft('lights, 3, one switch');
    const [, sw, light] = walk(map);
    const swapped = edited(map, { edit: 'swapPoints', first: sw ?? '', second: light ?? '' });
    expect(checkInstallation(swapped)).toEqual([]);
  });
  test('a branch gets a name of its own, and its cable the size of the one it leaves', () => {
    const map = edited(draft('lights, 3'), { edit: 'addBranch', point: 'p2', kind: 'lamp', name: 'Light 1' });
    expect(new Set(names(map)).size).toBe(5);
    expect(map.sections.at(-1)?.cores[0]?.csaMm2).toBe(1.5);
  });
  test('a kind changes faces and loads; terminals with conductors in them stay', () => {
    const map = draft('lights, 3, one switch');
    const sw = map.points.find((p) => p.kind === 'switch')?.id ?? '';
    const joint = edited(map, { edit: 'setKind', point: sw, kind: 'joint' }).points.find((p) => p.id === sw);
    expect(joint?.terminals.map((t) => t.id)).toContain('SL');
    expect(checkInstallation(edited(map, { edit: 'setKind', point: sw, kind: 'joint' }))).toEqual([]);
    expect(edited(draft('radial, 2'), { edit: 'setKind', point: 'p1', kind: 'lamp' }).points[1]).toMatchObject({ reach: 'opened', faces: [] });
  });
  test('one size for all goes to every line and neutral, and the CPC beside it', () => {
    const map = edited(draft('radial, 3'), { edit: 'setCsaAll', csaMm2: 4 });
    for (const s of map.sections) expect(s.cores.map((c) => c.csaMm2)).toEqual([4, 4, 1.5]);
  });
  test('a junction of three cables is not taken out from under its branches', () => {
    expect(codeOf(draft('tree, 3, branch 1 at 2'), { edit: 'removePoint', point: 'p2' })).toBe('map.junction');
  });
  test('a ring keeps two points, a radial one', () => {
    expect(codeOf(draft('ring, 2'), { edit: 'removePoint', point: 'p1' })).toBe('map.tooFew');
    expect(codeOf(draft('radial, 1'), { edit: 'removePoint', point: 'p1' })).toBe('map.tooFew');
  });
  test('the last point of a radial goes with its cable', () => {
    const map = edited(draft('radial, 3'), { edit: 'removePoint', point: 'p3' });
    expect([map.points.length, map.sections.length]).toEqual([3, 2]);
  });
  test('an edit never changes the map it was given', () => {
    const map = draft('ring, 4, spur at 2');
    const before = JSON.stringify(map);
    for (const e of [{ edit: 'setLength', section: 's1', lengthM: 3, known: true }, { edit: 'insertPoint', section: 's2', kind: 'joint', name: '' }, { edit: 'swapPoints', first: 'p1', second: 'p2' }, { edit: 'removePoint', point: 'p3' }, { edit: 'setCsaAll', csaMm2: 6 }] as MapEdit[]) editMap(map, e);
    expect(JSON.stringify(map)).toBe(before);
  });
});
