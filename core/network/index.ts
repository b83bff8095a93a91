export { compileNetwork, type Branch, type Network } from './compile';
export { netlistFor, netlistOf } from './netlist';
export { OPEN_ABOVE_OHM, resistanceBetween, type Resistance } from './starMesh';
export { copperOhmPerM, planPhysics, type Physics } from './physics';
export { solved } from './potentials';
export { fewestFirst } from './order';
