export { Answers } from './answers';
export { Probe, probeKey, tiedState } from './probe';
export { lengthSlopes, type CoreList, type SiteCurrents } from './currents';
export { respond, type Lead, type Response } from './response';
export { StateModel, structureOf } from './stateModel';
