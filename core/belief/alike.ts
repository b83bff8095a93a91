import { lengthSlopes, respond, type Response } from '../probes';
import { meter, toY } from '../tester';
import { INSULATION_FROM } from './assembly';
import type { BeliefEngine } from './belief';
import { ohmOfT, type Cells } from './cells';
import type { Estimates } from './estimates';
import { CEILING_OHM, type Group } from './group';

/** Figures, in y, and slopes with lengths, in y by ln, that are told apart. */
const TOLD_APART = 1e-4;
/** Where in a cell its figures are compared: sizes, s.d. from the middle; places along the cable; scales of the insulation. */
const SIZES = [0, -1.7, 1.7];
const PLACES = [0.5, 0.2, 0.8];
const SCALES = [1, 3];
/** The name of what a reading shows in a sound circuit. */
const AS_SOUND = 1;

/**
 * Cells that answer every reading alike are one: loose ends in line with each other, leaks to earth in any appliance of a way that was
 * only read whole. The one of them that was likeliest before any reading is weighed, and its evidence is theirs.
 */
export class Alike {
  /** By cell, the one that is weighed for it: itself, or another. */
  readonly first: Int32Array;
  private readonly answers: Answered;
  /** By reading, the names of what the cells answer to it. */
  private readonly names: readonly Float64Array[];

  /** `rows`: by cell, the readings that are not worth the same in it as in the sound circuit. */
  constructor(private readonly engine: BeliefEngine, groups: readonly Group[], private readonly rows: readonly Int32Array[], private readonly own: readonly number[]) {
    const { cells } = engine;
    this.first = Int32Array.from({ length: cells.count }, (_, c) => c);
    this.names = groups.map((g) => engine.memory.answersIn(g.number, cells.count));
    this.answers = new Answered(engine, groups);
    const found = new Map<number, number[]>();
    for (const c of own) {
      if (engine.suspects[cells.suspect[c] as number]?.kind === 'unknown') continue;
      const name = this.name(c);
      const same = found.get(name);
      if (same) same.push(c);
      else found.set(name, [c]);
    }
    for (const same of found.values()) {
      const first = same.reduce((m, c) => ((cells.logPrior[c] as number) > (cells.logPrior[m] as number) ? c : m));
      for (const c of same) this.first[c] = first;
    }
  }

  /** One name for all that tells a cell from others: its size and place, and what it answers to each of its readings. */
  private name(c: number): number {
    const { tCentre, tSd, fixedOhm } = this.engine.cells;
    const hash = new Hash();
    for (const x of [tCentre[c], tSd[c], fixedOhm[c], this.answers.along(c)]) hash.add(x as number);
    for (const n of this.rows[c] as Int32Array) {
      const known = this.names[n] as Float64Array;
      if (Number.isNaN(known[c])) known[c] = this.answers.name(n, c);
      hash.add(n);
      hash.add(known[c] as number);
    }
    return hash.value;
  }

  /** Gives every cell the evidence of the one that was weighed for it. */
  share(e: Estimates): void {
    const { logPrior } = this.engine.cells;
    for (const c of this.own) {
      const m = this.first[c] as number;
      if (m === c) continue;
      e.t[c] = e.t[m] as number;
      e.d[c] = e.d[m] as number;
      e.s[c] = e.s[m] as number;
      e.hope[c] = e.hope[m] as number;
      e.precision.copyWithin(6 * c, 6 * m, 6 * m + 6);
      e.logWeight[c] = (e.logWeight[m] as number) - (logPrior[m] as number) + (logPrior[c] as number);
    }
  }
}

/** What cells answer to readings, by names: two of one name show the same wherever the unknowns are. */
class Answered {
  private readonly row: Float64Array;
  private readonly sectionOf: Int32Array;

  constructor(private readonly engine: BeliefEngine, private readonly groups: readonly Group[]) {
    this.row = new Float64Array(engine.lengthVariance.length + 1 + Math.max(0, ...engine.circuit));
    const index = new Map(engine.installation.sections.map((s, i) => [s.id, i]));
    this.sectionOf = Int32Array.from(engine.suspects, (s) => index.get(s.place) ?? -1);
  }

  /** The section along which a cell is, or -1: what is along a longer cable is further away. */
  along(c: number): number {
    const { along, suspect } = this.engine.cells;
    return along[c] === 1 ? (this.sectionOf[suspect[c] as number] as number) : -1;
  }

  name(n: number, c: number): number {
    const { cells } = this.engine;
    const g = this.groups[n] as Group;
    const suspect = cells.answer[c] as number;
    const r = g.response(suspect);
    const others = g.others.map((m) => m.response(suspect));
    const stands = g.others.length ? g.inLoad(suspect) : null;
    if (stands === null && r === g.sound && others.every((o, i) => o === g.others[i]?.sound)) return AS_SOUND;
    const hash = new Hash();
    hash.add(stands === null ? 0 : stands === 'in' ? 1 : 2);
    for (const o of [r, ...others]) this.figures(hash, g, o, c);
    if (r !== g.sound) this.slopes(hash, g, r, suspect, c);
    return hash.value;
  }

  private figures(hash: Hash, { fn }: Group, r: Response, c: number): void {
    const { cells } = this.engine;
    for (const x of r.kind === 0 ? [0] : sizes(cells, c))
      for (const d of cells.along[c] === 1 && r.kind === 1 ? PLACES : [0.5]) for (const k of SCALES) hash.add(Math.round(toY(fn, Math.min(respond(r, x, d, k), CEILING_OHM)) / TOLD_APART));
  }

  /** Two sums over all cables and areas, each with its own weight. */
  private slopes(hash: Hash, g: Group, r: Response, suspect: number, c: number): void {
    const [x = 0] = sizes(this.engine.cells, c);
    const ohm = respond(r, x, 0.5, 1);
    if (ohm >= INSULATION_FROM) return;
    const path = r.kind === 3 ? null : g.path(suspect);
    lengthSlopes(this.row, path ? path.cores : g.cores, path ? path.currents : g.currents(), r, path ? path.site : r.kind === 1 || r.kind === 2 ? g.site(suspect) : null, x, 0.5, 1);
    let [one, other] = [0, 0];
    for (const [i, slope] of this.row.entries()) {
      one += slope * (1 + ((i * 0.618034) % 1));
      other += slope * (1 + ((i * 0.754878) % 1));
    }
    const scale = Math.hypot(ohm, meter[g.fn].scaleOhm) * TOLD_APART;
    hash.add(Math.round(one / scale));
    hash.add(Math.round(other / scale));
  }
}

function sizes(cells: Cells, c: number): number[] {
  const centre = cells.tCentre[c] as number;
  return Number.isNaN(centre) ? [cells.fixedOhm[c] as number] : SIZES.map((z) => ohmOfT(centre + z * (cells.tSd[c] as number)));
}

/** 53 bits of any numbers in their order. */
class Hash {
  private a = 0x811c9dc5;
  private b = 0x9e3779b9;
  private static readonly bits = new Uint32Array(2);
  private static readonly asNumber = new Float64Array(Hash.bits.buffer);

  add(x: number): void {
    Hash.asNumber[0] = x;
    for (const word of Hash.bits) {
      this.a = Math.imul(this.a ^ word, 0x01000193) ^ (this.a >>> 15);
      this.b = Math.imul(this.b + word, 0x85ebca6b) ^ (this.b >>> 13);
    }
  }

  get value(): number {
    return (this.a >>> 0) * 2 ** 21 + ((this.b >>> 0) >>> 11);
  }
}
