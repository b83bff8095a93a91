import { BeliefEngine, tradeOptions, type Belief, type Observation } from '../core/belief';
import { pairsOf, type Suspect } from '../core/faults';
import { boardOf, circuitsOf, endsAtPoint, findPoint, type Installation } from '../core/installation';
import { seededRandom } from '../core/numeric';
import { applyAction, benchCosts, minutesFor, plan, shareByPlace, sharesLowContact, spotsAt, type Action, type Costs, type PlaceShare, type Situation } from '../core/planning';
import { probeKey, type Probe } from '../core/probes';
import { SimulatedTester } from '../core/simulation';
import { stateSignature } from '../core/workstate';
import { sameAnswer, WORLD_STEADY_SD, worldScatter, worldSuspects, type Case } from './world';

/** Steps at which the leader stood between 85 and 95 %, and how many of those leaders were right. */
export interface NearlySure { readonly steps: number; readonly right: number }

export interface Run {
  readonly right: boolean;
  /** True when the leader reached 95 %; else the strategy gave up. */
  readonly verdict: boolean;
  readonly minutes: number;
  readonly readings: number;
  readonly opened: number;
  readonly leader: PlaceShare;
  readonly nearlySure: NearlySure;
}

const CAP_MINUTES = 90;
const SURE = 0.95;

/** One hunt: keeps the state, the clock and the belief; strategies only say what to do. */
export class Hunt {
  readonly engine: BeliefEngine;
  readonly installation: Installation;
  readonly observations: Observation[] = [];
  situation: Situation;
  belief: Belief;
  minutes = 0;
  opened = 0;
  private readonly nearlySure = { steps: 0, right: 0 };
  private readonly tester: SimulatedTester;

  constructor(
    readonly c: Case,
    readonly costs: Costs = benchCosts,
    longLead = true,
    suspects: Suspect[] = worldSuspects(c.plan, c.start),
  ) {
    this.installation = c.plan;
    this.engine = new BeliefEngine(c.plan, suspects, {
      ...tradeOptions, insulationSd: worldScatter.insulationSd, insulationSpread: { circuit: 0, section: worldScatter.sectionInsulationSd, pair: 0 }, metalMayBe: false, planMayBeOff: false, steadySd: WORLD_STEADY_SD, physics: { ...tradeOptions.physics, insulationOhmM: () => worldScatter.insulationMedianOhmM },
    });
    this.tester = new SimulatedTester(c.truth, seededRandom(c.seed * 31 + 7), worldScatter.slipShare);
    this.situation = { state: c.start, at: ['p0'], proved: new Set(['p0']), unreachable: new Set(), longLead };
    this.belief = this.engine.believe([]);
  }

  do(actions: readonly Action[], probes: readonly Probe[]): void {
    const { minutes, at } = minutesFor(this.installation, this.situation, actions, probes, this.costs);
    this.minutes += minutes;
    this.opened += actions.filter((a) => a.do === 'open').length;
    const state = actions.reduce(applyAction, this.situation.state);
    const visited = [...actions.map((a) => a.point), ...at];
    this.situation = { ...this.situation, state, at: at.length ? at : this.situation.at, proved: new Set([...this.situation.proved, ...visited]) };
    for (const probe of probes) this.observations.push({ probe, state, displayed: this.tester.read(state, probe) });
    if (!probes.length) return;
    this.belief = this.engine.believe(this.observations);
    const leader = this.leader();
    if (leader.share < 0.85 || leader.share >= 0.95) return;
    this.nearlySure.steps++;
    if (sameAnswer(this.installation, leader.place, this.c.answer.place)) this.nearlySure.right++;
  }

  leader(): PlaceShare {
    return shareByPlace(this.installation, this.engine.suspects, this.belief)[0] ?? { place: '', share: 0 };
  }

  get sure(): boolean {
    return this.leader().share >= SURE;
  }

  get spent(): boolean {
    return this.minutes >= CAP_MINUTES;
  }

  wasRead(probe: Probe): boolean {
    const key = `${stateSignature(this.situation.state)} ${probeKey(probe)}`;
    return this.observations.some((o) => `${stateSignature(o.state)} ${probeKey(o.probe)}` === key);
  }

  finish(): Run {
    const leader = this.leader();
    const capped = this.spent;
    return {
      right: !capped && sameAnswer(this.installation, leader.place, this.c.answer.place),
      verdict: !capped && leader.share >= SURE,
      minutes: Math.min(this.minutes, CAP_MINUTES),
      readings: this.observations.length,
      opened: this.opened,
      leader,
      nearlySure: this.nearlySure,
    };
  }
}

/** Gutter: the planner's best step until a place is sure, then the reading that carries the verdict once more. */
export function gutter(c: Case, costs?: Costs, longLead = true, trace?: (line: string) => void): Run {
  const hunt = new Hunt(c, costs, longLead);
  for (let i = 0; i < 60 && !hunt.spent; i++) {
    if (hunt.sure) {
      const doubtful = carrierOf(hunt);
      if (!doubtful) break;
      trace?.(`repeat ${probeKey(doubtful.probe)}`);
      repeat(hunt, doubtful);
      continue;
    }
    const [step] = plan(hunt.engine, hunt.belief, hunt.observations, hunt.situation, { costs: hunt.costs, mostProbes: 3, rejected: new Set(), keep: 1 });
    if (!step || step.bits < 0.01) {
      trace?.(`give up ${JSON.stringify(hunt.leader())} ${step?.bits}`);
      break;
    }
    hunt.do(step.actions, step.probes);
    trace?.(`${step.actions.map((a) => `${a.do} ${a.point}`).join()} ${step.probes.map(probeKey).join(' & ')} bits ${step.bits.toFixed(2)} min ${step.minutes.toFixed(1)} -> ${hunt.observations.slice(-step.probes.length).map((o) => ('ohm' in o.displayed ? o.displayed.ohm.toPrecision(4) : 'off')).join()} | ${shareByPlace(hunt.installation, hunt.engine.suspects, hunt.belief).slice(0, 3).map((p) => `${p.place} ${p.share.toFixed(2)}`).join(' ')}`);
  }
  return hunt.finish();
}

/** The probe of that reading. */
export const carrier = (hunt: Hunt): Probe | null => carrierOf(hunt)?.probe ?? null;

/** The reading without which the leader would stand below one half, if it was read only once. */
export function carrierOf(hunt: Hunt): Observation | null {
  const leader = hunt.leader().place;
  for (const o of hunt.observations) {
    const repeats = hunt.observations.filter((x) => probeKey(x.probe) === probeKey(o.probe) && stateSignature(x.state) === stateSignature(o.state));
    if (repeats.length > 1) continue;
    if (stateSignature(o.state) !== stateSignature(hunt.situation.state)) continue;
    const without = hunt.engine.believe(hunt.observations.filter((x) => x !== o));
    const share = shareByPlace(hunt.installation, hunt.engine.suspects, without).find((p) => p.place === leader)?.share ?? 0;
    if (share < 0.25) return o;
  }
  return null;
}

function repeat(hunt: Hunt, o: Observation): void {
  hunt.do([], [o.probe]);
}

/** Readings that both baselines begin with. */
function opening(hunt: Hunt): void {
  const board = boardOf(hunt.installation);
  if (board && hunt.c.family === 'board') {
    const { spots } = spotsAt(hunt.installation, hunt.situation.state, board);
    const pair = (a: string, b: string): Probe => ({ fn: 'insulation', from: [a], to: [b] });
    const ways = spots.filter((s) => s.role === 'L').map((s) => s.place);
    return hunt.do([], [...ways.flatMap((w) => [pair(w, `${board.id}:N`), pair(w, `${board.id}:E`)]), pair(`${board.id}:N`, `${board.id}:E`)]);
  }
  const legs = endsAtPoint(hunt.installation, 'p0');
  const first = legs.filter((e) => e.section.id === legs[0]?.section.id && e.side === legs[0]?.side);
  const at = (role: string, list = first): string => list.find((e) => e.role === role)?.key ?? '';
  const probes: Probe[] = [['L', 'N'], ['L', 'E'], ['N', 'E']].map(([a, b]) => ({ fn: 'insulation', from: [at(a ?? '')], to: [at(b ?? '')] }));
  if (hunt.c.family === 'ring') {
    const second = legs.filter((e) => !first.includes(e));
    for (const role of ['L', 'N', 'E']) probes.push({ fn: 'continuity', from: [at(role)], to: [at(role, second)] });
  }
  hunt.do([], probes);
}

/** Readings at a point that concern the leading suspicion. */
function concerning(hunt: Hunt, point: string): Probe[] {
  const best = leadingSuspect(hunt);
  const probes = probesAtPoint(hunt, point);
  if (!best || ['sound', 'unknown', 'crossed'].includes(best.kind)) return probes;
  const roles = new Set(best.conductors);
  return probes.filter((p) => {
    const [a = '', b = ''] = [...p.from, ...p.to].map((k) => k.split(':')[1] ?? '');
    return best.unknown.of === 'shunt' ? a !== b && roles.has(a) && roles.has(b) : a === b && roles.has(a);
  });
}

function leadingSuspect(hunt: Hunt): Suspect | undefined {
  const { engine, belief } = hunt;
  return engine.suspects[belief.suspectShare.indexOf(Math.max(...belief.suspectShare))];
}

/** Pairs at the point, across its ends, and from each leg at the board. */
function probesAtPoint(hunt: Hunt, pointId: string): Probe[] {
  const { installation, situation } = hunt;
  const point = findPoint(installation, pointId);
  const board = boardOf(installation);
  if (!point || !board) return [];
  const fn = sharesLowContact(hunt.engine, hunt.belief) ? 'continuity' : 'insulation';
  const { spots, copper } = spotsAt(installation, situation.state, point);
  const legs = spotsAt(installation, situation.state, board).spots;
  const pairs = pairsOf(spots).filter(([x, y]) => x.role !== y.role && x.group === y.group);
  const across = pairsOf(copper).filter(([x, y]) => x.group === y.group);
  const circuits = circuitsOf(installation);
  const own = legs.filter((x) => hunt.c.family !== 'board' || !circuits.has(x.group) || circuits.get(x.group) === circuits.get(pointId));
  const long = own.flatMap((x) => spots.filter((y) => y.role === x.role).map((y) => [x, y] as const));
  return [
    ...pairs.map(([x, y]): Probe => ({ fn, from: [x.place], to: [y.place] })),
    ...[...across, ...long].map(([x, y]): Probe => ({ fn: 'continuity', from: [x.place], to: [y.place] })),
  ];
}

const leaderIsContact = (hunt: Hunt): boolean => leadingSuspect(hunt)?.unknown.of === 'shunt';

/** Take every section but one apart at a point; `all`: the last one too. */
function splitActions(hunt: Hunt, point: string, all = false): Action[] {
  const { installation, situation } = hunt;
  const out = new Set(situation.state.out);
  const joined = endsAtPoint(installation, point).filter((e) => !out.has(e.key));
  const sections = [...new Set(joined.map((e) => e.section.id))];
  const ends = joined.filter((e) => all || e.section.id !== sections[0]).map((e) => e.key);
  return ends.length ? [{ do: 'takeOut', point, ends }] : [];
}

const openAction = (hunt: Hunt, point: string): Action[] => (hunt.situation.state.opened.includes(point) ? [] : [{ do: 'open', point }]);
const reachable = (hunt: Hunt): string[] => hunt.installation.points.filter((p) => p.kind !== 'board' && p.reach !== 'never').map((p) => p.id);

/** In order from the board: open, read what concerns the leading suspicion, split if that is a contact. Points stay apart. */
export function pointByPoint(c: Case, costs?: Costs): Run {
  const hunt = new Hunt(c, costs);
  opening(hunt);
  for (const point of orderFromBoard(hunt.installation)) {
    if (hunt.sure || hunt.spent) break;
    if (!reachable(hunt).includes(point)) continue;
    hunt.do(openAction(hunt, point), []);
    if (leaderIsContact(hunt)) hunt.do(splitActions(hunt, point), []);
    hunt.do([], concerning(hunt, point).filter((p) => !hunt.wasRead(p)));
  }
  openLikeliest(hunt);
  return hunt.finish();
}

/** Split the unused point that best halves the likely places by count; read both sides; rejoin; again. */
export function halfSplitting(c: Case, costs?: Costs): Run {
  const hunt = new Hunt(c, costs);
  opening(hunt);
  const used = new Set<string>();
  while (!hunt.sure && !hunt.spent) {
    const point = bestHalf(hunt, used);
    if (!point) break;
    used.add(point);
    const split = splitActions(hunt, point);
    hunt.do([...openAction(hunt, point), ...split], []);
    hunt.do([], concerning(hunt, point).filter((p) => !hunt.wasRead(p)));
    if (hunt.sure) break;
    const ends = split.flatMap((a) => (a.do === 'takeOut' ? [...a.ends] : []));
    if (ends.length) hunt.do([{ do: 'putBack', point, ends }], []);
  }
  openLikeliest(hunt);
  return hunt.finish();
}

function bestHalf(hunt: Hunt, used: ReadonlySet<string>): string | null {
  const shares = shareByPlace(hunt.installation, hunt.engine.suspects, hunt.belief);
  const top = shares[0]?.share ?? 0;
  const likely = new Set(shares.filter((p) => p.share > 0.02 * top).map((p) => p.place.split('.')[0] ?? ''));
  let best: { point: string; score: number } | null = null;
  for (const point of reachable(hunt)) {
    if (used.has(point) || !splitActions(hunt, point).length) continue;
    const beyond = countBeyond(hunt.installation, point, likely);
    const score = Math.min(beyond, likely.size - beyond);
    if (score > 0 && (!best || score > best.score)) best = { point, score };
  }
  return best?.point ?? null;
}

/** Likely places that leave the board's side when the point is taken apart. */
function countBeyond(installation: Installation, point: string, likely: ReadonlySet<string>): number {
  const reached = new Set<string>(['p0']);
  const queue = ['p0'];
  const first = endsAtPoint(installation, 'p0')[0]?.section.id;
  while (queue.length) {
    const here = queue.pop() as string;
    for (const e of endsAtPoint(installation, here)) {
      if (installation.shape === 'ring' && here === 'p0' && e.section.id !== first) continue;
      reached.add(e.section.id);
      const other = e.side === 'a' ? e.section.b : e.section.a;
      if (other === point || reached.has(other)) continue;
      reached.add(other);
      queue.push(other);
    }
  }
  return [...likely].filter((p) => !reached.has(p)).length;
}

/** Open, then split, the ends of the most likely places, at most six times. */
function openLikeliest(hunt: Hunt): void {
  const tried = new Set<string>();
  for (let i = 0; i < 6 && !hunt.sure && !hunt.spent; i++) {
    const shares = shareByPlace(hunt.installation, hunt.engine.suspects, hunt.belief);
    const point = shares.flatMap((p) => endsOfPlace(hunt.installation, p.place)).find((p) => !tried.has(p) && reachable(hunt).includes(p));
    if (!point) break;
    tried.add(point);
    hunt.do(openAction(hunt, point), []);
    hunt.do([], concerning(hunt, point).filter((p) => !hunt.wasRead(p)));
    if (hunt.sure || hunt.spent) break;
    hunt.do(splitActions(hunt, point, true), []);
    hunt.do([], concerning(hunt, point).filter((p) => !hunt.wasRead(p)));
  }
}

function endsOfPlace(installation: Installation, place: string): string[] {
  const id = place.split('.')[0] ?? '';
  const section = installation.sections.find((s) => s.id === id);
  return section ? [section.a, section.b] : [id];
}

function orderFromBoard(installation: Installation): string[] {
  const order: string[] = [];
  const queue = ['p0'];
  const seen = new Set(queue);
  while (queue.length) {
    const here = queue.shift() as string;
    for (const e of endsAtPoint(installation, here)) {
      const other = e.side === 'a' ? e.section.b : e.section.a;
      if (seen.has(other)) continue;
      seen.add(other);
      order.push(other);
      queue.push(other);
    }
  }
  return order;
}
