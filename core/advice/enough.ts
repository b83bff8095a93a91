import type { Costs } from '../planning';
import { drawCost, minutesLeft } from './draw';
import { measureFirst, type LiveStepView } from './liveSteps';
import type { Now } from './now';
import type { StepView, Verdict } from './types';
import { LIKELY_FINE, nothingWrong } from './verdict';

// When to leave it: what is left is unlikely, spread thinly, and dear to look for. Whoever reads on then does so knowing it.

/** Key by which somebody who reads on all the same puts the offer off. */
export const ENOUGH = 'enough';

/** Minutes for each fault that going on would find, from which it is dear; whoever inspects looks for what nobody felt. */
const DEAR_MIN = 150;
const DEAR_TO_INSPECT_MIN = 300;

/** The offer to leave it, with the expected minutes to be sure; null while going on is worth them. Where nothing is left to read they are infinite. */
export function enoughOf(now: Now, told: Verdict, costs: Costs, steps: readonly StepView[], live: readonly LiveStepView[], next: Verdict | null): Verdict | null {
  const { view, observations } = now;
  if (told.says !== 'none' || observations.length === 0 || now.two) return null;
  const fine = nothingWrong(now);
  if (fine < LIKELY_FINE) return null;
  if (live.some((s) => s.step.do === 'clamp' && s.step.all) && measureFirst(now)) return null;
  const minutes = Math.min(minutesLeft(now, steps, live), next ? drawCost(now, next, costs) : Infinity);
  const nothingToRead = minutes === Infinity;
  if (!nothingToRead && (view.notNow.includes(ENOUGH) || minutes / (1 - fine) < (view.asked.complaint === 'inspection' ? DEAR_TO_INSPECT_MIN : DEAR_MIN))) return null;
  return { ...told, says: 'enough', place: 'sound', share: fine, minutes: nothingToRead ? null : minutes };
}
