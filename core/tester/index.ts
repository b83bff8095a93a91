export { displayOf, instrumentSdOhm, isAbove, meter, TestFunction, toY, type Displayed, type MeterRange } from './instrument';
