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

/** `loads`: some that may be in have a say in it. */
export function reachOf(installation: Installation, { fn, from, to }: Probe, state: WorkState, loads: boolean): Reach {
  const numbers = circuitsOf(installation);
  const board = boardOf(installation)?.id ?? '';
  const leads = [...from, ...to];
  const circuitOf = (key: string): number | undefined => numbers.get(sectionOfPlace(installation, key));
  const circuits = new Set(leads.flatMap((k) => circuitOf(k) ?? []));
  const role = (k: string): string => roleOfPlace(installation, k);
  const toEarth = fn === 'insulation' && leads.some((k) => role(k) === 'E');
  const inBar = (circuit: number | undefined): boolean => circuit === undefined || endsAtPoint(installation, board).some((e) => e.role === 'N' && numbers.get(e.section.id) === circuit && !state.out.includes(e.key));
  const neutrals = toEarth && leads.some((k) => role(k) !== 'E' && (role(k) === 'N' || loads) && inBar(circuitOf(k)));
  return { circuits, all: circuits.size === 0 && !(toEarth && leads.every((k) => role(k) === 'N' || role(k) === 'E')), neutrals };
}

/** May it be one load, or one insulation, that shows in both? What is alike in circuits that have nothing in common is so by chance. */
export const meet = (x: Reach, y: Reach): boolean => x.all || y.all || (x.neutrals && y.neutrals) || [...x.circuits].some((c) => y.circuits.has(c));
