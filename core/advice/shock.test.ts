import { draftCircuit } from '../installation';
import { deriveJob, type EventBody, type JobEvent, type JobView } from '../job';
import { suspectsOf } from '../faults';
import { explainsText, liveStepTitle } from '../wording';
import { explains } from './explains';
import { Advisor, drawKey } from '.';

// After a shock the metal is measured first, against an earth of its own: whoever waits may touch it again.

function viewOf(...bodies: readonly EventBody[]): JobView {
  const r = draftCircuit('5 ways, RCD on 1 to 5, TN-C-S');
  if (!r.ok) throw new Error('draft');
  const start: EventBody[] = [{ type: 'created', name: 'shock', agreedMin: 90 }, { type: 'drafted', phrase: '5 ways', map: r.value }, { type: 'asked', complaint: 'shock', shock: true, notes: '' }];
  return deriveJob([...start, ...bodies].map((b, i) => ({ ...b, id: `e${i}`, at: 1e12 + i }) as JobEvent), 1e12 + 60_000);
}
const metal = (volt: number): EventBody => ({ type: 'liveRead', test: { kind: 'voltage', from: 'p0:E', to: 'ground', volt, meter: 'low' } });
const supply = (view: JobView): number => new Advisor().advise(view, false)?.places.find((p) => p.place === 'supply')?.share ?? 0;

test('the first step is volts from earthed metal to an earth of its own, covers on; once read or turned down it is not asked again', () => {
  const view = viewOf();
  const advice = new Advisor().advise(view);
  const [first] = advice?.liveSteps ?? [];
  if (!view.map || !first) throw new Error('no live step');
  expect(liveStepTitle(view.map, first.step)).toBe('Volts from earthed metal to an independent earth');
  expect(advice?.liveFirst).toBe(true);
  expect(first.coversOff).toBe(false);
  expect(first.cautions).toContain('independentEarth');
  const volts = first.outcomes.map((o) => (o.test.kind === 'voltage' ? o.test.volt : NaN));
  expect(volts).toEqual([...volts].sort((a, b) => a - b));
  for (const v of [viewOf(metal(0.4)), viewOf({ type: 'notNow', step: first.key })]) expect(new Advisor().advise(v)?.liveSteps.map((s) => s.key)).not.toContain(first.key);
});

test('volts on all earthed metal point to the supply; none speak against it', () => {
  const before = supply(viewOf());
  expect(supply(viewOf(metal(64)))).toBeGreaterThan(3 * before);
  expect(supply(viewOf(metal(0.3)))).toBeLessThan(before);
});

test('a loop that shows no earth at the board makes the supply’s earth the likeliest, and a usual one clears it', () => {
  const loop = (ohm: number): EventBody => ({ type: 'liveRead', test: { kind: 'loop', from: 'p0:L', to: 'p0:E', ohm, noTrip: false } });
  expect(supply(viewOf(metal(64), loop(1999)))).toBeGreaterThan(0.5);
  expect(supply(viewOf(loop(0.3)))).toBeLessThan(supply(viewOf()));
});

test.each(['earth', 'neutral'])('a supply %s that is lost is told in a whole sentence, without a place that it does not have', (lost) => {
  const view = viewOf();
  const suspect = suspectsOf(view.map as NonNullable<typeof view.map>).find((s) => s.id === `supply ${lost}`);
  if (!view.map || !suspect) throw new Error('no such suspect');
  const words = explainsText(view.map, explains(view, suspect, [Infinity], 0.5));
  expect(words).toMatch(/^Explains it: .*\.$/);
  expect(words).not.toMatch(/ at [,.]/);
  expect(words).toContain(lost);
});

test('where the board tells no more, the circuit to draw next is named, and it is one that is not drawn', () => {
  const r = draftCircuit('3 ways, RCD on 1 to 3');
  if (!r.ok) throw new Error('draft');
  const base: EventBody[] = [{ type: 'created', name: 'look', agreedMin: 90 }, { type: 'drafted', phrase: '3 ways', map: r.value }, { type: 'asked', complaint: 'inspection', shock: false, notes: '' }, { type: 'secured', permission: true, off: true, locked: true, key: 'with me' }];
  const parts = r.value.points.flatMap((p) => p.elements.flatMap((e) => (e.kind === 'way' || e.kind === 'pole' ? [`${p.id}.${e.id}`] : [])));
  const bodies: EventBody[] = [...base, ...parts.map((part): EventBody => ({ type: 'switched', part, off: true })), { type: 'opened', point: 'p0' }, { type: 'proved', point: 'p0', checks: [], earthPlace: 'rod' }];
  const asked = deriveJob(bodies.map((b, i) => ({ ...b, id: `e${i}`, at: 1e12 + i }) as JobEvent), 1e12 + 60_000);
  const advisor = new Advisor();
  let view = asked;
  const events: EventBody[] = [...bodies];
  for (let i = 0; i < 40; i++) {
    const advice = advisor.advise(view);
    if (advice?.verdict.says === 'drawNext') {
      expect(['c1', 'c2', 'c3']).toContain(advice.verdict.place);
      expect(advice.verdict.share).toBeGreaterThan(0.01);
      // Put off, another is named, or the readings go on; never the same again.
      const later: EventBody[] = [...events, { type: 'notNow', step: drawKey(advice.verdict.place) }];
      const then = advisor.advise(deriveJob(later.map((b, k) => ({ ...b, id: `e${k}`, at: 1e12 + k }) as JobEvent), 1e12 + 60_000))?.verdict;
      expect(`${then?.says} ${then?.place}`).not.toBe(`drawNext ${advice.verdict.place}`);
      return;
    }
    const [step] = advice?.steps ?? [];
    const device = advice?.liveSteps.map((l) => l.step).find((s) => s.do === 'ramp');
    // What the device itself does may be asked once nothing dead is left: it is as good as new.
    if (!step && device?.do === 'ramp') events.push({ type: 'liveRead', test: { kind: 'ramp', device: device.device, outgoing: 'out', mA: 23 } });
    else if (!step) break;
    for (const a of step?.actions ?? []) events.push(a.do === 'takeOut' ? { type: 'tookOut', point: a.point, ends: [...a.ends] } : a.do === 'unplug' || a.do === 'plugIn' ? { type: 'loadsMoved', parts: [...a.parts], out: a.do === 'unplug' } : a.do === 'open' ? { type: 'opened', point: a.point } : { type: 'noted', text: a.do, severity: 'observation' });
    // Everything is sound, and nothing is in.
    for (const probe of step?.probes ?? []) events.push({ type: 'read', probe, displayed: { above: probe.fn === 'insulation' ? 999e6 : 1e5 }, unit: 'MΩ', conditions: ['dry'], testVolt: probe.fn === 'insulation' ? 500 : null, unsteady: false, climbing: false, beforeProof: false, retest: null });
    view = deriveJob(events.map((b, k) => ({ ...b, id: `e${k}`, at: 1e12 + k }) as JobEvent), 1e12 + 60_000);
  }
  throw new Error('the board was never told to be exhausted');
}, 120_000);
