import { Advisor, safetyOf, type StepView } from '../advice';
import { boardOf, endsAtPoint, findPoint } from '../installation';
import { beforeLive, deriveJob, eventOfAction, JOB_FORMAT, JOB_VERSION, putOn, type EventBody, type JobEvent, type JobFile, type JobView } from '../job';
import { seededRandom } from '../numeric';
import type { Action } from '../planning';
import { firstDo, retestResults, switchesToClose } from '../retest';
import { provingPairs, putBackList, unmetNeeds, watchesDevice, type LiveDo } from '../safety';
import { askOf, liveTesterOf, type SimulatedLive } from './liveTester';
import { isAbove } from '../tester';
import { practiceTruth } from './practice';
import type { Scenario } from './pottery';
import { SimulatedTester } from './truth';

/** A hunt played through by the app's own advice: makes the demo jobs, and tests the whole path without a screen. */
export class Play {
  file: JobFile;
  private clock: number;
  private count = 0;
  private readonly advisor = new Advisor();
  private tester: SimulatedTester | null = null;
  private testerMends = -1;
  private live: SimulatedLive | null = null;

  constructor(
    readonly scenario: Scenario,
    startAt: number,
  ) {
    this.clock = startAt;
    this.file = { format: JOB_FORMAT, version: JOB_VERSION, id: scenario.id, events: [], practice: { seed: scenario.seed, faults: [...scenario.faults] } };
    this.record({ type: 'created', name: scenario.name, agreedMin: scenario.agreedMin }, { type: 'drafted', phrase: scenario.phrase, map: scenario.map }, { type: 'asked', ...scenario.asked });
    for (const point of scenario.cantReach) this.record({ type: 'cantReach', point, can: false });
  }

  get view(): JobView {
    return deriveJob(this.file.events, this.clock);
  }

  record(...bodies: EventBody[]): void {
    const added = bodies.map((b) => ({ ...b, id: `${this.scenario.id}-${++this.count}`, at: this.clock }) as JobEvent);
    this.file = { ...this.file, events: [...this.file.events, ...added] };
  }

  wait(minutes: number): void {
    this.clock += minutes * 60000;
  }

  /** Clock on, secured, board proved and opened; everything out at the board and loads out, unless it is left joined. */
  makeDead(apart = true): void {
    const { map } = this.scenario;
    const board = boardOf(map)?.id ?? '';
    this.record({ type: 'clock', run: true });
    this.wait(4);
    this.record({ type: 'secured', permission: true, off: true, locked: true, key: 'with me' });
    this.record({ type: 'opened', point: board });
    this.prove(board);
    this.wait(2);
    if (!apart) return;
    // One circuit comes out of the board whole; of many ways the neutrals and earths stay in their bars.
    if (map.shape !== 'board') this.record({ type: 'tookOut', point: board, ends: endsAtPoint(map, board).map((e) => e.key) });
    const loads = map.points.flatMap((p) => p.elements.flatMap((e) => (e.kind === 'load' && e.unplugs ? [`${p.id}.${e.id}`] : [])));
    if (loads.length) this.record({ type: 'loadsMoved', parts: loads, out: true });
  }

  prove(point: string): void {
    const earth = 'rod in the yard';
    const checks = [
      ...provingPairs(this.scenario.map, point).map(([from, to]) => ({ from, to, volt: 0, bleep: false })),
      ...(findPoint(this.scenario.map, point)?.terminals ?? []).map((t) => ({ from: 'rod', to: t.id, volt: 0, bleep: false })),
    ];
    this.wait(1);
    this.record({ type: 'proved', point, checks, earthPlace: earth });
  }

  private instrument(): SimulatedTester {
    const { view } = this;
    const touched = view.mends.length + view.remade.length;
    if (!this.tester || this.testerMends !== touched) {
      const truth = practiceTruth(this.file, this.scenario.map, view.mends.map((m) => m.event.suspect), view.remade);
      if (!truth) throw new Error('no practice truth');
      this.tester = new SimulatedTester(truth.truth, seededRandom(truth.seed + view.mends.length), 0);
      this.testerMends = touched;
    }
    return this.tester;
  }

  read(probe: { fn: 'continuity' | 'insulation'; from: string[]; to: string[] }, retest: string | null = null): void {
    const { view } = this;
    const needs = unmetNeeds(this.scenario.map, safetyOf(view), { actions: [], probes: [probe], earthDoubt: true });
    for (const n of needs) if (n.need === 'proved') this.prove(n.point);
    const displayed = this.instrument().read(view.state, probe);
    const unit = probe.fn === 'insulation' ? 'MΩ' : !isAbove(displayed) && displayed.ohm >= 1000 ? 'kΩ' : 'Ω';
    this.wait(0.4);
    this.record({ type: 'read', probe, displayed, unit, conditions: ['dry'], testVolt: probe.fn === 'insulation' ? 500 : null, unsteady: false, climbing: false, beforeProof: false, retest });
  }

  private liveInstrument(): SimulatedLive {
    const truth = practiceTruth(this.file, this.scenario.map, this.view.mends.map((m) => m.event.suspect));
    if (!truth) throw new Error('no practice truth');
    return (this.live ??= liveTesterOf(truth.truth, truth.seed));
  }

  /** Makes one live step with the practice board. */
  makeLive(step: LiveDo): void {
    const { before, along, state } = beforeLive(this.scenario.map, this.view.state, step);
    for (const e of [...before, ...along]) this.record(e);
    // What is closed to see is closed in the state that comes with it; everything else is read in the state as recorded.
    const answer = this.liveInstrument().answer(watchesDevice(step) ? state : this.view.state, askOf(step));
    this.record({ type: 'liveRead', test: { ...answer, ...putOn(step) } });
    this.wait(1);
  }

  /** Follows the advice while it begins with the supply on; gives the number of live steps made. */
  workDevices(mostSteps: number): number {
    for (let i = 0; i < mostSteps; i++) {
      const advice = this.advisor.advise(this.view);
      const step = advice?.liveSteps[0];
      if (!advice?.liveFirst || !step || advice.verdict.says !== 'none') return i;
      this.makeLive(step.step);
    }
    return mostSteps;
  }

  /** Follows the advice for at most so many steps; true when it names a place. */
  hunt(mostSteps: number): boolean {
    for (let i = 0; i < mostSteps; i++) {
      const advice = this.advisor.advise(this.view);
      if (!advice || advice.verdict.says === 'place' || advice.verdict.says === 'draw' || advice.verdict.says === 'sound' || advice.verdict.says === 'two') return advice !== null && advice.verdict.says !== 'sound';
      const step = advice.steps[0];
      if (!step) return false;
      this.make(step);
    }
    return false;
  }

  /** Makes one dead step: what the hands do, then its readings. */
  make(step: Pick<StepView, 'actions' | 'probes'>): void {
    for (const a of step.actions) this.act(a);
    for (const p of step.probes) this.read({ fn: p.fn, from: [...p.from], to: [...p.to] });
  }

  /** The place that the advice now names, and its likeliest suspect. */
  verdict(): { place: string; share: number; suspect: string } {
    const advice = this.advisor.advise(this.view, false);
    return { place: advice?.verdict.place ?? '', share: advice?.verdict.share ?? 0, suspect: advice?.suspects[0]?.id ?? '' };
  }

  private act(a: Action): void {
    this.wait(1);
    this.record(eventOfAction(a));
    if (a.do === 'open') this.prove(a.point);
  }

  /** Mends the leading suspect, puts everything back and takes every retest. */
  putRight(text: string): void {
    const { suspect, place } = this.verdict();
    const explains = this.advisor.advise(this.view, false)?.suspects[0]?.explains.says;
    this.wait(9);
    this.record({ type: 'mended', suspect, place, how: 'repaired', text, explains: explains === 'while' ? 'yes' : explains === 'yes' || explains === 'no' ? explains : 'not sure' });
    for (const item of putBackList(this.scenario.map, this.view.state, true)) {
      this.wait(0.5);
      if (item.kind === 'link') this.record({ type: 'unlinked', link: item.parts[0] ?? '' });
      else if (item.kind === 'ends') this.record({ type: 'putBack', point: item.point, ends: [...item.parts] });
    }
    this.retest();
    for (const item of putBackList(this.scenario.map, this.view.state, true)) if (item.kind === 'load') this.record({ type: 'loadsMoved', parts: [...item.parts], out: false });
    this.retest();
    for (const item of putBackList(this.scenario.map, this.view.state, true)) if (item.kind === 'cover') this.record({ type: 'coverOn', point: item.point });
  }

  /** Reads every retest still open that the state of the work allows; the legs of a ring come out for theirs, and go back. */
  private retest(): void {
    const board = boardOf(this.scenario.map)?.id ?? '';
    const ring = retestResults(this.view).filter((r) => r.verdict === 'open' && firstDo(this.scenario.map, r.item, this.view.state) === 'legs out');
    const legs = [...new Set(ring.flatMap((r) => r.item.legs ?? []))];
    if (legs.length) {
      this.record({ type: 'tookOut', point: board, ends: legs });
      for (const { item } of ring) if (item.probe) this.read(item.probe, item.id);
      this.record({ type: 'putBack', point: board, ends: legs });
    }
    for (const part of switchesToClose(this.view)) this.record({ type: 'switched', part, off: false });
    for (const r of retestResults(this.view)) if (r.item.probe && r.verdict === 'open' && firstDo(this.scenario.map, r.item, this.view.state) === null) this.read(r.item.probe, r.item.id);
  }
}
