export { Probe, probeKey, tiedState } from './probe';
export { respond, type Lead, type Response } from './response';
export { StateModel } from './stateModel';
