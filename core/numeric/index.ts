export { seededRandom, type Random } from './random';
export { bitsOf, logNormalDensity, logSumExp, normalCdf, rootOfSquares } from './gaussian';
