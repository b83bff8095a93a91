import { rootOfSquares } from '../numeric';
import { Energised, magnitude, type Phasor } from './measure';
import type { LiveBranch, LiveNetwork, LiveSource } from './network';

/** Odd orders that electronic loads put out; a three-phase board adds those divisible by three in its neutral. */
const ORDERS = [3, 5, 7, 9] as const;
/** Share of a rectifier's own current, by order: a supply that charges a capacitor, without correction. */
const DRAWN: Readonly<Record<number, number>> = { 3: 0.6, 5: 0.35, 7: 0.15, 9: 0.08 };
/** Share of what its interference filter leaks at 50 Hz, by order: capacitors pass the more the higher it is. */
const LEAKED: Readonly<Record<number, number>> = { 3: 0.35, 5: 0.3, 7: 0.2, 9: 0.15 };

/**
 * What an electronic load drives at one order. Its wave follows the voltage across it, so the phase turns `order` times as far;
 * what it leaks leads by a quarter turn.
 */
function sourcesAt(e: Energised, order: number): LiveSource[] {
  return e.network.branches.flatMap((b): LiveSource[] => {
    const share = !e.network.distorting.has(b.part) ? 0 : b.part.startsWith('leak ') ? (LEAKED[order] ?? 0) : (DRAWN[order] ?? 0);
    if (share === 0) return [];
    const volt = e.across(b.a, b.b);
    const amp = share * magnitude(volt) * rootOfSquares(b.re, b.im);
    const turn = order * (Math.atan2(volt.im, volt.re) + Math.atan2(b.im, b.re));
    return [{ a: b.a, b: b.b, re: amp * Math.cos(turn), im: amp * Math.sin(turn), part: b.part }];
  });
}

/** The network at a multiple of the supply's frequency: the supply drives nothing, electronic loads do, capacitors conduct more and windings less. */
export function networkAt(e: Energised, order: number): LiveNetwork {
  const { network } = e;
  const branches = network.branches.filter((b) => !network.distorting.has(b.part)).map((b): LiveBranch => ({ ...b, im: b.im > 0 ? b.im * order : b.im / order }));
  return { ...network, branches, sources: sourcesAt(e, order) };
}

/** Harmonic currents of one energised scene, worked out when first asked for. */
export class Harmonics {
  private orders: readonly Energised[] | null = null;

  constructor(private readonly energised: Energised) {}

  /** Amperes r.m.s. of all orders together through the sum of some parts. */
  through(parts: readonly string[]): number {
    this.orders ??= this.energised.network.distorting.size ? ORDERS.map((n) => new Energised(networkAt(this.energised, n))) : [];
    return Math.sqrt(this.orders.reduce((sum, e) => sum + square(e.clamp(parts)), 0));
  }
}

const square = (p: Phasor): number => p.re * p.re + p.im * p.im;
