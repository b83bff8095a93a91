import { behindWay, loadsOf, protectionsOf, type Installation, type Protection } from '../installation';
import { CAPACITANCE_F_PER_M, OMEGA } from './network';
import type { LiveTest } from './tests';

/** Limits of a regional profile that concern residual current devices. */
export interface ResidualLimits {
  /** Share of IΔn that standing leakage may take. */
  readonly standingShare: number;
  /** Milliseconds allowed at 1× and 5×. */
  readonly msAt1: number;
  readonly msAt5: number;
}

/** One way's part of a device's budget, in milliamperes. */
export interface BudgetPart { readonly way: string; readonly mA: number | null }

export type BudgetFinding =
  | 'deviceFailed' | 'tripsAtHalf' | 'doesNotTrip' | 'tooSlow' | 'standingHigh' | 'littleHeadroom' | 'rampAboveRated' | 'harmonics' | 'typeAc' | 'fine' | 'nothingMeasured';

/** A residual current device, what leaks behind it and what is left before it goes. Milliamperes. */
export interface Budget {
  readonly device: Protection;
  readonly ratedMa: number;
  /** Ramp current of the device alone: its ways off, or its conductors out. */
  readonly rampMa: number | null;
  /** Slowest time at each multiple; null where it did not go; absent where not tested. */
  readonly times: Readonly<Partial<Record<'0.5' | '1' | '5', number | null>>>;
  readonly standingMa: number | null;
  readonly standingFrom: 'device' | 'sum of ways' | null;
  /** What the device's clamp shows more without the 50 Hz filter; null where it was not read both ways. */
  readonly harmonicMa: number | null;
  /** Peak while something starts. */
  readonly peakMa: number | null;
  readonly parts: readonly BudgetPart[];
  /** Ramp less leakage: all of it resistive, and all of it capacitive (in quadrature). Null where one of both is missing. */
  readonly headroomWorstMa: number | null;
  readonly headroomQuadratureMa: number | null;
  /** Measured by a ramp with the loads on. */
  readonly headroomMeasuredMa: number | null;
  /** The way that loses most. */
  readonly most: BudgetPart | null;
  readonly findings: readonly BudgetFinding[];
  readonly move: Move | null;
}

/** What to move to which other device so that both stay within their share; or that only a device of its own helps. */
export type Move = { readonly says: 'move'; readonly way: string; readonly to: string; readonly leavesMa: number; readonly makesMa: number } | { readonly says: 'own device'; readonly way: string };

/** A usual device goes between these shares of its rated current; below the lower it has failed however fast it is. */
const RAMP_FAILED = 0.5;
/** A headroom of less than this share of the rated current trips on the next thing that is plugged in. */
const LITTLE_HEADROOM = 0.25;
/** Harmonics of this share of the rated current may bring a device to go earlier. */
const HARMONICS_COUNT = 0.1;

/** Budgets of all residual current devices from the live tests that stand, latest first wins. */
export function budgetsOf(installation: Installation, tests: readonly LiveTest[], limits: ResidualLimits): Budget[] {
  const devices = protectionsOf(installation).filter((p) => p.residualMa !== null);
  const latest = [...tests].reverse();
  const first = devices.map((d) => budgetOf(installation, d, latest, limits));
  return first.map((b) => ({ ...b, move: moveFor(b, first, limits) }));
}

/** Does anything behind it put out direct current? */
const hasElectronics = (installation: Installation, d: Protection): boolean =>
  protectionsOf(installation).some((w) => w.ways[0] === w.id && d.carries.includes(w.id) && behindWay(installation, w.id).points.some((p) => loadsOf(p).some((l) => l.loadClass === 'electronic')));

function budgetOf(installation: Installation, device: Protection, latest: readonly LiveTest[], limits: ResidualLimits): Budget {
  const ratedMa = device.residualMa ?? 30;
  const rampsWith = (outgoing: 'out' | 'in'): (number | null)[] => latest.flatMap((t) => (t.kind === 'ramp' && t.device === device.id && t.outgoing === outgoing ? [t.mA] : []));
  const ramps = rampsWith('out');
  const leftMa = rampsWith('in')[0] ?? null;
  const rampMa = ramps[0] ?? null;
  const times: Partial<Record<'0.5' | '1' | '5', number | null>> = {};
  for (const t of latest) if (t.kind === 'times' && t.device === device.id && !(String(t.multiple) in times)) times[String(t.multiple) as '1'] = t.ms;
  const read = (what: string, peak: boolean, filtered: boolean): number | null => latest.flatMap((t) => (t.kind === 'clamp' && t.around === what && t.peak === peak && t.filtered === filtered ? [t.mA] : []))[0] ?? null;
  // What stands is compared at 50 Hz; without the filter it counts where nothing better was read.
  const around = (what: string, peak: boolean): number | null => read(what, peak, true) ?? read(what, peak, false);
  const parts = device.ways.map((way) => ({ way, mA: around(way, false) }));
  const measured = parts.filter((p) => p.mA !== null);
  const own = device.kind === 'rcbo' ? (parts[0]?.mA ?? null) : around(device.id, false);
  const sum = measured.length ? measured.reduce((s, p) => s + (p.mA ?? 0), 0) : null;
  const standingMa = own ?? sum;
  const peakMa = around(device.id, true);
  const clamped = device.kind === 'rcbo' ? (device.ways[0] ?? '') : device.id;
  const [plain, wide] = [read(clamped, false, true), read(clamped, false, false)];
  const harmonicMa = plain === null || wide === null ? null : Math.sqrt(Math.max(0, wide * wide - plain * plain));
  const headroomWorstMa = rampMa === null || standingMa === null ? null : Math.max(0, rampMa - standingMa);
  const headroomQuadratureMa = rampMa === null || standingMa === null ? null : Math.sqrt(Math.max(0, rampMa * rampMa - standingMa * standingMa));
  const findings: BudgetFinding[] = [];
  if (rampMa !== null && rampMa < RAMP_FAILED * ratedMa) findings.push('deviceFailed');
  if (rampMa !== null && rampMa > ratedMa) findings.push('rampAboveRated');
  if (times['0.5'] !== undefined && times['0.5'] !== null) findings.push('tripsAtHalf');
  if (times['1'] === null || times['5'] === null || ramps.includes(null)) findings.push('doesNotTrip');
  if ((times['1'] ?? 0) > limits.msAt1 || (times['5'] ?? 0) > limits.msAt5) findings.push('tooSlow');
  if (standingMa !== null && standingMa > limits.standingShare * ratedMa) findings.push('standingHigh');
  else if (Math.min(headroomWorstMa ?? Infinity, leftMa ?? Infinity) < LITTLE_HEADROOM * ratedMa && !findings.includes('deviceFailed')) findings.push('littleHeadroom');
  if (harmonicMa !== null && harmonicMa > HARMONICS_COUNT * ratedMa) findings.push('harmonics');
  if (device.residualType === 'AC' && hasElectronics(installation, device)) findings.push('typeAc');
  if (!findings.length) findings.push(rampMa === null && leftMa === null && standingMa === null && !Object.keys(times).length ? 'nothingMeasured' : 'fine');
  const most = [...measured].sort((a, b) => (b.mA ?? 0) - (a.mA ?? 0))[0] ?? null;
  return { device, ratedMa, rampMa, times, standingMa, standingFrom: own !== null ? 'device' : sum !== null ? 'sum of ways' : null, harmonicMa, peakMa, parts, headroomWorstMa, headroomQuadratureMa, headroomMeasuredMa: leftMa, most, findings, move: null };
}

/** The way whose move brings this device within its share and keeps the other within its own, moving as little as does it. */
function moveFor(b: Budget, all: readonly Budget[], limits: ResidualLimits): Move | null {
  if (b.standingMa === null || b.standingMa <= limits.standingShare * b.ratedMa) return null;
  const limit = limits.standingShare * b.ratedMa;
  const parts = b.parts.flatMap((p) => (p.mA === null ? [] : [{ way: p.way, mA: p.mA }])).sort((x, y) => x.mA - y.mA);
  for (const p of parts) {
    if (b.standingMa - p.mA > limit || b.parts.length < 2) continue;
    for (const other of all)
      if (other !== b && other.device.at === b.device.at && other.device.ways.length > 1 && other.standingMa !== null && !other.device.ways.includes(p.way) && other.standingMa + p.mA <= limits.standingShare * other.ratedMa)
        return { says: 'move', way: p.way, to: other.device.id, leavesMa: b.standingMa - p.mA, makesMa: other.standingMa + p.mA };
  }
  const top = parts.at(-1);
  return top && b.parts.length > 1 ? { says: 'own device', way: top.way } : null;
}

/**
 * Insulation that would lose the current by itself: U0 ÷ I, a floor only; and with the capacitance of the known cable taken off
 * in quadrature. Ohms; null where nothing but capacitance is left.
 */
export function equivalentInsulation(installation: Installation, way: string, mA: number): { readonly floorOhm: number; readonly withoutCapacitanceOhm: number | null; readonly capacitiveMa: number } {
  const metres = behindWay(installation, way).leaves.reduce((sum, s) => sum + s.lengthM, 0);
  const amp = mA / 1000;
  const capacitive = installation.nominalVolt * OMEGA * CAPACITANCE_F_PER_M * metres;
  const resistive = Math.sqrt(Math.max(0, amp * amp - capacitive * capacitive));
  return { floorOhm: installation.nominalVolt / amp, withoutCapacitanceOhm: resistive > 0 ? installation.nominalVolt / resistive : null, capacitiveMa: capacitive * 1000 };
}
