import { z } from 'zod';

// What a figure may be at all, wherever it comes from. Far beyond anything that is met; nearer than what a sum cannot take.

const within = (least: number, most: number) => z.number().min(least).max(most);
/** Nothing at all, or what can still be told from it. */
const orNothing = (least: number, most: number) => z.union([z.literal(0), within(least, most)]);

/** ms since 1970, up to the year 2200: a clock that was never set stands at the start of it. */
export const Time = within(0, Date.UTC(2200, 0, 1));
/** Ohms of anything, from nothing to beyond every range. */
export const Ohm = orNothing(1e-9, 1e13);
/** Ohms that something has. */
export const SomeOhm = within(1e-6, 1e13);
/** Metres of one cable. */
export const [LEAST_M, MOST_M] = [1e-3, 2000];
export const Metres = within(LEAST_M, MOST_M);
/** Conductor area, mm². */
export const Area = within(0.05, 2000);
export const Volt = orNothing(1e-6, 1e5);
export const NominalVolt = within(1, 1e5);
/** Rated amperes; kiloamperes that a device breaks. */
export const Ampere = within(0.01, 1e5);
export const Kiloampere = within(0.01, 1e3);
/** Milliamperes or milliseconds as read. */
export const Milli = orNothing(1e-6, 1e8);
/** Rated residual current, mA. */
export const ResidualMa = within(0.1, 1e5);
export const Watt = within(1e-3, 1e7);
/** Minutes of a visit. */
export const SomeMinutes = within(1e-3, 1e5);
export const Minutes = z.union([z.literal(0), SomeMinutes]);
