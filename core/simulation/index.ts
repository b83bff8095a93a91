export { Play } from './play';
export { potteryScenarios, type Scenario } from './pottery';
export { Practice, practiceTruth } from './practice';
export { drawTruth, lifelike, SimulatedTester, trueResistance, type Scatter, type Truth } from './truth';
export { askOf, liveTesterOf, type LiveAsk, type SimulatedLive } from './liveTester';
