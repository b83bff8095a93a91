import type { Cells } from '../belief';
import { asIn, asTheyStand, isBreak, isUnseen, touches, type Suspect } from '../faults';
import { metalName, type Installation } from '../installation';
import { stateSignature, turned, type WorkState } from '../workstate';
import { chanceOf, opensFirst } from './chances';
import type { Service } from './network';
import { Scene, type LiveView, type Under, type Variant } from './scene';
import { agree, liveTestName, type LiveTest } from './tests';
import { asRated } from './trips';

/** A live test in the state in which it was made. */
export interface LiveObservation { readonly test: LiveTest; readonly state: WorkState; /** How often it showed the same; once, where absent. */ readonly times?: number }

/** A guess of what nobody reads off the board, and how much it stands for. */
interface Guess extends Service { readonly weight: number }

/**
 * What nobody reads off the board, in guesses that stand for its spread: what runs (often nothing at all), what the neighbours drop,
 * what leaks, and how earth comes in where nobody said. All tests of a visit share one.
 */
export const services: readonly Guess[] = [
  { load: 0, neutralVolt: 0, leak: 0.5, arrangement: 'TN-C-S', weight: 0.36 }, { load: 0.4, neutralVolt: 0.3, leak: 0.5, arrangement: 'TT', weight: 0.18 },
  { load: 1, neutralVolt: 0.8, leak: 1, arrangement: 'TN-S', weight: 0.28 }, { load: 2, neutralVolt: 2, leak: 2, arrangement: 'TN-C-S', weight: 0.18 },
];

/** The guess that things run as they usually do; and the shares of a cell's sizes where it alone is weighed. */
const USUAL = 2;
const usualShares = (sizes: number): Float64Array => Float64Array.from({ length: sizes * services.length }, (_, k) => (k % services.length === USUAL ? 1 / sizes : 0));

/** Chance that what runs is another when a next figure is read: a kettle clicks off, somebody switches a lamp on. */
const RUNS_OTHERWISE = 0.1;

/** What stands for less is left out of a forecast. */
const LEAST_SHARE = 0.003;

/** Shares without those that hardly count, of 1 all the same. */
function likely(shares: Float64Array): Float64Array {
  const kept = shares.map((x) => (x < LEAST_SHARE ? 0 : x));
  const sum = kept.reduce((a, b) => a + b, 0);
  return sum > 0 ? kept.map((x) => x / sum) : shares;
}

/** Scenes that are kept. */
const MOST_SCENES = 16;

/** Sizes between which a suspect's likelihood is averaged: three across a cell. */
const ACROSS = [-1.2, 0, 1.2];

/** What of the belief's cells is asked for here. */
export type LiveCells = Pick<Cells, 'count' | 'suspect' | 'answer' | 'logPrior' | 'tCentre' | 'tSd' | 'fixedOhm'>;

/**
 * What live tests say about each cell of the belief. Every test is predicted from the same energised network under every
 * suspect; what nobody knows (how much runs, what the neighbours drop) is summed over, in common for all tests.
 */
export class LiveEvidence {
  private readonly scenes = new Map<string, Scene>();
  private readonly found = new Map<string, Float64Array>();
  private readonly answering: readonly Suspect[];
  private readonly variants: Variant[][];

  constructor(private readonly installation: Installation, private readonly suspects: readonly Suspect[], readonly cells: LiveCells) {
    this.answering = asTheyStand(suspects);
    this.variants = Array.from({ length: cells.count }, (_, c) => this.variantsOf(c));
  }

  /** ln of the likelihood of all tests together, per cell. */
  bias(observations: readonly LiveObservation[]): Float64Array {
    const tables = this.tablesOf(observations);
    return Float64Array.from({ length: this.cells.count }, (_, c) => this.joined(c, tables));
  }

  /** The same test in the same state again is no new evidence of the installation: the last one stands. What showed twice was no slip. */
  private tablesOf(observations: readonly LiveObservation[]): Made[] {
    const made = new Map<string, LiveObservation[]>();
    for (const o of observations) {
      const key = `${stateSignature(o.state)} ${liveTestName(o.test)}`;
      made.set(key, [...(made.get(key) ?? []), o]);
    }
    return [...made.values()].map((all) => {
      const last = all.at(-1) as LiveObservation;
      return { table: this.table({ ...last, times: all.filter((o) => agree(o.test, last.test)).length }), figure: isFigure(last.test) };
    });
  }

  /** ln of one test's likelihood in one cell against the average of all cells before any test. */
  support(o: LiveObservation, c: number): number {
    const table = this.table(o);
    let average = 0;
    for (let k = 0; k < this.cells.count; k++) average += Math.exp((this.cells.logPrior[k] as number) + this.joined(k, [{ table, figure: false }]));
    return this.joined(c, [{ table, figure: false }]) - Math.log(average);
  }

  /** Chance of each result of a test that could be made, all in one state, for some cells, after the tests that were `made`: rows as the results, columns as the cells. */
  forecast(results: readonly LiveObservation[], cells: ArrayLike<number>, made: readonly LiveObservation[]): Float64Array[] {
    const chance = results.map(() => new Float64Array(cells.length));
    const impedances = results.some((o) => feelsImpedance(o.test));
    const [first] = results;
    if (!first) return chance;
    // Before any test was made a closing is weighed with the usual guess alone, as one step of the routine that it begins.
    const tables = this.tablesOf(made);
    const usual = !tables.length && first.test.kind !== 'voltage';
    const shares = Array.from(cells, (c) => likely(usual ? usualShares((this.variants[c] as Variant[]).length) : this.sharesAfter(c, tables, isFigure(first.test))));
    for (const [j, service] of services.entries()) {
      if (usual && j !== USUAL) continue;
      const scene = this.scene(first.state, service, j);
      const sound = results.map((o) => chanceOf(this.installation, o, scene.sound, null, asRated));
      for (let i = 0; i < cells.length; i++) {
        const c = cells[i] as number;
        const s = this.suspectIn(c, first.state);
        const parts = this.thrownIn(c);
        const here = parts ? this.scene(turned(first.state, parts), service, j) : scene;
        for (const [k, v] of (this.variants[c] as Variant[]).entries()) {
          const share = (shares[i] as Float64Array)[k * services.length + j] as number;
          if (share === 0) continue;
          const view = here.keptView(s, v, impedances);
          for (const [r, o] of results.entries()) (chance[r] as Float64Array)[i] = ((chance[r] as Float64Array)[i] as number) + share * this.chance(o, here, view, s, v, here === scene ? (sound[r] as number) : chanceOf(this.installation, o, here.sound, null, asRated));
        }
      }
    }
    return chance;
  }

  /** Of one cell the share of each of its sizes with each guess of the service, after the tests that were made: what held will hold again. */
  private sharesAfter(c: number, tables: readonly Made[], figure: boolean): Float64Array {
    const n = (this.variants[c] as Variant[]).length * services.length;
    const at = c * ACROSS.length * services.length;
    const lns = this.together(at, n, tables);
    const shares = Float64Array.from(lns, (ln, k) => this.shareOf(c, k) * Math.exp(ln));
    const all = shares.reduce((sum, x) => sum + x, 0);
    if (!(all > 0)) return shares.map((_, k) => this.shareOf(c, k));
    if (!figure) return shares.map((x) => x / all);
    // At the test to come things may run otherwise too.
    return shares.map((x, k) => {
      const size = k - (k % services.length);
      const ofSize = shares.subarray(size, size + services.length).reduce((sum, y) => sum + y, 0);
      return ((1 - RUNS_OTHERWISE) * x + RUNS_OTHERWISE * ofSize * (services[k % services.length] as Guess).weight) / all;
    });
  }

  /** Most suspects leave a test as it is in the sound installation, whose chance was worked out once. */
  private chance(o: LiveObservation, scene: Scene, view: LiveView, s: Suspect, v: Variant, sound: number): number {
    if (s.kind === 'unknown') return o.test.kind === 'closed' || o.test.kind === 'works' ? UNKNOWN_CHANCE : UNKNOWN_DENSITY;
    if (view === scene.sound && (s.site.on !== 'nothing' || s.kind === 'sound' || isUnseen(s))) return sound;
    const under: Under = { suspect: s, ohm: v.ohm };
    const own = chanceOf(this.installation, o, view, under, v.condition);
    // What trips a device is off when a figure is read, and mostly somebody has seen that; what was read is then as without it.
    const opens = needsPower(o.test) && touches(s) ? opensFirst(this.installation, o.state, view, under) : 0;
    return opens > 0 ? (1 - opens) * own + opens * OVERLOOKED * sound : own;
  }

  private joined(c: number, tables: readonly Made[]): number {
    if (!tables.length) return 0;
    let sum = 0;
    const sizes = (this.variants[c] as Variant[]).length;
    for (const [k, ln] of this.together(c * ACROSS.length * services.length, sizes * services.length, tables).entries()) sum += Math.exp(ln) * this.shareOf(c, k);
    return Math.log(Math.max(sum, 1e-300));
  }

  /** How much of a cell is of one size and under one guess of what runs, before any test. */
  private shareOf(c: number, k: number): number {
    return (this.variants[c]?.[Math.floor(k / services.length)]?.share ?? 0) * (services[k % services.length] as Guess).weight;
  }

  /** ln likelihood of all tests by size and guess: one guess holds through them all; now and then things run otherwise at one that shows a figure. That devices hold, one after another, is one thing that is seen. */
  private together(at: number, n: number, tables: readonly Made[]): Float64Array {
    const lns = new Float64Array(n);
    for (const { table: t, figure } of tables)
      for (let size = 0; size < n; size += services.length) {
        let mean = 0;
        for (const [j, { weight }] of services.entries()) mean += weight * Math.exp(t[at + size + j] as number);
        for (let j = 0; j < services.length; j++) lns[size + j] = (lns[size + j] as number) + (figure ? Math.log((1 - RUNS_OTHERWISE) * Math.exp(t[at + size + j] as number) + RUNS_OTHERWISE * mean + 1e-300) : (t[at + size + j] as number));
      }
    return lns;
  }

  /** ln likelihood of one test per cell, size and service. */
  private table(o: LiveObservation): Float64Array {
    const key = `${stateSignature(o.state)} ${JSON.stringify(o.test)} ${o.times ?? 1}`;
    let table = this.found.get(key);
    if (table) return table;
    const wide = ACROSS.length * services.length;
    const impedances = feelsImpedance(o.test);
    table = new Float64Array(this.cells.count * wide);
    for (const [j, service] of services.entries()) {
      const scene = this.scene(o.state, service, j);
      const sound = chanceOf(this.installation, o, scene.sound, null, asRated);
      for (let c = 0; c < this.cells.count; c++) {
        const s = this.suspectIn(c, o.state);
        const parts = this.thrownIn(c);
        const here = parts ? this.scene(turned(o.state, parts), service, j) : scene;
        const still = here === scene ? sound : chanceOf(this.installation, o, here.sound, null, asRated);
        for (const [i, v] of (this.variants[c] as Variant[]).entries()) table[c * wide + i * services.length + j] = Math.log(this.chance(o, here, here.view(s, v, impedances), s, v, still));
      }
    }
    this.found.set(key, table);
    return table;
  }

  /** What a cell is read by; a scene tells its suspects apart by their names. */
  private suspectIn(c: number, state: WorkState): Suspect {
    const s = this.answering[this.cells.answer[c] as number] as Suspect;
    return asIn(s.thrown?.suspect ?? s, state);
  }

  /** The two-way switches that stand the other way in this cell. */
  private thrownIn(c: number): readonly string[] | undefined {
    return this.answering[this.cells.answer[c] as number]?.thrown?.parts;
  }

  private scene(state: WorkState, service: Service, j: number): Scene {
    const key = `${j} ${stateSignature(state)}`;
    let scene = this.scenes.get(key);
    if (!scene) {
      // Tables are kept; what they were made from is not, but for the states in hand.
      if (this.scenes.size >= MOST_SCENES) this.scenes.delete(this.scenes.keys().next().value ?? '');
      this.scenes.set(key, (scene = new Scene(this.installation, state, service)));
    }
    return scene;
  }

  private variantsOf(c: number): Variant[] {
    const s = this.suspects[this.cells.suspect[c] as number] as Suspect;
    const plain = { ohm: 0, share: 1, condition: asRated, leak: null };
    if (s.kind === 'rcdSensitive') return OPENS_AT.map((sensitivity) => ({ ...plain, share: 1 / OPENS_AT.length, condition: { sensitivity, blind: false } }));
    if (s.kind === 'rcdBlind') return [{ ...plain, condition: { sensitivity: 1, blind: true } }];
    const t = this.cells.tCentre[c] as number;
    if (Number.isNaN(t)) {
      const ohm = this.cells.fixedOhm[c] as number;
      if (!isBreak(s) || s.conductors.join() !== 'E') return [{ ...plain, ohm }];
      return [{ ...plain, ohm, share: 1 - LEAKS_BEYOND }, ...LEAK_OHM.map((leak) => ({ ...plain, ohm, leak, share: LEAKS_BEYOND / LEAK_OHM.length }))];
    }
    return ACROSS.map((x) => ({ ...plain, share: 1 / ACROSS.length, ohm: Math.max(0, 10 ** (t + x * (this.cells.tSd[c] as number)) - 0.1) }));
  }
}

/** Parts of its rating at which a device that has failed opens. */
const OPENS_AT = [0.25, 0.4, 0.55];
/** How often line leaks to an earth that is broken, beyond the break, and by how much, in ohms: nothing trips by it, so it stays unseen. */
const LEAKS_BEYOND = 0.2;
const LEAK_OHM = [1000, 15_000];

/** ln likelihood of one test by cell, size and guess; does it show a figure of what runs? */
interface Made { readonly table: Float64Array; readonly figure: boolean }

/** How often a device that has opened is still on record as closed. */
const OVERLOOKED = 0.2;
/** Is it read at conductors that devices feed? Metal that is on no circuit speaks of none. */
const needsPower = (t: LiveTest): boolean => (t.kind === 'voltage' ? [t.from, t.to].every((k) => metalName(k) === null) : t.kind === 'clamp' || t.kind === 'loop' || t.kind === 'works');

const isFigure = ({ kind }: LiveTest): boolean => kind === 'voltage' || kind === 'clamp' || kind === 'loop';

/** A lamp, a meter that floats, and a loop tester go by what lies behind the volts. */
const feelsImpedance = ({ kind }: LiveTest): boolean => kind === 'voltage' || kind === 'loop' || kind === 'works';

/** What is on no map may do anything: of a figure, any over all decades alike. */
const UNKNOWN_CHANCE = 0.25;
const UNKNOWN_DENSITY = 0.15;
