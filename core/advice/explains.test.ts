import { suspectsOf } from '../faults';
import { circuitOfWay, circuitsOf, protectionsOf, waysOfBoard, type Installation } from '../installation';
import { draft, drawn } from '../installation/fixtures/drafted';
import { deriveJob, type JobEvent } from '../job';
import { wayOf } from '../live';
import { explainsText } from '../wording';
import { explains } from './explains';

const map = draft('4 ways, RCD on 1 to 2, RCD on 3 to 4');
const view = deriveJob(
  [{ type: 'created', name: 'x', agreedMin: 45 }, { type: 'drafted', phrase: '4 ways', map }, { type: 'asked', complaint: 'rcd trips', shock: false, notes: '' }].map((e, i) => ({ ...e, id: `e${i}`, at: 1e12 + i }) as JobEvent), 1e12 + 60_000);

test('what returns by another neutral trips only while its load runs, and goes past the device, not to earth', () => {
  for (const kind of ['borrowed', 'otherBar'] as const)
    for (const s of suspectsOf(map).filter((x) => x.kind === kind).slice(0, 4)) {
      const e = explains(view, s, [900, 1000, 1100], 0.5);
      expect(e.says).toBe('while');
      expect(explainsText(map, e)).toMatch(/only while/);
      expect(explainsText(map, e)).not.toMatch(/to earth|whatever runs/);
    }
  // A night light of two watts goes astray too, and trips nothing.
  const [small] = suspectsOf(map).filter((x) => x.kind === 'borrowed');
  const e = small && explains(view, small, [26_000, 26_500, 27_000], 0.5);
  expect(e?.says).toBe('no');
  expect(e ? explainsText(map, e) : '').not.toMatch(/to earth/);
});

test('a hard line to earth trips at once, whatever runs', () => {
  const contact = suspectsOf(map).find((x) => x.kind === 'contact' && x.conductors.join() === 'L,E');
  const e = contact && explains(view, contact, [40, 42, 44], 0.5);
  expect(e?.says).toBe('yes');
  expect(e ? explainsText(map, e) : '').toMatch(/to earth at once/);
});

test('a device that opens early explains a trip by what leaks behind it: many ways do, one way only may', () => {
  const early = (phrase: string): ReturnType<typeof explains> => {
    const map = draft(phrase);
    const suspect = suspectsOf(map).find((s) => s.kind === 'rcdSensitive');
    if (!suspect) throw new Error(phrase);
    const job = deriveJob([{ type: 'created', id: 'e1', at: 0, name: 'x', agreedMin: 60 }, { type: 'drafted', id: 'e2', at: 0, phrase, map }, { type: 'asked', id: 'e3', at: 0, complaint: 'rcd trips', shock: false, notes: '' }] as JobEvent[], 0);
    return explains(job, suspect, [0, 0, 0], 0.5);
  };
  expect(early('12 ways, RCD on 1 to 12').says).toMatch(/yes|while/);
  expect(early('4 ways, RCBOs on 1 to 4').says).toBe('perhaps');
});

test('a shock: what is plugged into a face without earth stands on its own; neutral on earth gives none, and is not called a leak of line', () => {
  const radial = draft('radial, 4');
  const job = deriveJob([{ type: 'created', id: 'e1', at: 0, name: 'x', agreedMin: 60 }, { type: 'drafted', id: 'e2', at: 0, phrase: 'radial, 4', map: radial }, { type: 'asked', id: 'e3', at: 0, complaint: 'shock', shock: true, notes: '' }] as JobEvent[], 0);
  const told = (kind: string, conductors: string, ohm: number): string => {
    const s = suspectsOf(radial).find((x) => x.kind === kind && x.conductors.join() === conductors);
    return s ? explainsText(radial, explains(job, s, [ohm, ohm, ohm], 0.5)) : 'none such';
  };
  expect(told('face', 'E', Infinity)).toMatch(/^Explains it: no earth at .*, so what leaks there stands on its metal/);
  expect(told('contact', 'N,E', 5)).toBe('Does not explain the shock.');
  expect(told('contact', 'L,E', 2000)).toBe('May explain it: line leaks to earthed metal.');
});

const asks = (phrase: string, circuit: string, complaint: 'shock' | 'dead'): { map: Installation; says: (kind: string, conductor: string, ohm: number) => { says: string; text: string } } => {
  const own = drawn(draft(phrase), 'w1', circuit);
  const job = deriveJob([{ type: 'created', name: 'x', agreedMin: 60 }, { type: 'drafted', phrase, map: own }, { type: 'asked', complaint, shock: complaint === 'shock', notes: '' }].map((e, i) => ({ ...e, id: `e${i}`, at: 0 }) as JobEvent), 0);
  return { map: own, says: (kind, conductor, ohm) => {
    const s = suspectsOf(own).find((x) => x.kind === kind && x.conductors.join() === conductor && circuitOfWay(own, 'w1').points.some((p) => x.place === p.id));
    if (!s) throw new Error(kind);
    const e = explains(job, s, [ohm, ohm, ohm], 0.5);
    return { says: e.says, text: explainsText(own, e) };
  } };
};

test.each([
  // 36 A, which a B 32 carries for ever, lift metal over 3 Ω to 108 V; the 30 mA that a residual device lets pass, to 0.1 V.
  ['3 ways', 3, 'perhaps'], ['3 ways', 0.3, 'no'], ['3 ways, RCD on 1 to 3', 3, 'no'], ['3 ways, RCD on 1 to 3', 5000, 'yes'],
] as const)('a shock, %s: an earth end of %d Ω explains it: %s', (phrase, ohm, expected) => {
  const { says, text } = asks(phrase, 'radial, 4', 'shock').says('resistiveEnd', 'E', ohm);
  expect(says).toBe(expected);
  if (says === 'perhaps') expect(text).toMatch(/^May explain it, if line leaks/);
});

test('no power: a joint of some ohms explains it only while enough runs, a break always, a joint of a tenth never', () => {
  const { says } = asks('3 ways', 'radial, 2', 'dead');
  expect(says('resistiveEnd', 'N', 0.1).says).toBe('no');
  const some = says('resistiveEnd', 'N', 15);
  expect(some.says).toMatch(/while|perhaps/);
  expect(some.text).toMatch(/only while enough runs/);
  expect(says('resistiveEnd', 'N', 1e6).says).toBe('yes');
});

test('what only may explain it says what that hangs on: never on a size that readings have told', () => {
  const plain = draft('4 ways, RCD on 1 to 4');
  const said = (arrangement: 'TN-C-S' | null, sizes: readonly number[]): string => {
    const own = { ...plain, supply: { ...plain.supply, phases: 1, arrangement } } as Installation;
    const job = deriveJob([{ type: 'created', name: 'x', agreedMin: 60 }, { type: 'drafted', phrase: '4 ways', map: own }, { type: 'asked', complaint: 'rcd trips', shock: false, notes: '' }].map((e, i) => ({ ...e, id: `e${i}`, at: 0 }) as JobEvent), 0);
    const texts = suspectsOf(own).filter((s) => s.kind === 'contact' || s.kind === 'pointContact').map((s) => explains(job, s, sizes, 0.5)).filter((e) => e.says === 'perhaps').map((e) => explainsText(own, e));
    expect(texts.length).toBeGreaterThan(0);
    return [...new Set(texts.map((t) => t.replace(/\(.*?\)/, '')))].join(' ');
  };
  expect(said(null, [0.4, 0.41, 0.42])).toMatch(/how earth comes in, which nobody has said/);
  expect(said(null, [0.4, 0.41, 0.42])).not.toMatch(/size/);
  expect(said(null, [1, 1000, 1e5])).toMatch(/its size, which no reading has told yet/);
});

const told = (phrase: string, ...answers: JobEvent[]): { readonly job: ReturnType<typeof deriveJob>; readonly map: Installation } => {
  const own = draft(phrase);
  return { map: own, job: deriveJob([{ type: 'created', name: 'x', agreedMin: 60 }, { type: 'drafted', phrase, map: own }, { type: 'asked', complaint: 'rcd trips', shock: false, notes: '' }, ...answers].map((e, i) => ({ ...e, id: `e${i}`, at: 0 }) as JobEvent), 0) };
};
const lineToEarth = (map: Installation, circuit: string) => {
  const s = suspectsOf(map).find((x) => x.kind === 'contact' && x.conductors.join() === 'L,E' && x.place === circuit);
  if (!s) throw new Error(circuit);
  return s;
};

test('a line on earth that no RCD is over does not trip one, however hard it stands there: that is why, not its size', () => {
  const { job, map: own } = told('6 ways, RCD on 1 to 5');
  for (const thirds of [[1, 2, 4], [10, 1e4, 1e6]]) {
    const bare = explains(job, lineToEarth(own, 's6'), thirds, 0.5);
    expect(bare.says).toBe('no');
    expect(explainsText(own, bare)).toMatch(/no RCD .* over it/);
  }
  const behind = explains(job, lineToEarth(own, 's2'), [4e5, 5e5, 6e5], 0.5);
  expect(behind.says).toBe('no');
  expect(explainsText(own, behind)).toMatch(/only .*mA to earth/);
});

test.each(['6 ways, RCD on 1 to 5', '4 ways, RCD on 1 to 2, RCD on 3 to 4'])('%s: that no RCD is over it is said of no place that one is over, whatever is wrong there', (phrase) => {
  const { job, map: own } = told(phrase);
  const covered = new Set(protectionsOf(own).flatMap((d) => (d.residualMa === null ? [] : d.carries)));
  const circuits = circuitsOf(own);
  const said = suspectsOf(own).filter((s) => explainsText(own, explains(job, s, [1e5, 1.1e5, 1.2e5], 0.5)).includes('no RCD'));
  for (const s of said) {
    const circuit = circuits.get(s.place.split('.')[0] ?? '');
    const ways = own.points.filter((p) => circuits.get(p.id) === circuit).map((p) => wayOf(own, p.id));
    expect([s.id, ways.some((w) => w !== null && covered.has(w))]).toEqual([s.id, false]);
  }
  expect(said.length > 0).toBe(covered.size < waysOfBoard(own).length);
});

test('what trips in the wet is not acquitted by what it reads dry', () => {
  const wet = { type: 'answered', question: 'tripsWhen', answer: 'wet' } as unknown as JobEvent;
  const sizes = [2.2e4, 2.5e4, 2.8e4];
  const dry = told('6 ways, RCD on 1 to 5');
  expect(explains(dry.job, lineToEarth(dry.map, 's2'), sizes, 0.5).says).toBe('no');
  const { job, map: own } = told('6 ways, RCD on 1 to 5', wet);
  const e = explains(job, lineToEarth(own, 's2'), sizes, 0.5);
  expect(e.says).toBe('perhaps');
  expect(explainsText(own, e)).toMatch(/^May explain it when wet: dry, only .*mA goes to earth\.$/);
  const atPoint = suspectsOf(own).find((x) => x.kind === 'pointContact' && x.conductors.join() === 'L,E' && x.place === 'c2');
  expect(atPoint && explains(job, atPoint, sizes, 0.5).says).toBe('perhaps');
  // Read while it was damp, it is acquitted.
  const [read] = own.points;
  const damp = { type: 'read', probe: { fn: 'insulation', from: [`${read?.id}:W2`], to: [`${read?.id}:E`] }, displayed: { ohm: 2.5e4 }, unit: 'kΩ', conditions: ['damp'], testVolt: 500, unsteady: false, climbing: false, beforeProof: false, retest: null } as unknown as JobEvent;
  const whileDamp = told('6 ways, RCD on 1 to 5', wet, damp);
  expect(explains(whileDamp.job, lineToEarth(whileDamp.map, 's2'), sizes, 0.5).says).toBe('no');
  // Where no RCD is over it, and where it is far from any, water makes no difference.
  expect(explains(job, lineToEarth(own, 's6'), sizes, 0.5).says).toBe('no');
  expect(explains(job, lineToEarth(own, 's2'), [4e6, 5e6, 6e6], 0.5).says).toBe('no');
});
