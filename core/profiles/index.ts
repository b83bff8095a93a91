import type { Device, Role } from '../installation';

/** Limits of a region, as defaults that a person may edit; local codes and the licensed person on site decide (field guide, sections 5 and 6). */
export interface Profile {
  readonly id: ProfileId;
  readonly name: string;
  /** Factor on U0 for the least voltage, in the loop limit. */
  readonly loopVoltFactor: number;
  /** Multiples of the rating that surely open each curve at once. */
  readonly multiples: Readonly<Record<'B' | 'C' | 'D', number>>;
  /** Factor on the limit for a reading taken on cold conductors, as a check; 1: none. */
  readonly coldFactor: number;
  readonly standingShare: number;
  readonly msAt1: number;
  readonly msAt5: number;
  /** Which multiples are asked for. */
  readonly rcdTimes: readonly (0.5 | 1 | 5)[];
  /** Touch voltage limit of a TT installation, volts. */
  readonly touchVolt: number;
  /** Colours of a conductor: those of today's standard, and those that older wiring shows (IEC 60445, BS 7671, AS/NZS 3000). */
  readonly colours: Readonly<Partial<Record<Role, { readonly now: readonly string[]; readonly before: readonly string[] }>>>;
}

export const profileIds = ['gb', 'aunz', 'iec'] as const;
export type ProfileId = (typeof profileIds)[number];

export const profiles: Readonly<Record<ProfileId, Profile>> = {
  gb: { id: 'gb', name: 'Great Britain', loopVoltFactor: 0.95, multiples: { B: 5, C: 10, D: 20 }, coldFactor: 0.8, standingShare: 0.3, msAt1: 300, msAt5: 40, rcdTimes: [0.5, 1, 5], touchVolt: 50, colours: { L: { now: ['brown'], before: ['red'] }, L1: { now: ['brown'], before: ['red'] }, L2: { now: ['black'], before: ['yellow'] }, L3: { now: ['grey'], before: ['blue'] }, N: { now: ['blue'], before: ['black'] }, E: { now: ['green-yellow'], before: ['green', 'bare'] } } },
  aunz: { id: 'aunz', name: 'Australia and New Zealand', loopVoltFactor: 1, multiples: { B: 4, C: 7.5, D: 12.5 }, coldFactor: 1, standingShare: 1 / 3, msAt1: 300, msAt5: 40, rcdTimes: [1], touchVolt: 50, colours: { L: { now: ['red', 'brown'], before: ['red'] }, L1: { now: ['red', 'brown'], before: ['red'] }, L2: { now: ['white', 'black'], before: ['white', 'yellow'] }, L3: { now: ['dark blue', 'grey'], before: ['blue'] }, N: { now: ['black', 'light blue'], before: ['black'] }, E: { now: ['green-yellow'], before: ['green', 'bare'] } } },
  iec: { id: 'iec', name: 'Elsewhere (IEC)', loopVoltFactor: 1, multiples: { B: 5, C: 10, D: 20 }, coldFactor: 1, standingShare: 0.3, msAt1: 300, msAt5: 40, rcdTimes: [0.5, 1, 5], touchVolt: 50, colours: { L: { now: ['brown'], before: ['black', 'grey'] }, L1: { now: ['brown'], before: ['black'] }, L2: { now: ['black'], before: ['brown'] }, L3: { now: ['grey'], before: ['black'] }, N: { now: ['blue'], before: ['grey'] }, E: { now: ['green-yellow'], before: ['red', 'grey'] } } },
};

/** Colours that stand for different conductors in new and in old wiring, among the conductors of one place: they prove nothing there. */
export function clashes(profile: Profile, roles: readonly Role[]): string[] {
  const meant = new Map<string, Set<Role>>();
  // At a three-phase board a way's line is one of the three.
  for (const role of roles.includes('L1') ? roles.filter((r) => r !== 'L') : roles) for (const c of [...(profile.colours[role]?.now ?? []), ...(profile.colours[role]?.before ?? [])]) for (const word of [c, ...(c.endsWith(' blue') ? ['blue'] : [])]) meant.set(word, (meant.get(word) ?? new Set<Role>()).add(role));
  return [...meant].filter(([, r]) => r.size > 1).map(([c]) => c);
}

/** Current in amperes that opens a cartridge or rewirable fuse of a rating within 0.4 s; between the table's ratings in proportion (general-purpose fuses, IEC 60269). */
const FUSE_A: readonly (readonly [number, number])[] = [[6, 27], [10, 46], [16, 85], [20, 110], [25, 150], [32, 200], [40, 260], [50, 350], [63, 450], [80, 610], [100, 820]];

export function fuseCurrent(ratingA: number): number {
  const above = FUSE_A.find(([r]) => r >= ratingA) ?? [100, 820];
  const below = [...FUSE_A].reverse().find(([r]) => r <= ratingA) ?? [6, 27];
  if (above[0] === below[0]) return above[1] * (ratingA / above[0]);
  return below[1] + ((above[1] - below[1]) * (ratingA - below[0])) / (above[0] - below[0]);
}

export interface LoopLimit { readonly ohm: number; readonly coldOhm: number; readonly because: 'device' | 'residual' }

/** Highest loop impedance in ohms at which the device still opens in time; with earth by an electrode the residual device decides. */
export function loopLimit(profile: Profile, device: Pick<Device, 'kind' | 'curve' | 'ratingA' | 'residualMa'>, nominalVolt: number, arrangement: string | null, residualMa: number | null): LoopLimit {
  if ((arrangement === 'TT' || arrangement === 'IT') && residualMa !== null) {
    const ohm = profile.touchVolt / (residualMa / 1000);
    return { ohm, coldOhm: ohm, because: 'residual' };
  }
  const amp = device.kind === 'fuse' ? fuseCurrent(device.ratingA) : device.ratingA * profile.multiples[device.curve ?? 'B'];
  const ohm = (nominalVolt * profile.loopVoltFactor) / amp;
  return { ohm, coldOhm: ohm * profile.coldFactor, because: 'device' };
}
