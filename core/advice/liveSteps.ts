import { findPoint, protectionsOf } from '../installation';
import { liveTestName, type LiveObservation, type LiveTest } from '../live';
import { costOf, entropyIn, frontOf, placeNames, placesOf, TIE, type Costs, type Front, type Starting } from '../planning';
import { cautionsOf, liveNeeds, needsCoverOff, type LiveCaution, type LiveDo, type LiveNeed } from '../safety';
import { stateSignature } from '../workstate';
import { clamps, clampsInUse, closings, harmless, looks, loopsAtBoard, touches, voltsAtOrigin, type Candidate } from './liveCandidates';
import { loadTrials } from './liveLoads';
import { placeSaid } from './facts';
import { NAMED_FROM, safetyOf, SURE_OF_ONE } from './steps';
import { shareOfKind, somethingTrips, type Now } from './now';
import { LIKELY_FINE, nothingWrong } from './verdict';
import type { StepView } from './types';

/** One result that a live step may have: its chance, and the places that it would point to, likeliest first; `count`: how many are worth the name. */
export interface LiveOutcome { readonly test: LiveTest; readonly share: number; readonly suspects: readonly string[]; readonly places: readonly string[]; readonly count: number; /** More than one: some device trips, which is open. */ readonly of?: number }

export interface LiveStepView {
  readonly key: string;
  readonly step: LiveDo;
  readonly minutes: number;
  readonly bits: number;
  /** Expected minutes to the end if this is done; stands beside that of dead steps. */
  readonly cost: number;
  readonly coversOff: boolean;
  readonly cautions: readonly LiveCaution[];
  readonly needs: readonly LiveNeed[];
  readonly outcomes: readonly LiveOutcome[];
  /** It was made before in this state: a figure that condemns a device is read once more. */
  readonly again: boolean;
}

const CONSIDERED = 120;
/** What tells less is not proposed, nor what has but one result worth a row; volts on metal that was felt are measured all the same. */
const LEAST_BITS = 0.01;
/** Minutes to take the lock off. */
const UNLOCK_MIN = 1;
/** Live work with covers off is weighed only where everything else tells less than this, in bits. */
const LITTLE = 0.15;
/** Suspicion of leakage that adds up, and of a device that opens early, from which the clamp is weighed beside all else: closings part the one from the other in the end, and in twenty steps. */
const LEAKAGE_SUSPECTED = 0.4;
/** Suspicion of the supply itself from which it is measured at the origin: no dead test shows it. */
const SUPPLY_SUSPECTED = 0.1;

/** Steps with the supply on, best first; empty where there is no board to work. `deadBits`: what the best dead step tells. */
export function liveSteps(now: Now, costs: Costs, startWith: Starting = 'no preference', deadBits = 0): LiveStepView[] {
  const { view, map, engine, belief } = now;
  if (map.shape !== 'board') return [];
  const numbers = placesOf(map, engine.suspects);
  const front = frontOf(engine, belief, (s) => numbers[s] ?? 0, CONSIDERED);
  if (front.entropy < 1e-6) return [];
  // What was made in the same state says nothing new.
  const key = (o: LiveObservation): string => `${liveTestName(o.test)} ${stateSignature(o.state)}`;
  const made = new Map<string, LiveTest[]>();
  for (const o of madeIn(now)) made.set(key(o), [...(made.get(key(o)) ?? []), o.test]);
  const isMade = (o: LiveObservation): boolean => (made.get(key(o)) ?? []).length > (condemns(now, made.get(key(o))?.[0]) ? 1 : 0);
  const weigh = (list: readonly Candidate[]): LiveStepView[] => list.filter((c) => c.results[0] && !view.notNow.includes(JSON.stringify(c.step)) && !isMade(c.results[0])).map((c) => viewOf(now, front, c, made.has(key(c.results[0] as LiveObservation)))).filter((s) => s.bits > LEAST_BITS && (s.outcomes.length > 1 || (s.step.do === 'voltage' && s.step.to === 'ground')));
  const coversOn = weigh([...[...closings(now, costs), ...loadTrials(now, costs)].filter(harmless(now)), ...looks(now, costs), ...(view.asked.complaint === 'shock' || view.asked.shock ? touches(map, view.state, costs) : [])]);
  const origin = shareOfKind(now, 'supplyLost') > SUPPLY_SUSPECTED ? weigh(voltsAtOrigin(map, view.state, costs)) : [];
  const best = Math.max(deadBits, ...[...coversOn, ...origin].map((s) => s.bits));
  const rest = [...(best < LITTLE || isByFigures(now) ? weigh(clamps(map, view.state, costs)) : []), ...(measureFirst(now) ? weigh(clampsInUse(now, costs)) : []), ...(best < LITTLE ? weigh(loopsAtBoard(map, view.state, costs)) : [])];
  // Two ways to the same step are one: the cheaper.
  const list = [...coversOn, ...origin, ...rest].sort((a, b) => a.minutes - b.minutes).filter((s, i, all) => all.findIndex((x) => x.key === s.key) === i);
  const urgent = (s: LiveStepView): number => Number(isTouch(s, now)) + Number(s.step.do === 'clamp' && s.step.all === true);
  return list.sort((a, b) => urgent(b) - urgent(a) || inSteps(inOrder(a, startWith)) - inSteps(inOrder(b, startWith))).slice(0, 3);
}

/** One figure that condemns a device is read once more before anybody replaces it. */
const condemns = ({ map }: Now, test: LiveTest | undefined): boolean => test?.kind === 'ramp' && (test.mA === null || test.mA < CONDEMNS * (protectionsOf(map).find((d) => d.id === test.device)?.residualMa ?? 0));
const CONDEMNS = 0.5;

/** Is it a matter of milliamperes by now, which a clamp shows and a closing only weighs against a threshold? */
const isByFigures = (now: Now): boolean => shareOfKind(now, 'standingLeak') + shareOfKind(now, 'rcdSensitive') > LEAKAGE_SUSPECTED;

/** It tripped, reads sound and would be left: what leaks in use, or what runs together on a breaker, is measured first, which no dead test shows, behind the device that went. */
export function measureFirst(now: Now): boolean {
  const { map, view: { asked }, observations, liveReadings } = now;
  if (observations.length === 0) return false;
  const clamped = (what: (around: string) => boolean): boolean => liveReadings.some(({ event: { test: t } }) => t.kind === 'clamp' && what(t.around));
  const devices = protectionsOf(map);
  if (asked.complaint === 'rcd trips') return nothingWrong(now) >= LIKELY_FINE && !clamped((id) => (devices.find((d) => d.id === id)?.residualMa ?? null) !== null);
  const overload = shareOfKind(now, 'overload');
  return asked.complaint === 'mcb trips' && overload > OVERLOAD_SUSPECTED && nothingWrong(now) + overload >= LIKELY_FINE && !clamped((id) => id.endsWith('/L'));
}
/** Suspicion of too much on a breaker from which its line is measured before the rest is left. */
const OVERLOAD_SUSPECTED = 0.1;

/** What costs the same within a hundredth is done in the order of the board. */
const inSteps = (cost: number): number => Math.round(Math.log(Math.max(cost, 1e-9)) * 100);

/** Expected minutes as someone sees them who likes to begin with one thing: a tie goes to it, no more. */
const leaning = (s: Pick<LiveStepView, 'cost' | 'step'>, startWith: Starting): number => s.cost * ((startWith === 'resetting' && s.step.do === 'close') || (startWith === 'clamp' && s.step.do === 'clamp') ? 1 - TIE : 1);

/** The same among live steps: whoever has no preference resets first and reaches for an instrument then, as the trade does. */
const inOrder = (s: Pick<LiveStepView, 'cost' | 'step'>, startWith: Starting): number => leaning(s, startWith === 'no preference' ? 'resetting' : startWith);

/** After a shock the metal itself is measured before anything else: whoever waits may touch it again. Once it was, figures decide. */
const isTouch = ({ step }: Pick<LiveStepView, 'step'>, { view, map, liveReadings }: Now): boolean =>
  step.do === 'voltage' && step.to === 'ground' && !view.secured && findPoint(map, step.from.split(/[:/]/)[0] ?? '')?.kind === 'board' && !liveReadings.some(({ event: { test } }) => test.kind === 'voltage' && test.to === 'ground');

/** Minutes of safe isolation, board proved, which a dead step costs that comes before it. */
export const SECURE_MIN = 5;

/** Does the best live step promise a shorter way than the best dead one? Live work with covers off never goes first, but for the supply and for leakage: dead tests do not show them. */
export function liveFirst(now: Now, dead: readonly StepView[], live: readonly LiveStepView[], startWith: Starting = 'no preference'): boolean {
  const { view, engine, belief, map } = now;
  const [step] = live;
  if (!step || (step.coversOff && !(step.step.do === 'voltage' && shareOfKind(now, 'supplyLost') > SUPPLY_SUSPECTED) && !(step.step.do === 'clamp' && (isByFigures(now) || step.step.all)))) return false;
  if (isTouch(step, now) || (step.step.do === 'clamp' && step.step.all)) return true;
  const [other] = dead;
  if (!other) return true;
  // Where nothing trips, dead tests come all the same: a step that tells next to nothing saves none of them.
  if (!somethingTrips(now) && step.bits < LITTLE && step.bits < other.bits) return false;
  const numbers = placesOf(map, engine.suspects);
  const { entropy } = frontOf(engine, belief, (s) => numbers[s] ?? 0, CONSIDERED);
  return leaning(step, startWith) < costOf(other.minutes + (view.secured ? 0 : SECURE_MIN), other.bits, entropy) * (startWith === 'insulation' ? 1 - TIE : 1);
}

const madeIn = ({ liveReadings }: Now): LiveObservation[] => liveReadings.map((r) => ({ test: r.event.test, state: r.state }));

function viewOf(now: Now, front: Front, c: Candidate, again: boolean): LiveStepView {
  const { map, engine, belief, view } = now;
  const chances = now.live.forecast(c.results, front.cells, madeIn(now));
  const name = placeNames(map);
  const total = Float64Array.from(front.cells, (_, i) => chances.reduce((s, row) => s + (row[i] as number), 0));
  let left = 0;
  const outcomes = c.results.map((o, k): LiveOutcome => {
    const mass = front.weight.map((w, i) => (w * (chances[k]?.[i] as number)) / (total[i] as number));
    const share = mass.reduce((s, m) => s + m, 0);
    left += entropyIn(front, mass);
    const [bySuspect, byPlace] = [new Map<string, number>(), new Map<string, number>()];
    const add = (to: Map<string, number>, key: string, m: number): unknown => to.set(key, (to.get(key) ?? 0) + m);
    for (const [i, m] of mass.entries()) {
      const s = engine.suspects[belief.cells.suspect[front.cells[i] as number] as number];
      const place = placeSaid(s, now.observations);
      add(bySuspect, place === 'sound' ? 'sound' : (s?.id ?? ''), m);
      add(byPlace, name(place), m);
    }
    const ranked = (of: Map<string, number>, from: number): string[] => [...of].sort((a, b) => b[1] - a[1]).filter(([, m]) => m > from * share).map(([key]) => key).slice(0, 3);
    return { test: o.test, share, suspects: ranked(bySuspect, 1 - SURE_OF_ONE), places: ranked(byPlace, NAMED_FROM), count: [...byPlace.values()].filter((m) => m > COUNTS * share).length };
  });
  const bits = Math.max(0, front.entropy - left);
  const needs = liveNeeds(map, safetyOf(view), c.step);
  const minutes = c.minutes + (needs.some((n) => n.need === 'lockOff') ? UNLOCK_MIN : 0);
  return { key: JSON.stringify(c.step), step: c.step, minutes, bits, cost: costOf(minutes, bits, front.entropy), coversOff: needsCoverOff(map, c.step), cautions: cautionsOf(map, c.step), needs, outcomes: shown(outcomes), again };
}

const MOST_ROWS = 4;
/** Share of a row from which a place counts in it. */
const COUNTS = 0.02;
/** The likeliest results, at most four; figures in their own order, what does or does not trip by chance. Of many devices that may trip the last row is all the rest. */
function shown(all: readonly LiveOutcome[]): LiveOutcome[] {
  const likely = all.filter((o) => o.share > 0.01).sort((a, b) => b.share - a.share);
  if (likely.length > MOST_ROWS && likely.every((o) => o.test.kind === 'closed')) {
    const holds = likely.filter((o) => o.test.kind === 'closed' && o.test.result === 'holds');
    const trips = likely.filter((o) => !holds.includes(o));
    const own = trips.slice(0, MOST_ROWS - 1 - holds.length);
    const rest = trips.slice(own.length);
    const [first] = rest;
    return [...holds, ...own].sort((a, b) => b.share - a.share).concat(first ? [{ ...first, share: rest.reduce((sum, o) => sum + o.share, 0), suspects: [], places: [], count: 0, of: rest.length }] : []);
  }
  const top = all.filter((o) => o.share > 0.01).sort((a, b) => b.share - a.share).slice(0, MOST_ROWS);
  const figure = ({ test: t }: LiveOutcome): number | null => (t.kind === 'voltage' ? t.volt : t.kind === 'loop' ? t.ohm : t.kind === 'clamp' ? t.mA : t.kind === 'ramp' ? (t.mA ?? Infinity) : null);
  return top.every((o) => figure(o) !== null) ? top.sort((a, b) => (figure(a) as number) - (figure(b) as number)) : top;
}
