import { z } from 'zod';
import { Milli, Ohm, Volt } from '../units';

/** A live test and what it showed. Devices by id ("w3", "G1", "main"); places by key, "ground" for an independent earth, metal that is no point by its name (`metalKey`). */
export const LiveTest = z.discriminatedUnion('kind', [
  /** A way or device was closed, or, it being on, loads (`plugged`, by `point.element`) were put on it, or switches (`turnedOn`, by `point.element`; of a way that nobody has drawn its point, for all) were turned on. `tripped`: the device that opened; null where it held, or nobody knows which. */
  z.looseObject({ kind: z.literal('closed'), device: z.string(), result: z.enum(['holds', 'at once', 'after']), tripped: z.string().nullable(), plugged: z.array(z.string()).optional(), turnedOn: z.array(z.string()).optional() }),
  z.looseObject({ kind: z.literal('voltage'), from: z.string(), to: z.string(), volt: Volt, meter: z.enum(['low', 'high']) }),
  /** Milliamperes round conductors: "w3" all live conductors of a way, "w3/L" its line alone, "G1" or "main" all of a device, "earth" the main earthing conductor, "p3.load" line and neutral of an appliance's lead, "p3.load/L" its line alone. */
  z.looseObject({ kind: z.literal('clamp'), around: z.string(), mA: Milli, filtered: z.boolean(), peak: z.boolean() }),
  /**
   * Residual current at which a device went while it was raised, the lower of both half-cycles; null: it did not go.
   * `outgoing`: "out" with its ways off or its conductors out, the device alone; "in" with its loads on, which gives the headroom.
   */
  z.looseObject({ kind: z.literal('ramp'), device: z.string(), mA: Milli.nullable(), outgoing: z.enum(['out', 'in']) }),
  /** Milliseconds at a multiple of the rated current, the slower half-cycle; null: it did not go. */
  z.looseObject({ kind: z.literal('times'), device: z.string(), multiple: z.union([z.literal(0.5), z.literal(1), z.literal(5)]), ms: Milli.nullable() }),
  z.looseObject({ kind: z.literal('loop'), from: z.string(), to: z.string(), ohm: Ohm, noTrip: z.boolean() }),
  /** Does a point still work? With the ways as they stand. */
  z.looseObject({ kind: z.literal('works'), point: z.string(), works: z.boolean() }),
]);
export type LiveTest = z.infer<typeof LiveTest>;

/** What was tested, without what it showed. */
export function liveTestName(t: LiveTest): string {
  switch (t.kind) {
    case 'closed': return `closed ${t.device}`;
    case 'ramp': return `ramp ${t.device} ${t.outgoing}`;
    case 'times': return `times ${t.device} ${t.multiple}`;
    case 'clamp': return `clamp ${t.around} ${t.filtered ? '' : 'unfiltered'} ${t.peak ? 'peak' : ''}`;
    case 'works': return `works ${t.point}`;
    default: return `${t.kind} ${t.from} ${t.to}`;
  }
}

/** Figures of one instrument on one thing, one after the other, lie as close as this. */
const REPEATS = 0.15;

/** Did the same test, made again, show the same? What devices do is seen, and seen once. */
export function agree(a: LiveTest, b: LiveTest): boolean {
  const near = (x: number | null, y: number | null): boolean => (x === null || y === null ? x === y : Math.abs(x - y) <= REPEATS * Math.max(x, y));
  if (a === b) return true;
  if (a.kind === 'ramp' && b.kind === 'ramp') return near(a.mA, b.mA);
  if (a.kind === 'times' && b.kind === 'times') return near(a.ms, b.ms);
  if (a.kind === 'clamp' && b.kind === 'clamp') return near(a.mA, b.mA);
  return a.kind === 'voltage' && b.kind === 'voltage' ? near(a.volt, b.volt) : a.kind === 'loop' && b.kind === 'loop' && near(a.ohm, b.ohm);
}

/** How a device is ramped: alone, with the devices of its ways off first; or as it stands, with what is on it. */
export const rampOutgoing = (first: readonly string[]): 'in' | 'out' => (first.length ? 'out' : 'in');
