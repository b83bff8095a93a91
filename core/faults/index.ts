export { Fault } from './schema';
export { actsIn, isBreak, isFact, isFault, natureOf, touches, pairsOf, suspectKinds, suspectsOf, asIn, asTheyStand, isUnseen, tradePriors, type Beyond, type KindPriors, type Site, type Suspect, type SuspectKind, type Unknown } from './catalogue';
export { SUPPLY_PLACE } from './boardSuspects';
