import { behindWay, boardOf, boardPart, faceKey, findPoint, protectionsOf, terminalKey, upstreamOf, type Installation, type Protection } from '../installation';
import { liveTestName, watching, type LiveObservation, type LiveTest } from '../live';
import { costOf, frontOf, placesOf, TIE, type Costs, type Front, type Starting } from '../planning';
import { cautionsOf, liveNeeds, needsCoverOff, type LiveCaution, type LiveDo, type LiveNeed } from '../safety';
import { setOff, stateSignature, type WorkState } from '../workstate';
import { hazardsOf } from './hazards';
import { safetyOf } from './steps';
import type { Now } from './now';
import type { StepView } from './types';

/** One result that a live step may have: its chance, and the places that it would point to. */
export interface LiveOutcome { readonly test: LiveTest; readonly share: number; readonly suspects: readonly string[] }

export interface LiveStepView {
  readonly key: string;
  readonly step: LiveDo;
  readonly minutes: number;
  readonly bits: number;
  /** Expected minutes to the end if this is done; stands beside that of dead steps. */
  readonly cost: number;
  readonly coversOff: boolean;
  readonly cautions: readonly LiveCaution[];
  readonly needs: readonly LiveNeed[];
  readonly outcomes: readonly LiveOutcome[];
}

/** Share of suspicion of a short on a way from which nothing is closed "to see". */
const SHORT_SUSPECTED = 0.12;
const CONSIDERED = 120;
/** Live work with covers off is weighed only where everything else tells less than this, in bits. */
const LITTLE = 0.15;
const MINUTES = { watch: 0.3, ramp: 0.8, clamp: 0.6, coverOff: 3, loop: 0.6, unlock: 1, earth: 1 };

interface Candidate { readonly step: LiveDo; readonly minutes: number; readonly results: readonly LiveObservation[] }

/** Steps with the supply on, best first; empty where there is no board to work. `deadBits`: what the best dead step tells. */
export function liveSteps(now: Now, costs: Costs, startWith: Starting = 'no preference', deadBits = 0): LiveStepView[] {
  const { view, map, engine, belief } = now;
  if (map.shape !== 'board') return [];
  const numbers = placesOf(map, engine.suspects);
  const front = frontOf(engine, belief, (s) => numbers[s] ?? 0, CONSIDERED);
  if (front.entropy < 1e-6) return [];
  // What was made in the same state says nothing new.
  const key = (o: LiveObservation): string => `${liveTestName(o.test)} ${stateSignature(o.state)}`;
  const made = new Set(now.liveReadings.map((r) => key({ test: r.event.test, state: r.state })));
  const weigh = (list: readonly Candidate[]): LiveStepView[] => list.filter((c) => c.results[0] && !view.notNow.includes(JSON.stringify(c.step)) && !made.has(key(c.results[0]))).map((c) => viewOf(now, front, c)).filter((s) => s.bits > 0.01);
  const coversOn = weigh([...closings(now, costs).filter(harmless(now)), ...looks(map, view.state, costs), ...(view.asked.complaint === 'shock' || view.asked.shock ? touches(map, view.state, costs) : [])]);
  const best = Math.max(deadBits, ...coversOn.map((s) => s.bits));
  const rest = best < LITTLE ? weigh([...clamps(map, view.state, costs), ...loopsAtBoard(map, view.state, costs)]) : [];
  return [...coversOn, ...rest].sort((a, b) => Number(isTouch(b, now)) - Number(isTouch(a, now)) || leaning(a, startWith) - leaning(b, startWith)).slice(0, 3);
}

/** Expected minutes as someone sees them who likes to begin with one thing: a tie goes to it, no more. */
const leaning = (s: Pick<LiveStepView, 'cost' | 'step'>, startWith: Starting): number => s.cost * ((startWith === 'resetting' && s.step.do === 'close') || (startWith === 'clamp' && s.step.do === 'clamp') ? 1 - TIE : 1);

/** After a shock the metal itself is measured before anything else: whoever waits may touch it again. Once it was, figures decide. */
const isTouch = ({ step }: Pick<LiveStepView, 'step'>, { view, map, liveReadings }: Now): boolean =>
  step.do === 'voltage' && step.to === 'ground' && !view.secured && findPoint(map, step.from.split(/[:/]/)[0] ?? '')?.kind === 'board' && !liveReadings.some(({ event: { test } }) => test.kind === 'voltage' && test.to === 'ground');

/** Minutes of safe isolation, board proved, which a dead step costs that comes before it. */
export const SECURE_MIN = 5;

/** Does the best live step promise a shorter way than the best dead one? Live work with covers off never goes first. */
export function liveFirst(now: Now, dead: readonly StepView[], live: readonly LiveStepView[], startWith: Starting = 'no preference'): boolean {
  const { view, engine, belief, map } = now;
  const [step] = live;
  if (!step || step.coversOff) return false;
  if (isTouch(step, now)) return true;
  const [other] = dead;
  if (!other) return true;
  const numbers = placesOf(map, engine.suspects);
  const { entropy } = frontOf(engine, belief, (s) => numbers[s] ?? 0, CONSIDERED);
  return leaning(step, startWith) < costOf(other.minutes + (view.secured ? 0 : SECURE_MIN), other.bits, entropy) * (startWith === 'insulation' ? 1 - TIE : 1);
}

function viewOf(now: Now, front: Front, c: Candidate): LiveStepView {
  const { map, engine, belief, view } = now;
  const chances = now.live.forecast(c.results, front.cells);
  const total = Float64Array.from(front.cells, (_, i) => chances.reduce((s, row) => s + (row[i] as number), 0));
  let left = 0;
  const outcomes = c.results.map((o, k): LiveOutcome => {
    const mass = front.weight.map((w, i) => (w * (chances[k]?.[i] as number)) / (total[i] as number));
    const share = mass.reduce((s, m) => s + m, 0);
    left += share > 0 ? share * entropyOf(front, mass, share) : 0;
    const bySuspect = new Map<string, number>();
    for (let i = 0; i < mass.length; i++) {
      const id = engine.suspects[belief.cells.suspect[front.cells[i] as number] as number]?.id ?? '';
      bySuspect.set(id, (bySuspect.get(id) ?? 0) + (mass[i] as number));
    }
    return { test: o.test, share, suspects: [...bySuspect].sort((a, b) => b[1] - a[1]).slice(0, 3).filter(([, m]) => m > 0.1 * share).map(([id]) => id) };
  });
  const bits = Math.max(0, front.entropy - left);
  const needs = liveNeeds(map, safetyOf(view), c.step);
  const minutes = c.minutes + (needs.some((n) => n.need === 'lockOff') ? MINUTES.unlock : 0);
  return { key: JSON.stringify(c.step), step: c.step, minutes, bits, cost: costOf(minutes, bits, front.entropy), coversOff: needsCoverOff(map, c.step), cautions: cautionsOf(map, c.step), needs, outcomes: shown(outcomes) };
}

const MOST_ROWS = 4;
/** The likeliest results, at most four; figures in their own order, what does or does not trip by chance. */
function shown(all: readonly LiveOutcome[]): LiveOutcome[] {
  const top = all.filter((o) => o.share > 0.01).sort((a, b) => b.share - a.share).slice(0, MOST_ROWS);
  const figure = ({ test: t }: LiveOutcome): number | null => (t.kind === 'voltage' ? t.volt : t.kind === 'loop' ? t.ohm : t.kind === 'clamp' ? t.mA : t.kind === 'ramp' ? (t.mA ?? Infinity) : null);
  return top.every((o) => figure(o) !== null) ? top.sort((a, b) => (figure(a) as number) - (figure(b) as number)) : top;
}

function entropyOf(front: Front, mass: Float64Array, total: number): number {
  let entropy = 0;
  for (let i = 0; i < mass.length; ) {
    let sum = 0;
    const p = front.place[i];
    while (i < mass.length && front.place[i] === p) sum += (mass[i++] as number) / total;
    if (sum > 0) entropy -= sum * Math.log2(sum);
  }
  return entropy;
}

/** A step that puts power on a way with something dangerous still possible on it is none: that is mended, left safe or answered for first. */
function harmless(now: Now): (c: Candidate) => boolean {
  const devices = protectionsOf(now.map);
  const behind = devices.map((d) => ({ d, ...behindWay(now.map, d.id) }));
  const places = hazardsOf(now).map((h) => h.place.split('.')[0] ?? '');
  const bad = new Set(behind.filter(({ sections, points }) => [...sections, ...points].some((x) => places.includes(x.id))).map(({ d }) => d.id));
  return ({ step, results: [first] }) => (step.do !== 'close' && step.do !== 'ramp') || !first || !devices.some((d) => bad.has(d.id) && d.poles.every((p) => !first.state.off.includes(p)) && (d.id === step.device || devices.find((x) => x.id === step.device)?.carries.includes(d.id) === true));
}

/** Reset routine: each device that is off and whose feeders are on; and a group with all its ways off first. */
function closings(now: Now, costs: Costs): Candidate[] {
  const { map, view } = now;
  const devices = protectionsOf(map);
  const on = (d: Protection, state: WorkState): boolean => d.poles.every((p) => !state.off.includes(p));
  const shorts = shortShare(now);
  const list: Candidate[] = [];
  for (const d of devices) {
    if (d.id === 'main') continue;
    const above = upstreamOf(devices, d).filter((u) => u.id !== 'main');
    if (!on(d, view.state) && above.every((u) => on(u, view.state)) && !d.carries.some((w) => isOn(devices, w, view.state, on) || d.id === w ? (shorts.get(w) ?? 0) > SHORT_SUSPECTED : false))
      list.push({ step: { do: 'close', device: d.id, first: [] }, minutes: costs.flick + MINUTES.watch, results: results(map, d, closedIn(view.state, d)) });
    // A device of one way is ramped as it stands: what its circuit leaks counts along.
    if (d.kind === 'rcbo' && above.every((u) => on(u, view.state))) list.push({ step: { do: 'ramp', device: d.id, first: [] }, minutes: MINUTES.ramp + (on(d, view.state) ? 0 : costs.flick), results: rampResults(d, 'in', closedIn(view.state, d)) });
    if (d.kind !== 'rcd') continue;
    const bare = d.ways.flatMap((w) => devices.find((x) => x.id === w)?.poles ?? []);
    const allOff = bare.reduce((s, p) => setOff(s, p, true), view.state);
    if (bare.some((p) => !view.state.off.includes(p))) list.push({ step: { do: 'close', device: d.id, first: d.ways }, minutes: costs.flick * (d.ways.length + 1) + MINUTES.watch, results: results(map, d, closedIn(allOff, d)) });
    // A ramp closes the device itself.
    if (above.every((u) => on(u, view.state))) list.push({ step: { do: 'ramp', device: d.id, first: d.ways }, minutes: costs.flick * (d.ways.length + (on(d, view.state) ? 0 : 1)) + MINUTES.ramp, results: rampResults(d, 'out', closedIn(allOff, d)) });
  }
  return [...list, ...alone(now, devices, on, costs)];
}

/** What a ramp may show, as shares of the rated current; or that the device does not trip. */
const rampResults = (d: Protection, outgoing: 'in' | 'out', state: WorkState): LiveObservation[] =>
  [0.3, 0.5, 0.75, 0.95, null].map((x): LiveObservation => ({ test: { kind: 'ramp', device: d.id, mA: x === null ? null : x * (d.residualMa ?? 30), outgoing }, state }));

/** A way that made its device go, closed by itself: a fault goes again, leakage that adds up holds. */
function alone(now: Now, devices: readonly Protection[], on: (d: Protection, s: WorkState) => boolean, costs: Costs): Candidate[] {
  const { map, view } = now;
  return devices.filter((d) => d.kind === 'rcd').flatMap((d) => {
    const went = new Set(now.liveReadings.flatMap((r) => (r.event.test.kind === 'closed' && r.event.test.tripped === d.id && d.ways.includes(r.event.test.device) ? [r.event.test.device] : [])));
    return [...went].flatMap((w): Candidate[] => {
      // One of the two is closed by the step; the other must be on already, or the step is none.
      const closed = !on(d, view.state) && isOn(devices, w, view.state, on) ? d : devices.find((x) => x.id === w && !on(x, view.state) && on(d, view.state));
      if (!closed) return [];
      const others = d.ways.filter((x) => x !== w);
      // A board at the end of the way: its own ways off first, and then one by one.
      const inner = devices.filter((x) => x.at !== d.at && x.kind !== 'rcd' && x.ways[0] === x.id && upstreamOf(devices, x).some((u) => u.id === w) && on(x, view.state)).map((x) => x.id);
      const poles = (ids: readonly string[]): readonly string[] => ids.flatMap((id) => devices.find((x) => x.id === id)?.poles ?? []);
      return [others, ...(inner.length ? [[...others, ...inner]] : [])].map((first): Candidate => {
        const state = closed.poles.reduce((s, p) => setOff(s, p, false), poles(first).reduce((s, p) => setOff(s, p, true), view.state));
        return { step: { do: 'close', device: closed.id, first }, minutes: costs.flick * (first.length + 2) + MINUTES.watch, results: results(map, closed, state) };
      });
    });
  });
}

const isOn = (devices: readonly Protection[], way: string, state: WorkState, on: (d: Protection, s: WorkState) => boolean): boolean => devices.some((d) => d.id === way && on(d, state));
const closedIn = (state: WorkState, d: Protection): WorkState => d.poles.reduce((s, p) => setOff(s, p, false), state);

function results(map: Installation, d: Protection, state: WorkState): LiveObservation[] {
  const seen = watching(map, state, d.id).filter((x) => x.residualMa !== null || (x.ratingA !== null && x.kind !== 'main'));
  return [
    { test: { kind: 'closed', device: d.id, result: 'holds', tripped: null }, state },
    ...seen.flatMap((x): LiveObservation[] => (['at once', 'after'] as const).map((result) => ({ test: { kind: 'closed', device: d.id, result, tripped: x.id }, state }))),
  ];
}

/** Suspicion of a short on each way: line against neutral or earth, low enough for an overcurrent device. */
function shortShare({ map, engine, belief }: Now): Map<string, number> {
  const wayOf = new Map<string, string>();
  for (const d of protectionsOf(map)) {
    const { sections, points } = behindWay(map, d.id);
    for (const p of [...sections, ...points]) wayOf.set(p.id, d.id);
  }
  const shares = new Map<string, number>();
  const { cells } = belief;
  for (let c = 0; c < cells.count; c++) {
    const s = engine.suspects[cells.suspect[c] as number];
    if (s?.unknown.of !== 'shunt' || !s.conductors.some((c) => /^L[123]?$/.test(c)) || (belief.t[c] as number) > SHORT_T) continue;
    const way = wayOf.get(s.place.split('.')[0] ?? '');
    if (way) shares.set(way, (shares.get(way) ?? 0) + (belief.weight[c] as number));
  }
  return shares;
}
/** log10 of 3 Ω + 0.1. */
const SHORT_T = 0.49;

/** Covers on, at faces: does it work, what stands there. */
function looks(map: Installation, state: WorkState, costs: Costs): Candidate[] {
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
function loopsAtBoard(map: Installation, state: WorkState, costs: Costs): Candidate[] {
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

const TOUCH_VOLTS = [0.3, 3, 15, 60, 130, 230];
const LOOP_OHMS = [0.5, 2, 10, 100, 1999];

/** Somebody felt it: volts of earthed metal, at the board and at every face, against an earth of its own, and the loop there. */
function touches(map: Installation, state: WorkState, costs: Costs): Candidate[] {
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

/** A clamp round each device and way: the board's cover is off for it. */
function clamps(map: Installation, state: WorkState, costs: Costs): Candidate[] {
  const cover = state.opened.includes(boardOf(map)?.id ?? '') ? 0 : MINUTES.coverOff;
  return protectionsOf(map).filter((d) => d.kind !== 'main' && d.poles.every((p) => !state.off.includes(p))).map((d) => ({
    step: { do: 'clamp', around: d.id }, minutes: cover + MINUTES.clamp + costs.reading,
    results: [0.5, 2, 6, 15, 40, 300, 3000].map((mA): LiveObservation => ({ test: { kind: 'clamp', around: d.id, mA, filtered: true, peak: false }, state })),
  }));
}
