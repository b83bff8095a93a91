export { seededRandom, type Random } from './random';
export { bitsOf, logNormalDensity, logSumExp, normalCdf } from './gaussian';
