import { circuitOfWay, findPoint, nearestDevice, prospectiveAmp, waysOfBoard, residualDeviceOf, terminalKey, boardOf, circuitsOf, endsAtPoint, type Installation, type Protection } from '../installation';
import { loopLimit, type LoopLimit, type Profile } from '../profiles';
import { elementKey, untouched } from '../workstate';
import { Energised, magnitude } from './measure';
import type { LiveTest } from './tests';

/** A loop measured at a point beside what it should be. Ohms, amperes. */
export interface LoopView {
  readonly test: Extract<LiveTest, { kind: 'loop' }>;
  readonly point: string;
  readonly against: 'neutral' | 'earth';
  /** Ze + (R1 + R2) of the map as drawn; null at the origin. */
  readonly expectedOhm: number | null;
  readonly limit: LoopLimit | null;
  /** The device on whose figures the limit hangs, while nobody has read them. */
  readonly onGuess: string | null;
  readonly verdict: 'within' | 'over, cold' | 'over' | 'no limit';
  /** Prospective current at this place. */
  readonly prospectiveA: number;
  /** At the origin: can the board's devices break it? Null where their breaking capacity is not known. */
  readonly breaks: boolean | null;
}

/** What the loop behind a device is held to: its limit in ohms, and the device on whose figures that hangs while nobody has read them. Null where no rating is known. */
export interface HeldTo { readonly limit: LoopLimit; readonly onGuess: string | null }

export function loopHeldTo(installation: Installation, device: Protection | undefined, profile: Profile): HeldTo | null {
  if (!device?.ratingA) return null;
  const watching = residualDeviceOf(installation, device.id);
  const kind = device.kind === 'rcbo' || device.kind === 'fuse' ? device.kind : 'mcb';
  const limit = loopLimit(profile, { kind, curve: device.curve, ratingA: device.ratingA, residualMa: device.residualMa }, installation.nominalVolt, installation.supply?.arrangement ?? null, watching?.residualMa ?? null);
  const by = limit.because === 'residual' ? watching : device;
  return { limit, onGuess: by?.guessed ? by.id : null };
}

/** Every loop that was measured, with the limit of its way’s device. */
export function loopsOf(installation: Installation, tests: readonly LiveTest[], profile: Profile): LoopView[] {
  const board = boardOf(installation);
  if (!board) return [];
  const ze = originOhm(installation, tests, 'earth');
  const loads = installation.points.flatMap((p) => p.elements.flatMap((e) => (e.kind === 'load' ? [elementKey(p.id, e.id)] : [])));
  let e: Energised | null = null;
  return tests.flatMap((test): LoopView[] => {
    if (test.kind !== 'loop') return [];
    const point = test.from.split(/[:/@]/)[0] ?? '';
    const against = /:N/.test(test.to) ? 'neutral' : 'earth';
    const origin = point === board.id;
    e ??= Energised.of(installation, { ...untouched, loadsOut: loads });
    const computed = origin ? null : e.loop(test.from, test.to);
    const source = e.loop(terminalKey(board.id, board.terminals.find((t) => t.role !== 'N' && t.role !== 'E')?.id ?? 'L'), terminalKey(board.id, against === 'earth' ? 'E' : 'N'));
    const own = ze !== null && against === 'earth' ? ze : source ? magnitude(source) : 0;
    const expectedOhm = computed && source ? own + Math.max(0, magnitude(computed) - magnitude(source)) : null;
    const held = origin || against !== 'earth' ? null : loopHeldTo(installation, nearestDevice(installation, point), profile);
    const limit = held?.limit ?? null;
    const verdict = !limit ? 'no limit' : test.ohm > limit.ohm ? 'over' : test.ohm > limit.coldOhm ? 'over, cold' : 'within';
    const loop = test.ohm > 0 ? test.ohm : null;
    const prospectiveA = prospectiveAmp(installation.nominalVolt, origin ? (installation.supply?.phases ?? 1) : 1, { earthOhm: against === 'earth' ? loop : null, neutralOhm: against === 'neutral' ? loop : null }) ?? Infinity;
    const { breakingKa } = installation.supply ?? {};
    return [{ test, point, against, expectedOhm, limit, onGuess: held?.onGuess ?? null, verdict, prospectiveA, breaks: origin && breakingKa !== undefined ? prospectiveA <= breakingKa * 1000 : null }];
  });
}

/** Of a way whose loops were read: its furthest point, by the loop that the map gives, where nobody has read one yet. */
export interface FurthestLeft { readonly way: string; readonly furthest: string; readonly readAt: readonly string[] }

export function furthestLeft(installation: Installation, tests: readonly LiveTest[]): FurthestLeft[] {
  const read = tests.flatMap((t) => (t.kind === 'loop' && !/:N/.test(t.to) ? [t.from.split(/[:/@]/)[0] ?? ''] : []));
  let e: Energised | null = null;
  return waysOfBoard(installation).flatMap((w): FurthestLeft[] => {
    const points = circuitOfWay(installation, w.id).points.filter((p) => p.kind !== 'undrawn');
    const readAt = points.filter((p) => read.includes(p.id)).map((p) => p.id);
    if (!readAt.length) return [];
    const live = (e ??= Energised.of(installation, untouched));
    const loop = (p: (typeof points)[number]): number => {
      const at = (role: string): string => terminalKey(p.id, p.terminals.find((t) => t.role.startsWith(role))?.id ?? role);
      const z = live.loop(at('L'), at('E'));
      return z ? magnitude(z) : 0;
    };
    const [furthest] = [...points].sort((a, b) => loop(b) - loop(a));
    return furthest && !readAt.includes(furthest.id) ? [{ way: w.id, furthest: furthest.id, readAt }] : [];
  });
}

/** What was measured at the board itself, the latest. */
export function originOhm(installation: Installation, tests: readonly LiveTest[], against: 'neutral' | 'earth'): number | null {
  const board = boardOf(installation)?.id;
  const found = [...tests].reverse().find((t) => t.kind === 'loop' && t.from.startsWith(`${board}:`) && (against === 'neutral') === /:N/.test(t.to));
  return found?.kind === 'loop' ? found.ohm : null;
}

/** The way that a point hangs on. */
export function wayOf(installation: Installation, point: string): string | null {
  const board = boardOf(installation);
  const circuits = circuitsOf(installation);
  if (!board || !findPoint(installation, point)) return null;
  const end = endsAtPoint(installation, board.id).find((x) => circuits.get(x.section.id) === circuits.get(point) && board.elements.some((w) => w.kind === 'way' && w.b === x.terminal));
  return end ? (board.elements.find((w) => w.kind === 'way' && w.b === end.terminal)?.id ?? null) : null;
}
