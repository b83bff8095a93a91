import type { PlaceKey } from '../installation';
import { positiveInverse } from './inverse';
import type { Skeleton } from './skeleton';

/** One end of a leak: its node, the other one, and the conductor ends that the halves of the cable belong to. */
export interface LeakEnd { readonly node: number; readonly other: number; readonly siemens: number; readonly section: string; readonly end: PlaceKey; readonly otherEnd: PlaceKey }

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
    const section = leaks.section[i] ?? '';
    put({ node: a, other: b, siemens, section, end: endA, otherEnd: endB });
    put({ node: b, other: a, siemens, section, end: endB, otherEnd: endA });
  }
  const upTo = new Float64Array(count + 1);
  for (let i = 0; i < count; i++) upTo[i + 1] = (upTo[i] as number) + (own[order[i] as number] as number);
  return { ofNode, ofEnd, upTo };
}

/** Ohms between pieces against one that is grounded, before the parting. */
export type Transfer = (i: number, j: number, ground: number) => number;

/** Potentials over insulation for one ampere from one side to a piece, at nominal insulation. */
export interface PartedPotentials {
  /** By piece; the parted piece's own is that of its larger side. */
  readonly ofPiece: Float64Array;
  readonly own: number;
  /** Of the smaller side, and what leaks from it. */
  readonly small: number;
  readonly leaks: readonly PartedLeak[];
}
export interface PartedLeak { readonly section: string; readonly to: number; readonly siemens: number }

/** A bridge opened at one place: what it parts, and what insulation then reads. The smaller side is taken off the piece; the rest stays what it was. */
export class Parting {
  /** Conductance of both sides, in siemens. */
  readonly near: number;
  readonly beyond: number;
  private leaks: readonly PartedLeak[] | null = null;
  private readonly solved = new Map<number, Solved>();

  constructor(
    private readonly side: Side,
    private readonly table: LeakTable,
    private readonly transfer: Transfer,
  ) {
    const { from, to, start, end, bridgeEnd, isBeyond, inPiece } = side;
    const sum = (i: number, j: number): number => (table.upTo[j] as number) - (table.upTo[i] as number);
    let beyond = sum(from, to);
    let near = sum(start, end) - beyond;
    for (const l of bridgeEnd) {
      if (!inPiece(l.node)) continue;
      const moved = isBeyond(l.node) ? l.siemens : -l.siemens;
      beyond -= moved;
      near += moved;
    }
    // What is left of two equal sums is nothing.
    this.near = near > 1e-9 * beyond ? near : 0;
    this.beyond = beyond > 1e-9 * near ? beyond : 0;
  }

  private get smallIsBeyond(): boolean {
    return this.beyond < this.near;
  }

  /** Ohms of insulation from one side to piece `ground`; -1: to the other side. */
  ohmTo(beyond: boolean, ground: number): number {
    if ((beyond ? this.beyond : this.near) === 0) return NO_PATH_OHM;
    if (ground < 0 && (this.near === 0 || this.beyond === 0)) return NO_PATH_OHM;
    // What leaks within the smaller side alone leads nowhere.
    if ((ground < 0 || beyond === this.smallIsBeyond) && this.smallLeaks().length === 0) return NO_PATH_OHM;
    const { inverse, n, others } = this.solve(ground);
    const at = ground < 0 || beyond === this.smallIsBeyond ? n - 1 : others.indexOf(this.side.own);
    const ohm = inverse[at * n + at] as number;
    return ohm > 0 && Number.isFinite(ohm) ? Math.min(ohm, NO_PATH_OHM) : NO_PATH_OHM;
  }

  /** Is there insulation on both sides, for the parting to part? */
  get parts(): boolean {
    return this.near > 0 && this.beyond > 0;
  }

  /** Does the smaller side leak to either piece? Else, among many pieces, the parting is hardly felt between them. */
  feltBetween(p: number, q: number): boolean {
    return this.parts && this.smallLeaks().some((l) => l.to === p || l.to === q);
  }

  /** Ohms of insulation between two other pieces. */
  ohmBetween(p: number, q: number): number {
    const { inverse, n, others } = this.solve(q, p);
    const at = others.indexOf(p);
    return inverse[at * n + at] as number;
  }

  /** Potentials of all `pieces` for one ampere from one side to piece `ground` (-1: to the other side). */
  potentials(beyond: boolean, ground: number, pieces: number): PartedPotentials {
    const s = this.solve(ground);
    return this.potentialsOf(s, ground < 0 || beyond === this.smallIsBeyond ? s.n - 1 : s.others.indexOf(this.side.own), pieces);
  }

  /** The same for one ampere from piece p to piece q. */
  potentialsBetween(p: number, q: number, pieces: number): PartedPotentials {
    const s = this.solve(q, p);
    return this.potentialsOf(s, s.others.indexOf(p), pieces);
  }

  private potentialsOf({ inverse, n, others, before, to }: Solved, from: number, pieces: number): PartedPotentials {
    const u = (i: number): number => inverse[i * n + from] as number;
    // What flows from each of these pieces into the network as it was sets the potential of all others.
    const m = n - 1;
    const inflow = others.map((_, i) => others.reduce((sum, _p, j) => sum + (before[i * m + j] as number) * u(j), 0));
    const ofPiece = Float64Array.from({ length: pieces }, (_, x) => (x === to ? 0 : others.reduce((sum, p, i) => sum + this.transfer(x, p, to) * (inflow[i] as number), 0)));
    return { ofPiece, own: this.side.own, small: u(n - 1), leaks: this.smallLeaks() };
  }

  /** The pieces that the smaller side leaks to, its own, one more if asked for and the ground, with that side as a node of its own. */
  private solve(ground: number, also = -1): Solved {
    const key = ground * MOST_PIECES + also;
    const known = this.solved.get(key);
    if (known) return known;
    const { own } = this.side;
    const to = ground < 0 ? own : ground;
    const g = new Map<number, number>();
    for (const l of this.smallLeaks()) g.set(l.to, (g.get(l.to) ?? 0) + l.siemens);
    const others = [...new Set([...g.keys(), own, ...(also < 0 ? [] : [also])])].filter((p) => p !== to);
    const m = others.length;
    const n = m + 1;
    const z = new Float64Array(m * m);
    for (const [i, p] of others.entries()) for (const [j, q] of others.entries()) z[i * m + j] = this.transfer(p, q, to);
    const before = positiveInverse(z, m);
    const y = new Float64Array(n * n);
    const add = (i: number, j: number, x: number): void => void (y[i * n + j] = (y[i * n + j] as number) + x);
    for (let i = 0; i < m; i++) for (let j = 0; j < m; j++) add(i, j, before[i * m + j] as number);
    const join = (i: number, j: number, x: number): void => {
      if (i >= 0) add(i, i, x);
      if (j >= 0) add(j, j, x);
      if (i >= 0 && j >= 0) {
        add(i, j, -x);
        add(j, i, -x);
      }
    };
    for (const [p, x] of g) {
      // What leaked from the piece here leaks from its smaller side.
      if (p !== own) join(others.indexOf(own), others.indexOf(p), -x);
      join(n - 1, others.indexOf(p), x);
    }
    // What the parting cuts off from everything still has a definite, hopeless path.
    for (let i = 0; i < n; i++) add(i, i, NO_PATH_SIEMENS);
    const found = { others, n, before, inverse: positiveInverse(y, n), to };
    this.solved.set(key, found);
    return found;
  }

  /** What leaks from the smaller side, by section and piece; its own piece stands for the other side. */
  private smallLeaks(): readonly PartedLeak[] {
    if (this.leaks) return this.leaks;
    const beyond = this.smallIsBeyond;
    const { from, to, start, end, bridgeEnd, endKey, isBeyond, inPiece, pieceOf, order } = this.side;
    const here = (v: number, at: PlaceKey): boolean => inPiece(v) && (isBeyond(v) !== (endKey !== '' && at === endKey)) === beyond;
    const rows = new Map<string, { section: string; to: number; siemens: number }>();
    const count = (l: LeakEnd): void => {
      if (!here(l.node, l.end) || here(l.other, l.otherEnd)) return;
      const piece = pieceOf(l.other);
      const key = `${piece} ${l.section}`;
      const row = rows.get(key);
      if (row) row.siemens += l.siemens;
      else rows.set(key, { section: l.section, to: piece, siemens: l.siemens });
    };
    const nodes = beyond ? [[from, to]] : [[start, from], [to, end]];
    for (const [i = 0, j = 0] of nodes) for (let n = i; n < j; n++) for (const l of this.table.ofNode[order[n] as number] ?? []) count(l);
    // The half cable that stays on the cable though its terminal is on the other side.
    for (const l of bridgeEnd) if (isBeyond(l.node) !== beyond) count(l);
    return (this.leaks = [...rows.values()]);
  }
}

const MOST_PIECES = 1 << 16;

/** Beyond every meter: no path. */
const NO_PATH_OHM = 1e13;
const NO_PATH_SIEMENS = 1e-15;

/** Conductances between `others` before the parting, and ohms against `to` after it, the smaller side last. */
interface Solved { readonly others: readonly number[]; readonly n: number; readonly before: Float64Array; readonly inverse: Float64Array; readonly to: number }

/** Where a piece is parted: positions in the forest's order of what lies beyond (from…to) and of the whole piece (start…end), and the half cable at the opened end. */
export interface Side {
  readonly own: number;
  readonly from: number;
  readonly to: number;
  readonly start: number;
  readonly end: number;
  readonly endKey: PlaceKey;
  readonly bridgeEnd: readonly LeakEnd[];
  readonly order: Int32Array;
  readonly isBeyond: (node: number) => boolean;
  readonly inPiece: (node: number) => boolean;
  readonly pieceOf: (node: number) => number;
}
