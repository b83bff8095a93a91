import type { Belief, BeliefEngine, Observation } from '../belief';
import type { Suspect } from '../faults';
import { circuitsOf, endKeyOf, endsAtPoint, findPoint, parsePlace, pointOfPlace, sectionOfEnd, type Installation, type Point } from '../installation';
import { probeKey, type Probe, type Response } from '../probes';
import { meter, toY } from '../tester';
import { stateSignature, type WorkState } from '../workstate';
import type { Costs } from './costs';
import { forecast, frontOf, information, outcomeClasses, ROUGH_FRONT, type Forecast, type Front } from './outcomes';
import { placesOf } from './places';
import { applyAction, canReach, minutesFor, spotsAt, stances, together, waysOf, type Action, type Situation, type Spot } from './stance';

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
  /** How many steps to return, best first. */
  readonly keep: number;
}

export const stepKey = (s: Pick<Step, 'actions' | 'probes'>): string =>
  `${s.actions.map((a) => JSON.stringify(a)).join()}|${s.probes.map(probeKey).join()}`;

/** Minutes that a further bit costs on the whole, for weighing what a step leaves open. */
const MINUTES_PER_BIT = 2.6;
const MOST_SPLITS = 14;
/** Changes of state for which sets of readings are grown. */
const GROWN = 5;

/** Changes of state, and readings in each, that a rough look leaves for the full one. */
const LOOKED_AT = 12;
const PROBES_LOOKED_AT = 14;

/** Steps by expected minutes to the end, best first; none when nothing that can be read would tell anything. */
export function plan(engine: BeliefEngine, belief: Belief, observations: readonly Observation[], situation: Situation, options: PlanOptions): Step[] {
  const { installation } = engine;
  const places = placesOf(installation, engine.suspects);
  const rough = frontOf(engine, belief, (s) => places[s] ?? 0, ROUGH_FRONT);
  const front = frontOf(engine, belief, (s) => places[s] ?? 0);
  if (front.entropy < 1e-6) return [];
  const read = new Set(observations.map((o) => `${stateSignature(o.state)} ${probeKey(o.probe)}`));
  const interest = interestIn(installation, engine.suspects, belief);
  const lowPath = sharesLowContact(engine, belief);
  const earlier = new EarlierReadings(engine, belief, observations);
  const weigh = (f: Front, actions: readonly Action[], state: WorkState, probes: readonly Probe[]): Open => {
    const forecasts = weighProbes(engine, belief, f, state, probes).filter((x) => !earlier.tellsTheSame(f, x.f));
    return { actions, state, forecasts, singles: singlesOf(installation, situation, f, actions, state, forecasts, options) };
  };
  const candidates = prune(stances(installation, situation, (p) => interest.get(p) ?? 0), installation, interest, situation);
  const roughly = candidates.map((actions) => {
    const state = actions.reduce(applyAction, situation.state);
    const signature = stateSignature(state);
    const probes = probesFor(installation, situation, state, actions, lowPath).filter(
      (p) => !read.has(`${signature} ${probeKey(p)}`) && !options.rejected.has(stepKey({ actions, probes: [p] })),
    );
    return weigh(rough, actions, state, probes);
  });
  const looked = byBestSingle(roughly).slice(0, LOOKED_AT);
  const opens = byBestSingle(looked.map((o) => weigh(front, o.actions, o.state, o.singles.slice(0, PROBES_LOOKED_AT).map((x) => x.f.probe))));
  const steps = opens.flatMap((o) => o.singles.slice(0, 4).map((x) => x.step));
  for (const o of opens.slice(0, GROWN)) steps.push(...grownSets(installation, situation, front, o, options));
  return steps.sort((a, b) => a.cost - b.cost).slice(0, options.keep);
}

const byBestSingle = (opens: readonly Open[]): Open[] => opens.filter((o) => o.singles.length).sort((a, b) => (a.singles[0]?.step.cost ?? 0) - (b.singles[0]?.step.cost ?? 0));

function weighProbes(engine: BeliefEngine, belief: Belief, front: Front, state: WorkState, probes: readonly Probe[]): { f: Forecast; bits: number }[] {
  const model = engine.model(state);
  return probes.flatMap((probe) => {
    const leads = model.leads(probe);
    const sound = model.sound(probe);
    if (!leads || !sound) return [];
    const responseOf = (s: number): Response => model.response(engine.suspects[s] as Suspect, probe, leads, sound);
    const f = forecast(engine, belief, front, probe, responseOf);
    return [{ f, bits: information(front, f) }];
  });
}

/** Difference in y below which two readings are the same one. */
const SAME_Y = 0.03;
const SAME_MASS = 0.995;

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
      // Off scale is off scale.
      const top = toY(f.probe.fn, meter[f.probe.fn].topOhm);
      const shown = (y: Float64Array, i: number): number => Math.min(top, y[i] as number);
      let same = 0;
      if (before) for (let i = 0; i < f.y.length; i++) if (Math.abs(shown(f.y, i) - shown(before.y, i)) < SAME_Y) same += front.weight[i] as number;
      return same > SAME_MASS;
    });
  }

  private forecastOf(front: Front, o: Observation): Forecast | null {
    const known = this.forecasts.get(o);
    if (known?.front === front) return known.f;
    const answers = this.engine.answersOf(o.state, o.probe);
    if (!answers) return null;
    const f = forecast(this.engine, this.belief, front, o.probe, (s) => answers.to(s));
    this.forecasts.set(o, { front, f });
    return f;
  }
}

interface Weighed { readonly f: Forecast; readonly bits: number; readonly step: Step }
interface Open { readonly actions: readonly Action[]; readonly state: WorkState; readonly singles: readonly Weighed[]; readonly forecasts: readonly { f: Forecast; bits: number }[] }

function makeStep(installation: Installation, situation: Situation, front: Front, actions: readonly Action[], state: WorkState, probes: Probe[], bits: number, costs: Costs): Step {
  const { minutes, at } = minutesFor(installation, situation, actions, probes, costs);
  return { actions, probes, minutes, bits, cost: costOf(canWait(situation, actions) && bits < SPLITS_WELL ? minutes * WAITS : minutes, bits, front.entropy), stateAfter: state, at };
}

/** Steps of one reading, best first. */
function singlesOf(
  installation: Installation, situation: Situation, front: Front, actions: readonly Action[], state: WorkState,
  forecasts: readonly { f: Forecast; bits: number }[], options: PlanOptions,
): Weighed[] {
  return forecasts
    .filter((x) => x.bits > 1e-3)
    .map((x) => ({ ...x, step: makeStep(installation, situation, front, actions, state, [x.f.probe], x.bits, options.costs) }))
    .sort((a, b) => a.step.cost - b.step.cost);
}

/** Sets of readings grown from the best single ones, one reading at a time, while that pays. */
function grownSets(installation: Installation, situation: Situation, front: Front, open: Open, options: PlanOptions): Step[] {
  const steps: Step[] = [];
  const useful = [...open.forecasts].sort((a, b) => b.bits - a.bits).slice(0, 12);
  for (const first of open.singles.slice(0, 2)) {
    let chosen = [first.f];
    let classes = outcomeClasses(first.f, front.weight, 4);
    let bits = first.bits;
    let best = first.step;
    for (let k = 2; k <= options.mostProbes; k++) {
      let winner: Weighed | null = null;
      for (const x of useful.filter((y) => !chosen.includes(y.f))) {
        const gain = classes.reduce((sum, c) => sum + conditional(front, x.f, c), 0);
        const step = makeStep(installation, situation, front, open.actions, open.state, [...chosen.map((c) => c.probe), x.f.probe], bits + gain, options.costs);
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
export function costOf(minutes: number, bits: number, entropy: number): number {
  if (bits <= 1e-6) return Infinity;
  return (minutes / bits) * entropy * 0.5 + (minutes + Math.max(0, entropy - bits) * MINUTES_PER_BIT) * 0.5;
}

/**
 * Probability of each section, of each point alone ("at p3"), of one circuit's ends there ("ends 2 at p0") and of each point with what a reading there concerns: the sections
 * that meet, at a furthest point the whole circuit behind it.
 */
function interestIn(installation: Installation, suspects: readonly Suspect[], belief: Belief): Map<string, number> {
  const share = new Map<string, number>();
  const add = (key: string, p: number): void => void share.set(key, (share.get(key) ?? 0) + p);
  const circuits = circuitsOf(installation);
  for (const [i, s] of suspects.entries()) {
    const place = s.place.split('.')[0] ?? s.place;
    add(place, belief.suspectShare[i] as number);
    if (s.site.on === 'branch' && s.site.endKey) add(endsAt(place, circuits.get(sectionOfKey(installation, s.site.endKey))), belief.suspectShare[i] as number);
  }
  const whole = new Map<number | undefined, number>();
  for (const x of [...installation.sections, ...installation.points]) whole.set(circuits.get(x.id), (whole.get(circuits.get(x.id)) ?? 0) + (share.get(x.id) ?? 0));
  for (const p of installation.points) {
    const own = share.get(p.id) ?? 0;
    share.set(`at ${p.id}`, own);
    const sections = new Set(endsAtPoint(installation, p.id).map((e) => e.section.id));
    share.set(p.id, sections.size === 1 ? (whole.get(circuits.get(p.id)) ?? own) : [...sections].reduce((sum, s) => sum + (share.get(s) ?? 0), own));
  }
  return share;
}

const endsAt = (point: string, circuit: number | undefined): string => `ends ${circuit} at ${point}`;

/** Is the suspicion on contacts that an ohmmeter can follow? */
export function sharesLowContact(engine: BeliefEngine, belief: Belief): boolean {
  let low = 0;
  let high = 0;
  const { cells } = belief;
  for (let c = 0; c < cells.count; c++) {
    const s = engine.suspects[cells.suspect[c] as number];
    if (s?.unknown.of !== 'shunt') continue;
    if ((belief.t[c] as number) < 4.9) low += belief.weight[c] as number;
    else high += belief.weight[c] as number;
  }
  return low > high;
}

/** Splits that part the suspicion most evenly come first; the rest is left out where there are many. */
function prune(all: Action[][], installation: Installation, interest: ReadonlyMap<string, number>, situation: Situation): Action[][] {
  const splits = all.filter((a) => a.some((x) => x.do === 'takeOut'));
  if (splits.length <= MOST_SPLITS) return all;
  const scored = splits.map((actions) => ({ actions, balance: balanceOf(actions, installation, interest, situation) }));
  return [...all.filter((a) => !splits.includes(a)), ...scored.sort((a, b) => b.balance - a.balance).slice(0, MOST_SPLITS).map((s) => s.actions)];
}

const sectionOfKey = (installation: Installation, key: string): string => {
  const place = parsePlace(key);
  return place?.at === 'end' ? (sectionOfEnd(installation, place)?.section.id ?? '') : '';
};

/** Smaller of the two shares of suspicion on the sides of a split. */
function balanceOf(actions: readonly Action[], installation: Installation, interest: ReadonlyMap<string, number>, situation: Situation): number {
  const cut = actions.find((a) => a.do === 'takeOut');
  if (cut?.do !== 'takeOut') return 0;
  const board = findPoint(installation, cut.point)?.kind === 'board';
  const circuits = circuitsOf(installation);
  const pulled = new Set<number | undefined>(board ? cut.ends.map((k) => circuits.get(sectionOfKey(installation, k))) : []);
  const gone = new Set([...situation.state.out, ...cut.ends]);
  const reached = new Set<string>();
  const points = new Set<string>([cut.point]);
  const queue = [cut.point];
  // At the board a pull parts one circuit from the others: its own suspicion against theirs.
  if (board) {
    for (const s of installation.sections) if (pulled.has(circuits.get(s.id))) reached.add(s.id);
    for (const p of installation.points) if (pulled.has(circuits.get(p.id))) points.add(p.id);
  }
  while (!board && queue.length) {
    const here = queue.pop() as string;
    for (const e of endsAtPoint(installation, here)) {
      if (gone.has(e.key)) continue;
      reached.add(e.section.id);
      const farSide = e.side === 'a' ? 'b' : 'a';
      const other = e.section[farSide];
      if (points.has(other) || e.section.cores.every((c) => gone.has(endKeyOf(e.section, farSide, c.id)))) continue;
      points.add(other);
      queue.push(other);
    }
  }
  let inside = 0;
  let total = 0;
  for (const s of installation.sections) {
    const share = interest.get(s.id) ?? 0;
    total += share;
    if (reached.has(s.id)) inside += share;
  }
  for (const p of installation.points) {
    const share = interest.get(`at ${p.id}`) ?? 0;
    total += share;
    if (points.has(p.id)) inside += share;
  }
  // A pull at the board also parts the end from its terminal: the end's own suspicion against what lies behind it.
  const own = board ? [...pulled].reduce<number>((sum, c) => sum + (interest.get(endsAt(cut.point, c)) ?? 0), 0) : 0;
  const behind = inside - (interest.get(`at ${cut.point}`) ?? 0);
  return Math.max(Math.min(inside, total - inside), board ? Math.min(own, behind) : 0);
}

/** Probes worth weighing after the actions: pairs at one point, across its ends, and the long lead to the board or the other lead. */
export function probesFor(installation: Installation, situation: Situation, state: WorkState, actions: readonly Action[], lowPath: boolean): Probe[] {
  const reachable = installation.points.filter((p) => canReach(situation, p));
  const board = installation.points.find((p) => p.kind === 'board');
  const oneWay = !board || waysOf(board).length < 2;
  const touched = new Set(actions.map((a) => a.point));
  // A link makes a pair read the cores as far as it: ohms, and not where the link itself is.
  const linked = new Set(state.links.map((l) => pointOfPlace(installation, l.a)));
  const fn = lowPath || linked.size ? 'continuity' : 'insulation';
  const probes = new Map<string, Probe>();
  const add = (probe: Probe): void => void probes.set(probeKey(probe), probe);
  // A way's own terminal or tail at the board is read against its own circuit only.
  const circuits = circuitsOf(installation);
  const sameCircuit = (x: Spot, point: string): boolean => oneWay || !circuits.has(x.group) || circuits.get(x.group) === circuits.get(point);
  const sets = new Map(reachable.map((p) => [p.id, spotsAt(installation, state, p)]));
  const anchors = situation.longLead ? reachable.filter((p) => p.kind === 'board' || situation.at.includes(p.id) || touched.has(p.id)) : [];
  // After a change only what it concerns is weighed: its own point, and leads to it.
  const everywhere = actions.every((a) => a.do === 'switch' || a.do === 'unplug' || a.do === 'unlink');
  const focus: readonly Point[] = (everywhere ? reachable : reachable.filter((p) => touched.has(p.id) || p.kind === 'board')).filter((p) => !linked.has(p.id));
  // What is done in one circuit, or at its conductors in the board, concerns its own way and the bars: all other ways read as before.
  const changed = new Set(actions.flatMap((a) => (a.point === board?.id ? ('ends' in a ? a.ends.map((k) => circuits.get(sectionOfKey(installation, k))) : []) : [circuits.get(a.point)])));
  const concerned = (p: Point, x: Spot, y: Spot): boolean => oneWay || p.kind !== 'board' || changed.size === 0 || changed.has(circuits.get(x.group)) || changed.has(circuits.get(y.group)) || (x.of !== undefined && y.of !== undefined);
  for (const p of focus) {
    const here = sets.get(p.id);
    if (!here) continue;
    for (const [i, x] of here.spots.entries())
      for (const y of here.spots.slice(0, i)) {
        if (!concerned(p, x, y)) continue;
        if (x.role !== y.role && together(x, y)) add({ fn, from: [y.place], to: [x.place] });
        else if (x.role === y.role && (p.kind !== 'board' || oneWay || together(x, y))) add({ fn: 'continuity', from: [y.place], to: [x.place] });
      }
    for (const [i, x] of here.copper.entries())
      for (const y of here.copper.slice(0, i)) if (x.group === y.group) add({ fn: 'continuity', from: [y.place], to: [x.place] });
    for (const a of anchors) {
      if (a.id === p.id) continue;
      for (const x of sets.get(a.id)?.spots ?? []) for (const y of here.spots) if (sameLane(x, y) && sameCircuit(x, p.id)) add({ fn: 'continuity', from: [x.place], to: [y.place] });
    }
  }
  return [...probes.values()];
}

const isLine = (role: string): boolean => role === 'L' || role === 'SL' || role === 'T1' || role === 'T2';
/** One conductor all the way, or the line through its switches. */
const sameLane = (x: Spot, y: Spot): boolean => x.role === y.role || (isLine(x.role) && isLine(y.role));

export const stepPoints = (installation: Installation, s: Step): string[] => [
  ...new Set([...s.actions.map((a) => a.point), ...s.probes.flatMap((p) => [...p.from, ...p.to].map((k) => pointOfPlace(installation, k)))]),
];

