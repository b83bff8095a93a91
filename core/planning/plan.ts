import { isDoubtful, type Belief, type BeliefEngine, type Observation } from '../belief';
import { isFault, type Suspect } from '../faults';
import { pointOfPlace, type Installation } from '../installation';
import { probeKey, type Probe } from '../probes';
import { meter, toY, type TestFunction } from '../tester';
import { elementKey, stateSignature, type WorkState } from '../workstate';
import type { Costs } from './costs';
import { forecast, foreseenAlike, frontOf, information, outcomeClasses, ROUGH_FRONT, type Forecast, type Front } from './outcomes';
import { probesFor, readerAfter, sharesLowContact } from './candidates';
import { astray, interestIn, prune } from './interest';
import { placesOf } from './places';
import { applyAction, atLoadOrSwitch, minutesFor, stances, type Action, type Situation } from './stance';

/** What to do next: actions in hand order, then readings. */
export interface Step {
  readonly actions: readonly Action[];
  readonly probes: readonly Probe[];
  readonly minutes: number;
  /** Expected bits about the place of the fault. */
  readonly bits: number;
  /** Expected minutes to the end if this is done; lower is better. */
  readonly cost: number;
  readonly stateAfter: WorkState;
  readonly at: readonly string[];
}

export interface PlanOptions {
  readonly costs: Costs;
  /** Most readings in one step. */
  readonly mostProbes: number;
  /** Steps turned down by the person ("not now"). */
  readonly rejected: ReadonlySet<string>;
  /** Number of what is to be told apart, per suspect; its place, where it is absent. */
  readonly parts?: (installation: Installation, suspects: readonly Suspect[]) => number[];
  /** How many steps to return, best first. */
  readonly keep: number;
  /** Readings alone, with everything as it stands now. */
  readonly still?: boolean;
}

export const stepKey = (s: Pick<Step, 'actions' | 'probes'>): string =>
  `${s.actions.map((a) => JSON.stringify(a)).join()}|${s.probes.map(probeKey).join()}`;

/** Minutes that a further bit costs on the whole, for weighing what a step leaves open. */
const MINUTES_PER_BIT = 2.6;
/** A reading that tells less is not worth proposing. */
const LEAST_BITS = 0.01;
/** Suspicion of a borrowed neutral from which a line is read against other bars than its own. */
const BORROWS = 0.02;
/** Suspicion of a face from which it is read again though the terminal behind it is bare. */
const FACE_DOUBTED = 0.05;
/** Changes of state for which sets of readings are grown. */
const GROWN = 5;

/** Changes of state, and readings in each, that a rough look leaves for the full one. */
const LOOKED_AT = 12;
const PROBES_LOOKED_AT = 14;

/** Steps by expected minutes to the end, best first; none when nothing that can be read would tell anything. */
export function plan(engine: BeliefEngine, belief: Belief, observations: readonly Observation[], situation: Situation, options: PlanOptions): Step[] {
  const { installation } = engine;
  const places = (options.parts ?? placesOf)(installation, engine.suspects);
  const rough = frontOf(engine, belief, (s) => places[s] ?? 0, ROUGH_FRONT);
  const front = frontOf(engine, belief, (s) => places[s] ?? 0);
  if (front.entropy < 1e-6) return [];
  const read = new Set(observations.map((o) => `${stateSignature(o.state)} ${probeKey(o.probe)}`));
  const interest = interestIn(engine, belief);
  const faces = new Set(engine.suspects.flatMap(({ site }, i) => (site.on === 'face' && (belief.suspectShare[i] as number) > FACE_DOUBTED ? [site.face] : [])));
  const reader = readerAfter(installation, observations, sharesLowContact(engine, belief));
  const earlier = new EarlierReadings(engine, belief, observations);
  const asItStands = new AsItStands(engine, belief, situation.state);
  const priced: Priced = { installation, situation, front, options, dearer: dearerWithLoads(engine, belief) };
  const weigh = (f: Front, actions: readonly Action[], state: WorkState, probes: readonly Probe[]): Open => {
    const forecasts = weighProbes(engine, belief, f, state, probes).filter((x) => !earlier.tellsTheSame(f, x.f));
    // Nobody takes a plug out for a reading that is the same with it in: beside one that is not it may stand.
    const own = f === front && actions.length && actions.every(atLoadOrSwitch) ? forecasts.filter((x) => !asItStands.tellsTheSame(f, x.f)) : forecasts;
    return { actions, state, forecasts, singles: singlesOf({ ...priced, front: f }, actions, state, own) };
  };
  const candidates = options.still ? [[]] : prune(stances(installation, situation, (p) => interest.get(p) ?? 0), installation, interest, situation);
  const roughly = candidates.map((actions) => {
    const state = actions.reduce(applyAction, situation.state);
    const signature = stateSignature(state);
    const probes = probesFor(installation, situation, state, actions, reader, (c) => (interest.get(astray(c)) ?? 0) > BORROWS, faces).filter(
      (p) => !read.has(`${signature} ${probeKey(p)}`) && !options.rejected.has(stepKey({ actions, probes: [p] })),
    );
    return weigh(rough, actions, state, probes);
  });
  const looked = byBestSingle(roughly).slice(0, LOOKED_AT);
  const opens = byBestSingle(looked.map((o) => weigh(front, o.actions, o.state, o.singles.slice(0, PROBES_LOOKED_AT).map((x) => x.f.probe))));
  const steps = opens.flatMap((o) => o.singles.slice(0, 4).map((x) => x.step));
  for (const o of opens.slice(0, GROWN)) steps.push(...grownSets(priced, o));
  const byKey = new Map(steps.map((s) => [stepKey(s), s]));
  return [...byKey.values()].sort((a, b) => a.cost - b.cost).slice(0, options.keep);
}

const byBestSingle = (opens: readonly Open[]): Open[] => opens.filter((o) => o.singles.length).sort((a, b) => (a.singles[0]?.step.cost ?? 0) - (b.singles[0]?.step.cost ?? 0));

function weighProbes(engine: BeliefEngine, belief: Belief, front: Front, state: WorkState, probes: readonly Probe[]): { f: Forecast; bits: number }[] {
  return probes.flatMap((probe) => {
    const answers = engine.formulas.in(state, probe);
    if (!answers) return [];
    const f = forecast(engine, belief, front, answers);
    return [{ f, bits: information(front, f) }];
  });
}

/** Difference in y below which two readings are the same one. */
const SAME_Y = 0.03;
const SAME_MASS = 0.995;

/** Is it one reading? Off scale is off scale. */
function showSame(fn: TestFunction, x: number, y: number): boolean {
  const top = toY(fn, meter[fn].topOhm);
  return Math.abs(Math.min(top, x) - Math.min(top, y)) < SAME_Y;
}

/** Readings of the same two terminals in other states: where what was changed since does not concern them, they would only be repeated. */
class EarlierReadings {
  private readonly byProbe = new Map<string, Observation[]>();
  private readonly forecasts = new Map<Observation, { front: Front; f: Forecast }>();

  constructor(private readonly engine: BeliefEngine, private readonly belief: Belief, observations: readonly Observation[]) {
    for (const o of observations) this.byProbe.set(probeKey(o.probe), [...(this.byProbe.get(probeKey(o.probe)) ?? []), o]);
  }

  /** Would nearly all of the front read as an earlier reading did? */
  tellsTheSame(front: Front, f: Forecast): boolean {
    return (this.byProbe.get(probeKey(f.probe)) ?? []).some((o) => {
      const before = this.forecastOf(front, o);
      return before !== null && front.weight.reduce((same, w, i) => (foreseenAlike(f, before, i, (x, y) => showSame(f.probe.fn, x, y)) ? same + w : same), 0) > SAME_MASS;
    });
  }

  private forecastOf(front: Front, o: Observation): Forecast | null {
    const known = this.forecasts.get(o);
    if (known?.front === front) return known.f;
    const answers = this.engine.formulas.of(o.state, o.probe);
    if (!answers) return null;
    const f = forecast(this.engine, this.belief, front, answers);
    this.forecasts.set(o, { front, f });
    return f;
  }
}

/** Readings as they would be with nothing changed first. */
class AsItStands {
  private readonly forecasts = new Map<string, Forecast | null>();

  constructor(private readonly engine: BeliefEngine, private readonly belief: Belief, private readonly state: WorkState) {}

  /** Would all of the front read so without what was done first? */
  tellsTheSame(front: Front, f: Forecast): boolean {
    const key = probeKey(f.probe);
    let plain = this.forecasts.get(key);
    if (plain === undefined) {
      const answers = this.engine.formulas.in(this.state, f.probe);
      this.forecasts.set(key, (plain = answers ? forecast(this.engine, this.belief, front, answers) : null));
    }
    const { fn } = f.probe;
    const before = plain;
    return before !== null && front.weight.every((_, i) => foreseenAlike(f, before, i, (x, y) => showSame(fn, x, y)));
  }
}

interface Weighed { readonly f: Forecast; readonly bits: number; readonly step: Step }
interface Open { readonly actions: readonly Action[]; readonly state: WorkState; readonly singles: readonly Weighed[]; readonly forecasts: readonly { f: Forecast; bits: number }[] }

/** What a step is priced by. */
interface Priced { readonly installation: Installation; readonly situation: Situation; readonly front: Front; readonly options: PlanOptions; /** What is left to find out costs so much more with loads in. */ readonly dearer: number }

function makeStep({ installation, situation, front, options, dearer }: Priced, actions: readonly Action[], state: WorkState, probes: Probe[], bits: number): Step {
  const { minutes, at } = minutesFor(installation, situation, actions, probes, options.costs);
  return { actions, probes, minutes, bits, cost: costOf(canWait(situation, actions) && bits < SPLITS_WELL ? minutes * WAITS : minutes, bits, front.entropy, blurred(installation, state) ? dearer : 1), stateAfter: state, at };
}

/** Steps of one reading, best first. */
function singlesOf(priced: Priced, actions: readonly Action[], state: WorkState, forecasts: readonly { f: Forecast; bits: number }[]): Weighed[] {
  return forecasts
    .filter((x) => x.bits > LEAST_BITS)
    .map((x) => ({ ...x, step: makeStep(priced, actions, state, [x.f.probe], x.bits) }))
    .sort((a, b) => a.step.cost - b.step.cost);
}

/** Sets of readings grown from the best single ones, one reading at a time, while that pays. */
function grownSets(priced: Priced, open: Open): Step[] {
  const { front, options } = priced;
  const steps: Step[] = [];
  const useful = [...open.forecasts].sort((a, b) => b.bits - a.bits).slice(0, 12);
  const bitsOf = new Map(open.forecasts.map((x) => [x.f, x.bits]));
  // What tells most by itself is read first.
  const inOrder = (chosen: readonly Forecast[]): Probe[] => [...chosen].sort((a, b) => (bitsOf.get(b) ?? 0) - (bitsOf.get(a) ?? 0)).map((c) => c.probe);
  for (const first of open.singles.slice(0, 2)) {
    let chosen = [first.f];
    let classes = outcomeClasses(first.f, front.weight, 4);
    let bits = first.bits;
    let best = first.step;
    for (let k = 2; k <= options.mostProbes; k++) {
      let winner: Weighed | null = null;
      for (const x of useful.filter((y) => !chosen.includes(y.f))) {
        const gain = classes.reduce((sum, c) => sum + conditional(front, x.f, c), 0);
        const step = makeStep(priced, open.actions, open.state, inOrder([...chosen, x.f]), bits + gain);
        if (!winner || step.cost < winner.step.cost) winner = { f: x.f, step, bits: bits + gain };
      }
      if (!winner || winner.step.cost >= best.cost - 1e-6) break;
      best = winner.step;
      bits = winner.bits;
      chosen = [...chosen, winner.f];
      const { f } = winner;
      classes = classes.flatMap((c) => outcomeClasses(f, c, 3));
      steps.push(best);
    }
  }
  return steps;
}

/** Bits of a probe among the cells of one class of earlier outcomes, times the chance of that class. */
function conditional(front: Front, f: Forecast, mass: Float64Array): number {
  const total = mass.reduce((s, x) => s + x, 0);
  if (total < 1e-6) return 0;
  return total * information(front, f, mass.map((m) => m / total));
}

/**
 * Taking one more section off at a point that is open already costs the same later and may then not be needed, or part more:
 * unless it parts well it has to be that much better than an opening. On a chain of places, greedy cost falls from 1.02–1.03
 * of the best possible to 1.00–1.005 with it.
 */
const WAITS = 1.3;
const SPLITS_WELL = 0.9;
const canWait = ({ state }: Situation, actions: readonly Action[]): boolean => actions.length > 0 && actions.every((a) => a.do === 'takeOut' && state.opened.includes(a.point));

/** Minutes now plus what is left to find out, at the usual price. */
export function costOf(minutes: number, bits: number, entropy: number, dearer = 1): number {
  if (bits <= 1e-6) return Infinity;
  return (minutes / bits) * entropy * 0.5 + (minutes + Math.max(0, entropy - bits) * MINUTES_PER_BIT * dearer) * 0.5;
}

/** Of a fault that is in no load every reading tells less while loads may be in: what is left to find out then costs so much more. */
const BLURRED = 2;

/** By how much what is left to find out is dearer with loads in: not at all where they are what is suspected. */
function dearerWithLoads({ suspects }: BeliefEngine, { suspectShare }: Belief): number {
  let [loads, all] = [0, 0];
  for (const [i, s] of suspects.entries()) {
    if (!isFault(s)) continue;
    all += suspectShare[i] as number;
    if (s.kind === 'loadFault' || s.kind === 'loadLeft') loads += suspectShare[i] as number;
  }
  return all > 0 ? BLURRED - (BLURRED - 1) * (loads / all) : BLURRED;
}

const blurred = (map: Installation, state: WorkState): boolean => map.points.some((p) => p.elements.some((e) => e.kind === 'load' && e.unplugs && isDoubtful(e) && !state.loadsOut.includes(elementKey(p.id, e.id))));

export const stepPoints = (installation: Installation, s: Step): string[] => [
  ...new Set([...s.actions.map((a) => a.point), ...s.probes.flatMap((p) => [...p.from, ...p.to].map((k) => pointOfPlace(installation, k)))]),
];

