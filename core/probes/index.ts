export { Answers, type Maybe, type Thing } from './answers';
export { Probe, probeKey, tiedState } from './probe';
export { lengthSlopes, type CoreList, type SiteCurrents } from './currents';
export { insulationSlopes, type Leakage, type SiteLeaks } from './leaks';
export { respond, type Lead, type Response } from './response';
export { StateModel, structureOf, type Path } from './stateModel';
