import { rootIn, type Forest } from './forest';
import { factored, squareOverFactored } from './factor';
import type { Skeleton } from './skeleton';

/** Chords whose loops share metal, directly or through each other: what one of them carries moves only these. */
interface Mesh {
  /** By tree branch (the node that it leads up from): the chords whose loops run through it. */
  readonly through: ReadonlyMap<number, Loops>;
  readonly chords: number;
  /** The ohms of its loops, factored. */
  readonly factor: Float64Array;
}

/** Chords by their number within the mesh, and which way the loop of each runs through a branch: 1 or -1. */
interface Loops { readonly chords: number[]; readonly signs: number[] }

const NO_MESH = -1;

/** The loops of all pieces of metal, for asking ohms between two nodes without solving their piece. */
export class Meshes {
  /** By node, the mesh that its branch up the tree is part of, by its number; `NO_MESH` for a bridge. */
  private readonly of: Int32Array;
  private readonly chordsOf = new Map<number, number[]>();
  private readonly solved = new Map<number, Mesh>();

  constructor(private readonly metal: Skeleton['metal'], private readonly forest: Forest) {
    const { up, isTree } = forest;
    const sets = Int32Array.from(up, (_, v) => v);
    const covered = new Uint8Array(up.length);
    const chords: { readonly branch: number; readonly on: number }[] = [];
    for (let i = 0; i < metal.ohm.length; i++) {
      if (isTree[i] === 1 || metal.ohm[i] === Infinity || metal.a[i] === metal.b[i]) continue;
      let on = NO_MESH;
      this.walk(metal.a[i] as number, metal.b[i] as number, (v) => {
        covered[v] = 1;
        if (on === NO_MESH) on = v;
        else sets[rootIn(sets, v)] = rootIn(sets, on);
      });
      chords.push({ branch: i, on });
    }
    this.of = Int32Array.from(up, (_, v) => (covered[v] === 1 ? rootIn(sets, v) : NO_MESH));
    for (const { branch, on } of chords) {
      const mesh = this.of[on] as number;
      const list = this.chordsOf.get(mesh);
      if (list) list.push(branch);
      else this.chordsOf.set(mesh, [branch]);
    }
  }

  /** Ohms between two nodes of a piece: along the tree, less what the loops on the way take over. */
  ohmAcross(a: number, b: number): number {
    let ohm = 0;
    const emfs = new Map<number, Float64Array>();
    this.walk(a, b, (v, sign) => {
      const own = this.metal.ohm[this.forest.upBranch[v] as number] as number;
      ohm += own;
      const id = this.of[v] as number;
      if (id === NO_MESH) return;
      const { through, chords } = this.mesh(id);
      let emf = emfs.get(id);
      if (!emf) emfs.set(id, (emf = new Float64Array(chords)));
      const loops = through.get(v) as Loops;
      for (const [i, chord] of loops.chords.entries()) emf[chord] = (emf[chord] as number) + sign * own * (loops.signs[i] as number);
    });
    for (const [id, emf] of emfs) {
      const { factor, chords } = this.mesh(id);
      ohm -= squareOverFactored(factor, emf, chords);
    }
    return ohm;
  }

  private mesh(id: number): Mesh {
    let mesh = this.solved.get(id);
    if (!mesh) this.solved.set(id, (mesh = this.solve(this.chordsOf.get(id) as number[])));
    return mesh;
  }

  private solve(branches: readonly number[]): Mesh {
    const { metal, forest } = this;
    const n = branches.length;
    const through = new Map<number, Loops>();
    for (const [i, branch] of branches.entries())
      this.walk(metal.a[branch] as number, metal.b[branch] as number, (v, sign) => {
        let loops = through.get(v);
        if (!loops) through.set(v, (loops = { chords: [], signs: [] }));
        loops.chords.push(i);
        loops.signs.push(sign);
      });
    const ohms = new Float64Array(n * n);
    for (const [i, branch] of branches.entries()) ohms[i * n + i] = metal.ohm[branch] as number;
    for (const [v, { chords, signs }] of through) {
      const own = metal.ohm[forest.upBranch[v] as number] as number;
      for (const [k, i] of chords.entries())
        for (let l = 0; l <= k; l++) {
          const at = i * n + (chords[l] as number);
          ohms[at] = (ohms[at] as number) + own * (signs[k] as number) * (signs[l] as number);
        }
    }
    return { through, chords: n, factor: factored(ohms, n) };
  }

  /** Every tree branch on the way from `a` to `b`, by the node that it leads up from: 1 on the way up from a, -1 on the way down to b. */
  private walk(a: number, b: number, step: (v: number, sign: 1 | -1) => void): void {
    const { up, enter } = this.forest;
    let [x, y] = [a, b];
    while (x !== y) {
      if ((enter[x] as number) > (enter[y] as number)) {
        step(x, 1);
        x = up[x] as number;
      } else {
        step(y, -1);
        y = up[y] as number;
      }
    }
  }
}
