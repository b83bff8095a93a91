import { answerOf, patternsOf, type Trip } from '../diary';
import { circuitOfWay, editMap, findPoint, loadsOf, placeExists, pointOfPlace, protectionsOf, terminalKey, type Installation } from '../installation';
import { addLink, linkKey, removeLink, setCover, setEnds, setLoadOut, setOff, setSwitchesOn, turned, untouched, type WorkState } from '../workstate';
import { renamedByDrawing } from './drawn';
import { placeEarly } from './early';
import type { EventOf, JobEvent } from './events';
import { liveMetalOf } from './liveMetal';
import { foundByDrawing, stoodOff, throughUnknownSwitch, type Found } from './stood';
import { throughArrester } from './surge';
import type { Asked, Flag, JobStatus, JobView, LiveReadingView, MendView, ProofView, ReadingView, Securing } from './view';
import { waysOff } from './waysOff';

/** Why such a reading does not count. */
export const THROUGH_ARRESTER = 'surge protection conducts at 500 V: take it out, or read at 250 V';
export const UNKNOWN_SWITCH = 'how the switches of this circuit stood then is not known';

/** A proof lapses by itself after this long. */
export const PROOF_HOLDS_MIN = 120;

const emptyAsked: Asked = { complaint: null, shock: false, notes: '', answers: {}, seen: [] };

/** Folds the log. Struck events are left out; one that thereby becomes impossible is flagged and skipped. `now` in ms closes the clock. */
export function deriveJob(events: readonly JobEvent[], now: number): JobView {
  const struck = new Map<string, string>();
  for (const e of events) if (e.type === 'struck') struck.set(e.target, e.why);
  const fold = new Fold(struck);
  for (const e of events) if (e.type === 'read' || e.type === 'liveRead' || !struck.has(e.id)) fold.take(e);
  return fold.view(now);
}

class Fold {
  private name = '';
  private agreedMin = 45;
  private createdAt = 0;
  private status: JobStatus = 'open';
  private asked = emptyAsked;
  private photos: { id: string; note: string }[] = [];
  private trips: (Trip & { id: string })[] = [];
  private feeds = new Map<string, { what: string; asLabelled: boolean }>();
  private phrase = '';
  private map: Installation | null = null;
  private state: WorkState = untouched;
  private secured: Securing | null = null;
  private everSecured = false;
  private proofs = new Map<string, ProofView>();
  private everyProof: ProofView[] = [];
  private notDead: EventOf<'notDead'> | null = null;
  private readings: Omit<ReadingView, 'parked'>[] = [];
  private found: Found[] = [];
  private early: EventOf<'early'>[] = [];
  private liveReadings: LiveReadingView[] = [];
  private remade = new Set<string>();
  private linksMade = new Map<string, readonly [string, string]>();
  private unlinked = new Set<string>();
  private mends: MendView[] = [];
  private unreachable = new Set<string>();
  private whyUnreached = new Map<string, string>();
  private longLead = true;
  private notNow: string[] = [];
  private live = new Map<string, EventOf<'liveTest'>>();
  private leftSafe: EventOf<'leftSafe'>[] = [];
  private leftIt: number | null = null;
  private notes: EventOf<'noted'>[] = [];
  private energised = false;
  private at: string[] = [];
  private used = 0;
  private clockSince: number | null = null;
  private flags: Flag[] = [];

  constructor(private readonly struck: ReadonlyMap<string, string>) {}

  take(e: JobEvent): void {
    if (this.secured && new Date(e.at).toDateString() !== new Date(this.secured.at).toDateString()) this.lapse();
    if (e.type === 'read' || e.type === 'liveRead' || e.type === 'mended') this.leftIt = null;
    switch (e.type) {
      case 'created': this.name = e.name; this.agreedMin = e.agreedMin; this.createdAt = e.at; return;
      case 'renamed': this.name = e.name; return;
      case 'asked': return this.ask(e);
      case 'answered': this.answered(e); return;
      case 'seen': return this.see(e);
      case 'trip': this.trips.push({ id: e.id, at: e.when, hour: e.hour, weather: e.weather, running: e.running }); return;
      case 'feeds': this.feeds.set(e.way, { what: e.what, asLabelled: e.asLabelled }); return;
      case 'photo':
        this.photos = e.gone ? this.photos.filter((p) => p.id !== e.photo) : this.photos.some((p) => p.id === e.photo) ? this.photos.map((p) => (p.id === e.photo ? { ...p, note: e.note } : p)) : [...this.photos, { id: e.photo, note: e.note }];
        return;
      case 'drafted': {
        this.map = e.map;
        this.phrase = e.phrase;
        const waiting = this.early;
        this.early = [];
        for (const x of waiting) this.readEarly(x);
        return;
      }
      case 'early': return this.readEarly(e);
      case 'mapEdited': return this.editMap(e);
      case 'secured':
        this.secured = { at: e.at, key: e.key, permission: e.permission, off: e.off, locked: e.locked, second: e.second ?? null, tails: e.tails ?? null, people: e.people ?? null };
        this.everSecured = true;
        this.energised = false;
        this.state = this.waysOff();
        return;
      case 'lapsed': return this.lapse();
      case 'proved': return this.prove(e);
      case 'notDead': return this.foundLive(e);
      case 'leftPoint': this.proofs.delete(e.point); return;
      case 'read': return this.read(e);
      case 'liveRead': return this.readLive(e);
      case 'cantReach':
        this.whyUnreached.delete(e.point);
        if (e.can) this.unreachable.delete(e.point);
        else {
          this.unreachable.add(e.point);
          if (e.why) this.whyUnreached.set(e.point, e.why);
        }
        return;
      case 'wasStill': return this.correct(e);
      case 'stoodOther': return this.turn(e.part);
      case 'longLead': this.longLead = e.have; return;
      case 'notNow': this.notNow = [...this.notNow, e.step]; return;
      case 'mended': this.mends.push({ event: e, epoch: this.mends.length + 1 }); this.notNow = []; return;
      case 'liveTest': this.live.set(e.test, e); return;
      case 'leftSafe': this.leftSafe.push(e); return;
      case 'leftIt': this.leftIt = e.fine; return;
      // With the power on, people use their switches: how they stand is not known any more.
      case 'energised': this.energised = true; this.state = setSwitchesOn(this.state, this.state.on ?? [], false); this.lapse(); return;
      case 'clock': return this.clock(e);
      case 'closed': this.status = e.state; this.clock({ ...e, type: 'clock', run: false }); return;
      case 'reopened': this.status = 'open'; return;
      case 'noted': this.notes.push(e); return;
      case 'struck': return;
      default: return this.changeState(e);
    }
  }

  private changeState(e: Extract<JobEvent, { type: 'opened' | 'coverOn' | 'tookOut' | 'putBack' | 'linked' | 'unlinked' | 'switched' | 'switchesOn' | 'loadsMoved' }>): void {
    const s = this.state;
    switch (e.type) {
      case 'opened': this.state = setCover(s, e.point, true); return this.go(e.point);
      case 'coverOn': this.state = setCover(s, e.point, false); return this.go(e.point);
      case 'tookOut': this.state = setEnds(s, e.ends, true); return this.go(e.point);
      case 'putBack':
        if (!e.ends.every((k) => s.out.includes(k))) this.flags.push({ event: e, code: 'flag.notOut' });
        this.state = setEnds(s, e.ends, false);
        for (const k of e.ends) this.remade.add(k);
        return this.go(e.point);
      case 'linked':
        this.state = addLink(s, e.link);
        this.linksMade.set(linkKey(e.link.a, e.link.b), [e.link.a, e.link.b]);
        return this.goTo(e.link.a);
      case 'unlinked':
        if (!s.links.some((l) => l.id === e.link)) this.flags.push({ event: e, code: 'flag.noLink' });
        for (const l of s.links) if (l.id === e.link) this.unlinked.add(linkKey(l.a, l.b));
        this.state = removeLink(s, e.link);
        return;
      case 'switched': return this.throwSwitch(e);
      case 'switchesOn': this.state = setSwitchesOn(s, e.ways, e.on); return;
      case 'loadsMoved': this.state = e.parts.reduce((acc, p) => setLoadOut(acc, p, e.out), s); return;
    }
  }

  private throwSwitch({ part, off, found: asFound }: EventOf<'switched'>): void {
    this.state = setOff(this.state, part, off);
    const found = this.found.find((f) => f.parts.includes(part));
    if (!found) return;
    // Once it is moved nobody asks any more how it was found.
    this.found = this.found.map((f) => (f === found ? { ...f, parts: f.parts.filter((p) => p !== part) } : f));
    if (!off || !asFound || found.turned) return;
    this.readings = stoodOff(found, part, this.readings, found.before);
    this.liveReadings = stoodOff(found, part, this.liveReadings, found.beforeLive);
  }

  /** Every reading since the record had the part out was taken with it in. */
  private correct({ part, now }: EventOf<'wasStill'>): void {
    const without = (s: WorkState): WorkState => ({ ...s, out: s.out.filter((k) => k !== part), loadsOut: s.loadsOut.filter((k) => k !== part), off: s.off.filter((k) => k !== part) });
    const had = ({ out, loadsOut, off }: WorkState): boolean => [out, loadsOut, off].some((list) => list.includes(part));
    const amended = <R extends { readonly state: WorkState }>(readings: readonly R[]): R[] => {
      const since = readings.reduce((last, r, i) => (had(r.state) ? last : i + 1), 0);
      return readings.map((r, i) => (i < since ? r : { ...r, state: without(r.state) }));
    };
    this.readings = amended(this.readings);
    this.liveReadings = amended(this.liveReadings);
    if (now === 'in') this.state = without(this.state);
    this.asked = { ...this.asked, seen: [...this.asked.seen, { what: 'wasIn', place: part }] };
  }

  /** A two-way switch on its other throw in every state so far: which one was made could not be seen. */
  private turn(part: string): void {
    const all = <R extends { readonly state: WorkState }>(readings: readonly R[]): R[] => readings.map((r) => ({ ...r, state: turned(r.state, [part]) }));
    this.readings = all(this.readings);
    this.liveReadings = all(this.liveReadings);
    this.state = turned(this.state, [part]);
  }

  /** What is taken back is open again; with nothing to take back, nobody knows. */
  private answered({ question, answer }: EventOf<'answered'>): void {
    const { answers, notKnown = [] } = this.asked;
    const others = notKnown.filter((q) => q !== question);
    this.asked = { ...this.asked, answers: answersWith(answers, question, answer), notKnown: answer === null && answers[question] === undefined ? [...others, question] : others };
  }

  /** Early files told wet and works beside the complaint; they are answers like any other. */
  private ask(e: EventOf<'asked'>): void {
    let { answers } = this.asked;
    if (e.wet) answers = answersWith(answers, 'weather', 'wet');
    if (e.works) answers = answersWith(answers, 'since', 'work');
    this.asked = { ...this.asked, complaint: e.complaint, shock: e.shock, notes: e.notes, answers };
  }

  private see(e: EventOf<'seen'>): void {
    // A place says more than "somewhere" and takes its stead; taken back without a place, it was nowhere.
    const others = this.asked.seen.filter((x) => x.what !== e.what || (x.place !== e.place && (e.gone ? e.place !== null : x.place !== null)));
    this.asked = { ...this.asked, seen: e.gone ? others : [...others, { what: e.what, place: e.place }] };
  }

  private waysOff(): WorkState {
    return this.map ? waysOff(this.map, this.state) : this.state;
  }

  private editMap(e: EventOf<'mapEdited'>): void {
    if (!this.map) return void this.flags.push({ event: e, code: 'flag.noMap' });
    const result = editMap(this.map, e.edit);
    if (!result.ok) return void this.flags.push({ event: e, code: 'flag.edit' });
    const way = e.edit.edit === 'drawCircuit' ? e.edit.way : '';
    const renamed = way ? renamedByDrawing(this.map, result.value, way) : null;
    const lump = circuitOfWay(this.map, way).points.find((p) => p.kind === 'undrawn');
    this.map = result.value;
    if (!renamed) return;
    this.state = renamed(this.state);
    this.readings = this.readings.map((r) => ({ ...r, state: renamed(r.state) }));
    this.liveReadings = this.liveReadings.map((r) => ({ ...r, event: plugsRenamed(r.event, renamed), state: renamed(r.state) }));
    const found = lump ? foundByDrawing(result.value, lump.id, this.readings.length, this.liveReadings.length, this.state.on ?? []) : null;
    if (found) this.found.push(found);
  }

  private prove(e: EventOf<'proved'>): void {
    const proof: ProofView = { point: e.point, at: e.at, checks: e.checks, earthPlace: e.earthPlace };
    this.everyProof.push(proof);
    if (this.notDead?.point === e.point) this.notDead = null;
    this.proofs.set(e.point, proof);
    this.go(e.point);
  }

  /** What is not dead is evidence: something feeds it that the record does not know. */
  private foundLive(e: EventOf<'notDead'>): void {
    this.notDead = e;
    this.proofs.delete(e.point);
    const place = (t: string): string => (t === 'rod' ? 'ground' : terminalKey(e.point, t));
    this.liveReadings.push({ event: { id: e.id, at: e.at, type: 'liveRead', test: { kind: 'voltage', from: place(e.from), to: place(e.to), volt: e.volt, meter: 'low' } }, state: this.state, epoch: this.mends.length, struck: null });
  }

  private read(e: EventOf<'read'>): void {
    this.readings.push({ event: e, state: this.state, remade: [...this.remade], unlinked: [...this.unlinked], epoch: this.mends.length, struck: this.struck.get(e.id) ?? null });
    if (!this.map || this.struck.has(e.id)) return;
    const map = this.map;
    this.at = [...new Set([...e.probe.from, ...e.probe.to].map((k) => pointOfPlace(map, k)).filter(Boolean))].slice(0, 2);
  }

  /** An early reading finds its place as soon as there is a board with its way; nobody recorded proof for it. */
  private readEarly(e: EventOf<'early'>): void {
    if (this.struck.has(e.id)) return;
    const probe = this.map && placeEarly(this.map, e);
    if (!probe) return void this.early.push(e);
    const event: EventOf<'read'> = { id: e.id, at: e.at, type: 'read', probe, displayed: e.displayed, unit: e.unit, conditions: [], testVolt: null, unsteady: false, climbing: false, beforeProof: true, retest: null };
    // Nobody said whether loads were out: taken as out, which belief may doubt way by way; taken as in it could doubt nothing.
    const loads = (this.map?.points ?? []).flatMap((p) => loadsOf(p).flatMap((l) => (l.unplugs ? [`${p.id}.${l.id}`] : [])));
    this.readings.push({ event, state: loads.reduce((s, l) => setLoadOut(s, l, true), this.waysOff()), remade: [], unlinked: [], epoch: this.mends.length, struck: null });
  }

  /** Closing a device is a change of state, and so is what it does then. */
  private readLive(e: EventOf<'liveRead'>): void {
    const struck = this.struck.get(e.id) ?? null;
    const { test } = e;
    const devices = this.map ? protectionsOf(this.map) : [];
    const poles = (id: string | null): readonly string[] => devices.find((d) => d.id === id)?.poles ?? [];
    const before = test.kind === 'closed' && !struck ? poles(test.device).reduce((s, p) => setOff(s, p, false), this.state) : this.state;
    this.liveReadings.push({ event: e, state: before, epoch: this.mends.length, struck });
    if (struck || test.kind !== 'closed') return;
    this.state = test.result === 'holds' ? before : poles(test.tripped ?? test.device).reduce((s, p) => setOff(s, p, true), before);
  }

  private go(point: string): void {
    if (!this.at.includes(point)) this.at = [point, ...this.at].slice(0, 2);
  }

  private goTo(place: string): void {
    if (this.map) this.go(pointOfPlace(this.map, place));
  }

  private lapse(): void {
    this.secured = null;
    this.proofs = new Map();
  }

  private clock(e: EventOf<'clock'>): void {
    // A clock that was set back in between has measured nothing.
    if (this.clockSince !== null) this.used += Math.max(0, e.at - this.clockSince) / 60000;
    this.clockSince = e.run ? e.at : null;
  }

  view(now: number): JobView {
    const { map } = this;
    const diary = this.asked.answers.tripsWhen === undefined ? answerOf(patternsOf(this.trips)) : null;
    if (this.secured && (new Date(now).toDateString() !== new Date(this.secured.at).toDateString() || isAhead(this.secured.at, now))) this.lapse();
    for (const [point, proof] of this.proofs) if (now - proof.at > PROOF_HOLDS_MIN * 60000 || isAhead(proof.at, now)) this.proofs.delete(point);
    const parked = (r: Omit<ReadingView, 'parked'>, i: number): string | null => {
      if (!map) return 'no map yet';
      const gone = [...r.event.probe.from, ...r.event.probe.to].find((k) => !placeExists(map, k));
      if (gone !== undefined) return `its place is no longer on the map (${gone})`;
      return throughArrester(map, r) ? THROUGH_ARRESTER : throughUnknownSwitch(map, this.found, r, i) ? UNKNOWN_SWITCH : null;
    };
    return {
      name: this.name, agreedMin: this.agreedMin, createdAt: this.createdAt, status: this.status, asked: diary === null ? this.asked : { ...this.asked, answers: { ...this.asked.answers, tripsWhen: diary } }, diaryAnswers: diary !== null, trips: this.trips, feeds: this.feeds, leftIt: this.leftIt, photos: this.photos, phrase: this.phrase, map,
      state: map ? knownPart(this.state, map) : this.state, secured: this.secured, everSecured: this.everSecured, proofs: this.proofs, everyProof: this.everyProof, notDead: this.notDead,
      readings: this.readings.map((r, i) => ({ ...r, parked: parked(r, i) })), early: this.early, liveReadings: this.liveReadings, epoch: this.mends.length, mends: this.mends,
      liveMetal: liveMetalOf(map, this.liveReadings, this.everyProof, this.mends.length, this.mends.at(-1)?.event.at ?? 0),
      howFound: this.found.flatMap((f) => (f.turned ? [] : f.parts)), linksMade: [...this.linksMade.values()].filter(([a, b]) => map && placeExists(map, a) && placeExists(map, b)),
      remade: [...this.remade], unreachable: [...this.unreachable], whyUnreached: this.whyUnreached, longLead: this.longLead, notNow: this.notNow, live: this.live, leftSafe: this.leftSafe, notes: this.notes, energised: this.energised,
      at: this.at, minutesUsed: this.used + (this.clockSince === null ? 0 : Math.max(0, (now - this.clockSince) / 60000)), clockSince: this.clockSince, flags: this.flags,
    };
  }
}

/** Clocks of two machines differ by so much, ms. What was done later than now was done by a clock that was wrong: nobody knows when. */
const CLOCKS_DIFFER_MS = 5 * 60000;
const isAhead = (at: number, now: number): boolean => at > now + CLOCKS_DIFFER_MS;

/** What was plugged in on a way that was one lump then were all the plugs of its drawing. */
function plugsRenamed(e: EventOf<'liveRead'>, renamed: (s: WorkState) => WorkState): EventOf<'liveRead'> {
  const { test } = e;
  return test.kind === 'closed' && test.plugged ? { ...e, test: { ...test, plugged: [...renamed({ ...untouched, loadsOut: test.plugged }).loadsOut] } } : e;
}

function answersWith(answers: Asked['answers'], question: string, answer: string | null): Asked['answers'] {
  const { [question]: _, ...others } = answers;
  return answer === null ? others : { ...others, [question]: answer };
}

/** The state without what the map no longer has. */
function knownPart(state: WorkState, map: Installation): WorkState {
  return {
    ...state,
    out: state.out.filter((k) => placeExists(map, k)),
    links: state.links.filter((l) => placeExists(map, l.a) && placeExists(map, l.b)),
    opened: state.opened.filter((p) => findPoint(map, p)),
  };
}
