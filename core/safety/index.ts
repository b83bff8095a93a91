export { isProved, provesAsOne, provingPairs, putBackList, unmetNeeds, type Need, type PhysicalStep, type PutBackItem, type SafetyState } from './needs';
export { cautionsOf, liveCautions, liveNeeds, needsCoverOff, watchesDevice, type LiveCaution, type LiveDo, type LiveNeed } from './live';
