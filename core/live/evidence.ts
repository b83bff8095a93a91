import type { Cells } from '../belief';
import { actsIn, asIn, asTheyStand, isBreak, isUnseen, touches, type Suspect } from '../faults';
import { endKeyOf, findPoint, findSection, landingOf, metalName, pointOfPlace, protectionsOf, sectionOfPlace, terminalKey, throwsOf, type Installation } from '../installation';
import { planPhysics } from '../network';
import { stateSignature, turned, type WorkState } from '../workstate';
import { chanceOf, opensFirst } from './chances';
import { Harmonics } from './harmonics';
import { Energised, fromFarEnd, magnitude, minus, over, plus, times, type Phasor } from './measure';
import type { Service } from './network';
import { agree, liveTestName, type LiveTest } from './tests';
import { asRated, type Condition } from './trips';

/** A live test in the state in which it was made. */
export interface LiveObservation { readonly test: LiveTest; readonly state: WorkState; /** How often it showed the same; once, where absent. */ readonly times?: number }

/** A suspect at one of its sizes. */
export interface Under { readonly suspect: Suspect; readonly ohm: number }

/** One size that a suspect may have, how much of it has it, and what it makes of its device. `leak`: ohms by which line leaks to an earth that is lost, beyond the break; null for none. */
export interface Variant { readonly ohm: number; readonly share: number; readonly condition: Condition; readonly leak: number | null }

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

/** The circuit as a live test finds it under one suspect: volts, impedances and currents. */
export interface LiveView {
  volt(node: number): Phasor;
  impedance(a: number, b: number): Phasor;
  /** Sum of the currents through some parts; the name stands for the list. */
  current(name: string, parts: readonly string[]): Phasor;
  /** What electronic loads add above 50 Hz: as in the sound installation, whatever the suspect. */
  readonly harmonics: Harmonics;
  readonly scene: Energised;
}

export function soundView(scene: Energised): LiveView {
  const sums = new Map<string, Phasor>();
  return {
    scene, harmonics: new Harmonics(scene), volt: (n) => ({ re: scene.volts.re[n] as number, im: scene.volts.im[n] as number }), impedance: (a, b) => scene.impedance(a, b),
    current: (name, parts) => {
      let sum = sums.get(name);
      if (!sum) sums.set(name, (sum = scene.clamp(parts)));
      return sum;
    },
  };
}

/** Where a suspect acts in the energised network: one admittance changed between two nodes, one open and another in its stead, a network of its own, or nowhere. */
type Act =
  | { readonly how: 'none' }
  | ({ readonly how: 'branch'; /** Line to earth beyond it, where it is an earth that is broken. */ readonly beyond: Branch | null } & Branch)
  | { readonly how: 'instead'; readonly open: Branch; readonly instead: Branch; /** Of what stands in its stead, where it is not the suspect's own size. */ readonly ohm: number | null; readonly still: boolean }
  | { readonly how: 'exact'; readonly still: boolean };

interface Branch {
  readonly a: number;
  readonly b: number;
  readonly own: Phasor | null;
  readonly part: string;
  /** Worked out once, by the first that asks. */
  readonly column: () => Column;
  /** Nothing drives it: no volt and no current moves, whatever it is. */
  readonly still: boolean;
  /** Currents that one volt less across the branch takes out of some parts, by their name. */
  readonly sums: Map<string, { readonly re: number; readonly im: number; /** The changed branch is among them: 1, counted from its far end: -1, or not: 0. */ readonly own: number }>;
}

/** Volts of every node for one ampere through a branch, and those across it. */
interface Column { readonly at: (node: number) => Phasor; readonly self: Phasor }

/** Volts below which nothing drives a branch. */
const STILL_VOLT = 1e-6;

/** Suspects that are no single branch are compiled anew; only on installations where that is quick. */
const EXACT_BELOW_SECTIONS = 16;

const MOST_SCENES = 16;
/** Suspects whose views a scene keeps. */
const MOST_KEPT = 2000;

class Scene {
  readonly sound: LiveView;
  private readonly energised: Energised;
  private readonly acts = new Map<string, Act>();
  private readonly exact = new Map<string, LiveView>();
  /** Views of the cells that a step is weighed by: its tests are made at many places, each under the same few suspects. */
  private readonly kept = new Map<string, Map<number, LiveView>>();

  constructor(private readonly installation: Installation, private readonly state: WorkState, private readonly service: Service) {
    this.energised = Energised.of(installation, state, [], service);
    this.sound = soundView(this.energised);
  }

  /** The same view again for the same size of the same suspect. */
  keptView(s: Suspect, v: Pick<Variant, 'ohm' | 'leak'>, impedances: boolean): LiveView {
    const name = `${s.id} ${v.leak ?? ''} ${impedances ? 'z' : ''}`;
    let ofSuspect = this.kept.get(name);
    if (!ofSuspect) {
      if (this.kept.size >= MOST_KEPT) this.kept.clear();
      this.kept.set(name, (ofSuspect = new Map<number, LiveView>()));
    }
    let view = ofSuspect.get(v.ohm);
    if (!view) ofSuspect.set(v.ohm, (view = this.view(s, v, impedances)));
    return view;
  }

  /** `impedances`: they are asked for too, not volts and currents alone. */
  view(s: Suspect, { ohm, leak }: Pick<Variant, 'ohm' | 'leak'>, impedances: boolean): LiveView {
    let act = this.acts.get(s.id);
    if (!act) this.acts.set(s.id, (act = this.actOf(s)));
    if (act.how === 'branch' && act.beyond && leak !== null) return this.inStead(act, act.beyond, leak);
    if (act.how === 'none' || (act.still && !impedances)) return this.sound;
    if (act.how === 'exact') return this.compiled(s);
    if (act.how === 'branch') return this.changed(this.sound, act, act.column(), ohm);
    return this.inStead(act.open, act.instead, act.ohm ?? ohm);
  }

  /** One branch open, and another made. */
  private inStead(open: Branch, instead: Branch, ohm: number): LiveView {
    const first = open.column();
    const opened = this.changed(this.sound, open, first, Infinity);
    return this.changed(opened, instead, columnIn(instead, first, instead.column(), this.gain(open, first, Infinity)), ohm);
  }

  private compiled(s: Suspect): LiveView {
    let view = this.exact.get(s.id);
    if (!view) this.exact.set(s.id, (view = soundView(Energised.of(this.installation, this.state, s.fault(1, 0.5), this.service))));
    return view;
  }

  /** Admittance that is added across a branch, siemens. */
  private added({ own }: Branch, ohm: number): Phasor {
    return own ? minus(ohm === Infinity ? { re: 0, im: 0 } : over(own, plus({ re: 1, im: 0 }, times(own, { re: ohm, im: 0 }))), own) : { re: 1 / Math.max(ohm, 1e-3), im: 0 };
  }

  /** Amperes through a changed branch for one volt that was across it. */
  private gain(branch: Branch, { self }: Column, ohm: number): Phasor {
    const added = this.added(branch, ohm);
    return over(added, plus({ re: 1, im: 0 }, times(added, self)));
  }

  /** One branch of a view changed: every voltage and impedance by one column. */
  private changed(base: LiveView, act: Branch, column: Column, ohm: number): LiveView {
    const { energised } = this;
    const added = this.added(act, ohm);
    const gain = this.gain(act, column, ohm);
    const drive = times(gain, minus(base.volt(act.a), base.volt(act.b)));
    const { at } = column;
    const volt = (n: number): Phasor => minus(base.volt(n), times(at(n), drive));
    return {
      scene: energised, harmonics: this.sound.harmonics, volt,
      impedance: (a, b) => {
        const t = minus(at(a), at(b));
        return minus(base.impedance(a, b), times(times(t, t), gain));
      },
      current: (name, parts) => {
        let taken = act.sums.get(name);
        if (!taken) {
          const sum = parts.flatMap((p) => energised.branches(p)).reduce<Phasor>((s, b) => plus(s, times({ re: b.re, im: b.im }, minus(at(b.a), at(b.b)))), { re: 0, im: 0 });
          act.sums.set(name, (taken = { ...sum, own: act.part === '' ? 0 : parts.includes(act.part) ? 1 : parts.includes(fromFarEnd(act.part)) ? -1 : 0 }));
        }
        const sum = minus(base.current(name, parts), times(taken, drive));
        return taken.own === 0 ? sum : plus(sum, times(times({ re: taken.own, im: 0 }, added), minus(volt(act.a), volt(act.b))));
      },
    };
  }

  /** Is the circuit of a place switched off? Whatever is crossed or landed wrongly there carries nothing then. */
  private isOff(place: string): boolean {
    const { line } = landingOf(this.installation, sectionOfPlace(this.installation, place));
    const poles = protectionsOf(this.installation).find((p) => p.ways[0] === p.id && `W${p.id.slice(1)}` === line)?.linePoles ?? [];
    return poles.length > 0 && poles.every((k) => this.state.off.includes(k));
  }

  private actOf(s: Suspect): Act {
    const { site } = s;
    const { network } = this.energised;
    const branch = (a: number | undefined, b: number | undefined, own: Phasor | null, part: string, beyond: Branch | null = null): Extract<Act, { how: 'none' | 'branch' }> => {
      if (a === undefined || b === undefined || a === b) return { how: 'none' };
      let known: Column | null = null;
      const column = (): Column => {
        if (known) return known;
        const at = this.energised.solver.column(a, b);
        return (known = { at, self: minus(at(a), at(b)) });
      };
      return { how: 'branch', beyond, a, b, own, part, column, still: magnitude(this.energised.across(a, b)) < STILL_VOLT, sums: new Map() };
    };
    if (s.kind === 'supplyLost') return { how: 'exact', still: false };
    const inStead = (part: string, a: number | undefined, b: number | undefined, ohm: number | null): Act => {
      const [old] = this.energised.branches(part);
      const open = old ? branch(old.a, old.b, { re: old.re, im: old.im }, part) : null;
      const instead = branch(a, b, null, '');
      return open?.how === 'branch' && instead.how === 'branch' ? { how: 'instead', open, instead, ohm, still: open.still && instead.still } : { how: 'none' };
    };
    // An end in another bar: off its own, and on that.
    if (site.on === 'structure' && site.structure === 'landed') return inStead(`termination ${site.id}`, network.index.get(site.id), network.index.get(site.cores[0] ?? ''), planPhysics.terminationOhm(site.id));
    if (site.on === 'structure' && site.structure === 'thrown') {
      const { parts, throws } = throwsOf(this.installation, site.id);
      const made = this.energised.branches(`switch ${parts[0]}`).length ? 0 : 1;
      const [common] = this.energised.branches(`switch ${parts[made]}`);
      return inStead(`switch ${parts[made]}`, common?.a, network.index.get(throws[1 - made] as string), planPhysics.switchOhm);
    }
    if (site.on === 'structure') return site.structure === 'crossed' && this.installation.sections.length < EXACT_BELOW_SECTIONS ? { how: 'exact', still: this.isOff(site.id) } : { how: 'none' };
    if (site.on === 'pair') return actsIn(site, this.state) ? branch(network.index.get(site.a), network.index.get(site.b), null, '') : { how: 'none' };
    if (site.on === 'cable') {
      const section = findSection(this.installation, site.section);
      if (!section) return { how: 'none' };
      const [c, d] = site.cores;
      return branch(network.index.get(endKeyOf(section, 'b', c)), network.index.get(endKeyOf(section, 'b', d)), null, '');
    }
    if (site.on === 'opened') return inStead(`core ${site.part}`, network.index.get(site.a), network.index.get(site.b), null);
    if (site.on !== 'branch' && site.on !== 'face') return { how: 'none' };
    const part = site.on === 'face' ? `face ${site.face}` : site.end === '' ? (site.part.includes(':') ? `core ${site.part}` : `${s.kind === 'loadOpen' ? 'load' : 'switch'} ${site.part}`) : `termination ${site.endKey}`;
    const [found] = this.energised.branches(part);
    const leak = isBreak(s) && s.conductors.join() === 'E' ? branch(...this.pairBeyond(site), null, '') : null;
    return found ? branch(found.a, found.b, { re: found.re, im: found.im }, part, leak?.how === 'branch' ? leak : null) : { how: 'none' };
  }

  /** Line and earth at the first place beyond a break. */
  private pairBeyond(site: Extract<Suspect['site'], { on: 'branch' | 'face' }>): [number | undefined, number | undefined] {
    const point = findPoint(this.installation, site.on === 'face' ? pointOfPlace(this.installation, site.face) : (findSection(this.installation, sectionOfPlace(this.installation, site.endKey || site.part))?.b ?? ''));
    const { index } = this.energised.network;
    const at = (role: string): number | undefined => {
      const terminal = point?.terminals.find((t) => t.role.startsWith(role))?.id;
      return point && terminal !== undefined ? index.get(terminalKey(point.id, terminal)) : undefined;
    };
    return site.on === 'face' ? [at('L'), index.get(site.face)] : [at('L'), at('E')];
  }
}

/** The column of a branch in a network in which another, whose column and gain are given, is changed already. */
function columnIn(branch: Branch, first: Column, own: Column, gain: Phasor): Column {
  const across = times(gain, minus(first.at(branch.a), first.at(branch.b)));
  const at = (n: number): Phasor => minus(own.at(n), times(first.at(n), across));
  return { at, self: minus(at(branch.a), at(branch.b)) };
}

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
