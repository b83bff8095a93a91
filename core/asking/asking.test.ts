import { suspectsOf } from '../faults';
import { draftCircuit, type Installation } from '../installation';
import { deriveJob, type Asked, type Complaint, type JobEvent } from '../job';
import { seededRandom } from '../numeric';
import { questionWords, sightWords } from '../wording';
import { bitsOf, chance, dangersOf, MOST_QUESTIONS, nextQuestion, questions, questionsOf, shifted, shiftOf, sights, traitOf, traits, traitShares, type Question, type Trait } from '.';

const draft = (phrase: string): Installation => {
  const r = draftCircuit(phrase);
  if (!r.ok) throw new Error(phrase);
  return r.value;
};
const radial = draft('radial, 5');
const lights = draft('lights, 5, one switch');
const told = (complaint: Complaint | null, answers: Record<string, string> = {}, seen: Asked['seen'] = []): Asked => ({ complaint, shock: false, notes: '', answers, seen });
const share = (map: Installation, asked: Asked, trait: Trait): number => traitShares(map, asked).find((s) => s.trait === trait)?.share ?? 0;
const complaints: Complaint[] = ['rcd trips', 'mcb trips', 'dead', 'shock', 'flicker or heat'];

test('every suspect but the doubts of the record belongs to a family', () => {
  for (const map of [radial, lights, draft('ring, 4')])
    for (const s of suspectsOf(map)) expect(traitOf(s) === null).toBe(s.place.startsWith('state ') || s.kind === 'metalPath');
});

test('each row of each question is a distribution over its answers, and no answer is impossible', () => {
  for (const q of questions)
    for (const t of traits) {
      const row = q.answers.map((a) => chance(q, a.id, t));
      expect(row.reduce((s, x) => s + x, 0)).toBeCloseTo(1, 12);
      expect(Math.min(...row)).toBeGreaterThan(0);
      expect((q.rows[t] ?? q.others).length).toBe(q.answers.length);
    }
});

test('every question, answer and sight has its words', () => {
  for (const q of questions) for (const a of q.answers) expect(questionWords[q.id]?.answers[a.id] && questionWords[q.id]?.because[a.id]).toBeTruthy();
  for (const s of sights) expect(sightWords[s]).toBeTruthy();
});

describe('a story speaks for what practitioners expect', () => {
  test('an RCD that trips at once: line to earth; when more load runs: neutral to earth', () => {
    const atOnce = told('rcd trips', { tripsWhen: 'atOnce' });
    const moreLoad = told('rcd trips', { tripsWhen: 'moreLoad' });
    expect(traitShares(radial, atOnce)[0]?.trait).toBe('lineEarth');
    expect(traitShares(radial, moreLoad)[0]?.trait).toBe('neutralEarth');
  });
  test('it holds with everything unplugged: an appliance comes first where there are any', () => {
    expect(share(lights, told('rcd trips', { unplugged: 'cured' }), 'appliance')).toBeGreaterThan(2 * share(lights, told('rcd trips', { unplugged: 'still' }), 'appliance'));
    expect(traitShares(lights, told('rcd trips', { unplugged: 'cured' }))[0]?.trait).toBe('appliance');
  });
  test('what cannot be reset has a cause: that nothing is wrong becomes much less likely', () => {
    for (const [complaint, question] of [['rcd trips', 'tripsWhen'], ['mcb trips', 'breakerWhen']] as const)
      for (const map of [radial, lights]) expect(share(map, told(complaint, { [question]: 'atOnce' }), 'nothing')).toBeLessThan(0.3 * share(map, told(complaint), 'nothing'));
  });
  test('dead, yet line is there: the neutral', () => {
    expect(traitShares(radial, told('dead', { lineThere: 'line' }))[0]?.trait).toBe('noNeutral');
    expect(traitShares(radial, told('dead', { lineThere: 'noLine' }))[0]?.trait).toBe('noLine');
  });
  test('flicker that a knock changes: a poor joint', () => {
    expect(traitShares(radial, told('flicker or heat', { moves: 'moved' }))[0]?.trait).toBe('poorJoint');
  });
  test('a breaker that goes after minutes: look at the load before the wiring', () => {
    expect(share(radial, told('mcb trips', { breakerWhen: 'minutes' }), 'elsewhere')).toBeGreaterThan(5 * share(radial, told('mcb trips', { breakerWhen: 'atOnce' }), 'elsewhere'));
  });
  test('lamps bright and dim in the whole building: not this circuit', () => {
    const of = (trait: 'elsewhere' | 'nothing'): number => share(radial, told('flicker or heat', { brightDim: 'everywhere' }), trait);
    expect(of('elsewhere') + of('nothing')).toBeGreaterThan(0.25);
  });
});

test('of another RCD is asked only where there is another, and the other answers keep their proportion', () => {
  const withIt = (phrase: string): Question | undefined => questionsOf(draft(phrase), { complaint: 'rcd trips', answers: {} }).find((q) => q.id === 'withIt');
  const [one, two] = [withIt('4 ways, RCD on 1 to 4'), withIt('4 ways, RCD on 1 to 2, RCD on 3 to 4')];
  expect(one?.answers.map((a) => a.id)).toEqual(['alone', 'breaker']);
  expect(two?.answers.map((a) => a.id)).toEqual(['alone', 'breaker', 'otherRcd']);
  for (const [trait, row] of Object.entries(two?.rows ?? {})) expect(one?.rows[trait as Trait]).toEqual(row.slice(0, 2));
});

test('order does not matter, and what is not known changes nothing', () => {
  const a = traitShares(radial, told('rcd trips', { tripsWhen: 'wet', since: 'worse' }));
  expect(traitShares(radial, told('rcd trips', { since: 'worse', tripsWhen: 'wet' }))).toEqual(a);
  expect(traitShares(radial, told('rcd trips', { tripsWhen: 'wet', since: 'worse', unplugged: '' }))).toEqual(a);
});

test('nothing is ever ruled out, and shares make one', () => {
  for (let seed = 1; seed <= 200; seed++) {
    const random = seededRandom(seed);
    const answers = Object.fromEntries(questions.map((q) => [q.id, random.pick(q.answers).id]));
    const asked = told(random.pick(complaints), answers, sights.filter(() => random.chance(0.3)).map((what) => ({ what, place: random.chance(0.5) ? 'p2' : null })));
    for (const map of [radial, lights]) {
      const suspects = shifted(map, suspectsOf(map), asked);
      expect(suspects.reduce((s, x) => s + x.prior, 0)).toBeCloseTo(1, 9);
      expect(Math.min(...suspects.map((s) => s.prior))).toBeGreaterThan(0);
      expect(traitShares(map, asked).reduce((s, x) => s + x.share, 0)).toBeCloseTo(1, 9);
    }
  }
});

test('doubts of the record keep their share: no story speaks about them', () => {
  const doubt = (list: ReturnType<typeof suspectsOf>): number => list.filter((s) => traitOf(s) === null).reduce((sum, s) => sum + s.prior, 0);
  const before = suspectsOf(lights);
  expect(doubt(shifted(lights, before, told('rcd trips', { tripsWhen: 'atOnce' })))).toBeCloseTo(doubt(before), 12);
});

test('what was seen at a place makes that place likelier, and the others less', () => {
  const base = suspectsOf(radial);
  const asked = told('rcd trips', {}, [{ what: 'screws', place: 'p3' }]);
  const at = (list: typeof base, place: string): number => list.filter((s) => s.place === place && traitOf(s) === 'lineEarth').reduce((sum, s) => sum + s.prior, 0);
  const without = shifted(radial, base, told('rcd trips'));
  const withIt = shifted(radial, base, asked);
  expect(at(withIt, 'p3')).toBeGreaterThan(2 * at(without, 'p3'));
  expect(at(withIt, 's3')).toBeGreaterThan(2 * at(without, 's3'));
  expect(at(withIt, 'p5')).toBeLessThan(at(without, 'p5'));
});

describe('the interview', () => {
  const walk = (map: Installation, complaint: Complaint, pick: (q: (typeof questions)[number]) => string): string[] => {
    const answers: Record<string, string> = {};
    const asked: string[] = [];
    for (;;) {
      const q = nextQuestion(map, told(complaint, answers));
      if (!q) return asked;
      asked.push(q.id);
      answers[q.id] = pick(q);
    }
  };
  test.each(complaints)('“%s” is over in at most six questions, each asked once', (complaint) => {
    for (let seed = 1; seed <= 30; seed++) {
      const random = seededRandom(seed);
      const asked = walk(radial, complaint, (q) => random.pick(q.answers).id);
      expect(asked.length).toBeLessThanOrEqual(MOST_QUESTIONS);
      expect(new Set(asked).size).toBe(asked.length);
    }
  });
  test('danger is asked first where it can hide', () => {
    expect(nextQuestion(radial, told('flicker or heat'))?.first).toBe(true);
    expect(nextQuestion(radial, told('rcd trips'))?.first).toBeUndefined();
  });
  test('the question that tells most comes next', () => {
    const shares = traitShares(lights, told('rcd trips'));
    const first = nextQuestion(lights, told('rcd trips'));
    const bits = questions.filter((q) => q.complaints.includes('rcd trips')).map((q) => bitsOf(q, shares));
    expect(first && bitsOf(first, shares)).toBeCloseTo(Math.max(...bits), 12);
  });
  test('an inspection and an empty story ask nothing', () => {
    expect(nextQuestion(radial, told('inspection'))).toBeNull();
    expect(nextQuestion(radial, told(null))).toBeNull();
  });
  test('two families that answer alike are told apart by no bits; opposite ones by one bit', () => {
    const q: Question = { id: 'x', complaints: [], answers: [{ id: 'a' }, { id: 'b' }], rows: { lineEarth: [1, 0], neutralEarth: [0, 1], noLine: [1, 0] }, others: [1, 1] };
    expect(bitsOf(q, [{ trait: 'lineEarth', share: 0.5 }, { trait: 'neutralEarth', share: 0.5 }])).toBeCloseTo(1, 12);
    expect(bitsOf(q, [{ trait: 'lineEarth', share: 0.5 }, { trait: 'noLine', share: 0.5 }])).toBeCloseTo(0, 12);
  });
});

test('an answer tells what it made likelier and what less likely', () => {
  const shift = shiftOf(radial, told('rcd trips'), told('rcd trips', { tripsWhen: 'moreLoad' }));
  expect(shift.likelier.map((s) => s.trait)).toContain('neutralEarth');
  expect(shift.lessLikely.map((s) => s.trait)).toContain('lineEarth');
});

test('dangers: the gravest on top, each only when it was told', () => {
  expect(dangersOf(told('rcd trips'))).toEqual([]);
  expect(dangersOf({ ...told('flicker or heat', { brightDim: 'everywhere', smell: 'burning' }), shock: true })).toEqual(['supplyNeutral', 'shock', 'burning']);
  expect(dangersOf(told('shock', { feltWhere: 'service' }))).toEqual(['service']);
});

test('the log: answers replace each other, are taken back, and early files keep what they told', () => {
  const at = 0;
  const events = (...list: object[]): Asked => deriveJob(list.map((e, i) => ({ id: `e${i}`, at, ...e }) as JobEvent), at).asked;
  expect(events({ type: 'asked', complaint: 'rcd trips', shock: false, notes: '', wet: true, works: true }).answers).toEqual({ weather: 'wet', since: 'work' });
  expect(events({ type: 'answered', question: 'since', answer: 'work' }, { type: 'answered', question: 'since', answer: 'worse' }).answers).toEqual({ since: 'worse' });
  expect(events({ type: 'answered', question: 'since', answer: 'work' }, { type: 'answered', question: 'since', answer: null }).answers).toEqual({});
  expect(events({ type: 'seen', what: 'water', place: null, gone: false }, { type: 'seen', what: 'water', place: 'p2', gone: false }, { type: 'seen', what: 'water', place: 'p3', gone: false }).seen.map((x) => x.place)).toEqual(['p2', 'p3']);
  expect(events({ type: 'seen', what: 'water', place: 'p2', gone: false }, { type: 'seen', what: 'water', place: null, gone: true }).seen).toEqual([]);
  expect(events({ id: 'w', type: 'seen', what: 'water', place: 'p2', gone: false }, { type: 'struck', target: 'w', why: 'no' }).seen).toEqual([]);
});
