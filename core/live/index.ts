export { compileLive, GROUND, leakMaOf, MAIN_SWITCH, SUPPLY_EARTH, SUPPLY_LINE, SUPPLY_NEUTRAL, usualService, type LiveBranch, type LiveNetwork, type LiveSource, type Service } from './network';
export { LiveSolver, type Phasors } from './solve';
export { angle, Energised, indicatorOhm, lineParts, magnitude, residualParts, type Impedance, type Phasor } from './measure';
export { asRated, chanceOfTrip, type Condition } from './trips';
export { liveNetlist } from './netlist';
export { LiveEvidence, services, type LiveCells, type LiveObservation } from './evidence';
export { watching } from './chances';
export { LiveTest } from './tests';
