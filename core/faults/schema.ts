import { z } from 'zod';
import { Milli, Ohm } from '../units';

/** Ohms added in series, or "open" for no path. */
const seriesOhm = z.union([Ohm, z.literal('open')]);
const pair = z.tuple([z.string(), z.string()]);

/** A named edit to the network: what can be wrong, as data. */
export const Fault = z.discriminatedUnion('kind', [
  z.object({ kind: z.literal('openCore'), section: z.string(), core: z.string() }),
  /** One conductor end in its terminal: resistive, or off ("open"). */
  z.object({ kind: z.literal('termination'), end: z.string(), ohm: seriesOhm }),
  /** Every end in one terminal. */
  z.object({ kind: z.literal('terminal'), point: z.string(), terminal: z.string(), ohm: seriesOhm }),
  /** The contact between a face and its terminal. */
  z.object({ kind: z.literal('face'), point: z.string(), face: z.string(), terminal: z.string(), ohm: seriesOhm }),
  /** The ends are joined to each other but never landed in the terminal (a CPC twisted through). */
  z.object({ kind: z.literal('notLanded'), point: z.string(), terminal: z.string() }),
  /** A switch that no longer closes, or a load that is open inside: an element burnt through. */
  z.object({ kind: z.literal('element'), point: z.string(), element: z.string(), ohm: seriesOhm }),
  z.object({ kind: z.literal('contact'), section: z.string(), cores: pair, fraction: z.number().min(0).max(1), ohm: Ohm }),
  z.object({ kind: z.literal('pointContact'), point: z.string(), terminals: pair, ohm: Ohm }),
  z.object({ kind: z.literal('loadFault'), point: z.string(), load: z.string(), terminals: pair, ohm: Ohm }),
  /** Two cores change places at end b of their section. */
  z.object({ kind: z.literal('crossed'), section: z.string(), cores: pair }),
  /** No cable at all where the map draws one. */
  z.object({ kind: z.literal('missingSection'), section: z.string() }),
  /** An end that lands in another terminal of its point: a neutral in another device's bar. */
  z.object({ kind: z.literal('landed'), end: z.string(), terminal: z.string() }),
  /** A two-way switch that stands the other way than recorded: nobody can see which of its throws is made. */
  z.object({ kind: z.literal('thrown'), point: z.string(), element: z.string() }),
  /** A load that loses so many milliamperes to earth in service. */
  z.object({ kind: z.literal('leaky'), point: z.string(), load: z.string(), mA: Milli }),
  /** A device of the board that is not as its plate says: a factor on its trip current, or blind. */
  z.object({ kind: z.literal('device'), device: z.string(), sensitivity: z.number().positive(), blind: z.boolean() }),
  /** A conductor of the supply is lost. */
  z.object({ kind: z.literal('supply'), lost: z.enum(['line', 'neutral', 'earth']) }),
  /** Two terminals of different points or circuits joined by a conductor that no map shows. */
  z.object({ kind: z.literal('joined'), terminals: pair, ohm: Ohm }),
]);
export type Fault = z.infer<typeof Fault>;
