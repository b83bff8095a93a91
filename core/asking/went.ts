import type { Suspect } from '../faults';
import { behindWay, protectionsOf, type Installation, type Protection } from '../installation';
import type { Asked, Complaint } from '../job';
import type { Question } from './questions';

// Which device went: what people know best, and what parts a board most.

/** Name of the question; its answers are devices of the board. */
export const WENT = 'went';

/** How much less likely a fault is that the device which went does not watch: people err, and look at the wrong switch. */
const NOT_BEHIND = 0.04;

/** Devices that may have gone with such a complaint; fewer than two are no question. */
function mayHaveGone(map: Installation, complaint: Complaint): readonly Protection[] {
  if (complaint !== 'rcd trips' && complaint !== 'mcb trips') return [];
  const all = protectionsOf(map).filter((d) => (complaint === 'rcd trips' ? d.residualMa !== null : d.kind === 'mcb' || d.kind === 'rcbo' || d.kind === 'fuse'));
  // Groups before single ways, as they stand at the board.
  return all.length > 1 ? [...all.filter((d) => d.ways.length > 1), ...all.filter((d) => d.ways.length <= 1)] : [];
}

/** "Which device went?", where several may have. */
export function wentQuestion(map: Installation, complaint: Complaint | null): Question | null {
  const devices = complaint ? mayHaveGone(map, complaint) : [];
  return complaint && devices.length ? { id: WENT, complaints: [complaint], answers: devices.map(({ id }) => ({ id })), rows: {}, others: devices.map(() => 1) } : null;
}

/** The device that went, as it was told; undefined where nobody knows, or it is not of this board. */
export const wentDevice = (map: Installation, asked: Asked): Protection | undefined => protectionsOf(map).find((d) => d.id === asked.answers[WENT] && asked.complaint && mayHaveGone(map, asked.complaint).includes(d));

/** How much likelier or less likely a suspect is for the device that went. What has no circuit of its own is as likely as before. */
export function wentFactor(map: Installation, s: Suspect, asked: Asked): number {
  const went = wentDevice(map, asked);
  if (!went) return 1;
  if (s.kind === 'rcdSensitive' || s.kind === 'rcdBlind' || s.kind === 'standingLeak' || s.kind === 'overload') return s.conductors[0] === went.id ? 1 : NOT_BEHIND;
  const ways = waysOf(map, s);
  return ways.length === 0 || ways.some((w) => went.carries.includes(w)) ? 1 : NOT_BEHIND;
}

/** The ways that a suspect concerns: its own, that of a neutral it borrows, and those behind the bar that an end sits in. */
function waysOf(map: Installation, s: Suspect): readonly string[] {
  const ways = wayOfPlace(map);
  const of = (place: string): readonly string[] => {
    const w = ways.get(/^[a-z]+\d+/.exec(place)?.[0] ?? '');
    return w === undefined ? [] : [w];
  };
  if (s.kind === 'otherBar') {
    const group = protectionsOf(map).find((d) => `N${d.id}` === s.conductors[1]);
    return [...of(s.place), ...(group?.ways ?? protectionsOf(map).filter((d) => d.kind !== 'rcd' && d.kind !== 'main').map((d) => d.id))];
  }
  if (s.kind === 'borrowed') return [...of(s.place), ...of(s.conductors[1] ?? '')];
  // An end in a board is the board's place, and its cable's circuit.
  if (s.site.on === 'branch' && s.site.endKey) return of(s.site.endKey);
  return of(s.place.replace(/^state /, ''));
}

const known = new WeakMap<Installation, ReadonlyMap<string, string>>();

/** Section or point → the way nearest to it. */
function wayOfPlace(map: Installation): ReadonlyMap<string, string> {
  let found = known.get(map);
  if (!found) {
    found = new Map(protectionsOf(map).filter((d) => d.ways[0] === d.id).flatMap((d) => {
      const { sections, points } = behindWay(map, d.id);
      return [...sections, ...points].map((x): [string, string] => [x.id, d.id]);
    }));
    known.set(map, found);
  }
  return found;
}
