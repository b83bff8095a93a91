export { Complaint, Condition, DisplayedValue, JOB_FORMAT, JOB_VERSION, JobEvent, JobFile, VoltCheck, type EventBody, type EventOf } from './events';
export { liveMetalOf, TOUCH_VOLT } from './liveMetal';
export { deriveJob, PROOF_HOLDS_MIN, THROUGH_ARRESTER, UNKNOWN_SWITCH } from './derive';
export type { Asked, Flag, JobStatus, JobView, LiveReadingView, MendView, ProofView, ReadingView, Securing } from './view';
export { parseEarly, placeEarly, type Early } from './early';
export { jobFileSchema, parseJobFile, writeJobFile } from './file';
export { beforeLive, putOn, turnedOn } from './beforeLive';
export { eventOfAction, observationOf, situationOf, usableReadings } from './observations';
