export { drawTruth, lifelike, SimulatedTester, trueResistance, type Scatter, type Truth } from './truth';
