export { jobStore, type JobStore } from './jobStore';
export { holdJob, jobChannel, type LockState } from './tabLock';
export { loadPhoto, photosOf, savePhoto, takePhotos } from './photos';
