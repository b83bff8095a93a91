import { tellingQuestion, traitOf, type Trait, type TraitShare } from '../asking';
import { costOf, frontOf, placesOf } from '../planning';
import type { Now } from './now';
import { SECURE_MIN, type LiveStepView } from './liveSteps';
import type { StepView } from './types';

/** A question that is worth more than any reading now: asked in a tap, without a walk. */
export interface AskView { readonly question: string; readonly bits: number; readonly minutes: number }

/** Minutes that a question and its answer take. */
const ASK_MIN = 0.2;
/** Bits below which nobody is asked in the middle of the work. */
const WORTH_INTERRUPTING = 0.15;
const CONSIDERED = 120;

/** The open question that promises a shorter way than the best step, by the families of fault as they are believed now. */
export function askFirst(now: Now, steps: readonly StepView[], live: readonly LiveStepView[]): AskView | null {
  const { view, map, engine, belief } = now;
  const sums = new Map<Trait, number>();
  for (const [i, s] of engine.suspects.entries()) {
    const trait = traitOf(s);
    if (trait) sums.set(trait, (sums.get(trait) ?? 0) + (belief.suspectShare[i] as number));
  }
  const total = [...sums.values()].reduce((a, b) => a + b, 0);
  const shares: TraitShare[] = [...sums].map(([trait, share]) => ({ trait, share: share / total }));
  const best = tellingQuestion(map, view.asked, shares);
  if (!best || best.bits < WORTH_INTERRUPTING) return null;
  const numbers = placesOf(map, engine.suspects);
  const { entropy } = frontOf(engine, belief, (s) => numbers[s] ?? 0, CONSIDERED);
  // What is told about the family of a fault tells at most as much about its place.
  const cost = costOf(ASK_MIN, Math.min(best.bits, entropy) * OF_THE_PLACE, entropy);
  const others = [...steps.slice(0, 1).map((s) => costOf(s.minutes + (view.secured ? 0 : SECURE_MIN), s.bits, entropy)), ...live.slice(0, 1).map((s) => s.cost)];
  return others.every((c) => cost < c) ? { question: best.q.id, bits: best.bits, minutes: ASK_MIN } : null;
}

/** Share of the bits about the family that also part the places: places of one family lie side by side. */
const OF_THE_PLACE = 0.5;
