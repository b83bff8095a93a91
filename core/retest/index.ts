export { FAILS, liveLimit, NO_RCD, parseLiveFigure, type LiveLimit, type LiveRetest } from './live';
export { firstDo, LEAST_INSULATION_OHM, proofOf, rejoinedState, retestResults, retestsOwed, type Proof, type RetestItem, type RetestResult } from './owed';
