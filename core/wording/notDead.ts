import { findPoint, type Installation } from '../installation';

/** Why a pair may not be dead although the way is off, likeliest first, by the conductors that it was read between. */
export function notDeadReasons(map: Installation, point: string, from: string, to: string): string[] {
  const role = (t: string): string => findPoint(map, point)?.terminals.find((x) => x.id === t)?.role ?? t;
  const roles = [role(from), role(to)];
  const has = (r: string): boolean => roles.includes(r);
  if (has('rod') && has('E')) return ['The earth itself is live: a lost combined neutral, or line and earth crossed. Keep everyone off the metal; the supply is the network operator’s.'];
  if (has('N') && (has('E') || has('rod'))) return ['Another circuit’s load returns by this neutral: a borrowed neutral. Switch the other ways off, one at a time, until it goes.', 'A broken supply neutral, or a second supply.'];
  return ['The wrong way is off: the label may be wrong. Switch one way after another and watch the indicator.', 'A second supply: an inverter, a generator, another board.', 'Induced, if it falls away under a low-impedance indicator.'];
}

/** What a person is told about the colours of conductors; old and new ones clash. */
export const colourCaution = 'Colours prove nothing: black was neutral and may now be a phase, blue the reverse. Prove each conductor.';
