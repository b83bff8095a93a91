export { NewJobScreen as default } from '@/features/jobs/NewJobScreen';
