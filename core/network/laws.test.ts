import { draftCircuit, endKey, type Installation } from '../installation';
import { seededRandom } from '../numeric';
import { untouched, type WorkState } from '../workstate';
import { compileNetwork, copperOhmPerM, planPhysics, resistanceBetween, type Network } from '.';

const drafted = (phrase: string): Installation => {
  const r = draftCircuit(phrase);
  if (!r.ok) throw new Error(phrase);
  return r.value;
};
const noJoints = { ...planPhysics, terminationOhm: () => 0, wayOhm: 0 };
const read = (map: Installation, a: string, b: string, state: WorkState = untouched): number | 'open' => {
  const n = compileNetwork(map, state, [], noJoints);
  return resistanceBetween(n, n.index.get(a) ?? -1, n.index.get(b) ?? -1);
};

test('copper by IEC 60228: 2.5 mm² is 7.41 mΩ/m, flexible 1.5 mm² is 13.3', () => {
  expect(copperOhmPerM(2.5, false)).toBeCloseTo(0.00741, 8);
  expect(copperOhmPerM(1.5, true)).toBeCloseTo(0.0133, 8);
});

test('R1 + R2 of 10 m and 7 m of 2.5/1.5: 17 m × (7.41 + 12.1) mΩ/m', () => {
  const map = drafted('radial, 2');
  const state: WorkState = { ...untouched, links: [{ id: 'k', a: 'p2:L', b: 'p2:E' }] };
  expect(read(map, 'p0:W', 'p0:E', state)).toBeCloseTo(17 * (0.00741 + 0.0121) + planPhysics.linkOhm, 4);
});

test('every point of a cross-connected ring reads (r1 + r2) / 4 between L and N', () => {
  const map = drafted('ring, 6');
  const length = map.sections.reduce((s, x) => s + x.lengthM, 0);
  const first = map.sections[0];
  const last = map.sections.at(-1);
  if (!first || !last) throw new Error('no legs');
  const legs = [first, last].flatMap((s) => ['L', 'N'].map((c) => endKey(s.id, s === first ? 'a' : 'b', c)));
  const state: WorkState = { ...untouched, out: legs, links: [{ id: 'x', a: legs[0] ?? '', b: legs[3] ?? '' }, { id: 'y', a: legs[1] ?? '', b: legs[2] ?? '' }] };
  const n = compileNetwork(map, state, [], { ...noJoints, linkOhm: 0 });
  const expected = (2 * length * 0.00741) / 4;
  for (let p = 1; p <= 6; p++) expect(resistanceBetween(n, n.index.get(`p${p}:L`) ?? -1, n.index.get(`p${p}:N`) ?? -1)).toBeCloseTo(expected, 6);
});

test('insulation of a circuit in parallel: 200 GΩ·m over 31 m is 6.45 GΩ, less the points', () => {
  const map = drafted('radial, 4');
  const r = read(map, 'p0:W', 'p0:E');
  // L–E and, beside it, L–N with N–E in series: 1 / (1 + 1/2) of the pair alone.
  expect(r).toBeGreaterThan(0.97 * ((2e11 / 31) * (2 / 3)));
  expect(r).toBeLessThan(1.001 * ((2e11 / 31) * (2 / 3)));
});

test('a broken core leaves no path in metal; behind it anything is hidden', () => {
  const map = drafted('radial, 3');
  const n = compileNetwork(map, untouched, [{ kind: 'openCore', section: 's2', core: 'E' }, { kind: 'pointContact', point: 'p3', terminals: ['L', 'E'], ohm: 0.5 }], planPhysics);
  const at = (k: string): number => n.index.get(k) ?? -1;
  expect(resistanceBetween(n, at('p0:W'), at('p0:E'))).toBeGreaterThan(1e9);
  expect(resistanceBetween(n, at('p3:L'), at('p3:E'))).toBeCloseTo(0.5, 3);
});

/** A slow plain solver of another design: nodal equations, dense elimination with full pivoting, in ohms. */
function slowResistance(n: Network, a: number, b: number): number {
  const size = n.nodes.length;
  const m = Array.from({ length: size }, () => new Array<number>(size + 1).fill(0));
  for (const { a: i, b: j, ohm } of n.branches) {
    const g = 1 / ohm;
    for (const [p, q] of [[i, j], [j, i]] as const) {
      (m[p] as number[])[p] = ((m[p] as number[])[p] as number) + g;
      (m[p] as number[])[q] = ((m[p] as number[])[q] as number) - g;
    }
  }
  m[b] = new Array<number>(size + 1).fill(0);
  (m[b])[b] = 1;
  (m[a] as number[])[size] = 1;
  for (let k = 0; k < size; k++) {
    let pivot = k;
    for (let i = k + 1; i < size; i++) if (Math.abs((m[i] as number[])[k] as number) > Math.abs((m[pivot] as number[])[k] as number)) pivot = i;
    [m[k], m[pivot]] = [m[pivot] as number[], m[k] as number[]];
    for (let i = 0; i < size; i++) {
      if (i === k) continue;
      const f = ((m[i] as number[])[k] as number) / ((m[k] as number[])[k] as number);
      if (f !== 0) for (let j = k; j <= size; j++) (m[i] as number[])[j] = ((m[i] as number[])[j] as number) - f * ((m[k] as number[])[j] as number);
    }
  }
  return ((m[a] as number[])[size] as number) / ((m[a] as number[])[a] as number);
}

test('star–mesh agrees with a plain solver on seeded random networks of one decade', () => {
  for (let seed = 1; seed <= 30; seed++) {
    const random = seededRandom(seed);
    const size = random.integer(3, 12);
    const branches = Array.from({ length: size * 2 }, (_, i) => ({ a: i < size - 1 ? i : random.integer(0, size - 1), b: i < size - 1 ? i + 1 : random.integer(0, size - 1), ohm: random.uniform(1, 10), part: '' })).filter((x) => x.a !== x.b);
    const network: Network = { nodes: Array.from({ length: size }, (_, i) => `n${i}`), index: new Map(), branches };
    const got = resistanceBetween(network, 0, size - 1);
    const slow = slowResistance(network, 0, size - 1);
    if (got === 'open' || Math.abs(got / slow - 1) > 1e-9) throw new Error(`seed ${seed}: ${got} against ${slow}`);
  }
});

test('triangle: of three terminals each pair reads at most the sum of the other two', () => {
  const map = drafted('ring, 5, spur at 2');
  const n = compileNetwork(map, untouched, [{ kind: 'contact', section: 's2', cores: ['L', 'N'], fraction: 0.3, ohm: 4 }], planPhysics);
  const random = seededRandom(7);
  for (let i = 0; i < 60; i++) {
    const [x, y, z] = [0, 0, 0].map(() => random.integer(0, n.nodes.length - 1)) as [number, number, number];
    const [xy, yz, xz] = [resistanceBetween(n, x, y), resistanceBetween(n, y, z), resistanceBetween(n, x, z)];
    if (xy === 'open' || yz === 'open' || xz === 'open') continue;
    expect(xz).toBeLessThanOrEqual((xy + yz) * (1 + 1e-9));
  }
});
