export { Advisor } from './advise';
export { safetyOf } from './steps';
export type { LiveOutcome, LiveStepView } from './liveSteps';
export type { Advice, ClearedView, Explanation, Fit, LastChange, Outcome, StepView, SuspectView, Verdict } from './types';
export type { LookView } from './look';
export { hazardOf, type HazardKind, type HazardView } from './hazards';
export { understand } from './understand';
export type { FactView } from './facts';
export type { Surely } from './surely';
