import { rootOfSquares } from '../numeric';
import { respond, type Response } from '../probes';
import { instrumentSdOhm, meter, toY, type TestFunction } from '../tester';
import type { BeliefEngine } from './belief';
import { ohmOfT, type Cells } from './cells';
import type { Estimates } from './estimates';
import { D_SD, earlierFor, type Group } from './group';

/** Effect on a reading, against the instrument's own error, below which nobody could tell the cell from a sound circuit. */
const UNSEEN = 0.05;

/**
 * Most cells read exactly as the sound circuit does: a contact of a megohm in a measurement of tenths of an ohm, an
 * end that is not on any path so far. Their evidence is the sound circuit's, and is worked out once; so is that of the readings
 * that a cell does not touch. Cell 0 is the sound circuit; its own estimates come first.
 */
export class Twins {
  /** 1 for a cell that answers every reading as the sound circuit does. */
  readonly is: Uint8Array;
  /** By cell, the readings that are not worth the same in it as in the sound circuit. */
  readonly rows: readonly Int32Array[];

  constructor(
    private readonly engine: BeliefEngine,
    groups: readonly Group[],
    e: Estimates,
    /** 1 for a reading that the insulation of the whole moves, whatever the cell. */
    always: Uint8Array,
    /** Readings of which a cell has to touch one, or it is taken for a twin; null where any will do. */
    needed: readonly number[] | null,
  ) {
    const { cells, answering: suspects } = engine;
    const chains = chainsOf(groups);
    const rows = new Array<Int32Array>(cells.count).fill(Int32Array.from(groups.keys()));
    const untouched = Int32Array.from(groups.keys()).filter((n) => always[n] === 1);
    const [chain, list] = [new Uint8Array(groups.length), new Int32Array(groups.length)];
    this.is = new Uint8Array(cells.count);
    const k = Math.exp(e.s[0] as number);
    const shown = groups.map((g) => shownBy(g.fn, g.sound, k));
    const others = groups.map((g) => g.others.map((m) => shownBy(g.fn, m.sound, k)));
    const all = [...groups.keys()];
    const shows = groups.map((g) => engine.memory.showsIn(g.number, k, cells.count));
    const isSeen = (n: number, c: number, suspect: number, x: number): boolean => {
      const known = shows[n] as Int8Array;
      if (known[c] === -1) {
        const g = groups[n] as Group;
        known[c] = differs(shown[n] as Shown, g.response(suspect), x, k) || g.others.some((m, j) => differs(others[n]?.[j] as Shown, m.response(suspect), x, k)) ? 1 : 0;
      }
      return known[c] === 1;
    };
    for (let c = 1; c < cells.count; c++) {
      const suspect = cells.answer[c] as number;
      if (suspects[suspect]?.kind === 'unknown') continue;
      const x = strongest(cells, c, suspects[suspect]?.unknown.of === 'shunt');
      const touched = all.filter((n) => isSeen(n, c, suspect, x));
      if (!touched.length || (needed && !needed.some((n) => touched.includes(n)))) {
        this.is[c] = 1;
        rows[c] = untouched;
        continue;
      }
      chain.fill(0);
      for (const n of touched) chain[chains[n] as number] = 1;
      let count = 0;
      for (let n = 0; n < groups.length; n++) if (chain[chains[n] as number] === 1 || always[n] === 1) list[count++] = n;
      rows[c] = list.slice(0, count);
    }
    this.rows = rows;
  }

  /** Gives the twins the evidence that the sound circuit has; their own unknowns are as before any reading. */
  share(e: Estimates): void {
    const { cells } = this.engine;
    const evidence = (e.logWeight[0] as number) - (cells.logPrior[0] as number);
    for (let c = 1; c < cells.count; c++) {
      if (this.is[c] !== 1) continue;
      e.logWeight[c] = (cells.logPrior[c] as number) + evidence;
      e.startFrom(c, cells);
      e.s[c] = e.s[0] as number;
      const at = 6 * c;
      e.precision.fill(0, at, at + 6);
      e.precision[at] = Number.isNaN(cells.tCentre[c]) ? 0 : 1 / (cells.tSd[c] as number) ** 2;
      e.precision[at + 2] = cells.along[c] === 1 ? 1 / (D_SD * D_SD) : 0;
      e.precision[at + 5] = e.precision[5] as number;
    }
  }
}

/** By reading, the first of those that bear on each other one after another. */
function chainsOf(groups: readonly Group[]): Int32Array {
  const first = Int32Array.from(groups.keys());
  for (const [n, g] of groups.entries())
    for (const m of earlierFor(g)) {
      const [from, to] = [first[n] as number, first[m] as number];
      if (from !== to) for (let k = 0; k <= n; k++) if (first[k] === from) first[k] = to;
    }
  return first;
}

/** What the display shows for a sound circuit, and how far off it nobody would notice; everything off scale looks alike. */
export interface Shown { readonly fn: TestFunction; readonly sound: Response; readonly y: number; readonly unseen: number }

export function shownBy(fn: TestFunction, sound: Response, k: number): Shown {
  const top = meter[fn].topOhm;
  const ohm = Math.min(respond(sound, 0, 0.5, k), 1.5 * top);
  const within = Math.min(ohm, top);
  return { fn, sound, y: toY(fn, ohm), unseen: (UNSEEN * instrumentSdOhm(fn, within)) / rootOfSquares(within, meter[fn].scaleOhm) };
}

/** Can the display tell the suspect's answer from the sound circuit's? */
export function differs(shown: Shown, r: Response, x: number, k: number): boolean {
  if (r === shown.sound) return false;
  const ohm = Math.min(respond(r, x, 0.5, k), 1.5 * meter[shown.fn].topOhm);
  return Math.abs(toY(shown.fn, ohm) - shown.y) > shown.unseen;
}

/** The resistance within the cell that shows most: the least of a contact, the most of a poor joint. */
export function strongest(cells: Cells, c: number, shunt: boolean): number {
  const centre = cells.tCentre[c] as number;
  if (Number.isNaN(centre)) return cells.fixedOhm[c] as number;
  return ohmOfT(centre + (shunt ? -1.7 : 1.7) * (cells.tSd[c] as number));
}
