import type { PlaceKey } from '../installation';
import { positiveInverse } from './inverse';
import type { Skeleton } from './skeleton';

/** One end of a leak: its node, the other one, and the conductor ends that the halves of the cable belong to. */
export interface LeakEnd { readonly node: number; readonly other: number; readonly siemens: number; readonly end: PlaceKey; readonly otherEnd: PlaceKey }

/** Leaks by node and by conductor end; `upTo`: conductance of all nodes before a position in the forest's order. */
export interface LeakTable { readonly ofNode: readonly (readonly LeakEnd[] | undefined)[]; readonly ofEnd: ReadonlyMap<PlaceKey, readonly LeakEnd[]>; readonly upTo: Float64Array }

export function leakTableOf({ count, leaks }: Skeleton, order: Int32Array): LeakTable {
  const ofNode: LeakEnd[][] = [];
  const ofEnd = new Map<PlaceKey, LeakEnd[]>();
  const own = new Float64Array(count);
  const put = (l: LeakEnd): void => {
    (ofNode[l.node] ??= []).push(l);
    own[l.node] = (own[l.node] as number) + l.siemens;
    if (!l.end) return;
    const list = ofEnd.get(l.end);
    if (list) list.push(l);
    else ofEnd.set(l.end, [l]);
  };
  for (let i = 0; i < leaks.siemens.length; i++) {
    const [a, b, siemens, endA, endB] = [leaks.a[i] as number, leaks.b[i] as number, leaks.siemens[i] as number, leaks.endA[i] ?? '', leaks.endB[i] ?? ''];
    if (siemens === 0) continue;
    put({ node: a, other: b, siemens, end: endA, otherEnd: endB });
    put({ node: b, other: a, siemens, end: endB, otherEnd: endA });
  }
  const upTo = new Float64Array(count + 1);
  for (let i = 0; i < count; i++) upTo[i + 1] = (upTo[i] as number) + (own[order[i] as number] as number);
  return { ofNode, ofEnd, upTo };
}

/** Pieces that a part may leak to and still be solved exactly. */
const MOST_NEIGHBOURS = 8;

/** Ohms from a part of piece `own`, which leaks by `g` to pieces, to piece `ground`; `transfer`: ohms between pieces against the ground, before the parting. */
export function partedOhm(g: ReadonlyMap<number, number>, own: number, ground: number, transfer: (i: number, j: number) => number): number {
  const total = [...g.values()].reduce((s, x) => s + x, 0);
  if (total === 0) return 1e13;
  const others = [...new Set([...g.keys(), own])].filter((p) => p !== ground);
  if (others.length > MOST_NEIGHBOURS) return 1 / total;
  const n = others.length + 1;
  const z = new Float64Array((n - 1) * (n - 1));
  for (const [i, p] of others.entries()) for (const [j, q] of others.entries()) z[i * (n - 1) + j] = transfer(p, q);
  const y0 = positiveInverse(z, n - 1);
  const y = new Float64Array(n * n);
  const add = (i: number, j: number, x: number): void => void (y[i * n + j] = (y[i * n + j] as number) + x);
  for (let i = 0; i < n - 1; i++) for (let j = 0; j < n - 1; j++) add(i, j, y0[i * (n - 1) + j] as number);
  const at = (p: number): number => others.indexOf(p);
  const join = (i: number, j: number, x: number): void => {
    if (i >= 0) add(i, i, x);
    if (j >= 0) add(j, j, x);
    if (i >= 0 && j >= 0) {
      add(i, j, -x);
      add(j, i, -x);
    }
  };
  for (const [p, x] of g) {
    // What leaked from the whole piece leaks from this part alone.
    if (p !== own) join(at(own), at(p), -x);
    join(n - 1, at(p), x);
  }
  const ohm = positiveInverse(y, n)[n * n - 1] as number;
  return ohm > 0 && Number.isFinite(ohm) ? ohm : 1 / total;
}
