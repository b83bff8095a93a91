export { BoardGrid } from './BoardGrid';
export { describeBoard, sweepFrom, type Cell, type Pair, type WayRow } from './rows';
export { WaySheet } from './WaySheet';
