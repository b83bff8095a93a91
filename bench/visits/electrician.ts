import { Advisor, drawKey, expectedAt, likelierFigure, safetyOf, type Advice, type StepView, type SuspectView, type Surely } from '../../core/advice';
import { boardOf, circuitOfWay, editMap, findPoint, isDrawn, landingOf, protectionsOf, residualDeviceOf, type Installation } from '../../core/installation';
import { beforeLive, deriveJob, eventOfAction, putOn, type Complaint, type EventBody, type JobEvent, type JobView } from '../../core/job';
import { seededRandom, type Random } from '../../core/numeric';
import type { Action } from '../../core/planning';
import type { Probe } from '../../core/probes';
import { FAILS, firstDo, loadsToTakeOut, NO_TRIP, proofOf, retestResults, switchesToClose, type LiveRetest } from '../../core/retest';
import { provingPairs, putBackList, unmetNeeds, watchesDevice, type LiveDo } from '../../core/safety';
import { dangers } from '../../core/safety/fixtures/dangers';
import { askOf } from '../../core/simulation';
import { isAbove, meter, type Displayed } from '../../core/tester';
import type { WorkState } from '../../core/workstate';
import type { House, Wrong } from './house';
import { Judge } from './judge';
import { Nature, type Symptoms } from './nature';
import { complaintOf, felt, tell } from './story';

/** What one visit came to. */
export interface Visit {
  readonly seed: number;
  readonly families: readonly string[];
  /** What is really wrong, as data. */
  readonly truth: string;
  readonly complaint: Complaint;
  readonly named: string;
  readonly share: number;
  readonly right: boolean;
  /** Right, or nothing found that explains the complaint, and so it is. */
  readonly answered: boolean;
  /** Said at 95 % or more, and not so. */
  readonly wrongSure: boolean;
  readonly minutes: number;
  /** Of them until something was named. */
  readonly huntMinutes: number;
  readonly steps: number;
  /** By tenth of the leader's share: steps, and leaders that were right. */
  readonly bins: readonly { readonly steps: number; readonly right: number }[];
  readonly clearedTruth: number;
  readonly outcomes: { readonly asked: number; readonly held: number };
  readonly explains: { readonly asked: number; readonly agreed: number };
  readonly unsafe: number;
  /** Live steps that put power on what the app itself held dangerous, and was. */
  readonly powerOn: number;
  readonly proved: number;
  readonly falseProof: number;
  readonly advices: number;
  readonly log: readonly string[];
}

const STARTED = Date.UTC(2026, 3, 7, 8, 0);
const MOST_STEPS = 120;
export const CAP_MIN = 150;
const SURE = 0.95;
/** One plug in or out, minutes. */
const MOVE_MIN = 0.3;
/** All switches of a way on, minutes. */
const SWITCHES_MIN = 1;
/** One entry in fifty is not what the meter said, and one act in fifty was not done. */
const SLIPS = 0.02;
/** Who is asked "is the unit right?" looks again. */
const LOOKS_AGAIN = 0.9;
/** Readings taken to tell what is wrong at a place that is known. */
const MOST_WHICH = 3;

/** What the card claims: conductors only where they are said. A load is replaced whole; elsewhere a place without its conductors is not found. */
const said = (s: SuspectView | undefined, surely: Surely): SuspectView | undefined => s && { ...s, conductors: surely.conductors ?? (s.place.includes('.') ? [] : surely.kind === 'borrowed' || surely.kind === 'otherBar' ? ['N'] : ['unsaid']) };

/** An electrician who draws what can be seen, does what the app says, and is sometimes careless. */
export class Electrician {
  private readonly events: JobEvent[] = [];
  private clock = STARTED;
  private readonly advisor = new Advisor();
  private readonly random: Random;
  /** Recorded, and not done: ends that stayed in, switches that stayed as they were. */
  private readonly notDone = new Set<string>();
  private readonly lookedAt = new Set<string>();
  /** Plan → truth, for what was drawn. */
  private readonly names = new Map<string, string>();
  private unsafe = 0;
  private powerOn = 0;
  private falseProof = 0;
  private proved = 0;
  private readonly judge: Judge;
  private readonly symptoms: Symptoms;
  readonly log: string[] = [];

  constructor(private readonly house: House, private readonly nature: Nature, map: Installation) {
    this.random = seededRandom(house.seed * 9973 + 3);
    const symptoms = nature.symptoms();
    this.symptoms = symptoms;
    this.complaint = complaintOf(symptoms, nature.wrongs.length > 0, this.random);
    this.judge = new Judge(house, nature, this.complaint, symptoms, { map: () => this.map, place: (id) => this.truePlace(id), key: (key) => this.trueKey(key) }, this.log);
    this.record({ type: 'created', name: 'visit', agreedMin: 90 }, { type: 'drafted', phrase: house.told, map }, { type: 'asked', complaint: this.complaint, shock: this.complaint === 'shock', notes: '' }, { type: 'clock', run: true });
    this.meetsDead(symptoms.dead);
    if (this.complaint === 'flicker or heat' && !this.random.chance(0.1)) this.draw(symptoms.hot);
    if (this.complaint !== 'inspection') this.record(...tell(map, this.view.asked, symptoms, nature.wrongs, house, this.random));
    this.log.push(`told ${JSON.stringify(this.view.asked.answers)} of ${house.told}`);
  }

  /** What is dead has a name: its way is drawn at once, and one point of it is known not to work. */
  private meetsDead(dead: readonly string[]): void {
    if (this.complaint !== 'dead') return;
    const [first = ''] = dead;
    // Where the label lies the name leads nowhere.
    if (this.house.ways.some((w) => w.points.includes(first) && this.house.labelOf(w.way) !== w.way)) return;
    this.draw(this.house.ways.find((w) => w.points.includes(first))?.points[0] ?? '');
    const mine = [...this.names].find(([, truth]) => truth === first)?.[0];
    if (mine && findPoint(this.map, mine)?.terminals.some((t) => t.id === 'L')) this.record({ type: 'liveRead', test: { kind: 'works', point: mine, works: false } });
  }

  readonly complaint: NonNullable<JobView['asked']['complaint']>;

  private get view(): JobView {
    const { derived, events, clock } = this;
    if (derived?.count === events.length && derived.clock === clock) return derived.view;
    const view = deriveJob(events, clock);
    this.derived = { count: events.length, clock, view };
    return view;
  }
  private derived: { readonly count: number; readonly clock: number; readonly view: JobView } | null = null;
  private get map(): Installation {
    return this.view.map as Installation;
  }

  private record(...bodies: EventBody[]): void {
    for (const b of bodies) {
      this.events.push({ ...b, id: `e${this.events.length}`, at: this.clock } as JobEvent);
      if (b.type === 'putBack') this.nature.remake((b as { ends: readonly string[] }).ends.flatMap((k) => this.trueEnds(k)));
    }
  }
  private minutes(): number {
    return (this.clock - STARTED) / 60000;
  }
  private wait(minutes: number): void {
    this.clock += minutes * 60000;
  }

  // ── what is drawn against what is there ──

  private truePlace(id: string): string {
    return this.names.get(id) ?? id;
  }
  private trueKey(key: string): string {
    return key.replace(/^[a-z]+\d+/, (id) => this.truePlace(id));
  }
  private trueState(s: WorkState): WorkState {
    const done = (k: string): boolean => !this.notDone.has(k);
    return { ...s, out: s.out.filter(done).flatMap((k) => this.trueEnds(k)), off: [...s.off.filter(done).map((k) => this.trueKey(k)), ...this.standingOff()], loadsOut: s.loadsOut.flatMap((part) => this.trueLoads(part)), links: s.links.map((l) => ({ ...l, a: this.trueKey(l.a), b: this.trueKey(l.b) })) };
  }
  /** What is unplugged on a way that nobody has drawn is all of it. */
  private trueLoads(part: string): string[] {
    const point = part.split('.')[0] ?? '';
    if (findPoint(this.map, point)?.kind !== 'undrawn') return [this.trueKey(part)];
    const own = this.house.ways.find((w) => w.points.includes(this.truePlace(point)));
    return own ? own.points.flatMap((p) => (findPoint(this.house.whole, p)?.elements ?? []).flatMap((e) => (e.kind === 'load' && e.unplugs ? [`${p}.${e.id}`] : []))) : [this.trueKey(part)];
  }
  /** Switches that stand off on ways that nobody has drawn: nobody has looked. */
  private standingOff(): string[] {
    return this.house.ways.flatMap((w) => (isDrawn(this.map, w.way) || this.view.state.on?.some((p) => w.points.includes(this.truePlace(p))) === true ? [] : this.house.off.filter((k) => w.points.includes(k.split('.')[0] ?? ''))));
  }
  /** "The neutral of way 3" is every neutral of way 3: a ring that nobody has drawn has two. */
  private trueEnds(key: string): string[] {
    const [end = '', core = ''] = key.split(':');
    const own = this.house.ways.find((w) => !isDrawn(this.map, w.way) && end === `s${w.way.slice(1)}@a`);
    if (!own?.phrase.startsWith('ring')) return [this.trueKey(key)];
    return own.sections.flatMap((id) => {
      const s = this.house.whole.sections.find((x) => x.id === id);
      return s ? (['a', 'b'] as const).filter((side) => s[side] === boardOf(this.house.whole)?.id).map((side) => `${s.ends?.[side] ?? `${s.id}@${side}`}:${core}`) : [];
    });
  }
  private trueProbe(p: Probe): Probe {
    return { ...p, from: p.from.map((k) => this.trueKey(k)), to: p.to.map((k) => this.trueKey(k)) };
  }

  /** Draws the circuit that a place lies in, as far as eyes can; false where it is drawn. */
  private draw(place: string): boolean {
    const id = place.split('.')[0] ?? '';
    const way = this.house.ways.find((w) => !isDrawn(this.map, w.way) && [...circuitOfWay(this.map, w.way).points, ...circuitOfWay(this.map, w.way).sections].some((x) => x.id === id));
    if (!way) return false;
    const edit = { edit: 'drawCircuit' as const, way: way.way, phrase: way.phrase };
    const edited = editMap(this.map, edit);
    if (!edited.ok) throw new Error(JSON.stringify(edited.issues));
    const drawn = circuitOfWay(edited.value, way.way);
    for (const [i, p] of drawn.points.entries()) this.names.set(p.id, way.points[i] as string);
    for (const [i, s] of drawn.sections.entries()) this.names.set(s.id, way.sections[i] as string);
    this.wait(1.5);
    this.record({ type: 'mapEdited', edit });
    this.log.push(`draw ${way.way} as ${way.phrase}`);
    // Whoever draws a switch sees how it stands: as it was found, or on where all were turned on.
    if (this.view.state.on?.some((k) => drawn.points.some((p) => p.id === k))) return true;
    for (const [i, p] of drawn.points.entries()) for (const e of p.elements) if (this.house.off.includes(`${way.points[i] ?? ''}.${e.id}`)) this.record({ type: 'switched', part: `${p.id}.${e.id}`, off: true, found: true });
    return true;
  }

  // ── hands ──

  private prove(point: string): void {
    this.wait(1);
    const checks = [...provingPairs(this.map, point).map(([from, to]) => ({ from, to, volt: 0, bleep: false })), ...(findPoint(this.map, point)?.terminals ?? []).map((t) => ({ from: 'rod', to: t.id, volt: 0, bleep: false }))];
    this.record({ type: 'proved', point, checks, earthPlace: 'rod in the garden' });
  }

  private makeDead(): void {
    if (this.view.secured) return;
    const board = boardOf(this.map)?.id ?? '';
    this.wait(4);
    this.record({ type: 'secured', permission: true, off: true, locked: true, key: 'with me' });
    for (const d of protectionsOf(this.map)) if (d.kind !== 'main') for (const part of d.poles) if (!this.view.state.off.includes(part) && d.ways[0] === d.id) this.record({ type: 'switched', part, off: true });
    this.record({ type: 'opened', point: board });
    this.prove(board);
    const loads = this.map.points.flatMap((p) => p.elements.flatMap((e) => (e.kind === 'load' && e.unplugs && e.loadClass !== 'arrester' && !this.view.state.loadsOut.includes(`${p.id}.${e.id}`) ? [`${p.id}.${e.id}`] : [])));
    if (loads.length && this.random.chance(0.6)) {
      this.wait(MOVE_MIN * loads.length);
      this.record({ type: 'loadsMoved', parts: loads, out: true });
    }
  }

  private makeSafeToEnergise(): void {
    for (const item of putBackList(this.map, this.view.state, this.view.secured !== null)) {
      this.wait(0.5);
      if (item.kind === 'link') this.record({ type: 'unlinked', link: item.parts[0] ?? '' });
      else if (item.kind === 'ends') this.record({ type: 'putBack', point: item.point, ends: [...item.parts] });
      else if (item.kind === 'cover') this.record({ type: 'coverOn', point: item.point });
      else if (item.kind === 'lock') this.record({ type: 'lapsed', why: 'lock off' });
    }
  }

  private act(a: Action): void {
    // All plugs of a way are as many as it has.
    this.wait(a.do === 'unplug' || a.do === 'plugIn' ? Math.max(1, MOVE_MIN * a.parts.flatMap((k) => this.trueLoads(k)).filter((k) => this.house.plugged.has(k)).length) : 1);
    this.record(eventOfAction(a));
    this.log.push(`do ${JSON.stringify(a)}`);
    const [done, undone] = a.do === 'takeOut' ? [[], a.ends] : a.do === 'putBack' ? [a.ends, []] : a.do !== 'switch' ? [[], []] : a.off ? [[], [a.part]] : [[a.part], []];
    for (const k of done) this.notDone.delete(k);
    if (undone.length && this.random.chance(SLIPS)) {
      const left = this.random.pick(undone);
      this.notDone.add(left);
      this.log.push(`not done: ${left}`);
    }
    if (a.do === 'open') this.prove(a.point);
  }

  private read(probe: Probe, retest: string | null = null): void {
    const view = this.view;
    const step = { actions: [], probes: [probe], earthDoubt: true };
    const needs = unmetNeeds(this.map, safetyOf(view), step);
    for (const n of needs) {
      if (n.need === 'opened') this.record({ type: 'opened', point: n.point });
      if (n.need === 'proved') this.prove(n.point);
      if (n.need === 'loadsOut') this.record({ type: 'loadsMoved', parts: [...n.parts], out: true });
    }
    if (dangers(this.map, safetyOf(this.view), step, []).length) this.unsafe++;
    const displayed = this.typed(probe, this.nature.read(this.trueState(this.view.state), this.trueProbe(probe)));
    const unit = probe.fn === 'insulation' ? 'MΩ' : !isAbove(displayed) && displayed.ohm >= 1000 ? 'kΩ' : 'Ω';
    this.wait(0.4);
    this.record({ type: 'read', probe, displayed, unit, conditions: ['dry'], testVolt: probe.fn === 'insulation' ? 500 : null, unsteady: false, climbing: false, beforeProof: false, retest });
    this.log.push(`${probe.fn} ${probe.from.join('+')}–${probe.to.join('+')} = ${isAbove(displayed) ? 'above' : displayed.ohm.toPrecision(3)}`);
  }

  /** What is entered for what the meter shows: now and then the unit or the point is wrong, or the knob stood on the other function; who is asked about it looks again. */
  private typed(probe: Probe, shown: Displayed): Displayed {
    if (!this.random.chance(SLIPS)) return shown;
    const wrong = this.random.chance(0.6) ? (isAbove(shown) ? shown : { ohm: shown.ohm * (this.random.chance(0.5) ? 1000 : 0.1) }) : this.onOtherFunction(probe);
    const now = this.advisor.believe(this.view);
    const expected = now && expectedAt(now, this.view, probe);
    const asked = !isAbove(wrong) && (wrong.ohm > meter[probe.fn].topOhm * 1.05 || (expected !== null && likelierFigure(probe.fn, wrong.ohm, expected) !== null));
    const looks = asked && this.random.chance(LOOKS_AGAIN);
    this.log.push(`slip: ${JSON.stringify(wrong)} for ${JSON.stringify(shown)}${looks ? ', asked and put right' : asked ? ', asked and kept' : ''}`);
    return looks ? shown : wrong;
  }

  /** The figure of the other function, in the unit of this. */
  private onOtherFunction(probe: Probe): Displayed {
    const other = probe.fn === 'insulation' ? 'continuity' : 'insulation';
    const shown = this.nature.read(this.trueState(this.view.state), { ...this.trueProbe(probe), fn: other });
    return isAbove(shown) ? { above: meter[probe.fn].topOhm } : { ohm: probe.fn === 'insulation' ? shown.ohm * 1e6 : shown.ohm / 1e6 };
  }

  /** Does a live step put power on a way with something dangerous on it that the app itself still holds possible, and that is really there? */
  private checkPower(advice: Advice, step: LiveDo): void {
    const devices = protectionsOf(this.map);
    const { state } = beforeLive(this.map, this.view.state, step);
    const isOn = (way: string): boolean => devices.filter((d) => d.id === way || d.carries.includes(way)).every((d) => d.poles.every((p) => !state.off.includes(p)));
    for (const h of advice.hazards) {
      const wrong = this.nature.wrongs.find((w) => this.judge.rightPlace(h.place, w));
      const way = this.house.ways.find((w) => wrong?.places.some((p) => w.points.includes(p.split('.')[0] ?? '') || w.sections.includes(p)))?.way;
      if (!wrong || way === undefined || !isOn(way) || state.loadsOut.includes(h.place)) continue;
      this.powerOn++;
      this.log.push(`POWER on ${way} with ${h.id} ${(100 * h.share).toFixed(0)} % by ${JSON.stringify(step)}`);
    }
  }

  private makeLive(step: LiveDo): void {
    if (this.view.secured || this.view.state.opened.length) this.makeSafeToEnergise();
    const was = this.view.state.loadsOut;
    const { before, along, state } = beforeLive(this.map, this.view.state, step);
    this.record(...before, ...along);
    const moved = [...was, ...state.loadsOut].filter((k) => was.includes(k) !== state.loadsOut.includes(k));
    this.wait(MOVE_MIN * moved.flatMap((k) => this.trueLoads(k)).filter((k) => this.house.plugged.has(k)).length);
    if (step.do === 'turnOn') this.wait(SWITCHES_MIN * step.parts.length);
    const asked = askOf(step, (k) => this.trueKey(k));
    const answer = this.nature.live(this.trueState(watchesDevice(step) ? state : this.view.state), asked);
    // What was asked of the plan is kept in the plan's names.
    const named = step.do === 'voltage' || step.do === 'loop' ? { from: step.from, to: step.to } : step.do === 'works' ? { point: step.point } : {};
    const test = { ...answer, ...named, ...putOn(step) };
    this.record({ type: 'liveRead', test });
    this.log.push(`live ${JSON.stringify(step)} → ${JSON.stringify(test)}`);
    this.wait(1);
  }

  // ── the visit ──

  /** From the first look to the proof. */
  visit(): Visit {
    const truth = [...this.nature.wrongs];
    const first = this.hunt();
    const huntMinutes = this.minutes();
    const right = first.place === 'sound' ? truth.length === 0 : first.two ? first.two.every((t) => this.judge.anyRight(t.place, t)) : this.judge.anyRight(first.place, first.suspect);
    // "Nothing found that explains it" is so where what is wrong does not do what was complained of.
    const nothingToExplain = first.place === 'sound' && this.complaint !== 'inspection' && !felt(this.complaint, this.symptoms);
    if (truth.length && first.told && first.place !== 'sound' && first.suspect && first.place !== 'unknown') this.repair(first);
    return {
      seed: this.house.seed, families: truth.map((w) => w.family), truth: JSON.stringify(truth), complaint: this.complaint, named: first.suspect?.id ?? first.place, share: first.share, right,
      answered: right || nothingToExplain, wrongSure: first.share >= SURE && !right && !nothingToExplain && first.suspect?.conductors[0] !== 'unsaid' && first.place !== 'unknown' && !first.place.startsWith('state '), minutes: this.minutes(), huntMinutes, steps: this.judge.advices, bins: this.judge.bins, clearedTruth: this.judge.clearedTruth, outcomes: this.judge.outcomes, explains: this.judge.explains,
      unsafe: this.unsafe, powerOn: this.powerOn, proved: this.proved, falseProof: this.falseProof, advices: this.judge.advices, log: this.log,
    };
  }

  private hunt(): { place: string; share: number; suspect: SuspectView | undefined; two: readonly SuspectView[] | null; told: boolean } {
    let last = { place: '', share: 0, suspect: undefined as SuspectView | undefined, told: false };
    let whichTold = 0;
    for (let i = 0; i < MOST_STEPS && this.view.minutesUsed < CAP_MIN; i++) {
      const advice = this.advisor.advise(this.view, true, false);
      if (!advice) break;
      this.judge.judge(advice);
      this.judge.checkExplains(advice);
      if (this.looksAtRecord(advice)) continue;
      const v = advice.verdict;
      last = { ...this.judge.leads(advice), told: v.says === 'two' || v.says === 'place' };
      if (v.says === 'two') {
        const both = advice.suspects.slice(0, 2);
        if (both.map((s) => this.draw(s.place)).includes(true)) continue;
        return { ...last, two: both };
      }
      if (v.says === 'sound' || v.says === 'enough') return { place: 'sound', share: v.share, suspect: undefined, two: null, told: true };
      if (v.says === 'place' && advice.steps[0] && !this.lumpAt(v.place) && whichTold++ < MOST_WHICH) {
        this.follow(advice.steps[0]);
        continue;
      }
      if (v.says === 'place' && this.findsPlug(v.place)) continue;
      if (v.says === 'place' && !this.draw(v.place)) {
        if (v.surely) last = { ...last, suspect: said(last.suspect, v.surely) };
        return { ...last, two: null };
      }
      if (v.says === 'place') continue;
      if (v.says === 'draw' || v.says === 'drawNext') {
        if (this.draw(v.place)) continue;
        if (v.says === 'draw') return { ...last, two: null };
        this.record({ type: 'notNow', step: drawKey(v.place) });
        continue;
      }
      if (v.says === 'none' && advice.look?.plug && this.looksForPlug(advice.look.point, advice.look.plug)) continue;
      if (v.says === 'none' && advice.look?.bar && this.looksForBar(advice.look.bar)) continue;
      const live = advice.liveSteps[0];
      const step = advice.steps[0];
      if (live && (advice.liveFirst || !step)) {
        this.checkPower(advice, live.step);
        this.makeLive(live.step);
        continue;
      }
      if (!step) {
        if (this.draw(last.place)) continue;
        return { ...last, two: null };
      }
      this.follow(step);
    }
    return { ...last, two: null };
  }

  /** The card says to look for a plug first: one that stayed in is found, taken out, and the record put right. */
  private findsPlug(place: string): boolean {
    const part = findPoint(this.map, place)?.elements.map((e) => `${place}.${e.id}`).find((k) => this.view.state.loadsOut.includes(k) && this.nature.stayedIn(this.trueKey(k)));
    if (part === undefined) return false;
    this.wait(1);
    this.foundIn(part);
    return true;
  }

  /** Sent to look whether something is still plugged in at a point. */
  private looksForPlug(point: string, part: string): true {
    this.wait(1);
    this.log.push(`look for ${part}`);
    if (this.nature.stayedIn(this.trueKey(part))) this.foundIn(part);
    else this.record({ type: 'seen', what: 'nothingIn', place: point, gone: false });
    return true;
  }

  /** Sent to see which bar a neutral is in, or came out of: as drawn, unless it was landed elsewhere; one in twenty cannot tell. */
  private looksForBar(end: string): true {
    this.wait(1);
    const landed = this.nature.wrongs.flatMap((w) => w.faults).find((f) => f.kind === 'landed' && f.end === this.trueKey(end));
    const bar = !this.random.chance(0.95) ? '' : landed?.kind === 'landed' ? landed.terminal : landingOf(this.map, end.split('@')[0] ?? '').neutral;
    this.log.push(`look which bar ${end} is in: ${bar}`);
    this.record({ type: 'seen', what: 'inBar', place: `${end}>${bar}`, gone: false });
    return true;
  }

  /** Told that something stands otherwise than recorded: whoever left it so looks, and puts the record right. */
  private looksAtRecord({ facts }: Advice): boolean {
    const part = facts.map((f) => f.place.replace(/^state /, '')).find((k) => this.notDone.has(k) && !this.lookedAt.has(k));
    if (part === undefined) return false;
    this.wait(1);
    this.lookedAt.add(part);
    this.notDone.delete(part);
    this.record({ type: 'wasStill', part, now: 'out' });
    this.log.push(`stood otherwise: ${part}`);
    return true;
  }

  private foundIn(part: string): void {
    this.nature.takeOut(this.trueKey(part));
    this.record({ type: 'wasStill', part, now: 'out' });
    this.log.push(`found in ${part}`);
  }

  private follow(step: StepView): void {
    this.makeDead();
    for (const a of step.actions) this.act(a);
    for (const [k, p] of step.probes.entries()) {
      this.read(p);
      if (k === 0) this.judge.checkOutcomes(step.outcomes, this.view.readings.at(-1)?.event.displayed);
    }
  }

  /** Is it a circuit that nobody has drawn yet? */
  private lumpAt(place: string): boolean {
    const id = place.split('.')[0] ?? '';
    return findPoint(this.map, id)?.kind === 'undrawn' || findPoint(this.map, this.map.sections.find((s) => s.id === id)?.b ?? '')?.kind === 'undrawn';
  }

  private repair(found: { place: string; suspect: SuspectView | undefined; two: readonly SuspectView[] | null }): void {
    this.wait(9);
    const mended = found.two ?? (found.suspect ? [found.suspect] : []);
    for (const s of mended) {
      this.record({ type: 'mended', suspect: s.id, place: s.place, how: 'repaired', text: '', explains: 'not sure' });
      this.nature.wrongs = this.nature.wrongs.flatMap((w) => (!this.judge.right(s.place, s, w) ? [w] : w.family === 'earthAndLeak' ? this.leftOf(w, s.place) : []));
    }
    if (!this.view.secured) this.makeDead();
    this.putBackAll();
    this.retest();
    const loads = this.view.state.loadsOut;
    if (loads.length) this.record({ type: 'loadsMoved', parts: [...loads], out: false });
    this.retest();
    for (const r of retestResults(this.view)) if (r.item.live && r.verdict === 'open') this.answerLive(r.item.live, r.item.key, this.view.mends.find((m) => m.event.id === r.item.mend)?.event.place ?? '');
    const proved = proofOf(this.view) === 'proved';
    this.log.push(`${proofOf(this.view)}; still wrong: ${this.nature.wrongs.map((w) => w.family).join() || 'nothing'}; retests ${retestResults(this.view).map((r) => `${r.item.id} ${r.verdict}`).join(', ')}`);
    if (proved) this.proved++;
    if (proved && this.nature.wrongs.length) this.falseProof++;
  }

  /** An earth that is mended leaves what leaks beyond it, and the other way round. */
  private leftOf(w: Wrong, place: string): Wrong[] {
    const k = w.places.findIndex((t) => this.judge.rightPlace(place, { ...w, places: [t] }));
    const rest = w.faults.filter((_, i) => i !== k);
    return rest.length === w.faults.length ? [] : [{ ...w, family: 'left', faults: rest, places: w.places.filter((_, i) => i !== k) }];
  }

  /** A live retest as the house answers it: a loop at the mended place, the trip time of its device, and whether everything works. */
  private answerLive(live: LiveRetest, test: string, mended: string): void {
    const place = mended.split('.')[0] ?? '';
    const point = this.trueKey(this.map.sections.find((s) => s.id === place)?.b ?? place);
    // With the power back on: every way and device closed.
    const state = { ...this.trueState(this.view.state), off: [] };
    const way = this.house.ways.find((w) => w.points.includes(point))?.way ?? '';
    const device = residualDeviceOf(this.house.whole, way)?.id ?? protectionsOf(this.house.whole).find((d) => mended.endsWith(`.${d.id}`) && d.residualMa !== null)?.id;
    const kept = (result: string | null, because: string | null = null): void => this.record({ type: 'liveTest', test, result, because });
    if (live === 'loop') {
      const t = this.nature.live(state, { kind: 'loop', from: `${point}:L`, to: `${point}:E`, noTrip: false });
      this.record({ type: 'liveTest', test, result: t.kind === 'loop' ? `${t.ohm.toFixed(2)} Ω` : null, because: null });
    } else if (live === 'function') {
      const s = this.nature.symptoms();
      const fine = !s.residual && !s.over && s.metalVolt < 50 && !s.dead.length;
      kept(fine ? 'works as it should' : `${FAILS}: what was complained of`);
    } else if (live === 'clamp') {
      const t = way ? this.nature.live(state, { kind: 'clamp', around: way, filtered: true, peak: false }) : null;
      kept(t?.kind === 'clamp' ? `${t.mA} mA` : null, t ? null : 'no way');
    } else {
      const t = device === undefined ? null : this.nature.live(state, live === 'ramp' ? { kind: 'ramp', device, outgoing: 'out' } : { kind: 'times', device, multiple: live === 'half' ? 0.5 : 1 });
      if (t?.kind === 'ramp') kept(t.mA === null ? NO_TRIP : `${t.mA} mA`);
      else if (t?.kind === 'times') kept(t.ms === null ? NO_TRIP : `${t.ms} ms`);
      else kept(null, 'no such device');
    }
  }

  private putBackAll(): void {
    for (const item of putBackList(this.map, this.view.state, true)) {
      this.wait(0.5);
      if (item.kind === 'link') this.record({ type: 'unlinked', link: item.parts[0] ?? '' });
      else if (item.kind === 'ends') this.record({ type: 'putBack', point: item.point, ends: [...item.parts] });
    }
  }

  private retest(): void {
    const ring = retestResults(this.view).filter((r) => r.verdict === 'open' && firstDo(this.map, r.item, this.view.state) === 'legs out');
    const legs = [...new Set(ring.flatMap((r) => r.item.legs ?? []))];
    if (legs.length) {
      const board = boardOf(this.map)?.id ?? '';
      this.wait(2);
      this.record({ type: 'tookOut', point: board, ends: legs });
      for (const { item } of ring) if (item.probe) this.read(item.probe, item.id);
      this.record({ type: 'putBack', point: board, ends: legs });
    }
    for (const part of switchesToClose(this.view)) this.record({ type: 'switched', part, off: false });
    for (const r of retestResults(this.view)) {
      if (!r.item.probe || r.verdict !== 'open') continue;
      const first = firstDo(this.map, r.item, this.view.state);
      if (first === 'loads out') {
        const parts = loadsToTakeOut(this.map, r.item, this.view.state);
        this.record({ type: 'loadsMoved', parts, out: true });
      } else if (first !== null) continue;
      this.read(r.item.probe, r.item.id);
      const plugged = retestResults(this.view).find((x) => x.item.id === r.item.id)?.loadsIn ?? [];
      if (!plugged.length) continue;
      this.wait(0.3 * plugged.length);
      this.record({ type: 'loadsMoved', parts: [...plugged], out: true });
      this.read(r.item.probe, r.item.id);
    }
  }
}
