import { Correlated } from '../belief/correlated';
import type { SuspectKind } from '../faults';
import { draftCircuit } from '../installation';
import { deriveJob, type EventBody, type JobEvent } from '../job';
import { Advisor } from '.';

afterEach(() => jest.restoreAllMocks());

const PHRASE = '5 ways, RCD on 1 to 5';
const board = draftCircuit(PHRASE);
if (!board.ok) throw new Error(PHRASE);
const read = (fn: 'continuity' | 'insulation', from: string, to: string, ohm: number): EventBody => ({
  type: 'read', probe: { fn, from: [from], to: [to] }, displayed: { ohm }, unit: fn === 'insulation' ? 'MΩ' : 'Ω', conditions: ['dry'], testVolt: fn === 'insulation' ? 500 : null, unsteady: false, climbing: false, beforeProof: false, retest: null,
});
const plugs = ['c1', 'c2', 'c3', 'c4', 'c5'].map((p) => `${p}.loads`);
const bodies = (second: string, last: string, next: string): EventBody[] => [
  { type: 'created', name: 'x', agreedMin: 90 },
  { type: 'drafted', phrase: PHRASE, map: board.value },
  { type: 'asked', complaint: 'inspection', shock: false, notes: '' },
  { type: 'secured', permission: true, off: true, locked: true, key: 'with me' },
  { type: 'opened', point: 'p0' },
  { type: 'loadsMoved', parts: plugs, out: true },
  read('insulation', 'p0:NG1', 'p0:E', 1.6e6),
  { type: 'mapEdited', edit: { edit: 'drawCircuit', way: 'w1', phrase: 'radial, 5' } },
  // The first cable has 0.29 ohms of earth, more than drawn; the second is broken there, and metal leads from its outlet to the bar with some 1.5 ohms.
  read('continuity', 'p0:E', `${last}/f1:E`, 1.48),
  read('continuity', 'p0:W1', `${last}/f1:L`, 0.41),
  read('continuity', 'p0:NG1', `${last}/f1:N`, 0.42),
  read('continuity', `${last}/f1:E`, `${second}/f1:E`, 0.27),
  read('continuity', 'p0:E', `${second}/f1:E`, 1.47),
  read('continuity', `${second}/f1:E`, 'c1/f1:E', 1.76),
  { type: 'opened', point: 'c1' },
  read('continuity', 's1@b:E', `${next}@a:E`, 0),
  read('continuity', `${second}/f1:E`, 'c1:E', 1.72),
];
const viewOf = (list: readonly EventBody[]): ReturnType<typeof deriveJob> => deriveJob(list.map((b, i) => ({ ...b, id: `e${i}`, at: 1e12 + i * 60_000 }) as JobEvent), 2e12);

test('a broken protective conductor that metal bridges stays beside the poor end that it reads like, however many readings were passed over on the way', () => {
  const drawn = viewOf(bodies('', '', '').slice(0, 8)).map;
  const after = (point: string): { section: string; next: string } => {
    const s = drawn?.sections.find((x) => x.a === point);
    return { section: s?.id ?? '', next: s?.b ?? '' };
  };
  const { section, next: second } = after('c1');
  let last = second;
  while (after(last).next) last = after(last).next;
  const view = viewOf(bodies(second, last, section));
  const shares = (): { poor: number; broken: number } => {
    const now = new Advisor().believe(view);
    if (!now) throw new Error('nothing to believe');
    const { engine, belief } = now;
    const of = (kind: SuspectKind): number => engine.suspects.reduce((sum, s, i) => sum + (s.kind === kind ? (belief.suspectShare[i] as number) : 0), 0);
    return { poor: of('resistiveEnd'), broken: of('openBridged') };
  };
  const sparing = shares();
  const evidence = Correlated.prototype.evidence;
  jest.spyOn(Correlated.prototype, 'evidence').mockImplementation(function (this: Correlated, c, e, _best, kept) {
    return evidence.call(this, c, e, -Infinity, kept);
  });
  const inFull = shares();
  expect(Math.abs(sparing.poor - inFull.poor)).toBeLessThan(0.03);
  expect(Math.abs(sparing.broken - inFull.broken)).toBeLessThan(0.03);
  // Neither nature is sure.
  expect(sparing.broken).toBeGreaterThan(0.05);
  expect(sparing.poor).toBeLessThan(0.95);
});
