import { suspectsOf } from '../faults';
import { circuitOfWay, draftCircuit, editMap, type Installation } from '../installation';
import { elementKey, untouched, type WorkState } from '../workstate';
import type { Response } from '../probes';
import { toY } from '../tester';
import { BeliefEngine, type Observation } from '.';
import { Earlier, type Met } from './earlier';
import type { Group } from './group';

// What a load or sound insulation showed once it shows again, from another place or in another state: that is no new evidence.

const drafted = (phrase: string): Installation => {
  const r = draftCircuit(phrase);
  if (!r.ok) throw new Error(phrase);
  return r.value;
};
const partsOf = (map: Installation, kinds: readonly string[]): string[] => map.points.flatMap((p) => p.elements.flatMap((e) => (kinds.includes(e.kind) ? [elementKey(p.id, e.id)] : [])));
const deadState = (map: Installation, loadsOut: readonly string[]): WorkState => ({ ...untouched, off: partsOf(map, ['way', 'pole']), loadsOut: [...loadsOut], opened: ['p0'] });

test('a neutral that shows 213 Ω to earth again and again, load after load unplugged, says each time the same of which conductor is faulty in what is left', () => {
  const map = drafted('9 ways');
  const engine = new BeliefEngine(map, suspectsOf(map));
  const read = (out: number): Observation => ({ probe: { fn: 'continuity', from: ['p0:N'], to: ['p0:E'] }, state: deadState(map, Array.from({ length: out }, (_, i) => `c${i + 1}.loads`)), displayed: { ohm: 213 } });
  const oddsOf = (observations: readonly Observation[]): number => {
    const belief = engine.believe(observations);
    const share = (id: string): number => belief.suspectShare[engine.suspects.findIndex((s) => s.id === id)] as number;
    return share('load c9.loads:LE') / share('load c9.loads:NE');
  };
  const one = oddsOf([read(1)]);
  const five = oddsOf([1, 2, 3, 4, 5].map(read));
  expect(one).toBeGreaterThan(0.05);
  expect(five / one).toBeGreaterThan(0.25);
  expect(five / one).toBeLessThan(4);
});

test('a bar of six ways at 1.05 MΩ, seen from the bar and through the loads of three ways, makes no contact of it', () => {
  const map = drafted('6 ways, RCD on 1 to 6');
  const engine = new BeliefEngine(map, suspectsOf(map));
  const ir = (from: string, ohm: number): Observation => ({ probe: { fn: 'insulation', from: [from], to: ['p0:E'] }, state: deadState(map, []), displayed: { ohm } });
  const contacts = (observations: readonly Observation[]): number => {
    const belief = engine.believe(observations);
    return engine.suspects.reduce((sum, s, i) => (s.unknown.of === 'shunt' && s.conductors.includes('E') ? sum + (belief.suspectShare[i] as number) : sum), 0);
  };
  const once = contacts([ir('p0:NG1', 1.05e6)]);
  const often = contacts([ir('p0:NG1', 1.05e6), ir('p0:W1', 1.06e6), ir('p0:W2', 1.04e6), ir('p0:W3', 1.05e6)]);
  expect(often).toBeLessThan(Math.max(1.6 * once, 0.2));
});

test('true readings on both sides of a contact, point after point, leave it where it is: a few ohms on a cable whose lengths are guessed', () => {
  const map = drafted('radial, 6');
  const loads = partsOf(map, ['load']);
  const state: WorkState = { ...untouched, loadsOut: loads, opened: ['p0'], out: ['s1@a:L', 's1@a:N', 's1@a:E'] };
  const engine = new BeliefEngine(map, suspectsOf(map));
  const read = (a: string, b: string, ohm: number): Observation => ({ probe: { fn: 'continuity', from: [a], to: [b] }, state, displayed: { ohm } });
  // 1.5 Ω between L and N some metres from the board: what is read rises with the cable beyond it, metre by metre.
  const all = [read('s1@a:L', 's1@a:N', 1.64), ...([['p6', 2.48], ['p5', 2.29], ['p4', 2.17], ['p3', 2.09]] as const).map(([p, ohm]) => read(`${p}/f1:L`, `${p}/f1:N`, ohm))];
  let before = -Infinity;
  for (let k = 2; k <= all.length; k++) {
    const belief = engine.believe(all.slice(0, k));
    const near = engine.suspects.reduce((sum, s, i) => (s.conductors.join() === 'L,N' && /^(s1|p1|s2|p2|s3|p3)/.test(s.place) ? sum + (belief.suspectShare[i] as number) : sum), 0);
    const unknown = engine.suspects.reduce((sum, s, i) => (s.kind === 'unknown' ? sum + (belief.suspectShare[i] as number) : sum), 0);
    expect(near).toBeGreaterThan(0.85);
    expect(unknown).toBeLessThan(0.03);
    // Each further reading that fits is foreseen well: the evidence does not fall off a cliff.
    expect(belief.logEvidence - before).toBeGreaterThan(-4);
    before = belief.logEvidence;
  }
});

test('with a load in, line and neutral are one: what reads alike to earth from both is on either', () => {
  const map = drafted('radial, 4');
  const engine = new BeliefEngine(map, suspectsOf(map));
  const state: WorkState = { ...untouched, opened: ['p0'], out: ['s1@a:L', 's1@a:N', 's1@a:E'] };
  const read = (a: string, b: string, ohm: number): Observation => ({ probe: { fn: 'continuity', from: [a], to: [b] }, state, displayed: { ohm } });
  const shareOf = (observations: readonly Observation[], pair: string): number => {
    const belief = engine.believe(observations);
    return engine.suspects.reduce((sum, s, i) => (s.unknown.of === 'shunt' && s.conductors.join() === pair ? sum + (belief.suspectShare[i] as number) : sum), 0);
  };
  const [load, toLine, toNeutral] = [read('s1@a:L', 's1@a:N', 9.27), read('s1@a:L', 's1@a:E', 22610), read('s1@a:N', 's1@a:E', 22600)];
  for (const observations of [[toNeutral], [toLine], [load, toNeutral], [load, toLine], [load, toLine, toNeutral]]) {
    const [line, neutral] = [shareOf(observations, 'L,E'), shareOf(observations, 'N,E')];
    expect(line / neutral).toBeGreaterThan(0.25);
    expect(line / neutral).toBeLessThan(4);
    expect(line + neutral).toBeGreaterThan(0.5);
  }
});

test('ends along one way between two leads that all foresee the same stand alike, whether lamps that may be in lie beside them or not', () => {
  const map = drafted('lights, 3');
  const engine = new BeliefEngine(map, suspectsOf(map));
  const read = (opened: string[], ohm: number): Observation => ({ probe: { fn: 'continuity', from: ['s1@a:N'], to: ['p3:N'] }, state: { ...untouched, opened: ['p0', ...opened], out: ['s1@a:L', 's1@a:N', 's1@a:E'] }, displayed: { ohm } });
  const all = [read(['p3'], 3.65), read(['p2', 'p3'], 3.73), read(['p1', 'p3'], 3.66), read(['p1', 'p2', 'p3'], 3.68)];
  for (const count of [1, 2, 3, 4]) {
    const belief = engine.believe(all.slice(0, count));
    const share = (id: string): number => belief.suspectShare[engine.suspects.findIndex((s) => s.id === id)] as number;
    const ends = ['s1@b:N', 's2@a:N', 's2@b:N', 's3@a:N', 's3@b:N'].map((e) => share(`resistive ${e}`));
    expect(Math.min(...ends)).toBeGreaterThan(0.08);
    expect(Math.max(...ends) / Math.min(...ends)).toBeLessThan(2);
  }
});

test('a leak from line to earth that is read from the neutral as well, again and again, through a load that is in, stays as likely as one from neutral', () => {
  const map = drafted('tree, 2');
  const engine = new BeliefEngine(map, suspectsOf(map));
  const read = (opened: string[], a: string, b: string, ohm: number, loadsOut = ['p1.load']): Observation => ({ probe: { fn: 'continuity', from: [a], to: [b] }, state: { ...untouched, opened: ['p0', ...opened], loadsOut, out: ['s1@a:L', 's1@a:N', 's1@a:E'] }, displayed: { ohm } });
  const all = [read([], 's1@a:L', 's1@a:E', 8250), ...[[], ['p1'], ['p2'], ['p1', 'p2']].map((o, i) => read(o, 's1@a:N', 's1@a:E', 8260 - (i % 2) * 10)), ...[[], ['p1'], ['p2'], ['p1', 'p2']].map((o) => read(o, 's1@a:N', 's1@a:E', 8260, [])), read([], 's1@a:L', 's1@a:N', 12), read(['p1'], 'p1:L', 'p1:E', 8250)];
  const belief = engine.believe(all);
  const of = (pair: string): number => engine.suspects.reduce((sum, s, i) => (s.unknown.of === 'shunt' && s.conductors.join() === pair ? sum + (belief.suspectShare[i] as number) : sum), 0);
  expect(of('L,E') / of('N,E')).toBeGreaterThan(0.2);
  expect(of('L,E') / of('N,E')).toBeLessThan(5);
});

test('a load that shows the same from place after place is foreseen by the reading nearest to it, though another that showed something like it came first', () => {
  const map = drafted('radial, 6');
  const engine = new BeliefEngine(map, suspectsOf(map));
  const state: WorkState = { ...untouched, opened: ['p0'], out: ['s1@a:L', 's1@a:N', 's1@a:E'] };
  // Two per cent off, in whatever order they are looked at.
  for (const odd of ['p1', 'p6']) {
    let before = NaN;
    const all = ['p1', 'p2', 'p3', 'p4', 'p5', 'p6'].sort((a, b) => Number(b === odd) - Number(a === odd)).map((p): Observation => ({ probe: { fn: 'continuity', from: [`${p}/f1:L`], to: [`${p}/f1:N`] }, state, displayed: { ohm: p === odd ? 1254 : 1283 } }));
    for (let k = 2; k <= all.length; k++) {
      const { logEvidence } = engine.believe(all.slice(0, k));
      if (k > 2) expect(logEvidence - before).toBeGreaterThan(0);
      before = logEvidence;
    }
  }
});

test('all that may have shown a reading never has more than the whole of the say, however often one of them showed it before', () => {
  const place = { a: [0, 0], b: [0, 0], cores: 0, zAA: 0, mAA: 0, zBB: 0, mBB: 0, zAB: 0, mAB: 0 } as const;
  const nothing: Response = { kind: 0, z: 0, m: 0, zA: 0, mA: 0, zB: 0, mB: 0, place, share: 0, own: 0, rest: 0, copper: null, openOhm: 0 };
  const other = (share: number): Group['others'][number] => ({ is: 'load', share, own: 5, sound: nothing, response: () => nothing });
  const group = (n: number): Met => ({ fn: 'insulation', above: false, again: null, ohm: 9.4e6, y: toY('insulation', 9.4e6), againSd: 0.06, sameSd: 0.06, floorOhm: 0, slip: 0.008, others: [other(0.45), other(0.08), other(0.08)], before: Array.from({ length: n }, (_, m) => m), repeats: [], inLoad: () => null });
  const groups = Array.from({ length: 6 }, (_, n) => group(n));
  const earlier = new Earlier(groups);
  for (const n of groups.keys()) {
    const say = earlier.meet(n, 0, 1e9, () => 1e6);
    expect(say.share).toBeLessThan(1);
    // The cell itself would never have shown it.
    earlier.shownWith(n, 1e-9);
  }
});

test('a sound bar that is read again and again, a few hundredths apart, with one way’s loads after another in and out, says nothing for any fault', () => {
  const map = drafted('5 ways, RCD on 1 to 5');
  const engine = new BeliefEngine(map, suspectsOf(map));
  const all = partsOf(map, ['load']);
  const ohms = [2.38e6, 2.35e6, 2.29e6, 2.28e6, 2.25e6, 2.28e6, 2.29e6, 2.26e6, 2.28e6, 2.27e6];
  const ins = [[], ['c5'], ['c4', 'c5'], ['c3', 'c4', 'c5'], ['c2', 'c4'], ['c2', 'c5'], ['c1', 'c2', 'c3'], ['c1', 'c4'], ['c3', 'c4'], ['c2', 'c3', 'c5']];
  const read = (k: number): Observation => ({ probe: { fn: 'insulation', from: ['p0:NG1'], to: ['p0:E'] }, state: deadState(map, all.filter((l) => !(ins[k] ?? []).includes(l.split('.')[0] ?? ''))), displayed: { ohm: ohms[k] ?? 0 } });
  const faulty = (count: number): number => {
    const belief = engine.believe(Array.from({ length: count }, (_, k) => read(k)));
    const sound = engine.suspects.findIndex((s) => s.kind === 'sound');
    // Against what the first reading alone leaves of every suspect, none gains much on the sound house.
    return Math.max(...engine.suspects.map((s, i) => (s.kind === 'unknown' || s.place.startsWith('state ') ? 0 : (belief.suspectShare[i] as number) / (belief.suspectShare[sound] as number))));
  };
  expect(faulty(10)).toBeLessThan(3 * faulty(1));
});

test('a fault inside an appliance is read from the neutral through its own element: line to earth stands beside neutral to earth there, whatever its ohms', () => {
  const drawn = editMap(drafted('6 ways, RCD on 1 to 3, RCD on 4 to 6'), { edit: 'drawCircuit', way: 'w4', phrase: 'tree, 2' });
  if (!drawn.ok) throw new Error('draw');
  const map = drawn.value;
  const plain = new BeliefEngine(map, suspectsOf(map));
  // The device held with it in: less than some ten thousand ohms from line to earth would have tripped it.
  const engine = plain.withBias(Float64Array.from({ length: plain.cells.count }, (_, c) => (plain.suspects[plain.cells.suspect[c] as number]?.conductors.join() === 'L,E' && (plain.cells.tCentre[c] as number) < 4 ? -20 : 0)));
  const [one = '', two = ''] = circuitOfWay(map, 'w4').points.map((p) => p.id);
  const others = partsOf(map, ['load']).filter((l) => ![one, two].includes(l.split('.')[0] ?? ''));
  const at = (out: string[], loadsOut: string[], opened: string[] = []): WorkState => ({ ...deadState(map, [...others, ...loadsOut]), out, opened: ['p0', ...opened] });
  for (const ohm of [15_000, 22_580, 31_000, 64_000]) {
    const bar = (state: WorkState, shown: number): Observation => ({ probe: { fn: 'continuity', from: ['p0:NG2'], to: ['p0:E'] }, state, displayed: { ohm: shown } });
    const off = (from: string, to: string, state: WorkState): Observation => ({ probe: { fn: 'continuity', from: [from], to: [to] }, state, displayed: { above: 100_000 } });
    const belief = engine.believe([
      bar(at([], []), ohm), bar(at(['s6@a:N'], []), ohm * 0.9996), off('s6@a:N', 'p0:E', at(['s6@a:N'], [])), off('s5@a:N', 'p0:E', at(['s6@a:N', 's5@a:N'], [])),
      bar(at(['s6@a:N', 's5@a:N'], [`${one}.load`], [one]), ohm * 0.999), { ...bar(at(['s6@a:N', 's5@a:N'], [`${one}.load`], [one]), ohm), probe: { fn: 'continuity', from: [`${one}:N`], to: [`${one}:E`] } },
    ]);
    const of = (pair: string): number => engine.suspects.reduce((sum, s, i) => (s.kind === 'loadFault' && s.place.startsWith(two) && s.conductors.join() === pair ? sum + (belief.suspectShare[i] as number) : sum), 0);
    expect(of('L,E') / of('N,E')).toBeGreaterThan(0.05);
    expect(of('L,E') / of('N,E')).toBeLessThan(20);
  }
});

test('a contact is weighed at the size that its own readings show, though others read it through a load: it is never dropped on the way there', () => {
  const map = drafted('9 ways, RCD on 1 to 9');
  const engine = new BeliefEngine(map, suspectsOf(map));
  for (const x of [6, 23, 40, 65.4, 91, 150, 480, 3000]) {
    const read = (from: string, shown: number | 'above', loadsOut: string[]): Observation => ({ probe: { fn: 'continuity', from: [from], to: ['p0:E'] }, state: deadState(map, loadsOut), displayed: shown === 'above' ? { above: 100_000 } : { ohm: shown } });
    const out = [[], ['c5.loads'], ['c5.loads', 'c8.loads']] as const;
    const belief = engine.believe([
      ...out.map((o) => read('p0:NG1', x, [...o])),
      // Line to earth of ways whose loads are in: through them, and the contact.
      read('p0:W1', x + 63.6, [...out[2]]), read('p0:W2', x + 225, [...out[2]]), read('p0:W4', x + 104, [...out[1]]), read('p0:W3', 'above', [...out[1]]), read('p0:W9', 'above', [...out[1]]), read('p0:W5', 'above', [...out[1]]),
    ]);
    const of = (pair: string): number => engine.suspects.reduce((sum, s, i) => (s.conductors.join() === pair ? sum + (belief.suspectShare[i] as number) : sum), 0);
    // Line to earth of a way that nobody read, through its load, is the only other account.
    expect(of('N,E')).toBeGreaterThan(0.1);
  }
});

test('where nothing shows between neutral and earth, line to earth of one way after another that shows nothing says nothing against an appliance that was read', () => {
  const map = drafted('6 ways, RCD on 1 to 6');
  const engine = new BeliefEngine(map, suspectsOf(map));
  const read = (from: string, shown: number | 'above'): Observation => ({ probe: { fn: 'continuity', from: [from], to: ['p0:E'] }, state: deadState(map, []), displayed: shown === 'above' ? { above: 100_000 } : { ohm: shown } });
  const odds = (more: readonly string[]): number => {
    const belief = engine.believe([read('p0:NG1', 'above'), read('p0:W3', 16_600), ...more.map((w) => read(w, 'above'))]);
    const share = (test: (id: string) => boolean): number => engine.suspects.reduce((sum, s, i) => (test(s.id) ? sum + (belief.suspectShare[i] as number) : sum), 0);
    return share((id) => id === 'load c3.loads:LE') / share((id) => id === 'sound');
  };
  const before = odds([]);
  // Ways that nobody suspects by now: what they show alone says only of themselves.
  expect(odds(['p0:W1', 'p0:W2', 'p0:W4', 'p0:W5', 'p0:W6']) / before).toBeGreaterThan(0.5);
  expect(odds(['p0:W1', 'p0:W2', 'p0:W4', 'p0:W5', 'p0:W6']) / before).toBeLessThan(2);
});

test('whether the element of a faulty appliance conducts is found once: what is read through it again and again says no more', () => {
  const drawn = editMap(drafted('6 ways, RCD on 1 to 6'), { edit: 'drawCircuit', way: 'w4', phrase: 'tree, 2' });
  if (!drawn.ok) throw new Error('draw');
  const map = drawn.value;
  const engine = new BeliefEngine(map, suspectsOf(map));
  const [one = ''] = circuitOfWay(map, 'w4').points.map((p) => p.id);
  const state = { ...deadState(map, partsOf(map, ['load']).filter((l) => !l.startsWith(one))), opened: ['p0', one] };
  const read = (from: string, to: string, shown: number | 'above'): Observation => ({ probe: { fn: 'continuity', from: [from], to: [to] }, state, displayed: shown === 'above' ? { above: 100_000 } : { ohm: shown } });
  const odds = (more: readonly Observation[]): number => {
    const belief = engine.believe([read('p0:W4', 'p0:E', 0.9), read('p0:NG1', 'p0:E', 'above'), ...more]);
    const share = (id: string): number => belief.suspectShare[engine.suspects.findIndex((s) => s.id === id)] as number;
    return share(`load ${one}.load:LE`) / share(`contact ${one}:LE`);
  };
  const once = odds([]);
  // Line to neutral at the board, and each from the point itself: all through the same element, which its thermostat has off.
  expect(odds([read('p0:W4', 'p0:NG1', 'above'), read(`${one}:N`, `${one}:E`, 'above'), read(`${one}:L`, `${one}:N`, 'above'), read('p0:NG1', `${one}:E`, 'above')]) / once).toBeGreaterThan(0.4);
});

test('earth by metal that carried one reading carries it again, whatever is taken off elsewhere, and says nothing of loads', () => {
  const map = drafted('5 ways, RCD on 1 to 5');
  const engine = new BeliefEngine(map, suspectsOf(map));
  const loads = partsOf(map, ['load']);
  // The earth of way 5 is out of its bar; a neutral that touches it shows at the bar only where metal leads on to earth.
  const state = (...alsoOut: string[]): WorkState => ({ ...deadState(map, []), out: ['s5@a:E', ...alsoOut] });
  const oddsOf = (...observations: Observation[]): number => {
    const belief = engine.believe(observations);
    const share = (id: string): number => belief.suspectShare[engine.suspects.findIndex((s) => s.id === id)] as number;
    return share('contact c5:NE') / share('contact c4:NE');
  };
  const bar = (ohm: number, ...out: string[]): Observation => ({ probe: { fn: 'continuity', from: ['p0:NG1'], to: ['p0:E'] }, state: state(...out), displayed: { ohm } });
  const own = (n: number): Observation => ({ probe: { fn: 'insulation', from: [`p0:W${n}`], to: ['p0:E'] }, state: deadState(map, loads), displayed: { above: 999e6 } });
  const once = oddsOf(bar(2.47));
  expect(once).toBeGreaterThan(0.005);
  const again = oddsOf(bar(2.47), bar(2.45, 's1@a:N'), bar(2.46, 's1@a:N', 's2@a:N'), bar(2.44, 's1@a:N', 's2@a:N', 's3@a:E'));
  expect(again / once).toBeGreaterThan(0.4);
  expect(again / once).toBeLessThan(2.5);
  const beside = oddsOf(bar(2.47), own(1), own(2));
  expect(beside / once).toBeGreaterThan(0.5);
  expect(beside / once).toBeLessThan(2);
});

test('sound insulation read again and again, with one way’s loads after another put back, leaves a leak behind a load that is out as likely as it was', () => {
  const drawn = editMap(drafted('6 ways, RCD on 1 to 6'), { edit: 'drawCircuit', way: 'w5', phrase: 'lighting, 2' });
  if (!drawn.ok) throw new Error('draw');
  const map = drawn.value;
  const engine = new BeliefEngine(map, suspectsOf(map));
  const loads = partsOf(map, ['load']);
  const read = (from: string, ohm: number, loadsIn: number): Observation => ({ probe: { fn: 'insulation', from: [from], to: ['p0:E'] }, state: { ...deadState(map, loads.slice(loadsIn)), on: loads.slice(0, loadsIn) }, displayed: { ohm } });
  const first = [read('p0:NG1', 36.3e6, 0), ...[1, 2, 3, 4, 6].map((w) => read(`p0:W${w}`, (40 + 37 * w) * 1e6, 0))];
  const bar = [1, 2, 3, 4, 5, 6, 7].map((n) => read('p0:NG1', [1.9e6, 1.92e6, 1.91e6][n % 3] as number, n));
  const asFor = (more: readonly Observation[]): number[] => {
    const belief = engine.believe([...first, ...more]);
    const of = (id: string): number => belief.suspectShare[engine.suspects.findIndex((s) => s.id === id)] as number;
    return ['load c2.loads:LE', 'load c3.loads:LE', 'load c4.loads:LE', 'load c5.lamp:LE', 'contact c5:LE'].map((id) => of(id) / of('sound'));
  };
  const [once, often] = [asFor(bar.slice(0, 1)), asFor(bar)];
  for (const [i, odds] of often.entries()) expect(Math.abs(Math.log(odds / (once[i] as number)))).toBeLessThan(0.3);
});
