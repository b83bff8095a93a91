export { Fault } from './schema';
