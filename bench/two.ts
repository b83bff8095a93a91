import { misfitOf } from '../core/belief';
import { understand } from '../core/advice';
import { boardOf } from '../core/installation';
import { plan, shareByPlace, spotsAt, type Action } from '../core/planning';
import { probeKey, type Probe } from '../core/probes';
import { elementKey, stateSignature } from '../core/workstate';
import { carrier, Hunt, type NearlySure } from './strategies';
import { sameAnswer, worldSuspects, type TwoCase } from './world';

export interface TwoRun {
  readonly both: boolean;
  /** How many faults were named. */
  readonly called: number;
  readonly minutes: number;
  /** Were both named at once, before anything was mended? */
  readonly atOnce: boolean;
  readonly nearlySure: NearlySure;
}

const CAP_MINUTES = 180;
const SURE = 0.95;
const SURE_OF_NOTHING = 0.985;
const LIKELY = 0.5;
const MOST_NAMED = 4;

/**
 * Two faults on a board: hunted until two places are sure at once, or one is; that one is mended, everything is rejoined and read
 * anew at the board, and what is left is hunted.
 */
export function huntTwo(c: TwoCase): TwoRun {
  const named: string[] = [];
  let minutes = 0;
  let hunt = new Hunt(c);
  let atOnce = false;
  const truth = [c.answer.place, c.second.place];
  const nearlySure = { steps: 0, right: 0 };
  for (let i = 0; i < 160 && minutes + hunt.minutes < CAP_MINUTES && named.length < MOST_NAMED; i++) {
    const { engine, belief, two } = named.length < 2 ? understand(hunt.installation, hunt.engine, hunt.observations, []) : { engine: hunt.engine, belief: hunt.belief, two: null };
    const leader = shareByPlace(hunt.installation, engine.suspects, belief)[0] ?? { place: '', share: 0 };
    if (leader.share >= 0.85 && leader.share < 0.95) {
      const left = truth.filter((t) => !named.some((n) => sameAnswer(c.plan, n, t)));
      nearlySure.steps++;
      if (leader.place === 'sound' ? left.length === 0 : left.some((t) => sameAnswer(c.plan, leader.place, t))) nearlySure.right++;
    }
    if (two && two.placeShare >= SURE && leader.share >= SURE && leader.place !== 'unknown' && leader.place !== 'sound') {
      named.push(engine.suspects[two.suspect]?.place ?? '', leader.place);
      atOnce = named.length === 2;
      break;
    }
    // That nothing is left is the dearest thing to be wrong about.
    if (!two && leader.share >= (leader.place === 'sound' ? SURE_OF_NOTHING : SURE)) {
      if (leader.place === 'sound' || leader.place === 'unknown') break;
      const again = stranger(hunt) ?? carrier(hunt);
      if (again) {
        hunt.do([], [again]);
        continue;
      }
      named.push(leader.place);
      minutes += hunt.minutes;
      hunt = mended(c, hunt, named);
      continue;
    }
    const options = { costs: hunt.costs, mostProbes: 3, rejected: new Set<string>(), keep: 1 };
    const step = [plan(engine, belief, hunt.observations, hunt.situation, options)[0], ...(two ? [plan(hunt.engine, hunt.belief, hunt.observations, hunt.situation, options)[0]] : [])].find((s) => s && s.bits >= 0.01);
    if (step) {
      hunt.do(step.actions, step.probes);
      continue;
    }
    // Given up: what is likelier than not is named.
    if (leader.place === 'sound' || leader.place === 'unknown' || leader.share < LIKELY) break;
    if (two) {
      named.push(engine.suspects[two.suspect]?.place ?? '', leader.place);
      break;
    }
    named.push(leader.place);
    minutes += hunt.minutes;
    hunt = mended(c, hunt, named);
  }
  const both = named.length === 2 && truth.every((t) => named.some((n) => sameAnswer(c.plan, n, t)));
  return { both, called: named.length, minutes: Math.min(CAP_MINUTES, minutes + hunt.minutes), atOnce, nearlySure };
}

/** A reading that the leader does not explain, taken once in this state. */
function stranger(hunt: Hunt): Probe | null {
  const misfit = misfitOf(hunt.belief, hunt.observations);
  const key = (o: (typeof hunt.observations)[number]): string => `${stateSignature(o.state)} ${probeKey(o.probe)}`;
  return hunt.observations.find((o, i) => (misfit[i] as number) > 3 && stateSignature(o.state) === stateSignature(hunt.situation.state) && hunt.observations.filter((x) => key(x) === key(o)).length === 1)?.probe ?? null;
}

/** What was named is mended, everything is rejoined, and the board is read anew: every way, every bar. */
function mended(c: TwoCase, before: Hunt, named: readonly string[]): Hunt {
  const faults = c.faults.filter((_, k) => !named.some((n) => sameAnswer(c.plan, n, (k === 0 ? c.answer : c.second).place)));
  const suspects = worldSuspects(c.plan, c.start).map((s) => ({ ...s, prior: s.kind === 'sound' ? LEFT_SOUND : s.prior * (1 - LEFT_SOUND) * (named.some((n) => sameAnswer(c.plan, n, s.place)) ? AGAIN : 1) }));
  const hunt = new Hunt({ ...c, truth: { ...c.truth, faults } }, before.costs, true, suspects);
  const out = before.situation.state.out.filter((k) => !c.start.out.includes(k));
  const back: Action[] = [...new Set(out.map((k) => k.split('@')[0] ?? ''))].map((s) => ({ do: 'putBack', point: 'p0', ends: out.filter((k) => k.startsWith(`${s}@`)) }));
  hunt.do(back, []);
  const board = boardOf(c.plan);
  const { spots } = board ? spotsAt(c.plan, c.start, board) : { spots: [] };
  const pair = (a: string, b: string): Probe => ({ fn: 'insulation', from: [a], to: [b] });
  const lines = spots.filter((s) => s.role === 'L').map((s) => s.place);
  hunt.do([], [...lines.flatMap((w) => [pair(w, 'p0:N'), pair(w, 'p0:E')]), pair('p0:N', 'p0:E')]);
  // As the retests ask: what unplugs is taken out, and line to neutral is read once more.
  const unplug = c.plan.points.flatMap((p) => p.elements.flatMap((e): Action[] => (e.kind === 'load' && e.unplugs && !c.start.loadsOut.includes(elementKey(p.id, e.id)) ? [{ do: 'unplug', point: p.id, parts: [elementKey(p.id, e.id)] }] : [])));
  if (unplug.length) hunt.do(unplug, lines.map((w) => pair(w, 'p0:N')));
  return hunt;
}

/** What was put right is less likely to be wrong again. */
const AGAIN = 0.1;
/** Chance that nothing is left once one fault is mended, before the board is read anew. */
const LEFT_SOUND = 0.5;
