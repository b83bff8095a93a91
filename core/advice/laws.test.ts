import { suspectsOf } from '../faults';
import { BeliefEngine, type Observation } from '../belief';
import { draftCircuit, type Installation } from '../installation';
import { LiveEvidence, type LiveObservation } from '../live';
import { shareByPlace } from '../planning';
import { cellsOf } from '../belief';
import { Play, type Scenario } from '../simulation';
import { deriveJob } from '../job';
import { elementKey, setOff, untouched, type WorkState } from '../workstate';
import { Advisor, hazardOf } from '.';

// Laws of evidence: what life adds to a board may not move a verdict that it says nothing about.

const board = (phrase: string): Installation => {
  const r = draftCircuit(phrase);
  if (!r.ok) throw new Error(phrase);
  return r.value;
};
const map = board('8 ways, RCD on 1 to 8');
const parts = (kinds: readonly string[]): string[] => map.points.flatMap((p) => p.elements.flatMap((e) => (kinds.includes(e.kind) ? [elementKey(p.id, e.id)] : [])));
const dead: WorkState = { ...untouched, off: parts(['way', 'pole']), loadsOut: parts(['load']), opened: ['p0'] };
const ir = (from: string, to: string, ohm: number): Observation => ({ probe: { fn: 'insulation', from: [from], to: [to] }, state: dead, displayed: ohm > 999e6 ? { above: 999e6 } : { ohm } });
const engine = new BeliefEngine(map, suspectsOf(map));
const places = (observations: readonly Observation[]): Map<string, number> => new Map(shareByPlace(map, engine.suspects, engine.believe(observations)).map((p) => [p.place, p.share]));
const moved = (a: Map<string, number>, b: Map<string, number>): number => Math.max(...[...a].map(([k, v]) => Math.abs(v - (b.get(k) ?? 0))));
/** A neutral that touches earth on way 3, told by its own tail. */
const found: Observation[] = (() => {
  const pulled = { ...dead, out: ['s3@a:N'] };
  return [ir('p0:NG1', 'p0:E', 40e3), { ...ir('p0:NG1', 'p0:E', 700e6), state: pulled }, { ...ir('s3@a:N', 'p0:E', 40e3), state: pulled }];
})();

test.each([5.2e6, 8e6, 24e6, 70e6, 150e6, 600e6, 2e9])('sound insulation of %d Ω on the other ways moves no share of a found fault by more than two points', (ohm) => {
  const before = places(found);
  const pulled = { ...dead, out: ['s3@a:N'] };
  let more = found;
  for (const w of [1, 2, 4, 5, 6, 7, 8]) more = [...more, { ...ir(`p0:W${w}`, 'p0:E', ohm * (1 + w / 20)), state: pulled }];
  expect(moved(before, places(more))).toBeLessThan(0.02);
});

test('all insulation ten times worse or better within what sound circuits show leaves the verdict', () => {
  const verdicts = [0.1, 1, 10].map((k) => {
    const pulled = { ...dead, out: ['s3@a:N'] };
    const all = [...found, ...[1, 2, 4, 5].map((w) => ({ ...ir(`p0:W${w}`, 'p0:E', 60e6 * k), state: pulled }))];
    return [...places(all)].sort((a, b) => b[1] - a[1])[0];
  });
  expect(new Set(verdicts.map((v) => v?.[0])).size).toBe(1);
  for (const v of verdicts) expect(v?.[1]).toBeGreaterThan(0.8);
});

test('readings in another order give the same belief', () => {
  const list = [...found, ir('p0:W1', 'p0:E', 30e6), ir('p0:W2', 'p0:NG1', 90), ir('p0:W2', 'p0:E', 40.1e3)];
  expect(moved(places(list), places([...list].reverse()))).toBeLessThan(1e-9);
});

test('a load that is out can never be what a reading shows, and one that may be in always can', () => {
  const low = (state: WorkState): Observation => ({ ...ir('p0:W2', 'p0:NG1', 40e3), state });
  const ofLoad = (o: Observation): number => {
    const b = engine.believe([o]);
    return engine.suspects.reduce((sum, s, i) => (s.kind === 'loadFault' && s.place.startsWith('c2') ? sum + (b.suspectShare[i] as number) : sum), 0);
  };
  const prior = engine.suspects.reduce((sum, s) => (s.kind === 'loadFault' && s.place.startsWith('c2') ? sum + s.prior : sum), 0);
  expect(ofLoad(low(dead))).toBeLessThan(prior);
  // With everything plugged in a low line to neutral says next to nothing: no fault gets far by it.
  const open = places([low({ ...dead, loadsOut: [] })]);
  for (const [place, share] of open) if (place !== 'sound') expect(share).toBeLessThan(0.5);
});

test('a reset that holds lowers a neutral on earth by no more than a factor of three, however many ways held', () => {
  const suspects = suspectsOf(map);
  const live = new LiveEvidence(map, suspects, cellsOf(suspects));
  let state: WorkState = { ...untouched, off: parts(['way', 'pole']) };
  const held: LiveObservation[] = [];
  for (const device of ['G1', 'w1', 'w2', 'w3', 'w4', 'w5', 'w6', 'w7', 'w8']) {
    for (const p of device === 'G1' ? ['p0.G1L', 'p0.G1N'] : [`p0.${device}`]) state = setOff(state, p, false);
    held.push({ test: { kind: 'closed', device, result: 'holds', tripped: null }, state });
  }
  const bias = live.bias(held);
  const c = (id: string): number[] => [...Array(live.cells.count).keys()].filter((k) => suspects[live.cells.suspect[k] as number]?.id === id);
  const sound = bias[0] as number;
  for (const k of c('contact c3:NE')) expect(Math.exp(sound - (bias[k] as number))).toBeLessThan(3.05);
});

test('what is cleared is never suspected: no place and pair stands in both', () => {
  const scenario = (faults: Scenario['faults']): Scenario => ({ id: 'law', name: 'Law', agreedMin: 90, seed: 11, phrase: 'radial, 5', map: board('radial, 5'), faults, cantReach: [], asked: { complaint: 'rcd trips', shock: false, notes: '', wet: false, works: false } });
  for (const faults of [[{ kind: 'contact', section: 's3', cores: ['L', 'E'], fraction: 0.4, ohm: 900 }], [{ kind: 'openCore', section: 's2', core: 'E' }, { kind: 'pointContact', point: 'p4', terminals: ['L', 'E'], ohm: 500 }]] as Scenario['faults'][]) {
    const play = new Play(scenario(faults), 1e12);
    play.makeDead();
    for (let i = 0; i < 8; i++) {
      play.hunt(1);
      const advice = new Advisor().advise(deriveJob(play.file.events, 1e12 + i));
      for (const s of advice?.suspects ?? []) {
        if (s.share <= 0.02 || s.kind === 'sound') continue;
        const both = advice?.cleared.filter((x) => x.place === s.place && x.conductors === s.conductors.join('') && ['contact', 'pointContact'].includes(s.kind));
        expect(both).toEqual([]);
      }
      // Behind an earth that is broken nothing from line to earth is cleared for good.
      if (faults.length > 1) expect(advice?.cleared.filter((x) => x.place === 'p4' && x.conductors === 'LE' && x.asFar === 'all')).toEqual([]);
    }
  }
}, 60_000);

test('what power would do: line to earth of 200 Ω drives a fault, of 50 kΩ does not; a broken earth leaves metal without one', () => {
  expect(hazardOf({ kind: 'contact', conductors: ['L', 'E'] }, 200)).toBe('earth fault');
  expect(hazardOf({ kind: 'contact', conductors: ['L', 'E'] }, 50e3)).toBeNull();
  expect(hazardOf({ kind: 'contact', conductors: ['N', 'E'] }, 1)).toBeNull();
  expect(hazardOf({ kind: 'contact', conductors: ['L', 'N'] }, 1)).toBe('short');
  expect(hazardOf({ kind: 'openCore', conductors: ['E'] }, Infinity)).toBe('no earth');
  expect(hazardOf({ kind: 'crossed', conductors: ['L', 'E'] }, 0)).toBe('live metal');
});

test('a bar that the way’s neutral is out of bounds nothing of that way: low from line to earth over a load is then still the neutral’s', () => {
  const pulled: WorkState = { ...dead, loadsOut: dead.loadsOut.filter((l) => !l.startsWith('c3.')), out: ['s3@a:N'] };
  const seen = [{ ...ir('p0:W3', 'p0:E', 40e3), state: pulled }, { ...ir('s3@a:N', 'p0:E', 0), state: pulled }, { ...ir('p0:NG1', 'p0:E', 2e9), state: pulled }];
  const b = engine.believe(seen);
  const share = (pair: string): number => engine.suspects.reduce((sum, s, i) => (s.id.endsWith(`:${pair}`) && /c3|s3/.test(s.place) ? sum + (b.suspectShare[i] as number) : sum), 0);
  expect(share('NE')).toBeGreaterThan(share('LE'));
});
