import { boardOf, circuitsOf, endsAtPoint, roleOfPlace, sectionOfPlace, type Installation } from '../installation';
import type { Probe } from '../probes';
import type { WorkState } from '../workstate';

/** What a reading may see a load or sound insulation of. */
export interface Reach {
  /** Circuits that its leads stand on. */
  readonly circuits: ReadonlySet<number>;
  /** It stands on bars alone, with lines of any circuit among them. */
  readonly all: boolean;
  /** Insulation to earth of all that is joined in the neutral bar: of a line by the loads that are in. */
  readonly neutrals: boolean;
}

/** Number of the circuit that each lead of a probe stands on; undefined on a bar that circuits share. */
export function leadCircuits(installation: Installation, { from, to }: Pick<Probe, 'from' | 'to'>): (number | undefined)[] {
  const circuits = circuitsOf(installation);
  return [...from, ...to].map((key) => circuits.get(sectionOfPlace(installation, key)));
}

/** `loads`: some that may be in have a say in it. */
export function reachOf(installation: Installation, probe: Probe, state: WorkState, loads: boolean): Reach {
  const numbers = circuitsOf(installation);
  const board = boardOf(installation)?.id ?? '';
  const on = leadCircuits(installation, probe);
  const roles = [...probe.from, ...probe.to].map((k) => roleOfPlace(installation, k));
  const circuits = new Set(on.flatMap((c) => c ?? []));
  const toEarth = probe.fn === 'insulation' && roles.includes('E');
  const inBar = (circuit: number | undefined): boolean => circuit === undefined || endsAtPoint(installation, board).some((e) => e.role === 'N' && numbers.get(e.section.id) === circuit && !state.out.includes(e.key));
  const neutrals = toEarth && roles.some((role, i) => role !== 'E' && (role === 'N' || loads) && inBar(on[i]));
  return { circuits, all: circuits.size === 0 && !(toEarth && roles.every((role) => role === 'N' || role === 'E')), neutrals };
}

/** May it be one load, or one insulation, that shows in both? What is alike in circuits that have nothing in common is so by chance. */
export const meet = (x: Reach, y: Reach): boolean => x.all || y.all || (x.neutrals && y.neutrals) || [...x.circuits].some((c) => y.circuits.has(c));
