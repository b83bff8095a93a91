import { suspectsOf } from '../faults';
import { asGuessed, draftCircuit, endsAtPoint, type Installation, type MapEdit } from '../installation';
import { draft, drawn, edited, platesRead } from '../installation/fixtures/drafted';
import { deriveJob, type JobEvent, type JobView } from '../job';
import { profiles } from '../profiles';
import { retestExpected, retestTitle } from '../wording';
import { FAILS, firstDo, liveLimit, NO_RCD, NO_TRIP, parseLiveFigure, proofOf, rejoinedState, retestResults, retestsOwed, type RetestItem } from '.';

const at = Date.UTC(2026, 4, 4, 9, 0);

/** A job on a drafted circuit: made dead, one thing mended, then whatever the test adds. */
class Mended {
  readonly map: Installation;
  private readonly events: JobEvent[] = [];

  constructor(on: string | Installation, suspect: string, place: string, edit: MapEdit | null = null, pulled = true) {
    const board = typeof on === 'string' ? platesRead(draft(on)) : on;
    this.map = edit ? edited(board, edit) : board;
    this.add({ type: 'created', name: 'Shed', agreedMin: 45 }, { type: 'drafted', phrase: '', map: this.map }, { type: 'secured', permission: true, off: true, locked: true, key: 'me' });
    if (pulled) this.add({ type: 'tookOut', point: 'p0', ends: endsAtPoint(this.map, 'p0').map((e) => e.key) });
    this.add({ type: 'mended', suspect, place, how: 'repaired', text: '', explains: 'yes' });
  }
  add(...events: object[]): this {
    for (const e of events) this.events.push({ ...e, id: `e${this.events.length}`, at } as JobEvent);
    return this;
  }
  rejoin(): this {
    return this.add({ type: 'putBack', point: 'p0', ends: endsAtPoint(this.map, 'p0').map((e) => e.key) });
  }
  read(item: RetestItem, displayed: object): this {
    return this.add({ type: 'read', probe: item.probe, displayed, unit: 'Ω', conditions: [], testVolt: null, unsteady: false, climbing: false, beforeProof: false, retest: item.id });
  }
  get view(): JobView {
    return deriveJob(this.events, at);
  }
  owed(code: RetestItem['code']): RetestItem[] {
    return retestsOwed(this.view).filter((i) => i.code === code);
  }
  item(id: string): RetestItem {
    const found = retestsOwed(this.view).find((i) => i.id === id || `live ${i.live}` === id);
    if (!found) throw new Error(`no ${id} among ${retestsOwed(this.view).map((i) => i.id).join(', ')}`);
    return found;
  }
  verdict(id: string): string {
    return retestResults(this.view).find((r) => r.item.id === id || `live ${r.item.live}` === id)?.verdict ?? 'none';
  }
}

test('nothing is owed before anything is mended', () => {
  const map = draftCircuit('radial, 3');
  const view = deriveJob([{ type: 'drafted', phrase: '', map: map.ok ? map.value : null, id: 'a', at } as JobEvent], at);
  expect(retestsOwed(view)).toEqual([]);
  expect(proofOf(view)).toBe('nothing mended');
});

test('a cable that was mended owes the earth and the polarity beyond it, in its own circuit, before power', () => {
  const job = new Mended('radial, 3', 'contact s2:LN', 's2');
  expect(job.owed('continuity').map((i) => i.id)).toEqual(['continuity E p3']);
  expect(job.owed('polarity').map((i) => i.id)).toEqual(['polarity p3']);
  // A contact in an accessory whose cores stayed where they were owes neither; one whose cable was taken out of it does.
  expect(new Mended('radial, 3', 'contact p2:LN', 'p2').owed('continuity')).toEqual([]);
  const parted = new Mended('radial, 3', 'contact p2:LN', 'p2');
  parted.add({ type: 'opened', point: 'p2' }, { type: 'tookOut', point: 'p2', ends: endsAtPoint(parted.map, 'p2').slice(0, 3).map((e) => e.key) });
  expect(parted.owed('continuity').map((i) => i.id)).toEqual(['continuity E p3']);
  // Line goes through the switch, earth does not.
  const lights = new Mended('lights, 3, one switch', 'contact s2:LN', 's2');
  expect(lights.owed('continuity').map((i) => i.through)).toEqual([[]]);
  expect(lights.owed('polarity').map((i) => i.through)).toEqual([['p1.sw']]);
  // On a board the furthest point is the circuit's own, however long another is.
  const board = new Mended('3 ways', 'contact s2:LN', 's2', { edit: 'drawCircuit', way: 'w2', phrase: 'radial, 2' }, false);
  const own = board.owed('continuity').map((i) => i.id);
  expect(own).toHaveLength(1);
  expect(['c1', 'c3'].some((p) => own[0]?.includes(p))).toBe(false);
});

test('a series fault owes its own conductor at its points and at the furthest, and the earth of a cable that was made again, expected from the cable: 17 m of 2.5 mm² and joints', () => {
  const job = new Mended('radial, 3', 'open s2:N', 's2');
  expect(job.owed('continuity').map((i) => i.id).sort()).toEqual(['continuity E p3', 'continuity N p1', 'continuity N p2', 'continuity N p3']);
  // An end is made again by itself.
  expect(new Mended('radial, 3', 'loose s2@a:N', 'p1').owed('continuity').map((i) => i.id)).not.toContain('continuity E p3');
  // 10 m and 7 m of 7.41 mΩ/m; four terminations of 3.5 mΩ and a face contact of 4 mΩ.
  expect(job.item('continuity N p2').expectedOhm).toBeCloseTo(17 * 0.00741 + 4 * 0.0035 + 0.004, 4);
  // To the furthest, seven metres and two terminations more.
  expect(job.item('continuity N p3').expectedOhm).toBeCloseTo(24 * 0.00741 + 6 * 0.0035 + 0.004, 4);
});

test('a ring that was parted owes each core from leg to leg, with both legs out, and no other circuit does', () => {
  const job = new Mended('ring, 3', 'open s2:L', 's2');
  const [ring] = job.owed('ring');
  expect(job.owed('ring')).toHaveLength(3);
  // 10 + 7 + 7 + 7 m of line, two terminations at each of three points.
  expect(ring?.expectedOhm).toBeCloseTo(31 * 0.00741 + 6 * 0.0035, 4);
  job.rejoin();
  expect(ring && firstDo(job.map, ring, job.view.state)).toBe('legs out');
  const legs = endsAtPoint(job.map, 'p0').map((e) => e.key);
  job.add({ type: 'tookOut', point: 'p0', ends: legs });
  expect(ring && firstDo(job.map, ring, job.view.state)).toBeNull();
  // With an outlet still apart nothing goes round, and the legs are not asked back for it.
  const outlet = endsAtPoint(job.map, 'p2').map((e) => e.key).slice(0, 3);
  job.add({ type: 'tookOut', point: 'p2', ends: outlet });
  expect(ring && firstDo(job.map, ring, job.view.state)).toBe('all but the legs');
  job.add({ type: 'putBack', point: 'p2', ends: outlet });
  if (ring) job.read(ring, { above: 1e5 });
  expect(job.verdict(ring?.id ?? '')).toBe('not met');
  if (ring) job.read(ring, { ohm: 0.26 });
  expect(job.verdict(ring?.id ?? '')).toBe('met');
  // With the whole ring rejoined it is no test of the ring.
  job.rejoin();
  if (ring) job.read(ring, { ohm: 0.01 });
  expect(job.verdict(ring?.id ?? '')).toBe('met');
  expect(new Mended('ring, 3', 'crossed s2:LN', 's2').owed('ring')).toHaveLength(3);
  // A cable that was mended was out, whatever was wrong with it.
  expect(new Mended('ring, 3', 'contact s2:LE', 's2').owed('ring')).toHaveLength(3);
  expect(new Mended('radial, 3', 'open s2:N', 's2').owed('ring')).toEqual([]);
});

test('what nobody had out is not owed: no board terminal, and no ring for a contact at a point of it', () => {
  const at = new Mended('ring, 3', 'contact p2:NE', 'p2', null, false);
  expect(at.owed('boardTerminals')).toEqual([]);
  expect(at.owed('ring')).toEqual([]);
  expect(at.owed('insulation')).toHaveLength(3);
  // One way's neutral was pulled: its terminal, and none of its other conductors'.
  const one = new Mended('4 ways, RCD on 1 to 4', 'contact c2:NE', 'c2', null, false).add({ type: 'tookOut', point: 'p0', ends: ['s3@a:N'] });
  expect(one.owed('boardTerminals').map((i) => i.probe?.from)).toEqual([['s3@a:N']]);
});

test('a broken CPC is expected by its own size: 1.5 mm² beside 2.5', () => {
  const job = new Mended('radial, 2', 'open s2:E', 's2');
  expect(job.item('continuity E p2').expectedOhm).toBeCloseTo(17 * 0.0121 + 4 * 0.0035 + 0.004, 4);
});

test('the middle of a ring is expected at half of each way: the two legs lie in parallel', () => {
  const job = new Mended('ring, 3', 'open s2:L', 's2');
  // Legs 10 m and 7, 7, 7: to point 2 it is 17 m against 14 m.
  const metal = (17 * 14 * 0.00741) / 31;
  expect(job.item('continuity L p2').expectedOhm).toBeGreaterThan(metal);
  expect(job.item('continuity L p2').expectedOhm).toBeLessThan(metal + 0.03);
});

test('a contact owes every insulation pair, then line and neutral tied to earth with the loads back; in an accessory whose cores stayed in no continuity', () => {
  const job = new Mended('lights, 3, one switch', 'contact p2:LE', 'p2');
  expect(job.owed('insulation').map((i) => i.id)).toEqual(['insulation LN', 'insulation LE', 'insulation NE']);
  expect(job.owed('continuity')).toEqual([]);
  const [tied] = job.owed('insulationLoadsBack');
  expect(tied?.probe).toEqual({ fn: 'insulation', from: ['p0:W', 'p0:N'], to: ['p0:E'] });
});

test('a circuit that draws no load owes no test with loads back', () => {
  expect(new Mended('radial, 3', 'contact s2:LE', 's2').owed('insulationLoadsBack')).toEqual([]);
});

test('a crossing owes all three conductors and polarity at both ends of its cable', () => {
  const job = new Mended('radial, 3', 'crossed s2:LN', 's2');
  expect(job.owed('continuity').map((i) => i.id)).toEqual(expect.arrayContaining(['continuity L p1', 'continuity N p1', 'continuity E p1', 'continuity L p2', 'continuity N p2', 'continuity E p2']));
  expect(job.owed('polarity').map((i) => i.id)).toEqual(['polarity p1', 'polarity p2']);
});

test.each(['open s2:N', 'contact s2:LE', 'crossed s2:LN', 'loose s1@b:L'])('after “%s” the board’s own terminals and three live tests are owed', (suspect) => {
  const job = new Mended('radial, 3', suspect, 's2');
  expect(job.owed('boardTerminals')).toHaveLength(3);
  expect(job.owed('live').map((i) => i.live)).toEqual(['loop', 'rcd', 'function']);
});

test('two repairs that owe the same test owe it once', () => {
  const job = new Mended('radial, 3', 'open s2:N', 's2').add({ type: 'mended', suspect: 'open s3:N', place: 's3', how: 'repaired', text: '', explains: 'no' });
  const ids = retestsOwed(job.view).map((i) => i.id);
  expect(new Set(ids).size).toBe(ids.length);
});

test('a reading counts only with everything rejoined and since the repair', () => {
  const job = new Mended('radial, 3', 'open s2:N', 's2');
  const item = job.item('continuity N p3');
  job.read(item, { ohm: 0.2 });
  expect(job.verdict(item.id)).toBe('open');
  job.rejoin().read(item, { ohm: 0.2 });
  expect(job.verdict(item.id)).toBe('met');
  job.add({ type: 'mended', suspect: 'loose s1@b:L', place: 'p1', how: 'repaired', text: '', explains: 'no' });
  expect(job.verdict(item.id)).toBe('open');
});

test.each([[0.2, 'met'], [0.31, 'met'], [0.45, 'not met'], [0.02, 'not met']])('expected 0.20 Ω and read %d Ω is %s', (ohm, verdict) => {
  const job = new Mended('radial, 3', 'open s2:N', 's2').rejoin();
  const item = job.item('continuity N p3');
  expect(item.expectedOhm).toBeCloseTo(0.203, 3);
  expect(job.read(item, { ohm }).verdict(item.id)).toBe(verdict);
});

test.each([[{ above: 999e6 }, 'met'], [{ ohm: 1e6 }, 'met'], [{ ohm: 0.99e6 }, 'not met'], [{ ohm: 0 }, 'not met']])('insulation of %o is %s against 1 MΩ', (displayed, verdict) => {
  const job = new Mended('radial, 3', 'contact s2:LE', 's2').rejoin();
  expect(job.read(job.item('insulation LE'), displayed).verdict('insulation LE')).toBe(verdict);
});

test('polarity is no path from line to neutral, loads out', () => {
  const job = new Mended('radial, 3', 'crossed s2:LN', 's2').rejoin();
  const item = job.item('polarity p1');
  expect(job.read(item, { ohm: 0.1 }).verdict(item.id)).toBe('not met');
  expect(job.read(item, { above: 1e5 }).verdict(item.id)).toBe('met');
});

test('what must be done first: rejoin, then loads out, or loads back', () => {
  const job = new Mended('lights, 3, one switch', 'contact s2:LE', 's2');
  const pair = job.item('insulation LN');
  const tied = job.item('insulationLoadsBack L+N E');
  expect(firstDo(job.map, pair, job.view.state)).toBe('rejoin');
  job.rejoin();
  expect(firstDo(job.map, pair, job.view.state)).toBe('loads out');
  expect(firstDo(job.map, tied, job.view.state)).toBeNull();
  const lamps = job.map.points.flatMap((p) => p.elements.flatMap((e) => (e.kind === 'load' ? [`${p.id}.${e.id}`] : [])));
  expect(lamps).toHaveLength(3);
  job.add({ type: 'loadsMoved', parts: lamps, out: true });
  expect(firstDo(job.map, pair, job.view.state)).toBeNull();
  expect(firstDo(job.map, tied, job.view.state)).toBe('loads back');
});

test('low between line and neutral with something perhaps plugged in is no failure: it is read again with everything out', () => {
  const job = new Mended('radial, 3', 'contact s2:LE', 's2').rejoin();
  const item = job.item('insulation LN');
  const result = (): ReturnType<typeof retestResults>[number] | undefined => retestResults(job.view).find((r) => r.item.id === item.id);
  job.read(item, { ohm: 0 });
  expect(result()?.verdict).toBe('open');
  expect(proofOf(job.view)).toBe('not proved');
  expect(result()?.loadsIn).toHaveLength(3);
  job.add({ type: 'loadsMoved', parts: [...(result()?.loadsIn ?? [])], out: true }).read(item, { ohm: 0 });
  expect(result()?.verdict).toBe('not met');
});

test('a link that was left in keeps every retest waiting', () => {
  const job = new Mended('radial, 3', 'open s2:N', 's2').rejoin().add({ type: 'linked', link: { id: 'k', a: 'p3:L', b: 'p3:E' } });
  expect(firstDo(job.map, job.item('continuity N p3'), job.view.state)).toBe('rejoin');
  expect(rejoinedState(job.view.state)).toMatchObject({ out: [], links: [] });
});

test('“not done, because …” is kept, and the job is not proved', () => {
  const job = new Mended('radial, 3', 'contact s2:LE', 's2').rejoin();
  for (const item of retestsOwed(job.view)) {
    if (item.live) job.add({ type: 'liveTest', test: item.live, result: item.live === 'rcd' ? null : item.live === 'loop' ? '0.62 Ω' : 'works as it should', because: item.live === 'rcd' ? 'no tester' : null });
    else job.read(item, item.leastOhm === null ? { ohm: item.expectedOhm ?? 0 } : { above: 999e6 });
  }
  expect(job.verdict('live rcd')).toBe('not done');
  expect(proofOf(job.view)).toBe('not proved');
  job.add({ type: 'liveTest', test: 'rcd', result: '24 ms', because: null });
  expect(proofOf(job.view)).toBe('proved');
});

test('words are no figure: a loop or a trip time that is not a number stays open', () => {
  const job = new Mended('radial, 3', 'contact s2:LE', 's2').rejoin().add({ type: 'liveTest', test: 'loop', result: 'good', because: null });
  expect(job.verdict('live loop')).toBe('open');
  expect(parseLiveFigure('loop', 'fine').ok).toBe(false);
  expect(parseLiveFigure('loop', '28 ms').ok).toBe(false);
  expect(parseLiveFigure('loop', '0,62')).toEqual({ ok: true, value: 0.62 });
  expect(parseLiveFigure('loop', '620 mΩ')).toEqual({ ok: true, value: 0.62 });
  expect(parseLiveFigure('rcd', '0.3 s')).toEqual({ ok: true, value: 300 });
  // Where it was read may follow.
  expect(parseLiveFigure('loop', '0.71 Ω at Kettle corner')).toEqual({ ok: true, value: 0.71 });
  expect(parseLiveFigure('rcd', '24 ms at 1×; button trips')).toEqual({ ok: true, value: 24 });
});

test('a figure is held against its limit: 320 ms is too slow, and what does not work is not met', () => {
  const job = new Mended('radial, 3', 'contact s2:LE', 's2').rejoin().add({ type: 'liveTest', test: 'rcd', result: '320 ms', because: null }, { type: 'liveTest', test: 'function', result: `${FAILS}: the hood fan`, because: null });
  expect([job.verdict('live rcd'), job.verdict('live function')]).toEqual(['not met', 'not met']);
  job.add({ type: 'liveTest', test: 'rcd', result: '38 ms', because: null });
  expect(job.verdict('live rcd')).toBe('met');
});

test('a loop of 2.9 Ω fails behind a B 32, 0.9 Ω passes: 230 V × 0.95 ÷ 160 A is 1.37 Ω', () => {
  const job = new Mended('6 ways', 'contact c2:LE', 'c2').rejoin();
  expect(liveLimit(job.map, 'loop', 'c2', profiles.gb)?.most).toBeCloseTo(1.366, 3);
  expect(job.add({ type: 'liveTest', test: 'loop', result: '2.9 Ω', because: null }).verdict('live loop')).toBe('not met');
  expect(job.add({ type: 'liveTest', test: 'loop', result: '0.9 Ω', because: null }).verdict('live loop')).toBe('met');
});

test('no RCD is tested where the map has none', () => {
  expect(new Mended('6 ways', 'contact c2:LE', 'c2').owed('live').map((i) => i.live)).toEqual(['loop', 'function']);
  expect(new Mended('6 ways, RCD on 1 to 6', 'contact c2:LE', 'c2').owed('live').map((i) => i.live)).toEqual(['loop', 'rcd', 'function']);
});

test('what was measured on Live since the repair answers a retest: the slower half-cycle, a device that did not trip', () => {
  const job = new Mended('6 ways, RCD on 1 to 6', 'contact c2:LE', 'c2').rejoin();
  job.add({ type: 'liveRead', test: { kind: 'times', device: 'G1', multiple: 1, ms: 28 } });
  expect(job.verdict('live rcd')).toBe('met');
  job.add({ type: 'liveRead', test: { kind: 'times', device: 'G1', multiple: 1, ms: null } });
  expect(job.verdict('live rcd')).toBe('not met');
});

test('a reading that is struck out is no retest', () => {
  const job = new Mended('radial, 3', 'open s2:N', 's2').rejoin();
  const item = job.item('continuity N p3');
  job.read(item, { ohm: 0.2 });
  const target = job.view.readings[0]?.event.id;
  expect(job.add({ type: 'struck', target, why: 'wrong terminal' }).verdict(item.id)).toBe('open');
});

test('the reading before the repair stands beside the one after', () => {
  const drafted = new Mended('radial, 3', 'open s2:N', 's2');
  const item = drafted.item('continuity N p3');
  const events: object[] = [
    { type: 'drafted', phrase: '', map: drafted.map },
    { type: 'read', probe: item.probe, displayed: { above: 1e5 }, unit: 'Ω', conditions: [], testVolt: null, unsteady: false, climbing: false, beforeProof: false, retest: null },
    { type: 'mended', suspect: 'open s2:N', place: 's2', how: 'repaired', text: '', explains: 'yes' },
    { type: 'read', probe: item.probe, displayed: { ohm: 0.2 }, unit: 'Ω', conditions: [], testVolt: null, unsteady: false, climbing: false, beforeProof: false, retest: item.id },
  ];
  const view = deriveJob(events.map((e, i) => ({ ...e, id: `x${i}`, at }) as JobEvent), at);
  const result = retestResults(view).find((r) => r.item.id === item.id);
  expect([result?.before?.event.displayed, result?.reading?.event.displayed]).toEqual([{ above: 1e5 }, { ohm: 0.2 }]);
});

test('what loads showed before the repair does not stand beside the insulation after it; what passed with loads in does', () => {
  const before = (displayed: object, loadsOut: boolean): unknown => {
    const drafted = new Mended('3 ways', 'loose s2@b:N', 's2', null, false);
    const item = drafted.item('insulation LN');
    const loads = drafted.map.points.flatMap((p) => p.elements.flatMap((e) => (e.kind === 'load' ? [`${p.id}.${e.id}`] : [])));
    const events: object[] = [
      { type: 'drafted', phrase: '', map: drafted.map },
      ...(loadsOut ? [{ type: 'loadsMoved', parts: loads, out: true }] : []),
      { type: 'read', probe: item.probe, displayed, unit: 'MΩ', conditions: [], testVolt: 500, unsteady: false, climbing: false, beforeProof: false, retest: null },
      { type: 'mended', suspect: 'loose s2@b:N', place: 's2', how: 'repaired', text: '', explains: 'yes' },
    ];
    const view = deriveJob(events.map((e, i) => ({ ...e, id: `x${i}`, at }) as JobEvent), at);
    return retestResults(view).find((r) => r.item.id === item.id)?.before?.event.displayed ?? null;
  };
  expect(before({ ohm: 2e4 }, false)).toBeNull();
  expect(before({ ohm: 2e4 }, true)).toEqual({ ohm: 2e4 });
  expect(before({ ohm: 2e8 }, false)).toEqual({ ohm: 2e8 });
});

test('of a circuit whose board is not drawn it is asked whether there is an RCD; where there is none no time is owed, where the map shows one the answer does not count', () => {
  const single = new Mended('radial, 3', 'open s2:N', 's2');
  expect(retestTitle(single.map, single.item('live rcd'))).toBe('RCD, if there is one: trip time at its rated current, and the test button');
  single.add({ type: 'liveTest', test: 'rcd', result: NO_RCD, because: null });
  expect(single.verdict('live rcd')).toBe('met');
  const board = new Mended('3 ways, RCD on 1 to 3', 'contact s2:LE', 's2').add({ type: 'liveTest', test: 'rcd', result: NO_RCD, because: null });
  expect(board.verdict('live rcd')).toBe('open');
  expect(retestTitle(board.map, board.item('live rcd'))).not.toContain('if there is one');
});

test('a new residual device owes all that it can do: no trip at half, its time, and a ramp from half its rated current up to it', () => {
  const job = new Mended('6 ways, RCD on 1 to 6', 'sensitive G1', 'p0.G1').rejoin();
  expect(job.owed('live').map((i) => i.key)).toEqual(['loop G1', 'half G1', 'rcd G1', 'ramp G1', 'function']);
  expect(liveLimit(job.map, 'ramp', 'p0.G1', profiles.gb)).toEqual({ least: 15, most: 30, unit: 'mA' });
  const answer = (test: string, result: string): string => job.add({ type: 'liveTest', test, result, because: null }).verdict(`live ${test.split(' ')[0]}`);
  expect([answer('half G1', '190 ms'), answer('half G1', NO_TRIP)]).toEqual(['not met', 'met']);
  expect([answer('rcd G1', NO_TRIP), answer('rcd G1', '28 ms')]).toEqual(['not met', 'met']);
  expect([answer('ramp G1', '12 mA'), answer('ramp G1', '34 mA'), answer('ramp G1', NO_TRIP), answer('ramp G1', '0.022 A')]).toEqual(['not met', 'not met', 'not met', 'met']);
  expect(parseLiveFigure('ramp', '22 ms').ok).toBe(false);
});

test('what was measured on Live answers for a new device too: half a rated current that held, a ramp with its ways off', () => {
  const job = new Mended('6 ways, RCD on 1 to 6', 'sensitive G1', 'p0.G1').rejoin();
  job.add({ type: 'liveRead', test: { kind: 'times', device: 'G1', multiple: 0.5, ms: null } }, { type: 'liveRead', test: { kind: 'ramp', device: 'G1', mA: 22, outgoing: 'out' } });
  expect([job.verdict('live half'), job.verdict('live ramp')]).toEqual(['met', 'met']);
  // With its loads on a ramp is of everything behind it, not of the device.
  const withLoads = new Mended('6 ways, RCD on 1 to 6', 'sensitive G1', 'p0.G1').rejoin().add({ type: 'liveRead', test: { kind: 'ramp', device: 'G1', mA: 22, outgoing: 'in' } });
  expect(withLoads.verdict('live ramp')).toBe('open');
});

test('a borrowed neutral that was brought back owes its pair and the clamp round it: what goes out comes back', () => {
  const phrase = '6 ways, RCD on 1 to 3, RCD on 4 to 6';
  const suspect = suspectsOf(drawn(draft(phrase), 'w2', 'radial, 3')).find((s) => s.kind === 'borrowed' && s.place !== 'c1');
  const job = new Mended(phrase, suspect?.id ?? '', suspect?.place ?? '', { edit: 'drawCircuit', way: 'w2', phrase: 'radial, 3' }).rejoin();
  const clamp = job.item('live clamp');
  for (const core of ['L', 'N', 'E']) expect(job.owed('continuity').map((i) => i.id)).toContain(`continuity ${core} ${suspect?.place ?? ''}`);
  // Three tenths of 30 mA may stand on it.
  const answer = (result: string): string => job.add({ type: 'liveTest', test: clamp.key, result, because: null }).verdict('live clamp');
  expect([answer('0.4 A'), answer('3.1 mA')]).toEqual(['not met', 'met']);
  expect(new Mended(phrase, 'contact c2:LE', 'c2').owed('live').map((i) => i.live)).not.toContain('clamp');
});

test('a figure is neither met nor failed by a device that nobody has read: first what stands on it', () => {
  for (const { phrase, suspect, place, test, device, figures, says } of [
    { phrase: '6 ways', suspect: 'contact c2:LE', place: 'c2', test: 'loop', device: 'w2', figures: ['2.9 Ω', '0.9 Ω'], says: /if B32/ },
    { phrase: '6 ways, RCD on 1 to 6', suspect: 'sensitive G1', place: 'p0.G1', test: 'ramp', device: 'G1', figures: ['9 mA', '22 mA'], says: /if 30 mA/ },
  ] as const) {
    const job = new Mended(draft(phrase), suspect, place).rejoin();
    const item = job.item(`live ${test}`);
    for (const result of figures) {
      job.add({ type: 'liveTest', test: item.key, result, because: null });
      expect(retestResults(job.view).find((r) => r.item.id === item.id)).toMatchObject({ verdict: 'open', because: result, onGuess: device });
    }
    expect(retestExpected(job.view, item, profiles.gb)).toMatch(says);
    expect(proofOf(job.view)).not.toBe('proved');
    // It is what was guessed: the figures that stand are judged by it.
    job.add({ type: 'mapEdited', edit: asGuessed(job.map, device) });
    expect(job.verdict(`live ${test}`)).toBe('met');
    expect(retestExpected(job.view, item, profiles.gb)).not.toMatch(says);
    job.add({ type: 'liveTest', test: item.key, result: figures[0], because: null });
    expect(job.verdict(`live ${test}`)).toBe('not met');
  }
  // Another stands on it: 0.9 Ω opens a B32 and no C40.
  const job = new Mended(draft('6 ways'), 'contact c2:LE', 'c2').rejoin().add({ type: 'liveTest', test: 'loop', result: '0.9 Ω', because: null });
  expect(job.add({ type: 'mapEdited', edit: { edit: 'setDevice', way: 'w2', device: { kind: 'mcb', curve: 'C', ratingA: 40, opens: 'line', residualMa: null } } }).verdict('live loop')).toBe('not met');
});

test('repairs on two circuits owe a loop each; what one answers leaves the other open', () => {
  const job = new Mended('6 ways, RCD on 1 to 6', 'contact c2:LE', 'c2').add({ type: 'mended', suspect: 'contact c4:LE', place: 'c4', how: 'repaired', text: '', explains: 'yes' }).rejoin();
  expect(job.owed('live').map((i) => i.key)).toEqual(['loop w2', 'rcd G1', 'function', 'loop w4']);
  job.add({ type: 'liveTest', test: 'loop w2', result: '0.9 Ω', because: null });
  expect(retestResults(job.view).flatMap((r) => (r.item.live === 'loop' ? [r.verdict] : []))).toEqual(['met', 'open']);
  expect(retestTitle(job.map, job.item('live loop'))).toContain('Way 2');
});

test('an end behind a switch is read with the switch on: through one that is off no path is no proof', () => {
  const job = new Mended('lights, 4, one switch', 'open s4:L', 's4').rejoin();
  const behind = job.owed('continuity').filter((i) => i.id.startsWith('continuity L'));
  expect(behind.length).toBeGreaterThan(0);
  for (const i of behind) expect(i.expectedOhm).toBeLessThan(5);
  const [item] = behind;
  const [part = ''] = item?.through ?? [];
  expect(part).not.toBe('');
  job.add({ type: 'switched', part, off: true });
  if (!item) return;
  expect(firstDo(job.map, item, job.view.state)).toBe('switches on');
  expect(job.read(item, { above: 1e5 }).verdict(item.id)).toBe('open');
  job.add({ type: 'switched', part, off: false });
  expect(firstDo(job.map, item, job.view.state)).toBeNull();
  expect(job.read(item, { above: 1e5 }).verdict(item.id)).toBe('not met');
  expect(job.read(item, { ohm: item.expectedOhm ?? 0 }).verdict(item.id)).toBe('met');
});
