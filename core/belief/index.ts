export { BeliefEngine, tradeOptions, type Belief, type BeliefOptions, type Observation, type Prediction } from './belief';
export { couldShow, howForeseen, misfitOf, supportOf } from './explain';
export { cellsOf, ohmOfT, tOfOhm, type Cells } from './cells';
export { assumedOf, twoFaults, type TwoFaults } from './pair';
