import { draftCircuit, type Installation } from '../installation';
import { deriveJob, type JobEvent, type JobView } from '../job';
import { compileNetwork, planPhysics, resistanceBetween } from '../network';
import { suspectsOf, type Fault } from '../faults';
import { displayOf } from '../tester';
import { Advisor } from '.';
import { afterMends } from './evidence';

const drafted = (phrase: string): Installation => {
  const r = draftCircuit(phrase);
  if (!r.ok) throw new Error(phrase);
  return { ...r.value, sections: r.value.sections.map((s) => ({ ...s, lengthKnown: true })) };
};
const at = Date.UTC(2026, 4, 4, 9, 0);

/** A job whose readings come from the exact network with the faults that are really there at the time. */
class Bench {
  private events: JobEvent[] = [];
  faults: Fault[] = [];
  /** Links that are in although the record has them off. */
  forgotten: { id: string; a: string; b: string }[] = [];

  constructor(readonly map: Installation) {
    this.add({ type: 'created', name: 'Shed', agreedMin: 45 });
    this.add({ type: 'drafted', phrase: '', map });
    const board = map.points.find((p) => p.kind === 'board');
    this.add({ type: 'secured', permission: true, off: true, locked: true, key: 'me' });
    this.add({ type: 'opened', point: board?.id });
    this.add({ type: 'tookOut', point: board?.id, ends: map.sections.flatMap((s) => (s.a === board?.id ? s.cores.map((c) => `${s.id}@a:${c.id}`) : [])) });
  }
  add(e: object): void {
    this.events.push({ ...e, id: `e${this.events.length}`, at } as JobEvent);
  }
  get view(): JobView {
    return deriveJob(this.events, at);
  }
  read(fn: 'continuity' | 'insulation', from: string, to: string): void {
    const { state } = this.view;
    const n = compileNetwork(this.map, { ...state, links: [...state.links, ...this.forgotten] }, this.faults, planPhysics);
    const ohm = resistanceBetween(n, n.index.get(from) ?? -1, n.index.get(to) ?? -1);
    this.add({ type: 'read', probe: { fn, from: [from], to: [to] }, displayed: displayOf(fn, ohm === 'open' ? Infinity : ohm), unit: 'Ω', conditions: [], testVolt: null, unsteady: false, climbing: false, beforeProof: false, retest: null });
  }
  share(id: string): number {
    const now = new Advisor().believe(this.view);
    const i = now?.engine.suspects.findIndex((s) => s.id === id) ?? -1;
    return now?.belief.suspectShare[i] ?? NaN;
  }
  counted(): number {
    return new Advisor().believe(this.view)?.observations.length ?? NaN;
  }
}

describe('a repair', () => {
  const mend = (b: Bench, suspect: string): void => {
    b.add({ type: 'mended', suspect, place: 'p2', how: 'repaired', text: '', explains: 'yes' });
    b.faults = b.faults.filter((f) => f.kind !== 'pointContact');
  };
  const started = (): Bench => {
    const b = new Bench(drafted('radial, 4'));
    b.faults = [{ kind: 'pointContact', point: 'p2', terminals: ['L', 'E'], ohm: 12 }, { kind: 'openCore', section: 's4', core: 'N' }];
    b.read('continuity', 's1@a:L', 's1@a:E');
    b.read('continuity', 's1@a:N', 'p3:N');
    b.read('continuity', 's1@a:N', 'p4:N');
    return b;
  };

  test('ends an epoch for what it touches: the reading that showed the contact no longer counts', () => {
    const b = started();
    expect(b.counted()).toBe(3);
    mend(b, 'contact p2:LE');
    expect(b.counted()).toBe(2);
  });
  test('lets another fault live through it: the neutral readings of before still name the break', () => {
    const b = started();
    mend(b, 'contact p2:LE');
    // Whatever keeps p4's neutral from p3's: the core, either end, or the core crossed with another.
    const broken = ['open s4:N', 'loose s4@a:N', 'loose s4@b:N', 'crossed s4:LN', 'crossed s4:NE'].reduce((sum, id) => sum + (b.share(id) || 0), 0);
    // One reading alone: it may be a slip.
    expect(broken).toBeGreaterThan(0.75);
  });
  test('of something the list does not know ends the epoch for everything', () => {
    const b = started();
    mend(b, 'a chewed flex');
    expect(b.counted()).toBe(0);
  });
});

describe('a forgotten link', () => {
  const link = { id: 'k1', a: 'p4:L', b: 'p4:E' };
  const linked = (): Bench => {
    const b = new Bench(drafted('radial, 4'));
    b.add({ type: 'opened', point: 'p4' });
    b.add({ type: 'linked', link });
    b.read('continuity', 's1@a:L', 's1@a:E');
    b.add({ type: 'unlinked', link: 'k1' });
    return b;
  };

  test('is no suspect before a link was made', () => {
    expect(new Bench(drafted('radial, 4')).share('link p4:L=p4:E')).toBeNaN();
  });
  test('is no suspect while the link is recorded as in', () => {
    const b = new Bench(drafted('radial, 4'));
    b.add({ type: 'opened', point: 'p4' });
    b.add({ type: 'linked', link });
    const before = b.share('link p4:L=p4:E');
    b.read('continuity', 's1@a:L', 's1@a:E');
    expect(b.share('link p4:L=p4:E')).toBeLessThan(3 * before);
  });
  test('is named when the loop still reads through it', () => {
    const b = linked();
    b.forgotten = [link];
    b.read('insulation', 's1@a:L', 's1@a:E');
    b.read('continuity', 's1@a:L', 's1@a:E');
    expect(b.share('link p4:L=p4:E')).toBeGreaterThan(0.03);
    expect(new Advisor().advise(b.view, false)?.fit.doubts.map((d) => d.kind)).toContain('linkLeft');
  });
  test('is cleared when the pair reads open again', () => {
    const b = linked();
    b.read('insulation', 's1@a:L', 's1@a:E');
    expect(b.share('link p4:L=p4:E')).toBeLessThan(1e-4);
  });
});

test('what was put right is less likely to be wrong again, and a replaced cable with everything on it', () => {
  const drafted = draftCircuit('radial, 3');
  if (!drafted.ok) throw new Error('draft');
  const suspects = suspectsOf(drafted.value);
  const mend = (suspect: string, place: string, how: 'repaired' | 'replaced' | 'left safe') => ({ epoch: 1, event: { id: 'm', at: 1, type: 'mended' as const, suspect, place, how, text: '', explains: 'yes' as const } });
  const prior = (list: readonly { id: string; prior: number }[], id: string): number => list.find((s) => s.id === id)?.prior ?? NaN;
  const ratio = (mends: ReturnType<typeof mend>[], id: string): number => prior(afterMends(suspects, mends), id) / prior(suspects, id);
  const repaired = [mend('open s2:N', 's2', 'repaired')];
  expect(ratio(repaired, 'open s2:N') / ratio(repaired, 'open s2:L')).toBeCloseTo(0.1, 6);
  const replaced = [mend('open s2:N', 's2', 'replaced')];
  expect(ratio(replaced, 'open s2:N') / ratio(replaced, 'open s1:N')).toBeCloseTo(0.1, 6);
  expect(ratio(replaced, 'open s2:L') / ratio(replaced, 'open s1:N')).toBeCloseTo(0.1, 6);
  expect(ratio([mend('open s2:N', 's2', 'left safe')], 'open s2:N')).toBe(1);
  expect(afterMends(suspects, replaced).reduce((s, x) => s + x.prior, 0)).toBeCloseTo(1, 9);
});
