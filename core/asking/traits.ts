import { isBreak, type Suspect } from '../faults';

/** What people can tell apart before any reading: the families of faults that a story speaks for or against. */
export const traits = ['lineEarth', 'neutralEarth', 'lineNeutral', 'appliance', 'noLine', 'noNeutral', 'noEarth', 'poorJoint', 'crossed', 'astray', 'device', 'leakage', 'overload', 'supply', 'nothing', 'elsewhere'] as const;
export type Trait = (typeof traits)[number];

const ofTheBoard: Readonly<Partial<Record<Suspect['kind'], Trait>>> = { otherBar: 'astray', borrowed: 'astray', rcdSensitive: 'device', rcdBlind: 'device', standingLeak: 'leakage', overload: 'overload', supplyLost: 'supply' };
const parts = (s: Suspect): boolean => isBreak(s) || s.kind === 'switchOpen' || s.kind === 'loadOpen' || s.kind === 'face';

/** The family of a suspect; null for doubts of the record and for metal that merely helps, which no story speaks about. */
export function traitOf(s: Suspect): Trait | null {
  if (s.place.startsWith('state ') || s.kind === 'metalPath') return null;
  if (s.kind === 'sound') return 'nothing';
  if (s.kind === 'unknown') return 'elsewhere';
  const board = ofTheBoard[s.kind];
  if (board) return board;
  if (s.kind === 'loadFault' || s.kind === 'loadLeft') return 'appliance';
  if (s.kind === 'crossed') return 'crossed';
  const has = (c: string): boolean => s.conductors.includes(c);
  // A protective conductor carries nothing: a poor end of it neither warms nor flickers.
  if (s.kind === 'resistiveEnd') return has('E') ? 'noEarth' : 'poorJoint';
  if (s.kind === 'contact' || s.kind === 'pointContact') return has('E') ? (has('N') ? 'neutralEarth' : 'lineEarth') : 'lineNeutral';
  if (parts(s)) return has('E') && s.conductors.length === 1 ? 'noEarth' : has('N') && s.conductors.length === 1 ? 'noNeutral' : 'noLine';
  return 'elsewhere';
}
