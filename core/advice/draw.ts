import { circuitsOf, type Installation } from '../installation';
import { bitsOf } from '../numeric';
import { allPlugsMin, costOf, frontOf, placesOf, shareByPlace, type Costs, type PlaceShare } from '../planning';
import type { LiveStepView } from './liveSteps';
import type { Now } from './now';
import type { StepView, Verdict } from './types';

// When a circuit that nobody has drawn is to be drawn, so that it can be read at its points.

/** The circuit that carries most of the belief among those that nobody has drawn: what is wrong there can only be told once it is drawn. */
export function mostOnUndrawn(map: Installation, shares: readonly PlaceShare[], putOff: readonly string[] = []): { place: string; share: number } | null {
  const circuits = circuitsOf(map);
  const byCircuit = new Map<number, number>();
  for (const p of shares) {
    const c = circuits.get(p.place.split('.')[0] ?? '');
    if (c !== undefined) byCircuit.set(c, (byCircuit.get(c) ?? 0) + p.share);
  }
  for (const [c, share] of [...byCircuit].sort((a, b) => b[1] - a[1])) {
    const lump = map.points.find((p) => circuits.get(p.id) === c && p.kind === 'undrawn');
    if (lump && !putOff.includes(drawKey(lump.id)) && !map.points.some((p) => circuits.get(p.id) === c && p.kind !== 'undrawn')) return { place: lump.id, share };
  }
  return null;
}

/** Name of the step that draws a circuit, for whoever puts it off. */
export const drawKey = (place: string): string => `draw ${place}`;

/** Minutes to draw a circuit from what can be seen of it. */
const DRAW_MIN = 1.5;
/** Of what its points would tell, the part that the first reading in there does. */
const FIRST_INSIDE = 0.5;
/** Bits a minute of the best dead step below which the board is exhausted, and bits of a live one. */
const LITTLE_A_MINUTE = 0.05;
const LITTLE_LEFT = 0.05;
const WORTH_DRAWING = 0.01;

/** Do dead readings tell hardly more? */
export const exhausted = (best: StepView | undefined): boolean => !best || best.bits / Math.max(best.minutes, 0.5) < LITTLE_A_MINUTE;

/**
 * The circuit to draw next, and how much of the belief lies on it: where nothing in reach tells more, or where going into it promises a
 * shorter way than whatever can still be read without. That it is on this circuit or is not is what its points tell.
 */
export function drawNext(now: Now, costs: Costs, steps: readonly StepView[], live: readonly LiveStepView[]): Verdict | null {
  const { view, map, engine, belief } = now;
  const lump = mostOnUndrawn(map, shareByPlace(map, engine.suspects, belief), view.notNow);
  if (!lump || lump.share <= WORTH_DRAWING) return null;
  const [best] = steps;
  const next: Verdict = { says: 'drawNext', ...lump, repeat: null, onGuess: false, surely: null };
  if (exhausted(best) && live.every((s) => s.bits < LITTLE_LEFT)) return next;
  return drawCost(now, lump, costs) < minutesLeft(now, steps, live) ? next : null;
}

/** Expected minutes to the end by the best of what can be read; infinite where there is nothing. */
export const minutesLeft = (now: Now, [best]: readonly StepView[], [live]: readonly LiveStepView[]): number => Math.min(best ? costOf(best.minutes, best.bits, entropyOf(now)) : Infinity, live?.cost ?? Infinity);

/** What is open, bits. */
function entropyOf({ map, engine, belief }: Now): number {
  const numbers = placesOf(map, engine.suspects);
  return frontOf(engine, belief, (s) => numbers[s] ?? 0).entropy;
}

/** Expected minutes to the end where a circuit with so much of the belief is drawn next. What is plugged in there is not told at its points: it takes a round of its own. */
export function drawCost(now: Now, { place, share }: Pick<PlaceShare, 'place' | 'share'>, costs: Costs): number {
  const onLoads = shareByPlace(now.map, now.engine.suspects, now.belief).reduce((sum, p) => (p.place.startsWith(`${place}.`) ? sum + p.share : sum), 0);
  return costOf(DRAW_MIN + costs.walk + costs.proveClosed + costs.reading + (onLoads / share) * allPlugsMin(costs), FIRST_INSIDE * bitsOf(share), entropyOf(now));
}
