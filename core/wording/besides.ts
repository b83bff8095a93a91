import type { Installation } from '../installation';
import type { JobView } from '../job';
import { budgetsOf, type Budget, type BudgetFinding } from '../live';
import { profiles, type Profile } from '../profiles';
import { budgetFindingWords, moveWords } from './live';
import { deviceWords } from './devices';

// What figures of a residual device showed, and no place is named for: never "nothing found" without it.

const FOUND: readonly BudgetFinding[] = ['deviceFailed', 'tripsAtHalf', 'doesNotTrip', 'tooSlow', 'standingHigh', 'littleHeadroom'];
/** So much leaks behind a device in use that it may go by that alone. */
const LEAKS: readonly BudgetFinding[] = ['standingHigh', 'littleHeadroom'];

/** A device, and what its figures showed. */
export interface DeviceFound { readonly budget: Budget; readonly finding: BudgetFinding }

/** What the figures of each residual device show that is not as it should be. */
export function devicesFound({ map, liveReadings, epoch }: Pick<JobView, 'map' | 'liveReadings' | 'epoch'>, profile: Profile = profiles.iec): DeviceFound[] {
  const tests = liveReadings.filter((r) => !r.struck && r.epoch === epoch).map((r) => r.event.test);
  return map ? budgetsOf(map, tests, profile).flatMap((budget) => budget.findings.filter((f) => FOUND.includes(f)).map((finding) => ({ budget, finding }))) : [];
}

/** Each in a sentence, the device first; of leakage also what to do about it. */
export const devicesFoundWords = ({ map }: Pick<JobView, 'map'>, found: readonly DeviceFound[], { standingShare }: Profile = profiles.iec): string[] =>
  map ? found.map(({ budget, finding }) => [`${deviceWords(map, budget.device.id)}: ${budgetFindingWords(map, budget, finding, standingShare)}`, ...(finding === 'standingHigh' ? [toSpread(map, budget)] : [])].filter(Boolean).join(' ')) : [];

const toSpread = (map: Installation, { device, move, parts }: Budget): string =>
  move ? moveWords(map, move) : device.kind !== 'rcbo' && parts.every((p) => p.mA === null) ? 'Clamp each of its ways: which has most?' : '';

/** Was it called for trips, and leaks so much in use that this alone may be what trips? */
export const leakageMayTrip = ({ asked }: Pick<JobView, 'asked'>, found: readonly DeviceFound[]): boolean => asked.complaint === 'rcd trips' && found.some((f) => LEAKS.includes(f.finding));
