export { BeliefEngine, noPrediction, secondWorst, STRANGE_FROM_SD, tradeOptions, type Belief, type BeliefOptions, type Observation, type Prediction } from './belief';
export { againstSound, couldShow, howForeseen, misfitOf, shareWithout, supportOf, tellsOf } from './explain';
export { agreeing } from './grouping';
export { leadCircuits } from './reach';
export { isSoundInsulation, leastSoundOhm, SOUND_FROM_OHM } from './healthy';
export { isDoubtful, LEAST_LOAD_OHM, SELDOM, USUAL } from './nuisance';
export { cellsOf, ohmOfCell, ohmOfT, tOfOhm, type Cells } from './cells';
export { canBeGiven, engineGiven, twoFaults, type TwoFaults } from './pair';
