import { readdirSync, readFileSync, statSync } from 'node:fs';
import { join } from 'node:path';
import { suspectsOf } from '../faults';
import { endsAtPoint } from '../installation';
import { draft } from '../installation/fixtures/drafted';
import { seededRandom } from '../numeric';
import { potteryScenarios } from '../simulation';
import { displayOf, meter } from '../tester';
import { actionWords, endsWords, expectedWords, explainsText, issueText, knownIssueCodes, leadWords, outcomeRange, probeWords, sectionName, spotName, suspectMark, suspectSize, suspectTitle, verdictTitle } from '.';

const sources = (folder: string): string[] => readdirSync(folder).flatMap((f) => {
  const path = join(folder, f);
  return statSync(path).isDirectory() ? sources(path) : f.endsWith('.ts') && !f.endsWith('.test.ts') ? [path] : [];
});

test('every problem that the core can raise has words with a way out', () => {
  const raised = new Set(sources(join(__dirname, '..')).flatMap((f) => [...readFileSync(f, 'utf8').matchAll(/\bissue\('([a-zA-Z.]+)'/g)].map((m) => m[1] ?? '')));
  const cli = [...raised].filter((c) => c.startsWith('cli.') || c.startsWith('flag.'));
  const missing = [...raised].filter((c) => !knownIssueCodes.includes(c) && !cli.includes(c));
  expect(raised.size).toBeGreaterThan(25);
  expect(missing).toEqual([]);
});

test('words for problems carry no code, no exclamation mark and no undefined', () => {
  for (const code of knownIssueCodes) {
    const text = issueText({ code, path: [], figures: { phrase: 'x', names: 3, figure: 0, ohm: 0, a: 'L', b: 'L', watt: 0, minutes: 0, ways: 2, way: 1, part: 'x', points: 1, at: 1, most: 1, name: 'x', lengthM: 1, shape: 'ring', sections: 3, boards: 0, terminal: 'x', text: 'x', unit: 'Ω', version: 2, known: 1, why: 'x', place: 'x', cables: 1 } });
    expect(text).not.toMatch(/undefined|!|\{/);
    expect(text.length).toBeGreaterThan(12);
  }
});

const [ring, hood] = potteryScenarios();
if (!ring || !hood) throw new Error('no scenarios');

test('every suspect of a map has a title without ids', () => {
  for (const { map } of [ring, hood])
    for (const s of suspectsOf(map)) {
      expect(suspectTitle(map, s)).not.toMatch(/\bp\d+\b|\bs\d+@|undefined/);
      expect(suspectMark(s)).not.toMatch(/undefined/);
    }
});

test('a verdict names an end only when the readings tell it from its neighbour', () => {
  const { map } = ring;
  const ends = suspectsOf(map).filter((s) => s.kind === 'resistiveEnd' && s.conductors[0] === 'N');
  const [a, b] = ends.flatMap((x) => ends.filter((y) => y.place === x.place && y.id !== x.id).map((y) => [x, y] as const))[0] ?? [];
  if (!a || !b) throw new Error('no two ends at one place');
  const seen = (s: typeof a, share: number): typeof a & { share: number } => ({ ...s, share });
  expect(verdictTitle(map, [seen(a, 0.97), seen(b, 0.02)])).toBe(suspectTitle(map, a));
  expect(verdictTitle(map, [seen(a, 0.5), seen(b, 0.48)])).toMatch(/^N end poor in .*, either cable$/);
  expect(verdictTitle(map, [seen(a, 0.5), seen(b, 0.48)])).not.toContain('towards');
});

test('places are said as people say them', () => {
  const { map } = ring;
  const first = map.sections[0];
  if (!first) throw new Error('no section');
  expect(sectionName(map, first)).toBe('Board, leg 1 to Wheel 1');
  expect(spotName(map, 's1@a:L')).toBe('Board, leg 1');
  expect(spotName(map, 's2@b:N')).toBe('Wheel 2, end to Wheel 1');
  expect(endsWords(map, ['s2@a:L', 's2@a:N', 's2@a:E'])).toBe('L, N and E to Wheel 2');
  expect(actionWords(map, { do: 'open', point: 'p4' })).toBe('Open Bench');
});

test('two leads on one board are never called the same: the bar is told from the way that leaves it', () => {
  const maps = [draft('radial, 3'), draft('ring, 4'), draft('lights, 3, two-way switch')];
  for (const map of maps)
    for (const board of map.points.filter((p) => p.kind === 'board')) {
      const words = board.terminals.map((t) => leadWords(map, `${board.id}:${t.id}`));
      expect(new Set(words).size).toBe(words.length);
    }
  const [radial] = maps;
  if (!radial) throw new Error('no radial');
  expect(['p0:L', 'p0:W', 'p0:N', 's1@a:L'].map((k) => leadWords(radial, k))).toEqual(['L bar', 'L of the way', 'N', 'L']);
});

test('two leads at one point are said to be across it', () => {
  const { map } = ring;
  const line = (from: string, to: string): string => probeWords(map, { fn: 'continuity', from: [from], to: [to] }).line;
  expect(line('s2@b:N', 's3@a:N')).toMatch(/^N across Wheel 2, end to Wheel 1 and end to /);
  expect(line('s2@b:N', 'p2:N')).toBe('N across Wheel 2, end to Wheel 1 and its terminal');
  expect(line('s1@a:L', 'p2:L')).toBe('L, Board, leg 1 to Wheel 2');
});

test('leads on both ends of one conductor are said to be from end to end', () => {
  const stair = draft('lights, 3, two-way switch');
  const section = stair.sections.find((x) => x.cores.some((c) => c.role === 'T2'))?.id ?? '';
  const line = (a: string, b: string): string => probeWords(stair, { fn: 'continuity', from: [a], to: [b] }).line;
  expect(line(`${section}@a:T2`, `${section}@b:T2`)).toBe('strapper 2 from end to end, Switch 1 to Switch 2');
  expect(line(`${section}@b:T2`, `${section}@a:T2`)).toBe('strapper 2 from end to end, Switch 2 to Switch 1');
  expect(line(`${section}@a:T1`, `${section}@b:T2`)).toMatch(/^strapper 1–strapper 2, Switch 1/);
});

test('outcomes are said with their unit, off scale in words', () => {
  const outcome = { low: 0.3, high: 0.52, above: false, places: ['x'], suspects: [], count: 1, share: 1 };
  expect(outcomeRange('continuity', outcome)).toBe('0.30 to 0.52 Ω');
  expect(outcomeRange('continuity', { ...outcome, low: 0, high: 0.08 })).toBe('below 0.08 Ω');
  expect(outcomeRange('continuity', { ...outcome, above: true })).toBe('no path');
  expect(outcomeRange('insulation', { ...outcome, above: true })).toBe('> 999 MΩ');
  expect(outcomeRange('insulation', { ...outcome, low: 2e5, high: 4e5 })).toBe('0.20 to 0.40 MΩ');
  expect(outcomeRange('continuity', { ...outcome, count: 0 })).toBe('else');
});

test('a figure that the meter shows falls by the words of the rows into the row that it falls into, and into no other', () => {
  const random = seededRandom(4);
  const ohms = (text: string, unit: string): number => Number(text) * ({ 'MΩ': 1e6, 'kΩ': 1e3, 'Ω': 1 }[unit] ?? NaN);
  // "below 0.02 MΩ", "0.02 to 0.09 MΩ", "94 Ω to 1.20 kΩ", "0.05 Ω", "above 3.00 MΩ".
  const holds = (words: string, ohm: number): boolean => {
    const one = /^(below|above)? ?([\d.]+) (\S+)$/.exec(words);
    const two = /^([\d.]+)(?: (\S+))? to ([\d.]+) (\S+)$/.exec(words);
    const [least, most] = two ? [ohms(two[1] ?? '', two[2] ?? two[4] ?? ''), ohms(two[3] ?? '', two[4] ?? '')] : [ohms(one?.[2] ?? '', one?.[3] ?? ''), ohms(one?.[2] ?? '', one?.[3] ?? '')];
    const near = 1e-9 * ohm + 1e-9;
    return one?.[1] === 'below' ? ohm < most - near : ohm >= least - near && (one?.[1] === 'above' || ohm <= most + near);
  };
  let looked = 0;
  for (let i = 0; i < 4000; i++) {
    const fn = random.pick(['continuity', 'insulation'] as const);
    const least = fn === 'insulation' ? 4 : -2;
    const cuts = [0, ...[1, 2].map(() => 10 ** random.uniform(least, least + (fn === 'insulation' ? 3 : 2.9))).sort((a, b) => a - b), Infinity];
    if ((cuts[2] as number) < (cuts[1] as number) * 1.3 + meter[fn].digitOhm(0) * 3) continue;
    const rows = cuts.slice(1).map((high, k) => ({ low: cuts[k] as number, high, above: false, places: ['x'], suspects: [], count: 1, share: 1 }));
    const shown = displayOf(fn, 10 ** random.uniform(least, least + (fn === 'insulation' ? 3 : 2.9)));
    // Above a hundred ohms words have three digits, the meter four.
    if (!('ohm' in shown) || rows.some((r) => Math.abs(r.high - shown.ohm) < 0.006 * shown.ohm)) continue;
    const its = rows.findIndex((r) => shown.ohm >= r.low && shown.ohm < r.high);
    expect({ shown, words: rows.map((r) => outcomeRange(fn, r)), in: rows.map((r) => holds(outcomeRange(fn, r), shown.ohm)) }).toMatchObject({ in: rows.map((_, k) => k === its) });
    looked++;
  }
  expect(looked).toBeGreaterThan(2000);
});

test('what lies between line and neutral is also told as the load that would read so; what no appliance has is not', () => {
  const map = draft('radial, 3');
  const size = (kind: 'loadIn' | 'pointContact', conductors: string[], ohm: number): string =>
    suspectSize(map, { id: 'x', kind, place: 'p2', conductors, ohm, span: [ohm, ohm], metres: null });
  // 230² ÷ 26.45 = 2000.
  expect(size('pointContact', ['L', 'N'], 26.45)).toContain('as a load of 2.0 kW left in would read');
  expect(size('loadIn', ['L', 'N'], 882)).toContain('a load of 60 W if it heats');
  expect(size('pointContact', ['L', 'N'], 0.3)).not.toContain('load');
  expect(size('pointContact', ['L', 'E'], 26.45)).not.toContain('load');
});

test('of a place whose conductors or kind are not told no more is said than is so', () => {
  const map = draft('radial, 3');
  const s = suspectsOf(map).find((x) => x.id === 'contact p2:LE');
  if (!s) throw new Error('suspect');
  const seen = [{ ...s, share: 0.5 }, { ...s, id: 'contact p2:NE', conductors: ['N', 'E'], share: 0.48 }];
  const open = { open: [] };
  expect(verdictTitle(map, seen, { kind: 'pointContact', conductors: null, ...open })).not.toMatch(/\b[LNE] touches|–/);
  expect(verdictTitle(map, seen, { kind: null, conductors: null, ...open })).toContain('something is wrong');
  expect(verdictTitle(map, seen, { kind: null, conductors: ['E'], ...open })).toMatch(/^E: /);
  expect(verdictTitle(map, seen, { kind: 'borrowed', conductors: null, ...open })).toContain('another circuit');
  expect(verdictTitle(map, seen, { kind: 'pointContact', conductors: ['L', 'E'], ...open })).toBe(suspectTitle(map, s));
});

test('a row that any reading falls into says so, and a load that is in is said as that: whether the record has it so is another matter', () => {
  expect(outcomeRange('continuity', { low: 0, high: 1e9, above: false, places: [], suspects: [], count: 4, share: 0.99 })).toBe('any figure');
  const board = draft('4 ways');
  const s = suspectsOf(board).find((x) => x.id === 'in c2.loads');
  expect(s && suspectTitle(board, s)).toMatch(/^A load is in on /);
  const circuit = draft('radial, 3');
  const t = suspectsOf(circuit).find((x) => x.kind === 'loadIn');
  expect(t && suspectTitle(circuit, t)).toMatch(/^A load is in at /);
});

test('a neutral on earth is told without amperes: what drives it nobody has told', () => {
  const map = draft('radial, 3');
  for (const code of ['explains.rcdLine', 'explains.rcdNeutral', 'explains.rcdNo']) expect(explainsText(map, { says: 'yes', share: 1, code, points: [], figure: null, hangs: 'size' })).not.toMatch(/\d/);
  expect(explainsText(map, { says: 'yes', share: 1, code: 'explains.rcdLine', points: [], figure: 46, hangs: 'size' })).toContain('46.0 mA');
});

test.each(['lights, 3, one switch', 'radial, 4', 'ring, 5', 'tree, 3', '4 ways, RCD on 1 to 4'])('%s: an end and the terminal that it comes out of are two places, and so are two ends of one core', (phrase) => {
  const map = draft(phrase);
  for (const p of map.points)
    for (const t of p.terminals) {
      const here = [`${p.id}:${t.id}`, ...endsAtPoint(map, p.id).filter((e) => e.terminal === t.id).map((e) => e.key)];
      const names = here.map((k) => spotName(map, k));
      expect(names.filter((n, i) => names.indexOf(n) !== i)).toEqual([]);
    }
});

test('both leads at one outlet, on its face and on the terminal behind it, are told apart', () => {
  const map = draft('radial, 4');
  for (const [from, to] of [['p4/f1:E', 'p4:E'], ['p4:E', 'p4/f1:E']] as const) {
    const said = probeWords(map, { fn: 'continuity', from: [from], to: [to] });
    expect(said.from).not.toBe(said.to);
    expect([said.from, said.to].filter((x) => x.includes('front of Outlet 4'))).toHaveLength(1);
    expect(said.line).toBe('E, front of Outlet 4 to the terminal behind it');
  }
});

test('an expected figure is said as the meter shows it; what sound insulation shows at least is said to one figure, never above it', () => {
  expect(expectedWords('continuity', { ohm: 0.4213, atLeast: false })).toBe('0.42 Ω');
  expect(expectedWords('insulation', { ohm: 3e6, atLeast: true })).toBe('above 3 MΩ');
  expect(expectedWords('insulation', { ohm: 2.99e6, atLeast: true })).toBe('above 2 MΩ');
  expect(expectedWords('insulation', { ohm: 2.38e5, atLeast: true })).toBe('above 0.2 MΩ');
  expect(expectedWords('insulation', { ohm: 3e5, atLeast: true })).toBe('above 0.3 MΩ');
});
