import { earlierFor, type Group } from './group';

/**
 * Readings fall into parts that know nothing of each other: no cable under two of them, no protective conductors of one circuit, no
 * thing that shows in both. The evidence of a part that a cell does not touch is the sound circuit's.
 */
export class Parts {
  /** By reading, its part; readings of each part, in order. */
  readonly of: Int32Array;
  readonly rows: readonly (readonly number[])[];
  /** By column of the slopes (sections, then circuits), the part that it is under, or -1. */
  private readonly under: Int32Array;

  /** `slopes`: of a reading in the sound circuit, zero where a column does not touch it; null where no column does. `always`: readings that hang together by the insulation of the whole. */
  constructor(groups: readonly Group[], columns: number, slopes: (n: number) => Float64Array | null, always: (n: number) => boolean) {
    const root = Int32Array.from(groups.keys());
    const find = (n: number): number => {
      while (root[n] !== n) n = root[n] as number;
      return n;
    };
    const join = (a: number, b: number): void => {
      const [x, y] = [find(a), find(b)];
      root[Math.max(x, y)] = Math.min(x, y);
    };
    const met = new Int32Array(columns).fill(-1);
    let global = -1;
    for (const [n, g] of groups.entries()) {
      for (const m of earlierFor(g)) join(n, m);
      if (always(n)) {
        if (global >= 0) join(n, global);
        global = n;
      }
      const row = slopes(n);
      if (!row) continue;
      for (let i = 0; i < columns; i++) {
        if (row[i] === 0) continue;
        if ((met[i] as number) >= 0) join(n, met[i] as number);
        met[i] = n;
      }
    }
    const rows: number[][] = [];
    const index = new Map<number, number>();
    this.of = Int32Array.from(groups.keys(), (n) => {
      const r = find(n);
      let i = index.get(r);
      if (i === undefined) index.set(r, (i = rows.push([]) - 1));
      (rows[i] as number[]).push(n);
      return i;
    });
    this.rows = rows;
    this.under = met.map((n) => (n < 0 ? -1 : (this.of[n] as number)));
  }

  /** Marks the parts that lie under some columns. */
  mark(columns: readonly number[], into: Uint8Array): void {
    for (const i of columns) if ((this.under[i] as number) >= 0) into[this.under[i] as number] = 1;
  }
}
