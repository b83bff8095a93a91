import { fewestFirst } from '../network';
import type { LiveNetwork } from './network';

/** One complex value for each node. */
export interface Phasors { readonly re: Float64Array; readonly im: Float64Array }

/**
 * Complex nodal solution by eliminating nodes of fewest neighbours first. As in the dead network each pivot is the sum of
 * what is joined to the node, never a difference, so that a lead of milliohms beside an island of picofarads loses no digits.
 * An island that nothing joins to ground stays at 0 V.
 */
export class LiveSolver {
  private readonly order: Int32Array;
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
    this.start = Int32Array.from(start);
    this.other = Int32Array.from(other);
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

  /** Volts of every node for one ampere into `a` and out of `b`, supply at rest: the column of impedances. */
  column(a: number, b: number): Phasors {
    const n = this.network.nodes.length;
    const v = { re: new Float64Array(n), im: new Float64Array(n) };
    v.re[a] = 1;
    v.re[b] = (v.re[b] as number) - 1;
    return this.solve(v);
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
