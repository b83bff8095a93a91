/** Everything behind the first page, in one lazy part: what two lazy parts share would be loaded with the first page. */
export { JobLayout, StageRoute } from '@/features/job/JobRoute';
export { openJobFile, removeJob, renameJob, restoreJob, saveJob, seedDemo } from '@/features/jobs/actions';
export { NewJobScreen } from '@/features/jobs/NewJobScreen';
export { SettingsScreen } from '@/features/settings/SettingsScreen';
