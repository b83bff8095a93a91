import type { Fault } from '../../core/faults';
import { boardOf, findPoint, loadsOf, protectionsOf, terminalKey, type Installation, type Protection } from '../../core/installation';
import { clampAmp, Energised, GROUND, indicatorOhm, largest, lineParts, magnitude, residualParts, soundView, watching, type LiveTest, type Service } from '../../core/live';
import { slowVolts } from '../../core/live/fixtures/slow';
import { compileNetwork, resistanceBetween } from '../../core/network';
import { seededRandom, type Random } from '../../core/numeric';
import { tiedState, type Probe } from '../../core/probes';
import type { LiveAsk } from '../../core/simulation';
import { displayOf, meter, type Displayed, type TestFunction } from '../../core/tester';
import { elementKey, untouched, type WorkState } from '../../core/workstate';
import type { House, Wrong } from './house';

const NOT_RUNNING_OHM = 1e9;
/** So often somebody waits for a device to hold before it is measured. */
const DRAWS = 20;
const MAGNETIC = { B: 4, C: 7.5, D: 15 } as const;

/**
 * What really happens in the house: every reading and every trip, from its own faults, loads and thresholds. It knows nothing of
 * suspects; of the engine it shares the network solver alone, and one house in ten is read by a second solver.
 */
export class Nature {
  private readonly random: Random;
  private readonly threshold = new Map<string, number>();
  private readonly gain = { continuity: 1, insulation: 1 };
  private readonly residualOhm: number;
  /** How much of what is switched on runs when a device is closed, 0…1; and volts that neighbours leave on the neutral. */
  private readonly busy: number;
  private readonly neutralVolt: number;
  private readonly forgotten: Set<string>;
  wrongs: readonly Wrong[];

  constructor(readonly house: House, wrongs: readonly Wrong[]) {
    this.wrongs = wrongs;
    this.random = seededRandom(house.seed * 31337 + 5);
    this.gain = { continuity: 1 + this.random.uniform(-0.02, 0.02), insulation: 1 + this.random.uniform(-0.03, 0.03) };
    this.residualOhm = this.random.uniform(-0.02, 0.02);
    this.busy = this.random.chance(0.25) ? 0 : this.random.next();
    this.neutralVolt = this.random.uniform(0, 2);
    for (const d of protectionsOf(house.whole)) this.threshold.set(d.id, this.random.uniform(0.62, 0.9));
    this.forgotten = new Set([...house.plugged].filter(() => this.random.chance(0.02)));
  }

  /** What is wrong in a state: a neutral that is borrowed through a load is not while that load is out. */
  private faultsIn(state: WorkState, thrown: readonly Fault[] = []): Fault[] {
    const gone = new Set(this.gone(state));
    return [...thrown, ...this.wrongs.flatMap((w) => (w.load !== undefined && gone.has(w.load) ? [] : w.faults))];
  }

  /** Loads that are out in a state of the true map: never plugged in, or taken out and not forgotten. */
  private gone(state: WorkState): string[] {
    return this.house.whole.points.flatMap((p) => loadsOf(p).map((l) => elementKey(p.id, l.id))).filter((k) => !this.house.plugged.has(k) || (state.loadsOut.includes(k) && !this.forgotten.has(k)));
  }

  /** Was it recorded as unplugged, and is it still in? */
  stayedIn(load: string): boolean {
    return this.forgotten.has(load);
  }

  /** Found in after all. */
  takeOut(load: string): void {
    this.forgotten.delete(load);
  }

  /** Ends that went back into their terminals are well made. */
  remake(ends: readonly string[]): void {
    this.wrongs = this.wrongs.map((w) => ({ ...w, faults: w.faults.filter((f) => f.kind !== 'termination' || !ends.includes(f.end)) })).filter((w) => w.faults.length > 0);
  }

  private withLoads(ohmOf: (key: string, ohm: number) => number): Installation {
    const { whole } = this.house;
    return { ...whole, points: whole.points.map((p) => ({ ...p, elements: p.elements.map((e) => (e.kind === 'load' ? { ...e, ohm: ohmOf(elementKey(p.id, e.id), e.ohm) } : e)) })) };
  }

  read(state: WorkState, probe: Probe): Displayed {
    const { house } = this;
    const map = this.withLoads((k, ohm) => (house.switchedOn.has(k) ? (house.cold.get(k)?.[probe.fn === 'continuity' ? 'continuityOhm' : 'insulationOhm'] ?? ohm) : NOT_RUNNING_OHM));
    const network = compileNetwork(map, tiedState({ ...state, loadsOut: this.gone(state) }, probe), this.faultsIn(state, house.thrown), house.physics);
    const [a, b] = [network.index.get(probe.from[0] ?? ''), network.index.get(probe.to[0] ?? '')];
    if (a === undefined || b === undefined) throw new Error(`no such place: ${JSON.stringify(probe)}`);
    if (a === b) return this.shown(probe.fn, 0);
    const ohm = resistanceBetween(network, a, b);
    if (house.seed % 10 === 0 && ohm !== 'open' && network.nodes.length < 90) return this.shown(probe.fn, secondSolver(network, a, b));
    return ohm === 'open' ? { above: meter[probe.fn].topOhm } : this.shown(probe.fn, ohm);
  }

  private shown(fn: TestFunction, ohm: number): Displayed {
    const range = meter[fn];
    const coarse = ohm < range.coarseBelowOhm ? 1 + this.random.uniform(-0.1, 0.1) : this.gain[fn];
    const digits = this.random.uniform(-range.digits, range.digits) * range.digitOhm(ohm);
    return displayOf(fn, Math.max(0, ohm * coarse + (fn === 'continuity' ? this.residualOhm : 0) + digits));
  }

  /** The house with the supply on; `running`: how much of what is switched on draws current now. */
  energised(state: WorkState, running = this.random.chance(0.2) ? 0 : this.busy, thrown = this.house.thrown): Energised {
    const on = new Set([...this.house.switchedOn].filter(() => this.random.chance(running)));
    const map = this.withLoads((k, ohm) => (on.has(k) ? ohm : NOT_RUNNING_OHM));
    const service: Service = { load: 1, neutralVolt: this.neutralVolt, leak: 1 };
    return Energised.of(map, { ...state, loadsOut: this.gone(state) }, this.faultsIn(state, thrown), service, this.house.physics);
  }

  live(state: WorkState, ask: LiveAsk): LiveTest {
    const e = this.energised(state);
    const { whole } = this.house;
    const shown = (x: number, digit: number): number => Math.max(0, Math.round((x * (1 + 0.02 * this.random.normal())) / digit) * digit);
    const volt = (from: string, to: string, low: boolean): number => {
      const v = e.voltage(from, to, low ? indicatorOhm.low : indicatorOhm.high);
      return v ? magnitude(v) : 0;
    };
    switch (ask.kind) {
      case 'closed': return this.close(e, state, ask.device);
      case 'voltage': return { ...ask, volt: shown(volt(ask.from, ask.to, ask.meter === 'low'), 0.1) };
      case 'works': return { ...ask, works: volt(`${ask.point}:L`, `${ask.point}:N`, true) > 140 };
      case 'clamp': return { ...ask, mA: shown(1000 * clampAmp(whole, soundView(this.whileItHolds(e, state, ask.around)), null, state, ask), 0.1) };
      case 'loop': {
        const z = e.loop(ask.from, ask.to);
        return { ...ask, ohm: z ? shown(Math.min(1999, magnitude(z)), 0.01) : 1999 };
      }
      default: {
        const d = protectionsOf(whole).find((x) => x.id === ask.device);
        const at = d ? this.tripsAt(d) : null;
        if (ask.kind === 'times') return { ...ask, ms: at !== null && ask.multiple * (d?.residualMa ?? 30) > at ? this.random.integer(18, 150) : null };
        const standing = d && ask.outgoing === 'in' ? 1000 * magnitude(e.clamp(residualParts(d))) : 0;
        return { ...ask, mA: at === null ? null : shown(Math.sqrt(Math.max(0, at * at - standing * standing)), 0.5) };
      }
    }
  }

  /** What is on while a device is measured is what lets it hold. */
  private whileItHolds(first: Energised, state: WorkState, around: string): Energised {
    let e = first;
    for (let i = 0; i < DRAWS && this.trips(e, state, around).some((t) => t.at === 'at once'); i++) e = this.energised(state);
    return e;
  }

  private tripsAt(d: Protection): number | null {
    if (d.residualMa === null) return null;
    const own = this.faultsIn(untouched).find((f) => f.kind === 'device' && f.device === d.id);
    if (own?.kind === 'device' && own.blind) return null;
    return d.residualMa * (this.threshold.get(d.id) ?? 0.75) * (own?.kind === 'device' ? own.sensitivity : 1);
  }

  /** Devices that open in a state, the first to do so in front. */
  trips(e: Energised, state: WorkState, closed: string): { device: Protection; at: 'at once' | 'after' }[] {
    return watching(this.house.whole, state, closed).flatMap((device): { device: Protection; at: 'at once' | 'after' }[] => {
      const at = this.tripsAt(device);
      if (at !== null && 1000 * magnitude(e.clamp(residualParts(device))) > at) return [{ device, at: 'at once' }];
      if (device.ratingA === null || device.kind === 'rcd' || device.kind === 'main') return [];
      const multiple = magnitude(largest(lineParts(device).map((parts) => e.clamp(parts)))) / device.ratingA;
      if (multiple > (device.kind === 'fuse' ? 10 : MAGNETIC[device.curve ?? 'B'])) return [{ device, at: 'at once' }];
      return multiple > 1.5 ? [{ device, at: 'after' }] : [];
    }).sort((a, b) => (a.at === b.at ? a.device.ways.length - b.device.ways.length : a.at === 'at once' ? -1 : 1));
  }

  private close(e: Energised, state: WorkState, id: string): LiveTest {
    const [first] = this.trips(e, state, id);
    return { kind: 'closed', device: id, result: first?.at ?? 'holds', tripped: first?.device.id ?? null };
  }

  /** What goes wrong with the house in use, over an idle, a usual and a busy hour. */
  symptoms(): Symptoms {
    const tripped = new Set<string>();
    let [residual, over, idleTrip] = [false, false, false];
    let [metalVolt, hotWatt, hot] = [0, 0, ''];
    const [dead, metal] = [new Set<string>(), new Set<string>()];
    for (const running of [0, 0.5, 1]) {
      // Whoever uses the house puts the light on.
      const e = this.energised(untouched, running, []);
      const went = protectionsOf(this.house.whole).filter((d) => d.kind !== 'main').flatMap((d) => this.trips(e, untouched, d.id));
      for (const { device } of went) {
        tripped.add(device.id);
        const at = this.tripsAt(device);
        if (at !== null && 1000 * magnitude(e.clamp(residualParts(device))) > at) residual = true;
        else over = true;
      }
      if (running === 0 && went.length) idleTrip = true;
      for (const p of this.house.whole.points) {
        if (p.kind === 'board' || !this.house.ways.some((w) => w.points.includes(p.id))) continue;
        const at = (t: string): number => (p.terminals.some((x) => x.id === t) ? magnitude(e.voltage(terminalKey(p.id, t), GROUND, indicatorOhm.low) ?? { re: 0, im: 0 }) : 0);
        metalVolt = Math.max(metalVolt, at('E'));
        if (at('E') > 50) metal.add(p.id);
        const ln = magnitude(e.voltage(terminalKey(p.id, p.kind === 'switch' && p.terminals.some((t) => t.id === 'SL') ? 'SL' : 'L'), terminalKey(p.id, 'N'), indicatorOhm.low) ?? { re: 0, im: 0 });
        if (ln < 115) dead.add(p.id);
      }
      for (const f of this.faultsIn(untouched)) {
        if (f.kind !== 'termination' || f.ohm === 'open') continue;
        const watt = magnitude(e.current(`termination ${f.end}`)) ** 2 * f.ohm;
        if (watt > hotWatt) [hotWatt, hot] = [watt, this.house.whole.sections.find((s) => f.end.startsWith(`${s.id}@`))?.b ?? ''];
      }
    }
    return { tripped: [...tripped], residual, over, idleTrip, metalVolt, metal: [...metal], dead: [...dead], hotWatt, hot, earths: this.unearthed() };
  }

  /** Points whose earth leads nowhere. */
  private unearthed(): string[] {
    const board = boardOf(this.house.whole);
    const network = compileNetwork(this.house.whole, untouched, this.faultsIn(untouched), this.house.physics);
    const met = network.index.get(terminalKey(board?.id ?? '', 'E'));
    return this.house.ways.flatMap((w) => w.points).filter((id) => {
      const e = network.index.get(terminalKey(id, 'E'));
      const ohm = e === undefined || met === undefined ? 0 : resistanceBetween(network, e, met);
      return findPoint(this.house.whole, id)?.kind !== 'undrawn' && (ohm === 'open' || ohm > 1e3);
    });
  }
}

export interface Symptoms { readonly tripped: readonly string[]; readonly residual: boolean; readonly over: boolean; readonly idleTrip: boolean; readonly metalVolt: number; /** Points where earthed metal shocks. */ readonly metal: readonly string[]; readonly dead: readonly string[]; readonly hotWatt: number; /** A point on the circuit whose joint gets hottest, where it is felt. */ readonly hot: string; readonly earths: readonly string[] }

/** Resistance by plain elimination in numbers of twice the digits. */
function secondSolver(network: ReturnType<typeof compileNetwork>, a: number, b: number): number {
  const branches = network.branches.map((x) => ({ a: x.a, b: x.b, re: 1 / x.ohm, im: 0, part: x.part }));
  return slowVolts({ nodes: network.nodes, index: network.index, branches, sources: [{ a: b, b: a, re: 1, im: 0, part: 'one ampere' }], ground: b, distorting: new Set() })[a]?.re ?? 0;
}

