export { displayOf, instrumentSdOhm, isAbove, meter, STEADY_SD, TestFunction, UNSTEADY_SD, toY, type Displayed, type MeterRange } from './instrument';
