export { seededRandom, type Random } from './random';
export { logNormalDensity, logSumExp, normalCdf } from './gaussian';
