import { circuitOfWay } from '../installation';
import { draft, drawn } from '../installation/fixtures/drafted';
import { Play } from '../simulation';
import { Advisor, type Advice } from '.';

const map = drawn(draft('4 ways, RCD on 1 to 4'), 'w2', 'lights, 4');
const lamps = circuitOfWay(map, 'w2').points.map((p) => p.id);
const [first = ''] = lamps;
const last = lamps.at(-1) ?? '';
const cable = map.sections.find((s) => s.b === first)?.id ?? '';

/** Way 4 has its neutral on earth; the neutral of way 2 is on record as out of the bar, and is in it, so that way 2 reads low up to where it is parted. */
function hunted(): { read: (fn: 'continuity' | 'insulation', from: string, to: string, ohm: number | null) => void; card: () => Advice } {
  const play = new Play({ id: 'record', name: 'Record', agreedMin: 90, seed: 7, phrase: '', map, faults: [], cantReach: [], asked: { complaint: 'rcd trips', shock: false, notes: '', wet: false, works: false } }, 1e12);
  play.makeDead();
  const advisor = new Advisor();
  const read = (fn: 'continuity' | 'insulation', from: string, to: string, ohm: number | null): void =>
    play.record({ type: 'read', probe: { fn, from: [from], to: [to] }, displayed: ohm === null ? { above: 1e5 } : { ohm }, unit: fn === 'insulation' ? 'MΩ' : 'Ω', conditions: ['dry'], testVolt: fn === 'insulation' ? 500 : null, unsteady: false, climbing: false, beforeProof: false, retest: null });
  play.record({ type: 'tookOut', point: 'p0', ends: [`${cable}@a:N`] });
  read('continuity', `${cable}@a:N`, 'p0:E', 1.35);
  for (const point of [last, first]) play.record({ type: 'opened', point });
  read('continuity', `${last}:N`, `${last}:E`, 2.5);
  play.record({ type: 'tookOut', point: first, ends: ['L', 'N', 'E'].map((c) => `${cable}@b:${c}`) });
  read('continuity', `${first}:N`, `${first}:E`, null);
  read('continuity', `${cable}@b:N`, `${cable}@b:E`, 1.8);
  return { read, card: () => advisor.advise(play.view, true) as Advice };
}
const shareAt = (a: Advice, place: string): number => a.places.find((p) => p.place === place)?.share ?? 0;

test('a place that hangs on one end being out is not named before somebody has read that it is', () => {
  const { card } = hunted();
  const told = card();
  expect(told.verdict.says).not.toBe('place');
  expect(shareAt(told, cable)).toBeGreaterThan(0.2);
  expect(told.steps[0]).toMatchObject({ actions: [], probes: [{ from: ['p0:NG1'], to: [`${cable}@a:N`] }] });
  expect(told.places.reduce((sum, p) => sum + p.share, 0)).toBeLessThanOrEqual(1.0001);
});

test('read to its bar it is out: the place is named', () => {
  const { read, card } = hunted();
  read('continuity', `${cable}@a:N`, 'p0:NG1', null);
  expect(card().verdict).toMatchObject({ says: 'place', place: cable });
});

test('read to its bar it is in: that is said, and the cable is not held for faulty', () => {
  const { read, card } = hunted();
  read('continuity', `${cable}@a:N`, 'p0:NG1', 0.01);
  const told = card();
  expect(told.facts).toContainEqual(expect.objectContaining({ kind: 'endNotOut', place: `state ${cable}@a:N` }));
  expect(told.verdict.says).not.toBe('place');
  expect(shareAt(told, cable)).toBeLessThan(0.6);
});
