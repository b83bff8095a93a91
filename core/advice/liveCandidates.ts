import { behindWay, boardOf, boardPart, faceKey, protectionsOf, terminalKey, upstreamOf, type Installation, type Protection } from '../installation';
import { cannotBeReset, wentDevice } from '../asking';
import { watching, type LiveObservation } from '../live';
import { beforeLive } from '../job';
import { plugMin, type Costs } from '../planning';
import { watchesDevice, type LiveDo } from '../safety';
import { setOff, type WorkState } from '../workstate';
import { hazardsOf } from './hazards';
import { somethingTrips, type Now } from './now';

// What may be done with the supply on, and what each may show.

/** A live step before it is weighed; `results` stand for all that it may show. */
export interface Candidate { readonly step: LiveDo; readonly minutes: number; readonly results: readonly LiveObservation[] }

/** To see whether a device holds. */
export const WATCH_MIN = 0.3;
const MINUTES = { ramp: 0.8, clamp: 0.6, coverOff: 3, loop: 0.6, earth: 1 };
/** Share of suspicion of a short on a way from which nothing is closed "to see". */
export const SHORT_SUSPECTED = 0.12;

/** A step that puts power on a way with something dangerous still possible on it is none: that is mended, left safe or answered for first. */
export function harmless(now: Now): (c: Candidate) => boolean {
  const devices = protectionsOf(now.map);
  const behind = devices.map((d) => ({ d, ...behindWay(now.map, d.id) }));
  const places = hazardsOf(now).map((h) => h.place.split('.')[0] ?? '');
  const bad = new Set(behind.filter(({ sections, points }) => [...sections, ...points].some((x) => places.includes(x.id))).map(({ d }) => d.id));
  return ({ step, results: [first] }) => (step.do !== 'ramp' && !watchesDevice(step)) || !first || !devices.some((d) => bad.has(d.id) && d.poles.every((p) => !first.state.off.includes(p)) && (d.id === step.device || devices.find((x) => x.id === step.device)?.carries.includes(d.id) === true));
}

/** Reset routine: each device that is off and whose feeders are on; and a group with all its ways off first, or with about half of the suspicion off. */
export function closings(now: Now, costs: Costs): Candidate[] {
  const { map, view } = now;
  const devices = protectionsOf(map);
  const [shorts, acrossLoads] = [shortShare(now), shortShare(now, (c) => !c.includes('E'))];
  // A residual device that tripped clears what goes to earth; where a breaker went with it, it may be a short all the same.
  const clears = new Set(devices.filter((d) => d.residualMa !== null && view.asked.answers.withIt !== 'breaker' && seenToTrip(now, d)).flatMap((d) => [d.id, ...d.carries]));
  const isShort = (w: string): boolean => ((clears.has(w) ? acrossLoads : shorts).get(w) ?? 0) > SHORT_SUSPECTED;
  // What trips may stand off or on when somebody comes: who has been told about it closes it first.
  const fresh = !now.liveReadings.length && !cannotBeReset(map, view.asked) && view.asked.complaint === 'rcd trips' && Object.keys(view.asked.answers).length > 0;
  // As it was told to trip it says nothing to close it once more: something must be off or out first.
  const told = now.liveReadings.length || view.state.loadsOut.length ? undefined : cannotBeReset(map, view.asked)?.id;
  const asTold = (d: Protection): boolean => d.id === told && d.carries.every((w) => isOn(devices, w, view.state));
  // What is said to trip is ramped as it stands once it was seen to hold.
  const holds = (d: Protection): boolean => view.asked.complaint !== 'rcd trips' || seenToHold(now, d);
  const list: Candidate[] = [];
  for (const d of devices) {
    if (d.id === 'main') continue;
    const above = upstreamOf(devices, d).filter((u) => u.id !== 'main');
    if (!asTold(d) && (!isClosed(d, view.state) || (fresh && d.residualMa !== null)) && above.every((u) => isClosed(u, view.state)) && !d.carries.some((w) => (isOn(devices, w, view.state) || d.id === w) && isShort(w)))
      list.push({ step: { do: 'close', device: d.id, first: [], out: [] }, minutes: costs.flick + WATCH_MIN, results: results(map, d, closedIn(view.state, d)) });
    if (!somethingTrips(now) || !residualsAsked(now, devices)) continue;
    // A device of one way is ramped as it stands: what its circuit leaks counts along.
    if (d.kind === 'rcbo' && holds(d) && above.every((u) => isClosed(u, view.state))) list.push({ step: { do: 'ramp', device: d.id, first: [] }, minutes: MINUTES.ramp + (isClosed(d, view.state) ? 0 : costs.flick), results: rampResults(d, 'in', closedIn(view.state, d)) });
    if (d.kind !== 'rcd') continue;
    // With everything on, a device that holds has the less left the more leaks: no cover comes off for it.
    if (isClosed(d, view.state) && holds(d) && above.every((u) => isClosed(u, view.state))) list.push({ step: { do: 'ramp', device: d.id, first: [] }, minutes: MINUTES.ramp, results: rampResults(d, 'in', view.state) });
    if (above.every((u) => isClosed(u, view.state)) && seenToTrip(now, d)) for (const first of halves(now, d, devices)) {
      const state = closedIn(poles(devices, first).reduce((s, p) => setOff(s, p, true), view.state), d);
      list.push({ step: { do: 'close', device: d.id, first, out: [] }, minutes: costs.flick * (first.length + 1) + WATCH_MIN, results: holdsOrTrips(d, d, state) });
    }
    const bare = d.ways.flatMap((w) => devices.find((x) => x.id === w)?.poles ?? []);
    const allOff = bare.reduce((s, p) => setOff(s, p, true), view.state);
    if (bare.some((p) => !view.state.off.includes(p))) list.push({ step: { do: 'close', device: d.id, first: d.ways, out: [] }, minutes: costs.flick * (d.ways.length + 1) + WATCH_MIN, results: results(map, d, closedIn(allOff, d)) });
    // A ramp closes the device itself.
    if (above.every((u) => isClosed(u, view.state))) list.push({ step: { do: 'ramp', device: d.id, first: d.ways }, minutes: costs.flick * (d.ways.length + (isClosed(d, view.state) ? 0 : 1)) + MINUTES.ramp, results: rampResults(d, 'out', closedIn(allOff, d)) });
  }
  return somethingTrips(now) ? [...list, ...alone(now, devices, costs)] : list;
}

/** Are residual devices what it is about? Where a breaker goes, working them says nothing of it, until one of them is seen to go too. */
const residualsAsked = (now: Now, devices: readonly Protection[]): boolean => now.view.asked.complaint !== 'mcb trips' || devices.some((d) => d.residualMa !== null && seenToTrip(now, d));

/** Which device is quicker, and how quick, was seen when it tripped before. */
export const holdsOrTrips = (closed: Protection, trips: Protection, state: WorkState): LiveObservation[] => [null, trips.id].map((tripped) => ({ test: { kind: 'closed', device: closed.id, result: tripped === null ? 'holds' : 'at once', tripped }, state }));

/** Did it trip in this job, or leave a ramp nothing to raise; or is it told that it cannot be reset? */
export const seenToTrip = ({ map, view: { asked }, liveReadings }: Now, d: Protection): boolean =>
  cannotBeReset(map, asked)?.id === d.id || liveReadings.some(({ event: { test: t } }) => (t.kind === 'closed' && t.tripped === d.id) || (t.kind === 'ramp' && t.device === d.id && t.outgoing === 'in' && t.mA !== null && t.mA < NOTHING_LEFT * (d.residualMa ?? 0)));
const NOTHING_LEFT = 0.1;

/** Did it hold when last something was closed that it watches? */
export const seenToHold = ({ map, liveReadings }: Now, d: Protection): boolean =>
  liveReadings.flatMap(({ event: { test: t }, state }) => (t.kind === 'closed' && watching(map, state, t.device).some((x) => x.id === d.id) ? [t.result] : [])).at(-1) === 'holds';

/** Do all devices stand as recorded, for all that is known? What trips, or where nobody knows which any that may, can stand off: that it holds must be seen first. What is off puts nothing on any volts elsewhere. */
function standAsRecorded(now: Now): boolean {
  const { map, view: { asked } } = now;
  const may = protectionsOf(map).filter((d) => d.kind !== 'main' && (asked.complaint === 'rcd trips' ? d.residualMa !== null : asked.complaint === 'mcb trips' && d.ratingA !== null));
  const went = may.filter((d) => seenToTrip(now, d) || d.id === wentDevice(map, asked)?.id);
  return (went.length ? went : may).every((d) => seenToHold(now, d) || !isClosed(d, now.view.state));
}

/** What a ramp may show, as shares of the rated current; or that the device does not trip. */
const rampResults = (d: Protection, outgoing: 'in' | 'out', state: WorkState): LiveObservation[] =>
  [0.3, 0.5, 0.75, 0.95, null].map((x): LiveObservation => ({ test: { kind: 'ramp', device: d.id, mA: x === null ? null : x * (d.residualMa ?? 30), outgoing }, state }));

/** Suspicion on each way of a group. */
function shareByWay({ map, engine, belief }: Now, ways: readonly string[]): Map<string, number> {
  const wayOf = new Map(ways.flatMap((w) => (({ sections, points }) => [...sections, ...points].map((x) => [x.id, w] as const))(behindWay(map, w))));
  const share = new Map<string, number>();
  for (const [i, s] of engine.suspects.entries()) {
    const way = wayOf.get(s.place.split('.')[0] ?? '');
    if (way !== undefined) share.set(way, (share.get(way) ?? 0) + (belief.suspectShare[i] as number));
  }
  return share;
}

/** The ways of a group that are on, parted in the order of the board where each side has about half of the suspicion; either side may go off. */
function halves(now: Now, d: Protection, devices: readonly Protection[]): string[][] {
  const on = d.ways.filter((w) => isOn(devices, w, now.view.state));
  if (on.length < 2) return [];
  const share = shareByWay(now, on);
  const total = on.reduce((sum, w) => sum + (share.get(w) ?? 0), 0);
  let [sum, n] = [0, 0];
  for (; n < on.length - 1 && (n === 0 || sum + (share.get(on[n] as string) ?? 0) / 2 < total / 2); n++) sum += share.get(on[n] as string) ?? 0;
  return [on.slice(n), on.slice(0, n)];
}

/** A way that made its device go, or that is left as the one that must, closed by itself: a fault goes again, leakage that adds up holds. */
function alone(now: Now, devices: readonly Protection[], costs: Costs): Candidate[] {
  const { map, view } = now;
  return devices.filter((d) => d.kind === 'rcd').flatMap((d) => {
    const went = new Set(now.liveReadings.flatMap((r) => (r.event.test.kind === 'closed' && r.event.test.tripped === d.id && d.ways.includes(r.event.test.device) ? [r.event.test.device] : [])));
    if (seenToTrip(now, d)) for (const [w] of [...shareByWay(now, d.ways)].sort((x, y) => y[1] - x[1]).slice(0, 1)) went.add(w);
    return [...went].flatMap((w): Candidate[] => {
      // One of the two is closed by the step; the other must be on already, or the step is none.
      const closed = !isClosed(d, view.state) && isOn(devices, w, view.state) ? d : devices.find((x) => x.id === w && !isClosed(x, view.state) && isClosed(d, view.state));
      if (!closed) return [];
      const others = d.ways.filter((x) => x !== w);
      // A board at the end of the way: its own ways off first, and then one by one.
      const inner = devices.filter((x) => x.at !== d.at && x.kind !== 'rcd' && x.ways[0] === x.id && upstreamOf(devices, x).some((u) => u.id === w) && isClosed(x, view.state)).map((x) => x.id);
      return [others, ...(inner.length ? [[...others, ...inner]] : [])].map((first): Candidate => {
        const state = closed.poles.reduce((s, p) => setOff(s, p, false), poles(devices, first).reduce((s, p) => setOff(s, p, true), view.state));
        return { step: { do: 'close', device: closed.id, first, out: [] }, minutes: costs.flick * (first.length + 2) + WATCH_MIN, results: results(map, closed, state) };
      });
    });
  });
}

const poles = (devices: readonly Protection[], ids: readonly string[]): readonly string[] => ids.flatMap((id) => devices.find((x) => x.id === id)?.poles ?? []);
const isOn = (devices: readonly Protection[], way: string, state: WorkState): boolean => devices.some((d) => d.id === way && isClosed(d, state));
export const isClosed = (d: Protection, state: WorkState): boolean => d.poles.every((p) => !state.off.includes(p));
export const closedIn = (state: WorkState, d: Protection): WorkState => d.poles.reduce((s, p) => setOff(s, p, false), state);

function results(map: Installation, d: Protection, state: WorkState): LiveObservation[] {
  const seen = watching(map, state, d.id).filter((x) => x.residualMa !== null || (x.ratingA !== null && x.kind !== 'main'));
  return [
    { test: { kind: 'closed', device: d.id, result: 'holds', tripped: null }, state },
    ...seen.flatMap((x): LiveObservation[] => (['at once', 'after'] as const).map((result) => ({ test: { kind: 'closed', device: d.id, result, tripped: x.id }, state }))),
  ];
}

/** Suspicion of a short on each way, low enough for an overcurrent device: of a line against neutral or earth, if nothing else `counts`. */
export function shortShare({ map, engine, belief }: Now, counts: (conductors: readonly string[]) => boolean = (conductors) => conductors.some((c) => /^L[123]?$/.test(c))): Map<string, number> {
  const wayOf = new Map<string, string>();
  for (const d of protectionsOf(map)) {
    const { sections, points } = behindWay(map, d.id);
    for (const p of [...sections, ...points]) wayOf.set(p.id, d.id);
  }
  const shares = new Map<string, number>();
  const { cells } = belief;
  for (let c = 0; c < cells.count; c++) {
    const s = engine.suspects[cells.suspect[c] as number];
    if (s?.unknown.of !== 'shunt' || !counts(s.conductors) || (belief.t[c] as number) > SHORT_T) continue;
    const way = wayOf.get(s.place.split('.')[0] ?? '');
    if (way) shares.set(way, (shares.get(way) ?? 0) + (belief.weight[c] as number));
  }
  return shares;
}
/** log10 of 3 Ω + 0.1. */
const SHORT_T = 0.49;

/** Covers on, at faces: does it work, what stands there. */
export function looks(now: Now, costs: Costs): Candidate[] {
  const { map, view: { state } } = now;
  if (!standAsRecorded(now)) return [];
  return map.points.flatMap((p): Candidate[] => {
    const face = p.faces[0];
    if (p.kind === 'board' || p.reach !== 'face' || !face) return [];
    const volts = (from: string, to: string): Candidate => ({ step: { do: 'voltage', from, to }, minutes: costs.walk + costs.reading, results: [0.3, 3, 25, 115, 230].map((volt): LiveObservation => ({ test: { kind: 'voltage', from, to, volt, meter: 'low' }, state })) });
    const at = (role: string): string => faceKey(p.id, face.id, p.terminals.find((t) => t.role.startsWith(role))?.id ?? role);
    return [
      { step: { do: 'works', point: p.id }, minutes: costs.walk + costs.reading, results: [true, false].map((works): LiveObservation => ({ test: { kind: 'works', point: p.id, works }, state })) },
      volts(at('L'), at('N')), volts(at('N'), at('E')),
    ];
  });
}

/** What the supply itself offers, at the board with its cover off: by its neutral and by its earth. */
export function loopsAtBoard(map: Installation, state: WorkState, costs: Costs): Candidate[] {
  const board = boardOf(map);
  const line = board?.terminals.find((t) => t.role.startsWith('L') && boardPart(t) === 'line bar');
  if (!board || !line) return [];
  const minutes = (state.opened.includes(board.id) ? 0 : MINUTES.coverOff) + MINUTES.loop + costs.reading;
  return ['N', 'E'].flatMap((role): Candidate[] => {
    const other = board.terminals.find((t) => t.role === role);
    const [from, to] = [terminalKey(board.id, line.id), terminalKey(board.id, other?.id ?? '')];
    return other ? [{ step: { do: 'loop', from, to }, minutes, results: LOOP_OHMS.map((ohm): LiveObservation => ({ test: { kind: 'loop', from, to, ohm, noTrip: false }, state })) }] : [];
  });
}

/** What stands at the origin, between line and neutral and from the neutral to an earth of its own: a lost conductor of the supply shows there, and in no dead test. */
export function voltsAtOrigin(map: Installation, state: WorkState, costs: Costs): Candidate[] {
  const board = boardOf(map);
  const line = board?.terminals.find((t) => t.role.startsWith('L') && boardPart(t) === 'line bar');
  const neutral = board?.terminals.find((t) => t.role === 'N');
  if (!board || !line || !neutral) return [];
  const minutes = (state.opened.includes(board.id) ? 0 : MINUTES.coverOff) + costs.reading;
  const [l, n] = [terminalKey(board.id, line.id), terminalKey(board.id, neutral.id)];
  const volts = (from: string, to: string, shown: readonly number[], more: number): Candidate => ({ step: { do: 'voltage', from, to }, minutes: minutes + more, results: shown.map((volt): LiveObservation => ({ test: { kind: 'voltage', from, to, volt, meter: 'low' }, state })) });
  return [volts(l, n, ORIGIN_VOLTS, 0), volts(n, 'ground', TOUCH_VOLTS, MINUTES.earth)];
}

const ORIGIN_VOLTS = [3, 60, 115, 160, 200, 230];
const TOUCH_VOLTS = [0.3, 3, 15, 60, 130, 230];
const LOOP_OHMS = [0.5, 2, 10, 100, 1999];

/** Somebody felt it: volts of earthed metal, at the board and at every face, against an earth of its own, and the loop there. */
export function touches(map: Installation, state: WorkState, costs: Costs): Candidate[] {
  const volts = (from: string): Candidate => ({ step: { do: 'voltage', from, to: 'ground' }, minutes: costs.walk + costs.reading + MINUTES.earth, results: TOUCH_VOLTS.map((volt): LiveObservation => ({ test: { kind: 'voltage', from, to: 'ground', volt, meter: 'low' }, state })) });
  const loop = (from: string, to: string): Candidate => ({ step: { do: 'loop', from, to }, minutes: costs.walk + MINUTES.loop, results: LOOP_OHMS.map((ohm): LiveObservation => ({ test: { kind: 'loop', from, to, ohm, noTrip: true }, state })) });
  const board = boardOf(map)?.id ?? '';
  return [volts(terminalKey(board, 'E')), ...map.points.flatMap((p): Candidate[] => {
    const [face] = p.faces;
    const [line, earth] = [p.terminals.find((t) => t.role === 'L'), p.terminals.find((t) => t.role === 'E')];
    if (p.kind === 'board' || p.reach !== 'face' || !face || !earth) return [];
    const at = (id: string): string => faceKey(p.id, face.id, id);
    return [volts(at(earth.id)), ...(line ? [loop(at(line.id), at(earth.id))] : [])];
  })];
}

/** With everything back in and on, a clamp round each residual device: what leaks behind it as the place is used. */
export function clampsInUse(now: Now, costs: Costs): Candidate[] {
  const { map, view: { state, asked } } = now;
  const devices = protectionsOf(map).filter((d) => d.kind !== 'main');
  // Where a breaker goes it is its line, against what it carries.
  const went = wentDevice(map, asked);
  const around = asked.complaint === 'mcb trips'
    ? devices.filter((d) => d.ratingA !== null && (!went || d.id === went.id)).map((d) => ({ id: `${d.id}/L`, results: LINE_MA }))
    : devices.filter((d) => d.residualMa !== null).map((d) => ({ id: d.id, results: CLAMP_MA }));
  return around.map(({ id, results }) => {
    const step = { do: 'clamp', around: id, all: true } as const;
    const used = beforeLive(map, state, step);
    // Power comes on with the cover on; it comes off again for the clamp.
    const minutes = MINUTES.coverOff + MINUTES.clamp + costs.reading + state.loadsOut.reduce((sum, k) => sum + plugMin(map, k, costs), 0) + costs.flick * used.before.filter((e) => e.type === 'switched').length;
    return { step, minutes, results: results.map((mA): LiveObservation => ({ test: { kind: 'clamp', around: id, mA, filtered: true, peak: false }, state: used.state })) };
  });
}

/** Figures that a line in use may show, mA. */
const LINE_MA = [300, 2000, 6000, 12e3, 20e3, 32e3, 50e3];
const CLAMP_MA = [0.5, 2, 6, 15, 40, 300, 3000];

/** A clamp round each device and way: the board's cover is off for it. */
export function clamps(map: Installation, state: WorkState, costs: Costs): Candidate[] {
  const cover = state.opened.includes(boardOf(map)?.id ?? '') ? 0 : MINUTES.coverOff;
  return protectionsOf(map).filter((d) => d.kind !== 'main' && d.poles.every((p) => !state.off.includes(p))).map((d) => ({
    step: { do: 'clamp', around: d.id }, minutes: cover + MINUTES.clamp + costs.reading,
    results: CLAMP_MA.map((mA): LiveObservation => ({ test: { kind: 'clamp', around: d.id, mA, filtered: true, peak: false }, state })),
  }));
}
