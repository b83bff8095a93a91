import type { Suspect } from '../faults';
import { behindWay, landingOf, protectionsOf, type Installation, type Protection } from '../installation';
import type { Asked, Complaint } from '../job';
import type { Question } from './questions';
import { traitOf, type Trait } from './traits';

// Which part of the board it is: the device that went, the circuit where it is dead, hot or shocks, or of the one thing that trips it. People know it best, and it parts a board most.

type Told = Pick<Asked, 'complaint' | 'answers'>;

/** Names of the questions; their answers are devices, and circuits by their ways. */
export const WENT = 'went';
export const WHERE = 'where';
export const THING = 'thing';
/** Is it answered with a part of the board? */
export const asksWhichPart = (question: string): boolean => question === WENT || question === WHERE || question === THING;
/** It is on more than one circuit. */
export const SEVERAL = 'several';

/** How much less likely a fault is elsewhere than where people say: they err, look at the wrong switch, and labels are wrong. Earthed metal carries what another circuit puts on it. */
const NOT_BEHIND = 0.04;
const NOT_THERE: Readonly<Partial<Record<Complaint, number>>> = { dead: 0.04, 'flicker or heat': 0.06, shock: 0.08 };
/** How much less likely it is of one circuit alone where several are dead, or flicker. */
const OF_ONE_ALONE = 0.3;

/** How much less likely what its own line brings out is elsewhere than on the circuit of the one thing that trips it. A neutral, and what leaks beside it, it brings out from anywhere. */
const NOT_WITH_IT = 0.06;
const BY_ITS_LINE: ReadonlySet<Trait | null> = new Set(['appliance', 'lineEarth', 'lineNeutral']);

/** Does it trip with one thing? Then that has a circuit, which people know. */
const withOneThing = ({ complaint, answers }: Told): boolean => (complaint === 'rcd trips' && answers.tripsWhen === 'oneThing') || (complaint === 'mcb trips' && answers.breakerWhen === 'switching');

/** Ways that something is wired to. */
const wiredWays = (map: Installation): readonly Protection[] => protectionsOf(map).filter((d) => d.ways[0] === d.id && behindWay(map, d.id).sections.length > 0);

/** Ways that the one thing may be on, behind the device that went where that is told; fewer than two are no question. */
function mayHang(map: Installation, asked: Told): readonly Protection[] {
  if (!withOneThing(asked)) return [];
  const went = wentDevice(map, asked);
  const all = wiredWays(map).filter((d) => !went || went.carries.includes(d.id));
  return all.length > 1 ? all : [];
}

/** Devices that trip with such a complaint, as they stand at the board: groups before single ways. */
function tripWith(map: Installation, complaint: Complaint | null): readonly Protection[] {
  if (complaint !== 'rcd trips' && complaint !== 'mcb trips') return [];
  const all = protectionsOf(map).filter((d) => (complaint === 'rcd trips' ? d.residualMa !== null : d.kind === 'mcb' || d.kind === 'rcbo' || d.kind === 'fuse'));
  return [...all.filter((d) => d.ways.length > 1), ...all.filter((d) => d.ways.length <= 1)];
}

/** Devices that may have gone with such a complaint; fewer than two are no question. */
function mayHaveGone(map: Installation, complaint: Complaint | null): readonly Protection[] {
  const all = tripWith(map, complaint);
  return all.length > 1 ? all : [];
}

/** Ways on which it may be, where it is felt at a place; fewer than two are no question. */
function mayBeOn(map: Installation, complaint: Complaint): readonly Protection[] {
  const all = NOT_THERE[complaint] === undefined ? [] : wiredWays(map);
  return all.length > 1 ? all : [];
}

/** "Which device went?", "Which circuit is it on?", or the one thing that trips it, where several may be. */
export function whichQuestions(map: Installation, asked: Told): Question[] {
  const { complaint } = asked;
  if (!complaint) return [];
  const ask = (id: string, answers: readonly string[]): Question[] => (answers.length ? [{ id, complaints: [complaint], answers: answers.map((a) => ({ id: a })), rows: {}, others: answers.map(() => 1) }] : []);
  const ways = mayBeOn(map, complaint).map((d) => d.id);
  return [...ask(WENT, mayHaveGone(map, complaint).map((d) => d.id)), ...ask(WHERE, ways.length ? [...ways, SEVERAL] : []), ...ask(THING, mayHang(map, asked).map((d) => d.id))];
}

/** The device that went, as it was told; undefined where nobody knows, or it is not of this board. */
export const wentDevice = (map: Installation, asked: Told): Protection | undefined => mayHaveGone(map, asked.complaint).find((d) => d.id === asked.answers[WENT]);

/** The residual device that trips at once whenever it is reset, as it was told: the one that went, or the only one there is. */
export function cannotBeReset(map: Installation, asked: Asked): Protection | undefined {
  if (asked.complaint !== 'rcd trips' || asked.answers.tripsWhen !== 'atOnce') return undefined;
  const [only, more] = protectionsOf(map).filter((d) => d.residualMa !== null);
  return wentDevice(map, asked) ?? (more ? undefined : only);
}

/** How its poles are then recorded: told that it cannot be reset, it stands off as found; told otherwise after all, on again. Empty where that says nothing new. */
export function asToldPoles(map: Installation, before: Asked, after: Asked): { readonly part: string; readonly off: boolean }[] {
  const [was, is] = [cannotBeReset(map, before), cannotBeReset(map, after)];
  if (was?.id === is?.id) return [];
  return [...(was?.poles ?? []).map((part) => ({ part, off: false })), ...(is?.poles ?? []).map((part) => ({ part, off: true }))];
}

/** How much likelier or less likely a suspect is for the part of the board that was told. What has no circuit of its own is as likely as before. */
export const whichFactor = (map: Installation, s: Suspect, asked: Asked): number => partFactor(map, s, asked) * thingFactor(map, s, asked);

function thingFactor(map: Installation, s: Suspect, asked: Asked): number {
  const way = mayHang(map, asked).find((d) => d.id === asked.answers[THING]);
  if (!way || !BY_ITS_LINE.has(traitOf(s))) return 1;
  const ways = waysOf(map, s);
  return ways.length === 0 || ways.some((w) => way.carries.includes(w)) ? 1 : NOT_WITH_IT;
}

function partFactor(map: Installation, s: Suspect, asked: Asked): number {
  const went = wentDevice(map, asked);
  if (went && ofDevice(s)) return s.conductors[0] === went.id ? 1 : NOT_BEHIND;
  const where = asked.answers[WHERE];
  const way = asked.complaint ? mayBeOn(map, asked.complaint).find((d) => d.id === where) : undefined;
  // A device that trips is over what trips it, whichever of them it was.
  const told = way ? [way] : went ? [went] : tripWith(map, asked.complaint);
  if (!told.length && where !== SEVERAL) return 1;
  const ways = waysOf(map, s);
  if (!told.length) return ways.length === 1 && asked.complaint !== 'shock' ? OF_ONE_ALONE : 1;
  const elsewhere = way ? ((asked.complaint && NOT_THERE[asked.complaint]) ?? 1) : NOT_BEHIND;
  return ways.length === 0 || ways.some((w) => told.some((d) => d.carries.includes(w))) ? 1 : elsewhere;
}

const ofDevice = (s: Suspect): boolean => s.kind === 'rcdSensitive' || s.kind === 'rcdBlind' || s.kind === 'standingLeak' || s.kind === 'overload';

/** The ways that a suspect concerns: its own, that of a neutral it borrows, and those behind the bar that an end sits in. */
function waysOf(map: Installation, s: Suspect): readonly string[] {
  const ways = wayOfPlace(map);
  const of = (place: string): readonly string[] => {
    const w = ways.get(/^[a-z]+\d+/.exec(place)?.[0] ?? '');
    return w === undefined ? [] : [w];
  };
  if (s.kind === 'otherBar') {
    return [...of(s.place), ...waysOfBar(map, s.conductors[1] ?? '')];
  }
  if (s.kind === 'borrowed') return [...of(s.place), ...of(s.conductors[1] ?? '')];
  // An end in a board is the board's place, and its cable's circuit.
  if (s.site.on === 'branch' && s.site.endKey) return of(s.site.endKey);
  return of(s.place.replace(/^state /, ''));
}

const bars = new WeakMap<Installation, ReadonlyMap<string, readonly string[]>>();

/** The ways whose neutrals belong in a bar: an RCBO has one of its own, the common bar those without. */
function waysOfBar(map: Installation, bar: string): readonly string[] {
  let found = bars.get(map);
  if (!found) {
    const ofWay = protectionsOf(map).filter((d) => d.ways[0] === d.id).map((d) => [landingOf(map, behindWay(map, d.id).sections[0]?.id ?? '').neutral, d.id] as const);
    bars.set(map, (found = new Map(ofWay.map(([own]) => [own, ofWay.filter(([x]) => x === own).map(([, way]) => way)]))));
  }
  return found.get(bar) ?? [];
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
