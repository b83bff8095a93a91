import { LEAST_LOAD_OHM } from '../belief';
import { suspectsOf, touches, type Suspect, type SuspectKind } from '../faults';
import { allEnds, boardOf, circuitsOf, endName, endsAtPoint, faceKey, findPoint, isTwoWay, landingOf, loadsOf, pointOfPlace, roleOfPlace, sectionOfPlace, terminalKey, type Installation } from '../installation';
import type { JobView, MendView, ReadingView } from '../job';
import { OPEN_ABOVE_OHM } from '../network';
import { probeKey, respond, StateModel, type Probe } from '../probes';
import { profiles, type Profile } from '../profiles';
import { displayOf } from '../tester';
import { hasResidual, liveAnswer, liveRetests, testedAt, type LiveRetest } from './live';
import { elementKey, type WorkState } from '../workstate';

/** One test that a repair owes. Dead ones are read with a probe; live ones are entered by hand. */
export interface RetestItem {
  readonly id: string;
  readonly code: 'continuity' | 'ring' | 'polarity' | 'insulation' | 'insulationLoadsBack' | 'boardTerminals' | 'live';
  readonly mend: string;
  /** Null for live tests. */
  readonly probe: Probe | null;
  /** Expected ohms if all is sound; Infinity: no path. Null where a live test has no figure here. */
  readonly expectedOhm: number | null;
  /** What must be rejoined first. */
  readonly when: 'rejoined' | 'rejoined, loads out' | 'rejoined, loads back' | 'legs out';
  /** Switches that must be on for the reading to reach what was mended. */
  readonly through: readonly string[];
  /** Both legs of a ring at the board, all cores, by end key; of a test that is read from leg to leg. */
  readonly legs?: readonly string[];
  readonly live: LiveRetest | null;
  /** By which a live answer is kept: the test, and the device whose circuit it is about. */
  readonly key: string;
  /** Least insulation that passes, ohms. */
  readonly leastOhm: number | null;
}

/** 1 MΩ, the usual least insulation; regional profiles come with the limits. */
export const LEAST_INSULATION_OHM = 1e6;

type Class = 'series' | 'contact' | 'crossing' | 'device';
const ofDevices = new Set<SuspectKind>(['rcdSensitive', 'rcdBlind', 'standingLeak', 'overload', 'supplyLost']);
const classOf = (kind: SuspectKind): Class => (ofDevices.has(kind) ? 'device' : kind === 'borrowed' || kind === 'crossed' ? 'crossing' : touches({ kind }) ? 'contact' : 'series');

/** The retests owed by all repairs of the job: dead ones first, then live. */
export function retestsOwed(view: JobView): RetestItem[] {
  const { map } = view;
  if (!map || !view.mends.length) return [];
  const suspects = new Map(suspectsOf(map).map((s) => [s.id, s]));
  const items = new Map<string, RetestItem>();
  for (const mend of view.mends) for (const item of owedBy(map, view, mend, suspects.get(mend.event.suspect))) if (!items.has(item.id)) items.set(item.id, item);
  return [...items.values()];
}

function owedBy(map: Installation, view: JobView, mend: MendView, suspect: Suspect | undefined): RetestItem[] {
  const board = boardOf(map);
  if (!board) return [];
  const landing = landingOf(map, mend.event.place);
  const boardPlace = (role: string): string => terminalKey(board.id, role === 'L' ? landing.line : role === 'N' ? landing.neutral : landing.earth);
  const id = mend.event.id;
  const rejoined = { ...rejoinedState(view.state), off: [] };
  const model = new StateModel(map, rejoined);
  const expected = (probe: Probe): number => {
    const r = model.sound(probe);
    return r ? Math.min(respond(r, 0, 0, 1), OPEN_ABOVE_OHM) : Infinity;
  };
  const item = (code: RetestItem['code'], name: string, probe: Probe, when: RetestItem['when'], leastOhm: number | null): RetestItem => ({ id: `${code} ${name}`, code, mend: id, probe, expectedOhm: expected(probe), when, live: null, key: '', through: code === 'polarity' || ((code === 'continuity' || code === 'ring') && name.startsWith('L')) ? switches : [], leastOhm });
  const switches = switchesOf(map, mend.event.place);
  const items: RetestItem[] = [];
  const kind = classOf(suspect?.kind ?? 'looseEnd');
  const owed = liveOwed(suspect?.kind, hasResidual(map, mend.event.place));
  const liveItems = liveRetests.filter((live) => owed.has(live)).map((live): RetestItem => {
    const device = testedAt(map, live, mend.event.place);
    const key = device === undefined ? live : `${live} ${device.id}`;
    return { id: `live ${key}`, code: 'live', mend: id, probe: null, expectedOhm: null, when: 'rejoined, loads back', live, key, through: [], leastOhm: null };
  });
  // A device that was replaced, or relieved, is proved with the supply on.
  if (kind === 'device') return liveItems;
  const at = suspect ? pointsOf(map, suspect.place) : [];
  const furthest = furthestPoint(map, model, mend.event.place);
  const roles = suspect?.conductors.filter((c) => ['L', 'N', 'E'].includes(c)) ?? ['L', 'N', 'E'];
  const wasOut = new Set([...view.remade, ...view.state.out]);
  const legs = ringLegs(map, mend.event.place);
  // What was parted to find it or to mend it has to be whole again.
  const parted = map.sections.some((s) => s.id === mend.event.place) || circuitEnds(map, mend.event.place).some((k) => wasOut.has(k));
  for (const role of kind === 'crossing' || parted ? ['L', 'N', 'E'] : kind === 'contact' ? [] : roles) {
    const [from, to] = legs.filter((e) => e.role === role).map((e) => e.key);
    if (from === undefined || to === undefined) continue;
    const probe: Probe = { fn: 'continuity', from: [from], to: [to] };
    const apart = new StateModel(map, { ...rejoined, out: [from, to] }).sound(probe);
    items.push({ ...item('ring', `${role} ${from}`, probe, 'legs out', null), expectedOhm: apart ? Math.min(respond(apart, 0, 0, 1), OPEN_ABOVE_OHM) : Infinity, legs: legs.map((e) => e.key) });
  }
  if (kind !== 'contact') {
    for (const point of new Set([...at, ...(furthest ? [furthest] : [])]))
      for (const role of kind === 'crossing' ? ['L', 'N', 'E'] : roles) {
        const probe: Probe = { fn: 'continuity', from: [boardPlace(role)], to: [touchPlace(map, point, role)] };
        items.push(item('continuity', `${role} ${point}`, probe, 'rejoined', null));
      }
    for (const point of at.slice(0, 2)) items.push(item('polarity', point, { fn: 'continuity', from: [boardPlace('L')], to: [touchPlace(map, point, 'N')] }, 'rejoined, loads out', 1e5));
  }
  // A cable that was mended, whichever core was at fault, is made again in all its cores, and so is what was parted to clear a contact: what
  // depends on them beyond has its earth, and the right core, before power.
  const ofCable = map.sections.some((x) => x.id === mend.event.place);
  if (!legs.length && furthest && (ofCable || (kind === 'contact' && circuitEnds(map, mend.event.place).some((k) => wasOut.has(k) && pointOfPlace(map, k) !== board.id)))) {
    const owes = (code: RetestItem['code'], name = ''): boolean => items.some((x) => x.id.startsWith(`${code} ${name}`));
    if (!owes('continuity', 'E')) items.push(item('continuity', `E ${furthest}`, { fn: 'continuity', from: [boardPlace('E')], to: [touchPlace(map, furthest, 'E')] }, 'rejoined', null));
    if (!owes('polarity')) items.push(item('polarity', furthest, { fn: 'continuity', from: [boardPlace('L')], to: [touchPlace(map, furthest, 'N')] }, 'rejoined, loads out', 1e5));
  }
  for (const [a, b] of [['L', 'N'], ['L', 'E'], ['N', 'E']] as const)
    items.push(item('insulation', `${a}${b}`, { fn: 'insulation', from: [boardPlace(a)], to: [boardPlace(b)] }, 'rejoined, loads out', LEAST_INSULATION_OHM));
  // Line and neutral tied: no voltage stands across the loads that are back.
  if (kind === 'contact' && loadParts(map).length)
    items.push(item('insulationLoadsBack', 'L+N E', { fn: 'insulation', from: ['L', 'N'].map((r) => boardPlace(r)), to: [boardPlace('E')] }, 'rejoined, loads back', LEAST_INSULATION_OHM));
  // At the board, the terminals of whatever was out of them.
  for (const end of endsAtPoint(map, board.id).filter((e) => wasOut.has(e.key)))
    items.push(item('boardTerminals', endName(end.section, end.side) + end.core, { fn: 'continuity', from: [end.key], to: [terminalKey(board.id, end.terminal)] }, 'rejoined', null));
  return [...items, ...liveItems];
}

/** Live tests owed to a repair: loop and function always, the trip time where there is a residual device; to a device that is new all that it can do, to a neutral that was brought back, and to leakage that was parted, what is still lost. */
function liveOwed(kind: SuspectKind | undefined, residual: boolean): Set<LiveRetest> {
  const owed = new Set<LiveRetest>(['loop', 'function']);
  if (residual) owed.add('rcd');
  if (kind === 'rcdSensitive' || kind === 'rcdBlind') for (const t of ['half', 'ramp'] as const) owed.add(t);
  if (kind === 'borrowed' || kind === 'otherBar' || kind === 'standingLeak') owed.add('clamp');
  return owed;
}

/** Switches of the circuit that a place lies in, beyond the board. */
function switchesOf(map: Installation, place: string): string[] {
  const circuits = circuitsOf(map);
  const own = circuits.get(place.split('.')[0] ?? '');
  return map.points.flatMap((p) => (p.kind === 'board' || (own !== undefined && circuits.get(p.id) !== own) ? [] : p.elements.flatMap((e) => (e.kind === 'switch' && !isTwoWay(p, e) ? [elementKey(p.id, e.id)] : []))));
}

/** Every conductor end of the circuit that a place lies in, by key. */
function circuitEnds(map: Installation, place: string): string[] {
  const circuits = circuitsOf(map);
  const own = circuits.get(place.split('.')[0] ?? '');
  return allEnds(map).flatMap((e) => (circuits.get(e.section.id) === own ? [e.key] : []));
}

/** Ends at the board of the ring that a place lies in, two of each core; none where it is no ring. */
function ringLegs(map: Installation, place: string): ReturnType<typeof endsAtPoint> {
  const circuits = circuitsOf(map);
  const own = endsAtPoint(map, boardOf(map)?.id ?? '').filter((e) => circuits.get(e.section.id) === circuits.get(place.split('.')[0] ?? ''));
  const cores = new Set(own.map((e) => e.role));
  return own.length === 2 * cores.size ? own : [];
}

function touchPlace(map: Installation, point: string, role: string): string {
  const p = findPoint(map, point);
  const face = p?.faces[0];
  return face ? faceKey(point, face.id, role) : terminalKey(point, role);
}

function pointsOf(map: Installation, place: string): string[] {
  const id = place.split('.')[0] ?? '';
  const section = map.sections.find((s) => s.id === id);
  const ids = section ? [section.a, section.b] : [id];
  return ids.filter((p) => map.points.some((x) => x.id === p && x.kind !== 'board' && x.reach !== 'never'));
}

/** The point with the highest line resistance from the board. */
function furthestPoint(map: Installation, model: StateModel, place: string): string | null {
  const board = boardOf(map)?.id ?? '';
  const line = terminalKey(board, landingOf(map, place).line);
  const circuits = circuitsOf(map);
  const own = circuits.get(place.split('.')[0] ?? '');
  let best: { point: string; ohm: number } | null = null;
  for (const p of map.points) {
    if (p.kind === 'board' || p.reach === 'never' || (own !== undefined && circuits.get(p.id) !== own)) continue;
    const r = model.sound({ fn: 'continuity', from: [line], to: [terminalKey(p.id, 'L')] });
    const ohm = r ? respond(r, 0, 0, 1) : 0;
    if (ohm < 1e5 && (!best || ohm > best.ohm)) best = { point: p.id, ohm };
  }
  return best?.point ?? null;
}

/** Loads that are known to be there; what may be plugged in is the person's to see. */
const loadParts = (map: Installation): string[] => map.points.flatMap((p) => loadsOf(p).filter((l) => !l.implied).map((l) => elementKey(p.id, l.id)));

/** Loads that come out before a retest is read: those of its own circuit that are known to be there, and with `implied` whatever may be plugged in. */
export function loadsToTakeOut(map: Installation, { when, probe }: RetestItem, s: WorkState, implied = false): string[] {
  if (when !== 'rejoined, loads out' || !probe) return [];
  const circuits = circuitsOf(map);
  const own = new Set([...probe.from, ...probe.to].flatMap((k) => circuits.get(sectionOfPlace(map, k)) ?? []));
  return map.points.flatMap((p) => (own.size && !own.has(circuits.get(p.id) ?? -1) ? [] : loadsOf(p).filter((l) => implied || !l.implied).map((l) => elementKey(p.id, l.id)))).filter((k) => !s.loadsOut.includes(k));
}

/** What must still be done before a retest may be read in this state; null when it may. */
export function firstDo(map: Installation, item: RetestItem, s: WorkState): 'rejoin' | 'all but the legs' | 'legs out' | 'switches on' | 'loads out' | 'loads back' | null {
  if (item.when === 'legs out') {
    if (s.links.length || s.out.some((k) => !item.legs?.includes(k))) return 'all but the legs';
    return [...(item.probe?.from ?? []), ...(item.probe?.to ?? [])].every((k) => s.out.includes(k)) ? null : 'legs out';
  }
  if (s.out.length || s.links.length) return 'rejoin';
  if (item.through.some((k) => s.off.includes(k))) return 'switches on';
  if (loadsToTakeOut(map, item, s).length) return 'loads out';
  if (item.when === 'rejoined, loads back' && s.loadsOut.length) return 'loads back';
  return null;
}

/** Switches that are off and keep retests which are open from reaching what was mended. */
export const switchesToClose = (view: JobView): string[] => {
  const { map } = view;
  if (!map) return [];
  return [...new Set(retestResults(view).flatMap((r) => (r.verdict === 'open' && firstDo(map, r.item, view.state) === 'switches on' ? r.item.through.filter((k) => view.state.off.includes(k)) : [])))];
};

/** Everything back in its terminals, links off; what is unplugged stays out. */
export const rejoinedState = (s: WorkState): WorkState => ({ ...s, out: [], links: [] });

export interface RetestResult {
  readonly item: RetestItem;
  readonly reading: ReadingView | null;
  readonly before: ReadingView | null;
  readonly verdict: 'met' | 'not met' | 'open' | 'not done';
  readonly because: string;
  /** There is a figure; what it is held against hangs on this device, which nobody has read. */
  readonly onGuess?: string;
  /** What may still be plugged in, where a reading that failed would show it: with it out it is read again. */
  readonly loadsIn?: readonly string[];
}

/** Each item with the reading that answers it: taken since the last repair, with everything rejoined. */
export function retestResults(view: JobView, profile: Profile = profiles.gb): RetestResult[] {
  const { map } = view;
  if (!map) return [];
  return retestsOwed(view).map((item): RetestResult => {
    if (item.live) {
      return { item, reading: null, before: null, ...liveAnswer(view, map, item.live, item.key, view.mends.find((m) => m.event.id === item.mend)?.event.place ?? '', profile) };
    }
    const probe = item.probe as Probe;
    const usable = view.readings.filter((r) => !r.struck && !r.parked && probeKey(r.event.probe) === probeKey(probe));
    const reading = [...usable].reverse().find((r) => r.epoch === view.epoch && firstDo(map, item, r.state) === null) ?? null;
    const throughLoads = (r: ReadingView): string[] => (loadMayShow(map, item, r) ? loadsToTakeOut(map, item, r.state, true) : []);
    // What a load showed was no insulation: beside the reading after the repair it would pass for a fault that was mended.
    const before = usable.find((r) => r.epoch < view.epoch && (item.code !== 'insulation' || meets(item, r) || !throughLoads(r).length)) ?? null;
    const skipped = view.live.get(item.id);
    if (!reading) return { item, reading: null, before, verdict: skipped?.because ? 'not done' : 'open', because: skipped?.because ?? '' };
    if (meets(item, reading)) return { item, reading, before, verdict: 'met', because: '' };
    const loadsIn = throughLoads(reading);
    return { item, reading, before, verdict: loadsIn.length ? 'open' : 'not met', because: '', loadsIn };
  });
}

/** Could a load that nobody took out show so? Between line and neutral, unless it is fewer ohms than any. */
function loadMayShow(map: Installation, { probe }: RetestItem, { event: { displayed } }: ReadingView): boolean {
  const across = probe !== null && [...probe.from, ...probe.to].every((k) => roleOfPlace(map, k) !== 'E');
  return across && !(probe.fn === 'continuity' && 'ohm' in displayed && displayed.ohm < LEAST_LOAD_OHM);
}

/** Continuity within 0.1 Ω and a third of the expectation; insulation at or above the least; "no path" where none is expected. */
function meets(item: RetestItem, r: ReadingView): boolean {
  const d = r.event.displayed;
  if (item.leastOhm !== null) return 'above' in d || d.ohm >= item.leastOhm;
  const expected = item.expectedOhm ?? 0;
  if ('above' in d) return 'above' in displayOf('continuity', expected);
  return Math.abs(d.ohm - expected) <= 0.1 + 0.33 * expected;
}

export type Proof = 'proved' | 'not proved' | 'nothing mended';

/** The job's repairs are proved when no retest is open or failed; a test not done keeps it from being proved. */
export function proofOf(view: JobView, profile: Profile = profiles.gb): Proof {
  if (!view.mends.length) return 'nothing mended';
  return retestResults(view, profile).every((r) => r.verdict === 'met') ? 'proved' : 'not proved';
}

