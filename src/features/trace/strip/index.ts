export { Strip, StripAcross } from './Strip';
export { describeStrip, type Mark, type StripRow } from './rows';
