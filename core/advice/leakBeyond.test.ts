import { circuitOfWay } from '../installation';
import { draft, drawn } from '../installation/fixtures/drafted';
import { deriveJob, type EventBody, type JobEvent, type JobView } from '../job';
import { leakNotFound, leaksBeyond, type SuspectView } from '.';

const map = drawn(drawn(draft('5 ways, RCBOs on 1 to 5'), 'w2', 'radial, 4'), 'w4', 'radial, 3');
const at = (way: string, n: number): string => circuitOfWay(map, way).points[n]?.id ?? '';
const cable = circuitOfWay(map, 'w2').sections[2]?.id ?? '';
const broken = (conductors: readonly string[]): Pick<SuspectView, 'kind' | 'place' | 'conductors' | 'explains'> => ({ kind: 'openCore', place: cable, conductors, explains: { says: 'no', share: 0, code: 'explains.rcdNo', points: [], figure: null, hangs: 'size' } });
const job = (...more: readonly EventBody[]): JobView => deriveJob([{ type: 'created', name: 'x', agreedMin: 60 }, { type: 'drafted', phrase: '5 ways', map }, ...more].map((e, i) => ({ ...e, id: `e${i}`, at: i * 60_000 }) as JobEvent), 1e8);
const volts = (volt: number, point = at('w2', 3), meter: 'low' | 'high' = 'low'): EventBody => ({ type: 'liveRead', test: { kind: 'voltage', from: `${point}/f1:N`, to: `${point}/f1:E`, volt, meter } });

test('volts on an earth that is broken are from something that leaks beyond the break: that is said with the break', () => {
  expect(leaksBeyond(job(volts(152)), broken(['E']))).toBe(true);
  expect(leaksBeyond(job(), broken(['E']))).toBe(false);
});

test('volts on another way, or a conductor that is no earth, say nothing of that', () => {
  expect(leaksBeyond(job(volts(152, at('w4', 1))), broken(['E']))).toBe(false);
  expect(leaksBeyond(job(volts(152)), broken(['N']))).toBe(false);
});

test('an earth that floats shows a multimeter half the supply with nothing leaking: only volts that stand under load are a leak', () => {
  const floating = job(volts(115, at('w2', 3), 'high'));
  expect(leaksBeyond(floating, broken(['E']))).toBe(false);
  // The alarm is raised all the same: nobody relies on that.
  expect(floating.liveMetal).toMatchObject({ volt: 115 });
});

test('an earth that was mended with volts on it: what leaks to it is owed until line to earth was read there', () => {
  const mended: EventBody = { type: 'mended', suspect: `open ${cable}:E`, place: cable, how: 'replaced', text: '', explains: 'no' };
  const read = (from: string, way: 2 | 4): EventBody => ({ type: 'read', probe: { fn: 'insulation', from: [`p0:${from}${way}`], to: ['p0:E'] }, displayed: { ohm: 3000 }, unit: 'MΩ', conditions: [], testVolt: 500, unsteady: false, climbing: false, beforeProof: false, retest: null });
  expect(leakNotFound(job(volts(152), mended))).toBe(cable);
  expect(leakNotFound(job(volts(152), mended, read('N', 2), read('W', 4)))).toBe(cable);
  expect(leakNotFound(job(volts(152), mended, read('W', 2)))).toBeNull();
  expect(leakNotFound(job(volts(1), mended))).toBeNull();
  expect(leakNotFound(job(volts(152)))).toBeNull();
});
