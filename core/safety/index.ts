export { provingPairs, putBackList, unmetNeeds, type Need, type PhysicalStep, type PutBackItem, type SafetyState } from './needs';
