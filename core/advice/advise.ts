import { BeliefEngine, ohmOfT, type Belief, type Observation } from '../belief';
import { suspectsOf, type Suspect } from '../faults';
import { copperOhmPerM } from '../network';
import { findSection, type Installation } from '../installation';
import { countingReadings, observationsOf, situationOf, type JobView, type ReadingView } from '../job';
import { forecast, frontOf, outcomeClasses, plan, placeNames, placesOf, shareByPlace, stepKey, stepPoints, tradeCosts, type Costs, type Front, type Step } from '../planning';
import { meter } from '../tester';
import { unmetNeeds, type SafetyState } from '../safety';
import { stateSignature } from '../workstate';
import { probeKey, type Response } from '../probes';
import { shifted } from './bias';
import { explains } from './explains';
import type { Advice, ClearedView, Fit, LastChange, Outcome, StepView, SuspectView, Verdict } from './types';

export const SURE = 0.95;
const SHOWN = 5;
const CLEARED_SHARE = 0.01;

/** Engines by map, so that a second reading on the same map costs only itself. Keyed by content. */
export class Advisor {
  private key = '';
  private engine: BeliefEngine | null = null;
  private last: { ids: string; belief: Belief } | null = null;

  constructor(private readonly costs: Costs = tradeCosts) {}

  engineFor(map: Installation, asked: JobView['asked']): BeliefEngine {
    const key = JSON.stringify([map.points, map.sections, map.shape, asked.complaint, asked.wet, asked.works]);
    if (!this.engine || this.key !== key) {
      this.engine = new BeliefEngine(map, shifted(suspectsOf(map), asked));
      this.key = key;
      this.last = null;
    }
    return this.engine;
  }

  /** Belief alone: what a reading needs at once. Null without a map. */
  believe(view: JobView): { engine: BeliefEngine; belief: Belief; observations: Observation[]; readings: ReadingView[] } | null {
    if (!view.map) return null;
    const engine = this.engineFor(view.map, view.asked);
    const observations = observationsOf(view);
    const readings = countingReadings(view);
    const belief = engine.believe(observations, this.last?.belief);
    this.last = { ids: readings.map((r) => r.event.id).join(), belief };
    return { engine, belief, observations, readings };
  }

  /** Everything shown in Trace. `withPlan` false leaves the steps out, for a first quick answer. */
  advise(view: JobView, withPlan = true): Advice | null {
    const now = this.believe(view);
    if (!now || !view.map) return null;
    const { engine, belief, observations, readings } = now;
    const places = shareByPlace(view.map, engine.suspects, belief);
    const shown = shortlist(view, engine, belief, observations, readings);
    const verdict = verdictOf(view, engine, belief, observations, readings);
    const earthDoubt = doubtOfEarth(engine, belief, observations.length);
    const others = engine.suspects.length - shown.length;
    const shownShare = shown.reduce((s, x) => s + x.share, 0);
    const unknownShare = shareOfKind(engine, belief, 'unknown');
    return {
      placesOpen: places.filter((p) => p.share > 0.002 && p.place !== 'unknown' && p.place !== 'sound' && !p.place.startsWith('state ')).length,
      hasReadings: observations.length > 0,
      suspects: shown,
      others: { count: others, share: Math.max(0, 1 - shownShare - unknownShare) },
      unknownShare,
      cleared: clearedPlaces(view.map, engine, belief, observations, readings),
      verdict,
      fit: fitOf(engine, belief, observations, readings),
      steps: withPlan && verdict.says !== 'place' && verdict.says !== 'sound' ? this.steps(view, engine, belief, observations, readings, verdict, earthDoubt) : [],
      lastChange: lastChange(engine, view.map, belief, observations, readings),
      surprising: surprises(engine, belief, observations, readings),
      earthDoubt,
    };
  }

  private steps(view: JobView, engine: BeliefEngine, belief: Belief, observations: Observation[], readings: ReadingView[], verdict: Verdict, earthDoubt: boolean): StepView[] {
    const map = view.map as Installation;
    const situation = situationOf(view);
    const steps = plan(engine, belief, observations, situation, { costs: this.costs, mostProbes: 3, rejected: new Set(view.notNow), keep: 40 });
    const safety = safetyOf(view);
    const views = distinct(map, steps).slice(0, 3).map((s) => stepView(map, engine, belief, s, safety, earthDoubt));
    const again = readings.find((r) => r.event.id === verdict.repeat);
    if (!again) return views;
    return [{
      key: `repeat ${again.event.id}`, actions: [], probes: [again.event.probe], minutes: this.costs.reading + this.costs.walk, bits: 0,
      needs: unmetNeeds(map, safety, { actions: [], probes: [again.event.probe], earthDoubt }),
      outcomes: outcomesOf(map, engine, belief, { actions: [], probes: [again.event.probe], stateAfter: again.state }), why: { code: 'repeat', figure: verdict.share },
    }, ...views.slice(0, 2)];
  }
}

export function safetyOf(view: JobView): SafetyState {
  return { secured: view.secured !== null, proved: new Map([...view.proofs].map(([p, proof]) => [p, proof.earthPlace !== ''])), state: view.state };
}

/** The best step, then the best that work elsewhere or otherwise: runners-up should suit another way of working. */
function distinct(map: Installation, steps: readonly Step[]): Step[] {
  const chosen: Step[] = [];
  const seen = new Set<string>();
  for (const s of steps) {
    const manner = `${s.actions.map((a) => a.do).join()} ${stepPoints(map, s).sort().join()}`;
    if (seen.has(manner)) continue;
    seen.add(manner);
    chosen.push(s);
  }
  return chosen;
}

function stepView(map: Installation, engine: BeliefEngine, belief: Belief, step: Step, safety: SafetyState, earthDoubt: boolean): StepView {
  const splits = step.actions.some((a) => a.do === 'takeOut');
  const opens = step.actions.some((a) => a.do === 'open');
  return {
    key: stepKey(step), actions: step.actions, probes: step.probes, minutes: step.minutes, bits: step.bits,
    needs: unmetNeeds(map, safety, { actions: step.actions, probes: step.probes, earthDoubt }),
    outcomes: outcomesOf(map, engine, belief, step),
    why: { code: splits ? 'splits' : opens ? 'opens' : step.bits > 0.8 ? 'halves' : 'cheap', figure: step.bits },
  };
}

/** What the first reading of a step would mean: up to three outcomes and "else", chances summing to 1. */
export function outcomesOf(map: Installation, engine: BeliefEngine, belief: Belief, step: Pick<Step, 'actions' | 'probes' | 'stateAfter'>): Outcome[] {
  const probe = step.probes[0];
  if (!probe) return [];
  const model = engine.model(step.stateAfter);
  const leads = model.leads(probe);
  const sound = model.sound(probe);
  if (!leads || !sound) return [];
  const numbers = placesOf(map, engine.suspects);
  const front = frontOf(engine, belief, (s) => numbers[s] ?? 0);
  const f = forecast(engine, belief, front, probe, (s): Response => model.response(engine.suspects[s] as Suspect, probe, leads, sound));
  const unknown = shareOfKind(engine, belief, 'unknown');
  const known = outcomeClasses(f, front.weight, 3).map((mass) => outcomeOf(map, engine, belief, front, f.y, f.sd, mass, probe.fn, 1 - unknown));
  const sum = known.reduce((s, o) => s + o.share, 0);
  return [...known.sort((a, b) => b.share - a.share), { low: 0, high: 0, above: false, places: [], suspects: [], count: 0, share: Math.max(0, 1 - sum) }];
}

function outcomeOf(
  map: Installation, engine: BeliefEngine, belief: Belief, front: Front, y: Float64Array, sd: Float64Array,
  mass: Float64Array, fn: 'continuity' | 'insulation', scale: number,
): Outcome {
  const k = meter[fn].scaleOhm;
  const name = placeNames(map);
  const places = new Map<string, number>();
  const suspects = new Map<string, number>();
  let low = Infinity;
  let high = 0;
  let total = 0;
  const most = Math.max(...mass);
  for (let i = 0; i < mass.length; i++) {
    const m = mass[i] as number;
    if (m <= 0) continue;
    total += m;
    const s = engine.suspects[belief.cells.suspect[front.cells[i] as number] as number] as Suspect;
    places.set(name(s.place), (places.get(name(s.place)) ?? 0) + m);
    suspects.set(s.id, (suspects.get(s.id) ?? 0) + m);
    if (m < 0.08 * most) continue;
    low = Math.min(low, k * Math.sinh(Math.max(0, (y[i] as number) - (sd[i] as number))));
    high = Math.max(high, k * Math.sinh((y[i] as number) + (sd[i] as number)));
  }
  const ranked = (m: Map<string, number>): string[] => [...m].sort((a, b) => b[1] - a[1]).filter(([, v]) => v > 0.12 * total).map(([p]) => p);
  return { low, high, above: low > meter[fn].topOhm, places: ranked(places).slice(0, 3), suspects: ranked(suspects).slice(0, 3), count: [...places.values()].filter((v) => v > 0.02 * total).length, share: total * scale };
}

function shareOfKind(engine: BeliefEngine, belief: Belief, kind: Suspect['kind']): number {
  return engine.suspects.reduce((sum, s, i) => (s.kind === kind ? sum + (belief.suspectShare[i] as number) : sum), 0);
}

function bestCell(belief: Belief, suspect: number): number {
  let best = -1;
  for (let c = 0; c < belief.cells.count; c++)
    if (belief.cells.suspect[c] === suspect && (best < 0 || (belief.weight[c] as number) > (belief.weight[best] as number))) best = c;
  return best;
}

function shortlist(view: JobView, engine: BeliefEngine, belief: Belief, observations: Observation[], readings: ReadingView[]): SuspectView[] {
  const order = [...belief.suspectShare.keys()].filter((i) => engine.suspects[i]?.kind !== 'unknown').sort((a, b) => (belief.suspectShare[b] as number) - (belief.suspectShare[a] as number));
  const top = observations.length === 0 ? [] : order.slice(0, SHOWN).filter((i) => (belief.suspectShare[i] as number) > 0.01);
  const support = engine.support(belief, observations, top.map((i) => bestCell(belief, i)));
  return top.map((i, n) => {
    const s = engine.suspects[i] as Suspect;
    const c = bestCell(belief, i);
    const row = support[n] ?? [];
    const ids = (keep: (x: number) => boolean): string[] => row.flatMap((x, j) => (keep(x) ? [{ id: readings[j]?.event.id ?? '', x }] : [])).sort((a, b) => Math.abs(b.x) - Math.abs(a.x)).slice(0, 3).map((x) => x.id);
    const ohm = s.unknown.of === 'nothing' ? null : Number.isNaN(belief.cells.tCentre[c]) ? ('open' as const) : ohmOfT(belief.t[c] as number);
    return {
      id: s.id, kind: s.kind, place: s.place, conductors: s.conductors, share: belief.suspectShare[i] as number, ohm,
      metres: metresOf(view.map as Installation, s, belief, c), speakFor: ids((x) => x > 0.5), speakAgainst: ids((x) => x < -0.5),
      explains: explains(view, s, typeof ohm === 'number' ? ohm : Infinity, belief.d[c] as number),
    };
  });
}

/** Metres along the section for a contact whose readings tell them; the uncertainty is the belief's own. */
function metresOf(map: Installation, s: Suspect, belief: Belief, c: number): SuspectView['metres'] {
  if (s.site.on !== 'cable' || belief.cells.along[c] !== 1) return null;
  const section = findSection(map, s.site.section);
  if (!section) return null;
  const sd = Math.min(0.29, 1 / Math.sqrt(belief.precision[6 * c + 2] as number));
  if (sd > 0.24) return null;
  return { at: (belief.d[c] as number) * section.lengthM, plusMinus: 2 * sd * section.lengthM, from: section.a, guessed: !section.lengthKnown };
}

function verdictOf(view: JobView, engine: BeliefEngine, belief: Belief, observations: Observation[], readings: ReadingView[]): Verdict {
  const map = view.map as Installation;
  const leader = shareByPlace(map, engine.suspects, belief)[0] ?? { place: '', share: 0 };
  const none: Verdict = { says: 'none', place: leader.place, share: leader.share, repeat: null, onGuess: false };
  if (observations.length === 0 || leader.share < SURE) return none;
  if (leader.place === 'unknown') return { ...none, says: 'unknown' };
  if (leader.place === 'sound') return { ...none, says: 'sound' };
  const onGuess = hangsOnGuess(view, engine, leader.place);
  const repeat = carrier(view, engine, belief, observations, readings, leader.place);
  if (repeat) return { ...none, says: 'repeat', repeat, onGuess };
  return { ...none, says: 'place', onGuess };
}

/** The reading, taken only once and in the present state, without which the leader would stand far lower. */
function carrier(view: JobView, engine: BeliefEngine, belief: Belief, observations: Observation[], readings: ReadingView[], place: string): string | null {
  const map = view.map as Installation;
  for (const [i, o] of observations.entries()) {
    const key = `${stateSignature(o.state)} ${probeKey(o.probe)}`;
    if (stateSignature(o.state) !== stateSignature(view.state)) continue;
    if (observations.filter((x) => `${stateSignature(x.state)} ${probeKey(x.probe)}` === key).length > 1) continue;
    const without = engine.believe(observations.filter((x) => x !== o), belief);
    const share = shareByPlace(map, engine.suspects, without).find((p) => p.place === place)?.share ?? 0;
    if (share < 0.25) return readings[i]?.event.id ?? null;
  }
  return null;
}

/** One standard deviation of a guessed length, as a factor. */
const GUESS_PULL = 1.4;

function hangsOnGuess(view: JobView, engine: BeliefEngine, place: string): boolean {
  const map = view.map as Installation;
  if (map.sections.every((s) => s.lengthKnown)) return false;
  const observations = observationsOf(view);
  // The guessed lengths pulled this way and that: does another place come out?
  return [0, 1].some((turn) => {
    const sections = map.sections.map((s, i) => (s.lengthKnown ? s : { ...s, lengthM: s.lengthM * ((i + turn) % 2 ? GUESS_PULL : 1 / GUESS_PULL) }));
    const pulled = new BeliefEngine({ ...map, sections }, engine.suspects);
    const leader = shareByPlace(map, engine.suspects, pulled.believe(observations))[0];
    return leader?.place !== place || leader.share < 0.8;
  });
}

function doubtOfEarth(engine: BeliefEngine, belief: Belief, readings: number): boolean {
  if (readings === 0) return true;
  const breaks = new Set(['openCore', 'looseEnd', 'terminal', 'notLanded', 'crossed', 'missingSection']);
  return engine.suspects.reduce((sum, s, i) => (breaks.has(s.kind) && s.conductors.some((c) => c === 'E' || c === 'N') ? sum + (belief.suspectShare[i] as number) : sum), 0) > 0.02;
}

function clearedPlaces(map: Installation, engine: BeliefEngine, belief: Belief, observations: Observation[], readings: ReadingView[]): ClearedView[] {
  if (!observations.length) return [];
  const name = placeNames(map);
  const prior = new Map<string, number>();
  const share = new Map<string, number>();
  const members = new Map<string, number[]>();
  for (const [i, s] of engine.suspects.entries()) {
    const place = name(s.place);
    prior.set(place, (prior.get(place) ?? 0) + s.prior);
    share.set(place, (share.get(place) ?? 0) + (belief.suspectShare[i] as number));
    members.set(place, [...(members.get(place) ?? []), i]);
  }
  const cleared: ClearedView[] = [];
  for (const [place, p] of prior) {
    if (place === 'unknown' || place === 'sound' || place.startsWith('state ')) continue;
    const now = share.get(place) ?? 0;
    if (now >= CLEARED_SHARE || now >= p / 10) continue;
    const cells = (members.get(place) ?? []).slice(0, 6).map((i) => bestCell(belief, i));
    const rows = engine.support(belief, observations, cells);
    const sums = observations.map((_, j) => rows.reduce((sum, row) => sum + (row[j] ?? 0), 0) / Math.max(1, rows.length));
    const lowest = sums.indexOf(Math.min(...sums));
    // Only a reading that told this place from the rest clears it: an open hides what lies beyond.
    if ((sums[lowest] ?? 0) < -0.3) cleared.push({ place, reading: readings[lowest]?.event.id ?? '' });
  }
  return cleared;
}

function fitOf(engine: BeliefEngine, belief: Belief, observations: Observation[], readings: ReadingView[]): Fit {
  const c = belief.weight.indexOf(Math.max(...belief.weight));
  const misfit = engine.misfit(belief, observations, c);
  const sum = misfit.reduce((s, z) => s + z * z, 0);
  const probability = chiSquareTail(sum, Math.max(1, observations.length));
  const worst = misfit.indexOf(Math.max(...misfit));
  const doubts = engine.suspects.flatMap((s, i) => {
    const share = belief.suspectShare[i] as number;
    return s.place.startsWith('state ') && share > 0.03 ? [{ id: s.id, kind: s.kind, part: s.site.on === 'pair' ? (s.site.part ?? '') : '', share }] : [];
  });
  const unknown = shareOfKind(engine, belief, 'unknown');
  return {
    probability, poor: observations.length > 1 && (probability < 0.001 || unknown > 0.4), doubts: doubts.sort((a, b) => b.share - a.share).slice(0, 3),
    worstReading: (misfit[worst] ?? 0) > 3 ? (readings[worst]?.event.id ?? null) : null,
  };
}

/** P(χ² with n degrees of freedom > x), Wilson and Hilferty's approximation. */
function chiSquareTail(x: number, n: number): number {
  const z = (Math.cbrt(x / n) - (1 - 2 / (9 * n))) / Math.sqrt(2 / (9 * n));
  return 0.5 * Math.exp(-0.717 * z - 0.416 * z * z) * (z > 0 ? 1 : 0) + (z > 0 ? 0 : 1 - 0.5 * Math.exp(0.717 * z - 0.416 * z * z));
}

function lastChange(engine: BeliefEngine, map: Installation, belief: Belief, observations: Observation[], readings: ReadingView[]): LastChange | null {
  const last = readings.at(-1);
  if (!last) return null;
  const before = shareByPlace(map, engine.suspects, engine.believe(observations.slice(0, -1), belief));
  const after = shareByPlace(map, engine.suspects, belief);
  let change: LastChange | null = null;
  for (const p of after) {
    const from = before.find((b) => b.place === p.place)?.share ?? 0;
    if (!change || Math.abs(p.share - from) > Math.abs(change.to - change.from)) change = { reading: last.event.id, place: p.place, from, to: p.share };
  }
  return change;
}

/** Readings that the best suspects together gave less than 2 % of their usual chance. */
function surprises(engine: BeliefEngine, belief: Belief, observations: Observation[], readings: ReadingView[]): string[] {
  if (observations.length < 2) return [];
  const last = observations.at(-1) as Observation;
  const before = engine.believe(observations.slice(0, -1), belief);
  return engine.foreseen(before, last) < 0.02 ? [readings.at(-1)?.event.id ?? ''] : [];
}

/** Ω per metre of a pair of cores of one section, for quick sums on the pad. */
export const pairOhmPerM = (csaMm2: number, otherMm2: number): number => copperOhmPerM(csaMm2, false) + copperOhmPerM(otherMm2, false);
