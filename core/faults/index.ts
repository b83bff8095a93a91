export { Fault } from './schema';
export { pairsOf, suspectKinds, suspectsOf, tradePriors, type KindPriors, type Site, type Suspect, type SuspectKind, type Unknown } from './catalogue';
