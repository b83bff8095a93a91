import type { Advice, LiveStepView } from '@core/advice';
import type { JobView } from '@core/job';

/** The step with the supply on that goes before any dead one; null where dead ones go first. After a shock nobody begins so: it is made dead. */
export const liveBefore = (view: JobView, advice: Advice | null): LiveStepView | null => (advice?.liveFirst && (view.secured || view.asked.complaint !== 'shock') ? (advice.liveSteps[0] ?? null) : null);
