import { fewestFirst } from '../network';
import type { LiveNetwork } from './network';

/** One complex value for each node. */
export interface Phasors { readonly re: Float64Array; readonly im: Float64Array }
export interface Phasor { readonly re: number; readonly im: number }
const NOTHING: Phasor = { re: 0, im: 0 };

/**
 * Complex nodal solution by eliminating nodes of fewest neighbours first. As in the dead network each pivot is the sum of
 * what is joined to the node, never a difference, so that a lead of milliohms beside an island of picofarads loses no digits.
 * An island that nothing joins to ground stays at 0 V.
 */
export class LiveSolver {
  private readonly order: Int32Array;
  /** By node, when it is eliminated; the ground never is. What it is joined to then is eliminated later, and lies on the way up from it. */
  private readonly position: Int32Array;
  private readonly up: Int32Array;
  private readonly start: Int32Array;
  private readonly other: Int32Array;
  private readonly factorRe: Float64Array;
  private readonly factorIm: Float64Array;
  private readonly inverseRe: Float64Array;
  private readonly inverseIm: Float64Array;

  constructor(readonly network: LiveNetwork) {
    const n = network.nodes.length;
    const mesh = Array.from({ length: n }, () => new Map<number, [number, number]>());
    const add = (i: number, j: number, re: number, im: number): void => {
      const row = mesh[i] as Map<number, [number, number]>;
      const old = row.get(j);
      if (old) {
        old[0] += re;
        old[1] += im;
      } else row.set(j, [re, im]);
    };
    for (const b of network.branches) {
      add(b.a, b.b, b.re, b.im);
      add(b.b, b.a, b.re, b.im);
    }
    const next = fewestFirst(mesh, [network.ground]);
    const order: number[] = [];
    const start: number[] = [0];
    const other: number[] = [];
    const factor: number[] = [];
    const inverse: number[] = [];
    for (let k = next.pop(); k !== undefined; k = next.pop()) {
      const row = [...(mesh[k] as Map<number, [number, number]>)];
      let [tr, ti] = [0, 0];
      for (const [, [re, im]] of row) {
        tr += re;
        ti += im;
      }
      const size = tr * tr + ti * ti;
      const [ir, ii] = size > 0 ? [tr / size, -ti / size] : [0, 0];
      order.push(k);
      inverse.push(ir, ii);
      for (const [p, [re, im]] of row) {
        other.push(p);
        factor.push(re * ir - im * ii, re * ii + im * ir);
      }
      start.push(other.length);
      for (const [i, [p, [pr, pi]]] of row.entries()) {
        mesh[p]?.delete(k);
        const [fr, fi] = [pr * ir - pi * ii, pr * ii + pi * ir];
        for (const [q, [qr, qi]] of row.slice(0, i)) {
          add(p, q, fr * qr - fi * qi, fr * qi + fi * qr);
          add(q, p, fr * qr - fi * qi, fr * qi + fi * qr);
        }
      }
      mesh[k]?.clear();
      for (const [p] of row) next.touch(p);
    }
    this.order = Int32Array.from(order);
    this.position = new Int32Array(n).fill(order.length);
    for (const [k, node] of order.entries()) this.position[node] = k;
    this.start = Int32Array.from(start);
    this.other = Int32Array.from(other);
    this.up = new Int32Array(n).fill(network.ground);
    for (const [k, node] of order.entries()) for (let e = start[k] as number; e < (start[k + 1] as number); e++) if (this.positionOf(other[e] as number) < this.positionOf(this.up[node] as number)) this.up[node] = other[e] as number;
    this.factorRe = Float64Array.from({ length: other.length }, (_, i) => factor[2 * i] as number);
    this.factorIm = Float64Array.from({ length: other.length }, (_, i) => factor[2 * i + 1] as number);
    this.inverseRe = Float64Array.from(order, (_, i) => inverse[2 * i] as number);
    this.inverseIm = Float64Array.from(order, (_, i) => inverse[2 * i + 1] as number);
  }

  /** Volts of every node with the supply on. */
  energised(): Phasors {
    const n = this.network.nodes.length;
    const v = { re: new Float64Array(n), im: new Float64Array(n) };
    for (const s of this.network.sources) {
      v.re[s.b] = (v.re[s.b] as number) + s.re;
      v.im[s.b] = (v.im[s.b] as number) + s.im;
      v.re[s.a] = (v.re[s.a] as number) - s.re;
      v.im[s.a] = (v.im[s.a] as number) - s.im;
    }
    return this.solve(v);
  }

  /** Volts of a node for one ampere into `a` and out of `b`, supply at rest: one column of the impedances, of which only what is asked for is worked out. */
  column(a: number, b: number): (node: number) => Phasor {
    const { position, up, start, other, factorRe, factorIm, inverseRe, inverseIm } = this;
    const { ground } = this.network;
    // What flows in is carried up both ways, the earlier node first.
    const inflow = new Map<number, Phasor>([[a, { re: 1, im: 0 }]]);
    const give = (node: number, re: number, im: number): void => {
      const old = inflow.get(node) ?? NOTHING;
      inflow.set(node, { re: old.re + re, im: old.im + im });
    };
    give(b, -1, 0);
    let [i, j] = [a, b];
    while (i !== ground || j !== ground) {
      const at = (position[i] as number) < (position[j] as number) ? i : j;
      const { re, im } = inflow.get(at) ?? NOTHING;
      const k = position[at] as number;
      if (re !== 0 || im !== 0)
        for (let e = start[k] as number; e < (start[k + 1] as number); e++) {
          const [fr, fi] = [factorRe[e] as number, factorIm[e] as number];
          give(other[e] as number, fr * re - fi * im, fr * im + fi * re);
        }
      const next = up[at] as number;
      if (i === at) i = next;
      if (j === at) j = next;
    }
    const volts = new Map<number, Phasor>([[ground, NOTHING]]);
    const way: number[] = [];
    return (node) => {
      const known = volts.get(node);
      if (known) return known;
      for (let n = node; !volts.has(n); n = up[n] as number) way.push(n);
      let volt = NOTHING;
      for (let n = way.pop(); n !== undefined; n = way.pop()) {
        const k = position[n] as number;
        const { re: xr, im: xi } = inflow.get(n) ?? NOTHING;
        const [ir, ii] = [inverseRe[k] as number, inverseIm[k] as number];
        let [vr, vi] = [xr * ir - xi * ii, xr * ii + xi * ir];
        for (let e = start[k] as number; e < (start[k + 1] as number); e++) {
          const { re, im } = volts.get(other[e] as number) ?? NOTHING;
          const [fr, fi] = [factorRe[e] as number, factorIm[e] as number];
          vr += fr * re - fi * im;
          vi += fr * im + fi * re;
        }
        volts.set(n, (volt = { re: vr, im: vi }));
      }
      return volt;
    };
  }

  private positionOf(node: number): number {
    return this.position[node] as number;
  }

  /** Currents in, volts out, in place. */
  private solve(v: Phasors): Phasors {
    const { order, start, other, factorRe, factorIm } = this;
    const { re, im } = v;
    for (let k = 0; k < order.length; k++) {
      const n = order[k] as number;
      const [xr, xi] = [re[n] as number, im[n] as number];
      if (xr === 0 && xi === 0) continue;
      for (let e = start[k] as number; e < (start[k + 1] as number); e++) {
        const p = other[e] as number;
        const [fr, fi] = [factorRe[e] as number, factorIm[e] as number];
        re[p] = (re[p] as number) + fr * xr - fi * xi;
        im[p] = (im[p] as number) + fr * xi + fi * xr;
      }
    }
    re[this.network.ground] = 0;
    im[this.network.ground] = 0;
    for (let k = order.length - 1; k >= 0; k--) {
      const n = order[k] as number;
      const [ir, ii] = [this.inverseRe[k] as number, this.inverseIm[k] as number];
      const [xr, xi] = [re[n] as number, im[n] as number];
      let [vr, vi] = [xr * ir - xi * ii, xr * ii + xi * ir];
      for (let e = start[k] as number; e < (start[k + 1] as number); e++) {
        const p = other[e] as number;
        const [fr, fi] = [factorRe[e] as number, factorIm[e] as number];
        vr += fr * (re[p] as number) - fi * (im[p] as number);
        vi += fr * (im[p] as number) + fi * (re[p] as number);
      }
      re[n] = vr;
      im[n] = vi;
    }
    return v;
  }
}
