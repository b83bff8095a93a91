export { BoardChangeSheet } from './BoardChangeSheet';
export { BoardGrid } from './BoardGrid';
export { describeBoard, sweepFrom, together, type Cell, type Pair, type Together, type WayRow } from './rows';
export { WaySheet } from './WaySheet';
