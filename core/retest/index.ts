export { FAILS, liveLimit, NO_RCD, NO_TRIP, parseLiveFigure, stillFails, unitOf, type FigureRetest, type LiveLimit, type LiveRetest } from './live';
export { firstDo, LEAST_INSULATION_OHM, loadsToTakeOut, proofOf, rejoinedState, retestResults, retestsOwed, switchesToClose, type Proof, type RetestItem, type RetestResult } from './owed';
