export { Complaint, Condition, DisplayedValue, JOB_FORMAT, JOB_VERSION, JobEvent, JobFile, VoltCheck, type EventBody, type EventOf } from './events';
export { deriveJob, PROOF_HOLDS_MIN, THROUGH_ARRESTER, type Asked, type Flag, type JobStatus, type JobView, type LiveReadingView, type MendView, type ProofView, type ReadingView, type Securing } from './derive';
export { parseEarly, placeEarly, type Early } from './early';
export { jobFileSchema, parseJobFile, writeJobFile } from './file';
export { eventOfAction, observationOf, situationOf, usableReadings } from './observations';
