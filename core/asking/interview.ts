import { suspectsOf } from '../faults';
import { protectionsOf, type Installation } from '../installation';
import type { Asked } from '../job';
import { chance, traitFactor } from './bearing';
import { questions, type Danger, type Question } from './questions';
import { asksWhichPart, whichQuestions } from './which';
import { traitOf, traits, type Trait } from './traits';

/** Bits below which a question is not worth a tap. */
const WORTH_A_TAP = 0.04;
/** Most questions in one interview: under a minute, one thumb. */
export const MOST_QUESTIONS = 6;

export interface TraitShare { readonly trait: Trait; readonly share: number }

/** Installations never change in place, so their priors are summed once. */
const traitPriors = new WeakMap<Installation, ReadonlyMap<Trait, number>>();

function priorsOf(map: Installation): ReadonlyMap<Trait, number> {
  let weight = traitPriors.get(map);
  if (!weight) {
    const sums = new Map<Trait, number>(traits.map((t) => [t, 0]));
    for (const s of suspectsOf(map)) {
      const trait = traitOf(s);
      if (trait) sums.set(trait, (sums.get(trait) ?? 0) + s.prior);
    }
    traitPriors.set(map, (weight = sums));
  }
  return weight;
}

/** Shares of the families of fault after what was told and seen, likeliest first; they sum to 1. */
export function traitShares(map: Installation, asked: Asked): TraitShare[] {
  const weighed = [...priorsOf(map)].map(([trait, w]) => ({ trait, w: w * traitFactor(asked, trait) }));
  const total = weighed.reduce((sum, x) => sum + x.w, 0);
  return weighed.map(({ trait, w }) => ({ trait, share: w / total })).sort((a, b) => b.share - a.share);
}

/** All questions of a complaint, on this map: of a board also which device went, or which circuit it is on; and what an answer leads to. */
export function questionsOf(map: Installation, asked: Pick<Asked, 'complaint' | 'answers'>): Question[] {
  const { complaint } = asked;
  return [...whichQuestions(map, asked), ...questions.filter((q) => (!complaint || q.complaints.includes(complaint)) && (!q.ofBoard || map.shape === 'board')).map((q) => askedOf(map, q))];
}

/** A question with the answers that this board can give. */
function askedOf(map: Installation, q: Question): Question {
  const can = q.answers.map((a) => a.ofTwo !== true || protectionsOf(map).filter((d) => d.residualMa !== null).length > 1);
  if (can.every(Boolean)) return q;
  const kept = (row: readonly number[]): number[] => row.filter((_, i) => can[i]);
  return { ...q, answers: q.answers.filter((_, i) => can[i]), others: kept(q.others), rows: Object.fromEntries(Object.entries(q.rows).map(([trait, row]) => [trait, kept(row)])) };
}

/** Neither answered nor told as not known. */
const openQuestions = (map: Installation, asked: Asked): Question[] => questionsOf(map, asked).filter((q) => asked.answers[q.id] === undefined && !asked.notKnown?.includes(q.id));

/** The question whose answer tells most now; danger first, then which part of the board it is. Null when no question is worth a tap. */
export function nextQuestion(map: Installation, asked: Asked): Question | null {
  const { complaint } = asked;
  if (!complaint) return null;
  const open = openQuestions(map, asked);
  const danger = open.find((q) => q.first);
  if (danger) return danger;
  const which = open.find((q) => asksWhichPart(q.id));
  if (which) return which;
  return tellingQuestion(map, asked, traitShares(map, asked))?.q ?? null;
}

/** Of the questions still open the one that parts these families best; null when none is worth a tap, or enough was asked. */
export function tellingQuestion(map: Installation, asked: Asked, shares: readonly TraitShare[]): { readonly q: Question; readonly bits: number } | null {
  const { complaint } = asked;
  if (!complaint || Object.keys(asked.answers).length + (asked.notKnown?.length ?? 0) >= MOST_QUESTIONS) return null;
  const open = openQuestions(map, asked);
  const best = open.map((q) => ({ q, bits: bitsOf(q, shares) })).sort((a, b) => b.bits - a.bits)[0];
  return best && best.bits > WORTH_A_TAP ? best : null;
}

/** Expected bits about the family of the fault. */
export function bitsOf(q: Question, shares: readonly TraitShare[]): number {
  let bits = 0;
  for (const a of q.answers) {
    const p = shares.reduce((sum, s) => sum + s.share * chance(q, a.id, s.trait), 0);
    for (const s of shares) {
      const joint = s.share * chance(q, a.id, s.trait);
      if (joint > 0) bits += joint * Math.log2(joint / (p * s.share));
    }
  }
  return bits;
}

export interface Shift { readonly likelier: readonly TraitShare[]; readonly lessLikely: readonly TraitShare[] }

const MOVED = 1.35;
const WORTH_NAMING = 0.03;

/** Which families one answer, or one thing seen, made likelier and less likely: this story against the same without it. */
export function shiftOf(map: Installation, without: Asked, withIt: Asked): Shift {
  const before = new Map(traitShares(map, without).map((s) => [s.trait, s.share]));
  const after = traitShares(map, withIt);
  const ratio = (s: TraitShare): number => s.share / Math.max(before.get(s.trait) ?? 0, 1e-12);
  return {
    likelier: after.filter((s) => ratio(s) > MOVED && s.share > WORTH_NAMING),
    lessLikely: after.filter((s) => ratio(s) < 1 / MOVED && (before.get(s.trait) ?? 0) > WORTH_NAMING),
  };
}

/** What must be made safe first, the gravest on top. */
export function dangersOf(asked: Asked): Danger[] {
  const told = new Set<Danger>(asked.shock ? ['shock'] : []);
  for (const q of questions) {
    const answer = q.answers.find((a) => a.id === asked.answers[q.id]);
    if (answer?.danger) told.add(answer.danger);
  }
  return (['service', 'supplyNeutral', 'shock', 'burning'] as const).filter((d) => told.has(d));
}
