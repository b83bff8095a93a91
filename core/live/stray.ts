import type { LiveTest } from './tests';

/**
 * The main earthing conductor beside the tails, in milliamperes. The tails carry what this installation loses; the earthing
 * conductor carries what of it comes back that way, and whatever comes over metalwork from elsewhere. They add as phasors, so
 * what is foreign lies between their difference and their sum.
 */
export interface Stray {
  readonly tailsMa: number;
  readonly earthMa: number;
  /** At least so much comes in from elsewhere (positive) or leaves by other metal (negative); 0: the two may be one current. */
  readonly leastMa: number;
  readonly mostMa: number;
}

/** A clamp tells so much of a figure, and so many milliamperes. */
const CLAMP_SHARE = 0.1;
const CLAMP_MA = 0.2;

/** From the latest clamp round both tails and round the earthing conductor; null until both were read. */
export function strayOf(tests: readonly LiveTest[]): Stray | null {
  const latest = (around: string): number | null => [...tests].reverse().flatMap((t) => (t.kind === 'clamp' && t.around === around && !t.peak ? [t.mA] : []))[0] ?? null;
  const [tailsMa, earthMa] = [latest('main'), latest('earth')];
  if (tailsMa === null || earthMa === null) return null;
  const difference = earthMa - tailsMa;
  const sure = Math.abs(difference) > CLAMP_SHARE * Math.max(earthMa, tailsMa) + CLAMP_MA;
  return { tailsMa, earthMa, leastMa: sure ? difference : 0, mostMa: earthMa + tailsMa };
}
