import { fail, issue, ok, type Result } from '../issue';
export * from './bounds';

export type OhmUnit = 'Ω' | 'kΩ' | 'MΩ';
export const ohmUnits: readonly OhmUnit[] = ['Ω', 'kΩ', 'MΩ'];
export const ohmsPer: Readonly<Record<OhmUnit, number>> = { Ω: 1, kΩ: 1e3, MΩ: 1e6 };

const MOST_OHM = 1e12;

/** A typed reading in its unit → ohms. Issues: `reading.empty`, `reading.notNumber`, `reading.negative`, `reading.tooLarge`. */
export function parseOhm(text: string, unit: OhmUnit): Result<number> {
  const clean = text.trim().replace(',', '.').replace(/[−–]/g, '-');
  if (clean === '') return fail(issue('reading.empty'));
  if (!/^[+-]?(\d+\.?\d*|\.\d+)$/.test(clean)) return fail(issue('reading.notNumber', [], { text: text.slice(0, 20) }));
  const ohm = Number(clean) * ohmsPer[unit];
  if (ohm < 0) return fail(issue('reading.negative', [], { text: clean, unit }));
  if (ohm > MOST_OHM) return fail(issue('reading.tooLarge', [], { text: clean, unit }));
  return ok(ohm);
}

/** Ohms with a unit fit for reading aloud: "0.35 Ω", "4.7 kΩ", "0.30 MΩ". Infinity gives "no path". */
export function formatOhm(ohm: number): string {
  if (!Number.isFinite(ohm)) return 'no path';
  if (ohm < 9.995) return `${ohm.toFixed(2)} Ω`;
  if (ohm < 99.95) return `${ohm.toFixed(1)} Ω`;
  if (ohm < 999.5) return `${Math.round(ohm)} Ω`;
  if (ohm < 99950) return `${trim(ohm / 1e3)} kΩ`;
  if (ohm < 9.995e6) return `${(ohm / 1e6).toFixed(2)} MΩ`;
  if (ohm < 99.95e6) return `${(ohm / 1e6).toFixed(1)} MΩ`;
  if (ohm < 999.5e6) return `${Math.round(ohm / 1e6)} MΩ`;
  return `${trim(ohm / 1e9)} GΩ`;
}

/** In a unit that was chosen, as the meter showed it. */
export function formatIn(ohm: number, unit: OhmUnit): string {
  const v = ohm / ohmsPer[unit];
  return `${v < 10 ? v.toFixed(2) : v < 100 ? v.toFixed(1) : String(Math.round(v * 10) / 10)} ${unit}`;
}

const trim = (x: number): string => (x < 10 ? x.toFixed(2) : x < 100 ? x.toFixed(1) : String(Math.round(x)));

/** What flows through a resistance at a voltage: "0.8 mA", "13 A". */
export function formatAmp(amp: number): string {
  if (amp < 1e-6) return 'less than 1 μA';
  if (amp < 1e-4) return `${trim(amp * 1e6)} μA`;
  if (amp < 1) return `${trim(amp * 1e3)} mA`;
  return `${trim(amp)} A`;
}

export const formatMetres = (m: number): string => `${m < 10 ? m.toFixed(1) : Math.round(m)} m`;

/** Whole percent; "under 1 %" and "over 99 %" rather than a false 0 or 100. */
export function formatShare(p: number): string {
  if (p > 0 && p < 0.01) return '< 1 %';
  if (p < 1 && p > 0.99) return '> 99 %';
  return `${Math.round(p * 100)} %`;
}

export function formatMinutes(min: number): string {
  if (min < 1) return '1 min';
  return `${Math.round(min)} min`;
}

/** "1 reading", "3 readings". */
export const counted = (n: number, one: string, many: string): string => `${n} ${n === 1 ? one : many}`;
