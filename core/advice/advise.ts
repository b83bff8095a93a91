import { BeliefEngine, cellsOf, tradeOptions } from '../belief';
import { isFault, suspectsOf, tradePriors, type Suspect } from '../faults';
import type { Installation } from '../installation';
import { situationOf, type JobView } from '../job';
import { applyAction, atLoadOrSwitch, minutesFor, naturesOf, plan, shareByPlace, stepKey, tradeCosts, costsOf, TIE, type Costs, type Habits, type Starting, type Step } from '../planning';
import { probeKey } from '../probes';
import { unmetNeeds } from '../safety';
import { shifted, stillAsked } from '../asking';
import { stillFails } from '../retest';
import { clearedPlaces } from './cleared';
import { lastChange, surprises } from './effects';
import { LiveEvidence } from '../live';
import { askFirst } from './ask';
import { comparison, confirmation, type Confirmation } from './confirm';
import { drawNext, exhausted } from './draw';
import { lookFirst } from './look';
import { inOhmsNext } from './inOhms';
import { afterMends, evidenceOf, liveEvidenceOf } from './evidence';
import { againstRecord, placeSaid } from './facts';
import { enoughOf } from './enough';
import { fitOf } from './fit';
import { hazardsOf } from './hazards';
import { helpOf } from './help';
import { liveFirst, liveSteps, measureFirst } from './liveSteps';
import { doubtOfEarth, onlyLive, shareOfKind, type Now } from './now';
import { shortlist } from './shortlist';
import { distinct, outcomesOf, readAgain, SHOWN, safetyOf, stepView, telling } from './steps';
import type { Advice, StepView, Verdict } from './types';
import { understand, type Understanding } from './understand';
import { stranger, twoAsFar, verdictOf } from './verdict';

/** Bits and minutes of a reading that is still proposed when the place is known. */
const TELLS_WHAT = 0.3;
const NEAR_MIN = 5;
/** Bits from which a first reading is taken before anything is taken apart. */
const TELLS_SOMETHING = 0.05;

/** Part of the suspicion that only live tests can settle, from which they are weighed though the work has gone dead. */
const MOSTLY_LIVE = 0.35;

/** Insulation from here on passes: what lies above is no fault, ohms. */
const PASSES_OHM = 1e6;
const belowLimit = (suspects: readonly Suspect[]): Suspect[] => suspects.map((s) => (s.unknown.of === 'shunt' && isFault(s) && s.unknown.ohm[1] > PASSES_OHM ? { ...s, unknown: { ...s.unknown, ohm: [s.unknown.ohm[0], PASSES_OHM] } } : s));

/** Keeps the engine of the map in hand, so that a second reading costs only itself. */
export class Advisor {
  private key = '';
  private engine: BeliefEngine | null = null;
  private live: LiveEvidence | null = null;
  private baseKey = '';
  private settled: Understanding | null = null;
  private settledKey = '';

  private costs: Costs = tradeCosts;
  private startWith: Starting = 'no preference';

  /** How this person works: shifts what is proposed, never what is believed. */
  settle(habits: Habits): void {
    this.costs = costsOf(habits);
    this.startWith = habits.startWith;
  }

  private engineFor(map: Installation, view: JobView): BeliefEngine {
    const { asked, linksMade, mends } = view;
    const base = JSON.stringify([map.points, map.sections, map.shape, map.supply, asked.complaint, asked.answers, asked.seen, linksMade, mends.map((m) => m.event.id)]);
    const observed = liveEvidenceOf(view).map((r) => ({ test: r.event.test, state: r.state }));
    const key = `${base} ${JSON.stringify(observed)}`;
    if (!this.engine || this.key !== key) {
      if (this.baseKey !== base || !this.engine || !this.live) {
        const suspects = afterMends(shifted(map, belowLimit(suspectsOf(map, tradePriors, linksMade)), asked), mends);
        this.live = new LiveEvidence(map, suspects, cellsOf(suspects));
        this.engine = new BeliefEngine(map, suspects, tradeOptions);
        this.baseKey = base;
      }
      this.engine = this.engine.withBias(observed.length ? this.live.bias(observed) : null);
      this.key = key;
    }
    return this.engine;
  }

  /** Belief alone: what a reading needs at once. Null without a map. */
  believe(job: JobView): Now | null {
    const view = { ...job, asked: stillAsked(job, stillFails(job)) };
    const { map } = view;
    if (!map) return null;
    const engine = this.engineFor(map, view);
    const { observations, readings } = evidenceOf(view, engine);
    const key = `${this.key} ${readings.map((r) => r.event.id).join()}`;
    if (!this.settled || this.settledKey !== key) {
      this.settled = understand(map, engine, observations, readings);
      this.settledKey = key;
    }
    return { view, map, observations, readings, live: this.live as LiveEvidence, liveReadings: liveEvidenceOf(view), ...this.settled };
  }

  /** Everything shown in Trace. `withPlan` false leaves the steps out, for a first quick answer; `withChange` false what the last reading did, which needs the belief before it. */
  advise(view: JobView, withPlan = true, withChange = true): Advice | null {
    const now = this.believe(view);
    if (!now) return null;
    const places = shareByPlace(now.map, now.engine.suspects.map((s) => ({ ...s, place: placeSaid(s, now.observations) })), now.belief);
    const suspects = shortlist(now);
    const first = verdictOf(now);
    const confirm = first.says === 'place' ? (confirmation(now, first.place, this.costs) ?? comparison(now, this.costs)) : null;
    const told: Verdict = confirm ? { ...first, says: 'confirm' } : first;
    const earthDoubt = doubtOfEarth(now);
    const unknownShare = shareOfKind(now, 'unknown');
    const done = told.says === 'place' || told.says === 'draw' || told.says === 'sound' || told.says === 'two';
    const steps = withPlan && confirm ? [this.confirming(now, confirm, earthDoubt)] : withPlan && !done ? this.steps(now, told, earthDoubt) : withPlan && told.says === 'place' ? this.toTellWhat(now, told, earthDoubt) : [];
    // Locked off, the work goes on dead as long as dead readings tell something; of the supply, of devices and of what leaks in use they tell nothing.
    // What the trade does first by rule tells nothing of the place: what else there is to do is weighed against the steps that do.
    const weighed = steps.filter((s) => s.bits > 0);
    const [best] = weighed;
    const byRule = steps[0] !== undefined && steps[0] !== best;
    const live = withPlan && !done && !confirm && told.says !== 'repeat' && (!view.secured || exhausted(best) || onlyLive(now) > MOSTLY_LIVE || measureFirst(now)) ? liveSteps(now, this.costs, this.startWith, best?.bits ?? 0) : [];
    const next = withPlan && told.says === 'none' && !byRule && (now.observations.length > 0 || !best) ? drawNext(now, this.costs, weighed, live) : null;
    // Where no test tells more, what those that were made have named is named.
    const nothingLeft = withPlan && told.says === 'none' && !steps.length && !live.length;
    const last = nothingLeft ? verdictOf(now, true) : null;
    const asFar = last?.says === 'place' ? last : null;
    const ask = withPlan && !done && !confirm && told.says !== 'repeat' ? askFirst(now, weighed, live) : null;
    const look = withPlan && !done && !confirm && told.says !== 'repeat' && (now.observations.length > 0 || !best) ? lookFirst(now, this.costs, weighed, live) : null;
    const enough = withPlan && !ask ? enoughOf(now, told, this.costs, weighed, live, next) : null;
    const verdict = (nothingLeft ? twoAsFar(now, told) : null) ?? enough ?? next ?? asFar ?? told;
    const named = done || verdict.says === 'place' || verdict.says === 'draw' || verdict.says === 'two';
    return {
      placesOpen: places.filter((p) => p.share > 0.002 && p.place !== 'unknown' && p.place !== 'sound' && !p.place.startsWith('state ')).length,
      places: places.filter((p) => p.share > 0.002),
      hasReadings: now.observations.length + now.liveReadings.length > 0,
      suspects,
      others: { count: now.engine.suspects.length - suspects.length, share: Math.max(0, 1 - suspects.slice(now.two ? 1 : 0).reduce((s, x) => s + x.share, 0) - unknownShare) },
      unknownShare,
      fedElsewhere: shareOfKind(now, 'borrowed') + shareOfKind(now, 'otherBar'),
      two: now.two ? { share: now.two.share, first: now.engine.suspects[now.two.suspect]?.id ?? '' } : null,
      facts: now.facts.filter((f) => againstRecord(f, now.observations)),
      cleared: clearedPlaces(now),
      hazards: hazardsOf(now),
      verdict,
      fit: fitOf(now),
      steps,
      liveSteps: live,
      ask: named ? null : ask,
      look: named ? null : look,
      liveFirst: liveFirst(now, best ? weighed : steps, live, this.startWith),
      help: withPlan && !named && !confirm && !next && !steps.length && !live.length ? helpOf(now) : [],
      lastChange: withChange ? lastChange(now) : null,
      surprising: withChange ? surprises(now) : [],
      earthDoubt,
    };
  }

  /** The place is known: the reading, if one is near and tells much, that shows what is wrong there. What is replaced whole need not be known within. */
  private toTellWhat(now: Now, { place, surely }: Verdict, earthDoubt: boolean): StepView[] {
    const { view, engine, belief, observations } = now;
    if (!surely || (surely.kind !== null && surely.conductors !== null) || place.includes('.')) return [];
    const steps = plan(engine, belief, observations, situationOf(view), { costs: this.costs, mostProbes: 2, rejected: new Set(view.notNow), keep: 10, parts: naturesOf });
    return steps.filter((s) => s.bits > TELLS_WHAT && s.minutes < NEAR_MIN).slice(0, 1).map((s) => stepView(now, s, safetyOf(view), earthDoubt));
  }

  private confirming(now: Now, { actions, probes, minutes, code }: Confirmation, earthDoubt: boolean): StepView {
    const safety = safetyOf(now.view);
    const stateAfter = actions.reduce(applyAction, now.view.state);
    return {
      key: stepKey({ actions, probes }), actions, probes, minutes, bits: 0, needs: unmetNeeds(now.map, safety, { actions, probes, earthDoubt }),
      outcomes: outcomesOf(now, { actions, probes, stateAfter }), why: { code, figure: 0 },
    };
  }

  private steps(now: Now, verdict: Verdict, earthDoubt: boolean): StepView[] {
    const { view, map, engine, belief, observations } = now;
    const steps = plan(engine, belief, observations, situationOf(view), { costs: this.costs, mostProbes: 3, rejected: new Set(view.notNow), keep: 40 });
    const safety = safetyOf(view);
    const asView = (s: Step): StepView => stepView(now, s, safety, earthDoubt);
    const best = telling(distinct(map, steps), asView);
    const first = this.coversOn(now, best).map(asView);
    const views = [...first, ...best.filter((v) => first.every((f) => f.key !== v.key))].slice(0, SHOWN);
    const checked = this.checking(now, verdict, earthDoubt);
    return checked ? [checked, ...views.filter((v) => v.key !== checked.key).slice(0, 2)] : views;
  }

  /**
   * Covers on before covers off, where the best step takes something apart: with nothing read yet the best reading that does not goes
   * before it; and what was low on the insulation range is first read in ohms, at the same place.
   */
  private coversOn({ view, engine, belief, observations }: Now, [best]: readonly StepView[]): Step[] {
    if (!best?.actions.some((a) => !atLoadOrSwitch(a))) return [];
    const situation = situationOf(view);
    const rejected = new Set(view.notNow);
    const low = inOhmsNext(engine, observations, view.state);
    if (low) {
      const { minutes, at } = minutesFor(engine.installation, situation, [], [low], this.costs);
      const step: Step = { actions: [], probes: [low], minutes, bits: 0, cost: 0, stateAfter: view.state, at };
      return rejected.has(stepKey(step)) ? [] : [step];
    }
    if (observations.length) return [];
    return plan(engine, belief, observations, situation, { costs: this.costs, mostProbes: 1, rejected, keep: 1, still: true, parts: naturesOf }).filter((s) => s.bits > TELLS_SOMETHING);
  }

  /** What the verdict hangs on, read again; or, as things stand now, the reading that tells more of it than its repetition would. */
  private checking(now: Now, verdict: Verdict, earthDoubt: boolean): StepView | null {
    const { view, map, engine, belief, observations, readings } = now;
    const carried = readings.findIndex((r) => r.event.id === verdict.repeat);
    const again = readings[carried];
    if (!again) return null;
    const others = observations.filter((_, i) => i !== carried);
    // What goes with nothing is read again itself: no other reading tells whether it was a slip.
    const near = stranger(now) === verdict.repeat ? [] : plan(engine, engine.believe(others), others, situationOf(view), { costs: this.costs, mostProbes: 1, rejected: new Set(view.notNow), keep: 8, still: true });
    // Of readings worth the same, one in which the fault itself would show.
    const leader = belief.cells.answer[belief.weight.indexOf(Math.max(...belief.weight))] as number;
    const shows = ({ probes: [p] }: Step): boolean => {
      const answers = p ? engine.formulas.of(view.state, p) : null;
      return answers !== null && answers.to(leader) !== answers.sound;
    };
    const best = near.find((s) => s.cost <= (near[0]?.cost ?? 0) * (1 + TIE) && shows(s)) ?? near[0];
    const probe = best?.probes[0] ?? again.event.probe;
    const repeats = probeKey(probe) === probeKey(again.event.probe);
    const [actions, probes] = [[], [repeats ? again.event.probe : probe]];
    const step = { actions, probes, stateAfter: view.state };
    return {
      key: repeats ? `repeat ${again.event.id}` : stepKey({ actions, probes }), actions, probes, minutes: best?.minutes ?? this.costs.reading + this.costs.walk, bits: 0,
      needs: unmetNeeds(map, safetyOf(view), { actions, probes, earthDoubt }),
      outcomes: repeats ? readAgain(outcomesOf({ map, engine, belief: engine.believe(others), observations }, step), again.event.displayed, verdict.share) : outcomesOf(now, step),
      why: { code: repeats ? 'repeat' : 'check', figure: verdict.share },
    };
  }
}
