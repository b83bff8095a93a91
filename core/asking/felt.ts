import { touches, type Suspect } from '../faults';
import type { Complaint } from '../job';

// How well a path between two conductors goes with what was complained of, by what current it lets through: an over-current device
// wants a short, a residual device milliamperes to earth, a neutral on earth is driven by the neutral's own few volts alone.

/** Share by size: the first bound in ohms that is not reached gives it. */
type Scale = readonly (readonly [belowOhm: number, share: number])[];

const scales: Readonly<Partial<Record<Complaint, Readonly<Record<'LN' | 'LE' | 'NE', Scale>>>>> = {
  'rcd trips': { LE: [[15e3, 1], [1e5, 0.4], [1e6, 0.12], [Infinity, 0.05]], NE: [[200, 1], [2e3, 0.6], [2e4, 0.15], [Infinity, 0.04]], LN: [[Infinity, 0.05]] },
  'mcb trips': { LN: [[5, 1], [20, 0.3], [Infinity, 0.03]], LE: [[5, 1], [20, 0.4], [Infinity, 0.05]], NE: [[Infinity, 0.04]] },
  shock: { LE: [[1e5, 1], [1e6, 0.4], [Infinity, 0.1]], NE: [[Infinity, 0.3]], LN: [[Infinity, 0.1]] },
};

/** How well so many ohms between the suspect's conductors go with the complaint, 0…1, or null where its size says nothing; estimates, and people err: never 0. */
export function feltAs(complaint: Complaint | null, s: Pick<Suspect, 'kind' | 'conductors'>): ((ohm: number) => number) | null {
  const scale = complaint && scales[complaint];
  if (!scale || !touches(s)) return null;
  const has = (c: string): boolean => s.conductors.includes(c);
  const pair = has('E') ? (has('N') ? 'NE' : 'LE') : 'LN';
  return (ohm) => scale[pair].find(([below]) => ohm < below)?.[1] ?? 1;
}
