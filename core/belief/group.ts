import { respond, type CoreList, type Leakage, type Path, type Probe, type Response, type SiteCurrents, type SiteLeaks, type Thing } from '../probes';

/** S.d. of the unknown place along a cable, as a fraction of it. */
export const D_SD = 0.28;
export const KNOWN_LENGTH_SD = 0.08;
export const GUESSED_LENGTH_SD = 0.4;
/** Readings of insulation itself, not of a fault: from here on, ohms. */
export const HEALTHY_OHM = 1e6;
/** Density of a slip per unit of y, and chance that a slip shows off scale. */
export const SLIP_DENSITY = 0.06;
export const SLIP_OFF = 0.5;

/** Readings of one probe in one state that agree: one value, one instrument error. */
export interface Group {
  /** The same for the same reading with the same others that it refers to. */
  readonly number: number;
  readonly fn: Probe['fn'];
  /** Of the readings. */
  readonly names: readonly string[];
  readonly above: boolean;
  readonly y: number;
  /** As shown; the top of the range where it was off scale. */
  readonly ohm: number;
  readonly slip: number;
  /** How well a fault's own ohms kept their value, relative s.d. */
  readonly steady: number;
  /** Root of the number of readings that measure the same cables' insulation: they err together, so together they count as one. */
  readonly alike: number;
  /** Formula of the sound circuit, and of each suspect. */
  readonly sound: Response;
  readonly response: (suspect: number) => Response;
  /** Things that may be there, and the formulas with each. */
  readonly others: readonly (Thing & { readonly sound: Response; readonly response: (suspect: number) => Response })[];
  /** Is the suspect in a load that is in, in this state? Whatever it makes of its appliance, the appliance itself is there then. */
  readonly inLoad: (suspect: number) => 'in' | 'out' | null;
  /** Those earlier in the list that showed the same, the nearest first, and what that was, in y: what loads and sound insulation did before they do again. */
  readonly before: readonly number[];
  /** Those earlier in the list that were taken with the same probe, whatever they showed: where nothing that was changed since concerns the cell, they show the same again. */
  readonly repeats: readonly number[];
  readonly again: number | null;
  /** Ohms that a way round over loads has at least: line to earth by a load goes on from neutral to earth, which was read. */
  readonly floorOhm: number;
  /** How near it comes to that, s.d. in y: read from another place, and with the same probe. */
  readonly againSd: number;
  readonly sameSd: number;
  /** Current per core for one ampere through the probe; worked out when first asked for. */
  readonly currents: () => Float64Array;
  readonly cores: CoreList;
  /** The way that current takes under a suspect that changes the map; null where it runs as in the sound network. */
  readonly path: (suspect: number) => Path | null;
  readonly site: (suspect: number) => SiteCurrents | null;
  /** Potentials of the pieces over insulation for one ampere through the probe, and what a suspect does to them. */
  readonly potentials: () => Float64Array;
  readonly leakage: () => Leakage;
  readonly siteLeaks: (suspect: number) => SiteLeaks;
}

/** Readings earlier in the list whose explanation bears on this one: a cell that answers the one has to be asked about the other. */
export const earlierFor = (g: Group): readonly number[] => [...g.before, ...g.repeats];

/** Does a reading show insulation as sound circuits have it? */
export const isHealthy = (g: Group): boolean => g.fn === 'insulation' && (g.above || g.ohm >= HEALTHY_OHM);

/** Ohms of a reading that lie in cable, for the spread that lengths give it: what is left of it without the contact. */
export const metalIn = (r: Response, ohm: number, x: number): number => Math.min(r.kind === 1 && ohm > x ? ohm - x : Math.min(ohm, r.m), 50);

/** Ohms of a reading that are the suspect's own, from the slope with t = log10(ohm + 0.1). */
export const ownOhm = (slopeT: number): number => Math.abs(slopeT) / Math.LN10;

/** No reading is told beyond it, ohms. */
export const CEILING_OHM = 1e14;

/** d(ohms) / d(ln of the insulation scale) of a reading of `ohm`. */
export function scaleSlope(r: Response, x: number, d: number, k: number, ohm: number): number {
  if (r.kind === 0) return ohm < CEILING_OHM ? r.z * k : 0;
  if (r.kind === 1 && r.z === 0) return 0;
  return (Math.min(respond(r, x, d, k * 1.01), CEILING_OHM) - Math.min(ohm, CEILING_OHM)) / 0.01;
}
