export { JobsScreen as default } from '@/features/jobs/JobsScreen';
