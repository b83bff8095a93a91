import { Advisor, type Advice } from '../advice';
import { editMap, type Installation } from '../installation';
import { draft } from '../installation/fixtures/drafted';
import { Play, type Scenario } from '../simulation';
import type { Probe } from '../probes';

// Told that it holds with everything unplugged, people leave it so: what reads sound then says nothing of what is not in (field guide, section 4: appliances first).

const drawn = editMap(draft('5 ways, RCD on 1 to 5'), { edit: 'drawCircuit', way: 'w2', phrase: 'radial, 4' });
if (!drawn.ok) throw new Error('draw');
const map: Installation = drawn.value;
const plugs = map.points.filter((p) => p.kind === 'outlet').flatMap((p) => p.elements.filter((e) => e.kind === 'load').map((e) => `${p.id}.${e.id}`));

/** A breaker that goes on way 2, with nothing wrong in the wiring; dead, and both pairs of its way beyond the range. */
function visit(unplugged: 'cured' | 'still'): Play {
  const scenario: Scenario = { id: 's', name: 'S', agreedMin: 90, seed: 4, phrase: '5 ways', map, faults: [], cantReach: [], asked: { complaint: 'mcb trips', shock: false, notes: '', wet: false, works: false } };
  const play = new Play(scenario, 1e12);
  play.record({ type: 'answered', question: 'went', answer: 'w2' }, { type: 'answered', question: 'unplugged', answer: unplugged });
  play.makeDead(false);
  readSound(play);
  return play;
}
function readSound(play: Play): void {
  for (const to of ['p0:NG1', 'p0:E']) {
    const probe: Probe = { fn: 'insulation', from: ['p0:W2'], to: [to] };
    play.record({ type: 'read', probe, displayed: { above: 999e6 }, unit: 'MΩ', conditions: [], testVolt: 500, unsteady: false, climbing: false, beforeProof: false, retest: null });
  }
}
const advise = (play: Play): Advice => new Advisor().advise(play.view) as Advice;
const onAppliances = (a: Advice): number => a.places.filter((p) => plugs.includes(p.place)).reduce((sum, p) => sum + p.share, 0);

test('sound readings do not clear an appliance that may not have been in; one that still trips unplugged is cleared', () => {
  const cured = advise(visit('cured'));
  expect(onAppliances(cured)).toBeGreaterThan(0.3);
  expect(cured.cleared.some((c) => plugs.includes(c.place) && c.asFar === 'all')).toBe(false);
  expect(onAppliances(advise(visit('still')))).toBeLessThan(0.1);
});

test('the next thing is to plug in what was in, and read; once it is in for certain it is cleared like the rest', () => {
  const play = visit('cured');
  const [step] = advise(play).steps;
  const [action] = step?.actions ?? [];
  expect(action?.do).toBe('switchesOn');
  expect(action?.do === 'switchesOn' && action.ways.every((w) => plugs.includes(w))).toBe(true);
  play.record({ type: 'switchesOn', ways: plugs, on: true });
  readSound(play);
  expect(onAppliances(advise(play))).toBeLessThan(0.1);
});

test('a load that was out and went back in is in for certain, as if it had been said', () => {
  const play = visit('cured');
  play.record({ type: 'loadsMoved', parts: plugs, out: true }, { type: 'loadsMoved', parts: plugs, out: false });
  readSound(play);
  expect(onAppliances(advise(play))).toBeLessThan(0.1);
});
