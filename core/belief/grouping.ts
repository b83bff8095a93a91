import { boardOf, circuitsOf, endsAtPoint, landingOf, parsePlace, pointOfPlace, roleOfPlace, sectionOfPlace, terminalKey } from '../installation';
import { asIn, type Suspect } from '../faults';
import { probeKey, tiedState, type Probe, type Path, type Response } from '../probes';
import { instrumentSdOhm, isAbove, meter, toY, UNSTEADY_SD } from '../tester';
import { stateSignature, type WorkState } from '../workstate';
import { nameOf, type BeliefEngine, type Observation } from './belief';
import { HEALTHY_OHM, type Group } from './group';
import { leadCircuits, meet, reachOf, type Reach } from './reach';

const [LINE, NEUTRAL, EARTH] = [/^(L|SL|T)/, /^N$/, /^E$/];
/** What two readings may differ by, and still the one bounds the other. */
const FLOOR = 0.8;

/** Readings put together for the sums: repeats that agree are one reading, and each carries what the sums ask of its probe. */
export class Grouping {
  private readonly paths = new Map<string, Path | null>();
  private readonly currents = new Map<string, Float64Array>();
  private readonly potentials = new Map<string, Float64Array>();

  constructor(private readonly engine: BeliefEngine) {}

  of(observations: readonly Observation[]): Group[] {
    const byProbe = new Map<string, Observation[]>();
    // In one order, whatever the order in which they were taken.
    for (const o of [...observations].sort((x, y) => (nameOf(x) < nameOf(y) ? -1 : 1))) {
      const key = `${stateSignature(o.state)} ${probeKey(o.probe)} ${(o.remade ?? []).join()} ${(o.unlinked ?? []).join()}`;
      byProbe.set(key, [...(byProbe.get(key) ?? []), o]);
    }
    const groups: Group[] = [];
    const measured: string[] = [];
    const reaches: Reach[] = [];
    const taken = new Map<string, number[]>();
    for (const repeats of byProbe.values()) {
      const first = repeats[0] as Observation;
      const answers = this.engine.formulas.of(first.state, first.probe);
      if (!answers) continue;
      const { sound } = answers;
      const known = new Array<Response | undefined>(this.engine.answering.length);
      const response = (suspect: number): Response => (known[suspect] ??= this.engine.answerTo(answers, first, suspect));
      const others = answers.others.map((m) => {
        const knownWith = new Array<Response | undefined>(this.engine.answering.length);
        return { is: m.is, share: m.share, own: m.own, sound: m.sound, response: (suspect: number): Response => (knownWith[suspect] ??= this.engine.lapsed(first, suspect) ? m.sound : m.to(suspect)) };
      });
      const { fn } = first.probe;
      const reach = reachOf(this.engine.installation, first.probe, first.state, others.length > 0);
      const shown = [...repeats].sort((x, y) => valueOf(x) - valueOf(y));
      const values = shown.map(valueOf);
      // Repeats that agree share one instrument error: they only make a slip less likely.
      for (let i = 0; i < values.length; ) {
        const start = values[i] as number;
        let j = i + 1;
        while (j < values.length && agree(fn, start, values[j] as number)) j++;
        const cluster = values.slice(i, j);
        const middle = cluster[Math.floor((cluster.length - 1) / 2)] as number;
        const above = middle === Infinity;
        const ohm = above ? meter[fn].topOhm : middle;
        const before = above ? [] : readBefore(groups, fn, ohm).filter((m) => meet(reach, reaches[m] as Reach));
        const repeated = taken.get(probeKey(first.probe)) ?? [];
        taken.set(probeKey(first.probe), [...repeated, groups.length]);
        groups.push({ number: -1, fn, names: shown.slice(i, j).map(nameOf), above, ohm, y: toY(fn, ohm), inLoad: (suspect) => this.inLoad(suspect, first.state), slip: this.engine.options.slipShare ** cluster.length, steady: repeats.some((o) => o.unsteady) ? UNSTEADY_SD : this.engine.options.steadySd, alike: 1, sound, response, others, floorOhm: others.length ? this.neutralToEarth(first, observations) : 0, againSd: Math.hypot(instrumentSdOhm(fn, ohm, ohm), fn === 'continuity' ? SOME_CABLE_OHM / 2 : 0) / Math.hypot(ohm, meter[fn].scaleOhm), sameSd: instrumentSdOhm(fn, ohm, ohm) / Math.hypot(ohm, meter[fn].scaleOhm), before, repeats: repeated, again: groups[before[0] ?? -1]?.y ?? null, ...this.currentsOf(first, response) });
        reaches.push(reach);
        measured.push(fn === 'insulation' && middle >= HEALTHY_OHM ? this.cablesBetween(first.probe, first.state) : '');
        i = j;
      }
    }
    const count = new Map<string, number>();
    for (const m of measured) count.set(m, (count.get(m) ?? 0) + 1);
    return groups.map((g, i) => {
      const whole = measured[i] ? { ...g, alike: Math.sqrt(count.get(measured[i] ?? '') ?? 1) } : g;
      return { ...whole, number: this.engine.memory.numberOf(whole, groups) };
    });
  }

  private inLoad(suspect: number, state: WorkState): 'in' | 'out' | null {
    const found = this.engine.answering[suspect] && asIn(this.engine.answering[suspect], state);
    const s = found?.behind?.suspect ?? found;
    if (s?.kind !== 'loadFault' || s.site.on !== 'pair' || s.site.part === undefined) return null;
    return state.loadsOut.includes(s.site.part) ? 'out' : 'in';
  }

  /** Neutral to earth of the circuit of a reading from line to earth, where it was read in the same state: what a load cannot get round. */
  private neutralToEarth({ probe, state }: Observation, observations: readonly Observation[]): number {
    const { installation: map } = this.engine;
    const at = (p: Probe, role: RegExp): string | undefined => [...p.from, ...p.to].find((k) => role.test(roleOfPlace(map, k)));
    const line = at(probe, LINE);
    if (line === undefined || at(probe, EARTH) === undefined || probe.from.length + probe.to.length > 2) return 0;
    const circuits = circuitsOf(map);
    const section = sectionOfPlace(map, line);
    const board = boardOf(map)?.id ?? '';
    // The bar is the circuit's own neutral only while that lands in it.
    const apart = endsAtPoint(map, board).some((e) => e.role === 'N' && circuits.get(e.section.id) === circuits.get(section) && state.out.includes(e.key));
    const bar = terminalKey(board, landingOf(map, section).neutral);
    const signature = stateSignature(state);
    return observations.reduce((least, o) => {
      const neutral = at(o.probe, NEUTRAL);
      if (neutral === undefined || at(o.probe, EARTH) === undefined || stateSignature(o.state) !== signature) return least;
      const own = parsePlace(neutral)?.at === 'terminal' && pointOfPlace(map, neutral) === board ? neutral === bar && !apart : circuits.get(sectionOfPlace(map, neutral)) === circuits.get(section);
      if (!own) return least;
      // Off scale on the same range: nothing that goes on from the neutral shows on it either.
      if (isAbove(o.displayed)) return Math.max(least, o.probe.fn === probe.fn ? Infinity : FLOOR * o.displayed.above);
      return Math.max(least, FLOOR * o.displayed.ohm - meter[o.probe.fn].digits * meter[o.probe.fn].digitOhm(o.displayed.ohm));
    }, 0);
  }

  /** Circuits that the leads of a probe stand on, and where these are parted: readings between the same measure the same cables. */
  private cablesBetween(probe: Probe, state: WorkState): string {
    const { installation: map } = this.engine;
    const circuits = circuitsOf(map);
    const at = new Set(leadCircuits(map, probe));
    const parted = state.out.filter((k) => at.has(circuits.get(sectionOfPlace(map, k))) && pointOfPlace(map, k) !== boardOf(map)?.id);
    return `${[...at].map((x) => x ?? 'bar').sort().join(' ')} | ${parted.join(' ')}`;
  }

  /** The currents of a reading, worked out once per probe and state. */
  private currentsOf(o: Observation, response: (suspect: number) => Response): Pick<Group, 'currents' | 'cores' | 'path' | 'site' | 'potentials' | 'leakage' | 'siteLeaks'> {
    const key = `${stateSignature(o.state)} ${probeKey(o.probe)}`;
    const model = this.engine.formulas.model(tiedState(o.state, o.probe));
    const leads = model.leads(o.probe);
    return {
      cores: model.cores(),
      path: (suspect) => {
        const name = `${key} ${suspect}`;
        let found = this.paths.get(name);
        if (found === undefined) this.paths.set(name, (found = model.pathUnder(this.engine.answering[suspect] as Suspect, o.probe)));
        return found;
      },
      currents: () => {
        let found = this.currents.get(key);
        if (!found) this.currents.set(key, (found = leads ? model.probeCurrents(leads) : new Float64Array(model.cores().count)));
        return found;
      },
      site: (suspect) => model.siteCurrents(asIn(this.engine.answering[suspect] as Suspect, o.state)),
      leakage: () => model.leakage(),
      potentials: () => {
        let found = this.potentials.get(key);
        if (!found) this.potentials.set(key, (found = leads ? model.probePotentials(leads) : new Float64Array(0)));
        return found;
      },
      siteLeaks: (suspect) => (leads ? model.leakage().site(asIn(this.engine.answering[suspect] as Suspect, o.state), leads, response(suspect)) : { contact: null, parted: null }),
    };
  }
}

/** Do two readings with one function show the same, as far as a meter repeats itself? */
export const agreeing = (x: Observation, y: Observation): boolean => agree(x.probe.fn, valueOf(x), valueOf(y));

const valueOf = (o: Observation): number => (isAbove(o.displayed) ? Infinity : o.displayed.ohm);

/** Readings before that showed the same but for some cable, the nearest first: one load, or one sound insulation, seen from two places or in two states. */
function readBefore(groups: readonly Group[], fn: Probe['fn'], ohm: number): number[] {
  const sameAs = (g: Group): boolean => agree(fn, g.ohm, ohm) || Math.abs(g.ohm - ohm) < SOME_CABLE_OHM + 0.02 * ohm;
  const ofLoads = (g: Group): boolean => fn === 'insulation' || Math.max(g.ohm, ohm) > LESS_THAN_A_LOAD_OHM;
  return groups.flatMap((g, i) => (g.fn === fn && !g.above && ofLoads(g) && sameAs(g) ? [i] : [])).sort((i, j) => far(groups[i], ohm) - far(groups[j], ohm));
}
const far = (g: Group | undefined, ohm: number): number => Math.abs((g?.ohm ?? 0) - ohm);
const SOME_CABLE_OHM = 0.5;
/** No load has so few ohms: readings of them that are alike are of one conductor each. */
const LESS_THAN_A_LOAD_OHM = 1;

function agree(fn: Probe['fn'], x: number, y: number): boolean {
  if (x === Infinity || y === Infinity) return x === y;
  return Math.abs(toY(fn, x) - toY(fn, y)) < 0.06 || Math.abs(x - y) <= 3 * meter[fn].digitOhm(Math.max(x, y));
}
