import { browserJobStore, type JobStore } from './jobStore';

let store: JobStore | null = null;
export const jobStore = (): JobStore => (store ??= browserJobStore());
export type { JobMeta, JobStore } from './jobStore';
export { holdJob, jobChannel, type LockState } from './tabLock';
