import { draftCircuit, protectionsOf, type Installation } from '../installation';
import { seededRandom } from '../numeric';
import { untouched } from '../workstate';
import { clampAmp, Energised, soundView } from '.';
import { fromFarEnd } from './measure';

// A clamp round all line and neutral conductors of a way shows what it loses to earth, whichever way its cables are drawn and its currents run.

const drafted = (phrase: string): Installation => {
  const r = draftCircuit(phrase);
  if (!r.ok) throw new Error(phrase);
  return r.value;
};

/** The same with a load at every outlet, and with cables of unequal lengths, so that a ring shares its load out unevenly. */
function loaded(map: Installation, seed: number): Installation {
  const random = seededRandom(seed);
  return {
    ...map,
    points: map.points.map((p) => (p.kind === 'board' ? p : { ...p, elements: [...p.elements.filter((e) => e.kind !== 'load'), { kind: 'load', id: 'on', name: 'appliance', a: 'L', b: 'N', loadClass: 'resistive', ohm: random.uniform(50, 500), unplugs: true }] })),
    sections: map.sections.map((s) => ({ ...s, lengthM: s.lengthM * random.uniform(0.5, 1.5) })),
  };
}

test.each(['ring, 6', 'radial, 5'])('round a sound way: its leakage and nothing of its load, %s', (phrase) => {
  for (let seed = 1; seed <= 12; seed++) {
    const map = loaded(drafted(phrase), seed);
    const [way] = protectionsOf(map).filter((d) => d.ways[0] === d.id);
    if (!way) throw new Error('no way');
    const faults = [1, 2].map((n) => ({ kind: 'termination' as const, end: `${map.sections[n]?.id ?? ''}@a:N`, ohm: 0.3 }));
    const e = Energised.of(map, untouched, seed % 2 ? faults : []);
    const shown = 1000 * clampAmp(map, soundView(e), null, untouched, { around: way.id, filtered: true, peak: false });
    // Capacity to earth of some tens of metres of cable: a few milliamperes.
    const line = 1000 * clampAmp(map, soundView(e), null, untouched, { around: `${way.id}/L`, filtered: true, peak: false });
    expect(line).toBeGreaterThan(500);
    expect(shown).toBeLessThan(3);
  }
});

test('a part counted from its far end carries the same, the other way', () => {
  const map = drafted('ring, 6');
  const e = Energised.of(map, untouched, []);
  for (const s of map.sections) for (const c of s.cores) {
    const part = `core ${s.id}:${c.id}`;
    const [there, back] = [e.current(part), e.current(fromFarEnd(part))];
    expect(back.re).toBeCloseTo(-there.re, 9);
    expect(back.im).toBeCloseTo(-there.im, 9);
  }
});
