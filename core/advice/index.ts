export { Advisor, outcomesOf, pairOhmPerM, safetyOf, SURE } from './advise';
export type { Advice, ClearedView, Explanation, Fit, LastChange, Outcome, StepView, SuspectView, Verdict } from './types';
