import { suspectsOf, type Suspect } from '../faults';
import { circuitOfWay, type Installation } from '../installation';
import { draft, drawn } from '../installation/fixtures/drafted';
import type { Asked, Complaint } from '../job';
import { answerWords } from '../wording';
import { nextQuestion, SEVERAL, shifted, THING, traitOf, WENT, WHERE } from '.';

const two = draft('6 ways, RCD on 1 to 3, RCD on 4 to 6');
const told = (complaint: Complaint, answers: Record<string, string> = {}): Asked => ({ complaint, shock: false, notes: '', answers, seen: [] });
/** How much likelier each suspect is by an answer, against the sound house. */
const gains = (map: Installation, complaint: Complaint, part: string, question = WENT): { s: Suspect; gain: number }[] => {
  const [before, after] = [told(complaint), told(complaint, { [question]: part })].map((asked) => shifted(map, suspectsOf(map), asked)) as [Suspect[], Suspect[]];
  const sound = before.findIndex((s) => s.kind === 'sound');
  return before.map((s, i) => ({ s, gain: ((after[i] as Suspect).prior / (after[sound] as Suspect).prior) / (s.prior / (before[sound] as Suspect).prior) }));
};

test('of several devices it is asked first which one went, by their names; of one alone, or of a circuit without a board, never', () => {
  expect(nextQuestion(two, told('rcd trips'))?.answers.map((a) => answerWords(two, WENT, a.id))).toEqual(['RCD 1', 'RCD 2']);
  expect(nextQuestion(draft('4 ways, RCD on 1 to 4'), told('rcd trips'))?.id).not.toBe(WENT);
  expect(nextQuestion(draft('ring, 6'), told('rcd trips'))?.id).not.toBe(WENT);
  expect(nextQuestion(draft('3 ways, RCBOs on 1 to 3'), told('rcd trips'))?.answers).toHaveLength(3);
  // Danger comes before it, and nobody is asked twice.
  expect(nextQuestion(two, told('mcb trips'))?.id).toBe('smell');
  expect(nextQuestion(two, told('rcd trips', { [WENT]: 'G2' }))?.id).not.toBe(WENT);
});

test('a neutral in another bar trips the device it left and that of the bar: of RCBOs the common bar is nobody’s', () => {
  const gainOf = (map: Installation, went: string) => (id: string): number | undefined => gains(map, 'rcd trips', went).find(({ s }) => s.id === id)?.gain;
  const own = gainOf(draft('4 ways, RCBOs on 1 to 4'), 'w3');
  expect(own('otherBar s3@a:N>N')).toBeCloseTo(1, 6);
  expect(own('otherBar s1@a:N>N')).toBeLessThan(0.1);
  const groups = gainOf(draft('6 ways, RCD on 1 to 3, RCD on 4 to 6'), 'G2');
  expect(groups('otherBar s5@a:N>NG1')).toBeCloseTo(1, 6);
  expect(groups('otherBar s1@a:N>NG2')).toBeCloseTo(1, 6);
});

test('what another device watches becomes much less likely, nothing is ruled out, and what is behind the one that went keeps its share', () => {
  const map = drawn(drawn(two, 'w2', 'radial, 3'), 'w5', 'radial, 3');
  const [mine, theirs] = ['w5', 'w2'].map((w) => circuitOfWay(map, w).points.map((p) => p.id)) as [string[], string[]];
  const all = gains(map, 'rcd trips', 'G2');
  const at = (points: string[], kind: Suspect['kind']): number[] => all.filter(({ s }) => s.kind === kind && points.includes(s.place.split('.')[0] ?? '')).map(({ gain }) => gain);
  expect(Math.min(...at(mine, 'pointContact'))).toBeGreaterThan(0.99);
  expect(Math.max(...at(theirs, 'pointContact'))).toBeLessThan(0.1);
  expect(Math.min(...all.map(({ gain }) => gain))).toBeGreaterThan(0);
});

test('before it is told which device went: what no such device is over becomes much less likely, and is not ruled out', () => {
  const sharesOf = (phrase: string, answers: Record<string, string> = {}): ((way: string, kind?: Suspect['kind']) => number) => {
    const map = draft(phrase);
    const all = shifted(map, suspectsOf(map), told('rcd trips', answers));
    return (way, kind = 'pointContact') => all.filter((s) => s.kind === kind && circuitOfWay(map, way).points.some((p) => p.id === s.place.split('.')[0])).reduce((sum, s) => sum + s.prior, 0);
  };
  for (const phrase of ['6 ways, RCD on 1 to 4', '6 ways, RCD on 1 to 2, RCD on 3 to 4', '6 ways, RCBOs on 1 to 4']) {
    const share = sharesOf(phrase);
    for (const way of ['w2', 'w3', 'w4']) expect(share(way)).toBeCloseTo(share('w1'), 9);
    for (const way of ['w5', 'w6']) {
      expect(share(way)).toBeLessThan(share('w1') / 10);
      expect(share(way)).toBeGreaterThan(0);
    }
  }
  // Which of two went is not known: as if it had not been asked.
  expect(sharesOf('6 ways, RCD on 1 to 2, RCD on 3 to 4', { [WENT]: '' })('w6')).toBeCloseTo(sharesOf('6 ways, RCD on 1 to 2, RCD on 3 to 4')('w6'), 9);
  // One over all, or none that is known, parts nothing.
  for (const phrase of ['6 ways, RCD on all', '6 ways']) expect(sharesOf(phrase)('w6')).toBeCloseTo(sharesOf(phrase)('w1'), 9);
});

test('of a neutral in a bar behind the device, or one that is borrowed from behind it, its own way may be anywhere', () => {
  const map = draft('6 ways, RCD on 1 to 4');
  const all = shifted(map, suspectsOf(map), told('rcd trips'));
  const prior = (id: string): number => all.find((s) => s.id === id)?.prior ?? Number.NaN;
  const bar = all.find((s) => s.kind === 'otherBar' && s.id.startsWith('otherBar s6@'))?.id ?? '';
  expect(bar).not.toBe('');
  expect(prior(bar)).toBeCloseTo(prior(all.find((s) => s.kind === 'otherBar' && s.id.startsWith('otherBar s1@'))?.id ?? ''), 9);
});

test('a neutral that goes astray between two devices trips either; a device is suspected where it went itself', () => {
  const map = drawn(drawn(two, 'w2', 'lights, 3'), 'w5', 'lights, 3');
  const [low, high] = ['w2', 'w5'].map((w) => circuitOfWay(map, w).points.map((p) => p.id)) as [string[], string[]];
  for (const device of ['G1', 'G2']) {
    const all = gains(map, 'rcd trips', device);
    const between = all.filter(({ s }) => s.kind === 'borrowed' && [s.place, s.conductors[1] ?? ''].some((p) => low.includes(p)) && [s.place, s.conductors[1] ?? ''].some((p) => high.includes(p)));
    expect(between.length).toBeGreaterThan(0);
    for (const { gain } of between) expect(gain).toBeCloseTo(1, 6);
    for (const { s, gain } of all) if (s.kind === 'rcdSensitive') expect(gain > 0.9).toBe(s.conductors[0] === device);
  }
});

test('a device carries what its sub-board feeds', () => {
  const map = drawn(two, 'w5', 'sub-board, 3');
  const inside = gains(map, 'rcd trips', 'G2').filter(({ s }) => s.kind === 'pointContact' && circuitOfWay(map, 'w5').points.some((p) => p.id === s.place));
  expect(inside.length).toBeGreaterThan(0);
  for (const { gain } of inside) expect(gain).toBeGreaterThan(0.99);
});

test('where something is dead, hot or shocks it is asked which circuit that is on; one circuit is asked nothing', () => {
  const words = (complaint: Complaint): string[] => nextQuestion(two, told(complaint, { smell: 'none', brightDim: 'no' }))?.answers.map((a) => answerWords(two, WHERE, a.id)) ?? [];
  for (const complaint of ['dead', 'shock', 'flicker or heat'] as const) expect(words(complaint)).toEqual(['Way 1', 'Way 2', 'Way 3', 'Way 4', 'Way 5', 'Way 6', 'More than one']);
  // Nobody is asked twice, and of one circuit alone nobody is asked.
  const map = draft('3 ways, RCBOs on 1 to 3');
  expect(nextQuestion(map, told('dead', { smell: 'none', brightDim: 'no', [WHERE]: 'w1' }))?.id).not.toBe(WHERE);
  expect(nextQuestion(draft('ring, 6'), told('dead', { smell: 'none', brightDim: 'no' }))?.id).not.toBe(WHERE);
});

test('what lies on another circuit than was told becomes much less likely; the supply, and what is told of several circuits, keeps its share', () => {
  const map = drawn(drawn(two, 'w2', 'radial, 3'), 'w5', 'radial, 3');
  const [mine, theirs] = ['w5', 'w2'].map((w) => circuitOfWay(map, w).points.map((p) => p.id)) as [string[], string[]];
  for (const complaint of ['dead', 'shock', 'flicker or heat'] as const) {
    const all = gains(map, complaint, 'w5', WHERE);
    const at = (points: string[]): number[] => all.filter(({ s }) => traitOf(s) !== null && s.kind !== 'borrowed' && points.includes(s.place.split('.')[0] ?? '')).map(({ gain }) => gain);
    expect(Math.min(...at(mine))).toBeGreaterThan(0.99);
    expect(Math.max(...at(theirs))).toBeLessThan(0.1);
    for (const { s, gain } of all) if (s.kind === 'supplyLost') expect(gain).toBeCloseTo(1, 6);
    expect(Math.min(...all.map(({ gain }) => gain))).toBeGreaterThan(0);
  }
  // Several dead circuits are fed by one thing that they share, sooner than each has a fault of its own.
  const several = gains(map, 'dead', SEVERAL, WHERE);
  expect(several.find(({ s }) => s.kind === 'supplyLost')?.gain).toBeGreaterThan(2 * (several.find(({ s }) => s.kind === 'pointContact')?.gain ?? 1));
  // A device of this board that no complaint of the kind can mean says nothing.
  for (const { gain } of gains(map, 'rcd trips', 'w5', WHERE)) expect(gain).toBeCloseTo(1, 9);
});

test('tripped by one thing, it is asked which circuit that is on, of those behind the device that went: what its line touches is there, a neutral on earth anywhere', () => {
  const map = drawn(drawn(two, 'w2', 'lights, 3'), 'w3', 'radial, 3');
  const next = (answers: Record<string, string>): string[] | undefined => {
    const q = nextQuestion(map, told('rcd trips', answers));
    return q?.id === THING ? q.answers.map((a) => a.id) : undefined;
  };
  expect(next({ [WENT]: 'G1', tripsWhen: 'oneThing' })).toEqual(['w1', 'w2', 'w3']);
  expect(next({ [WENT]: '', tripsWhen: 'oneThing' })).toHaveLength(6);
  expect(next({ [WENT]: 'G1', tripsWhen: 'odd' })).toBeUndefined();
  expect(next({ [WENT]: 'G1', tripsWhen: 'oneThing', [THING]: 'w2' })).toBeUndefined();
  // Of a device of one way nobody is asked.
  expect(nextQuestion(draft('3 ways, RCBOs on 1 to 3'), told('rcd trips', { [WENT]: 'w2', tripsWhen: 'oneThing' }))?.id).not.toBe(THING);
  const share = (answers: Record<string, string>): ((test: (s: Suspect) => boolean) => number) => {
    const all = shifted(map, suspectsOf(map), told('rcd trips', { [WENT]: 'G1', tripsWhen: 'oneThing', ...answers }));
    return (test) => all.reduce((sum, s) => sum + (test(s) ? s.prior : 0), 0);
  };
  const of = (way: string, trait: string) => (s: Suspect): boolean => traitOf(s) === trait && circuitOfWay(map, way).points.some((p) => p.id === s.place.split('.')[0]);
  const [before, after] = [share({}), share({ [THING]: 'w2' })];
  const odds = (trait: string): number => (after(of('w2', trait)) / after(of('w3', trait))) / (before(of('w2', trait)) / before(of('w3', trait)));
  expect(odds('appliance')).toBeGreaterThan(10);
  expect(odds('lineEarth')).toBeGreaterThan(10);
  expect(odds('neutralEarth')).toBeCloseTo(1, 6);
  expect(after(of('w3', 'appliance'))).toBeGreaterThan(0);
  // Told otherwise after all, it says nothing.
  const otherwise = share({ tripsWhen: 'odd', [THING]: 'w2' });
  const odd = share({ tripsWhen: 'odd' });
  expect(otherwise(of('w2', 'appliance'))).toBeCloseTo(odd(of('w2', 'appliance')), 9);
});
