export { jobStore, type JobStore } from './jobStore';
export { holdJob, isHeldElsewhere, jobChannel, type LockState } from './tabLock';
export { keptInMemory, leaveInMemory, onUnkept, unkeptJobs } from './unkept';
export { loadPhoto, photosOf, savePhoto, takePhotos } from './photos';
