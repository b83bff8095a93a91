import { cellsOf } from '../belief';
import { suspectsOf } from '../faults';
import { draftCircuit, editMap, protectionsOf, type Installation } from '../installation';
import { elementKey, untouched, type WorkState } from '../workstate';
import { clampAmp, Energised, LiveEvidence, magnitude, soundView, type LiveObservation, type LiveTest } from '.';

const draft = (phrase: string): Installation => {
  const r = draftCircuit(phrase);
  if (!r.ok) throw new Error(phrase);
  return r.value;
};
const loads = (map: Installation): string[] => map.points.flatMap((p) => p.elements.flatMap((e) => (e.kind === 'load' ? [elementKey(p.id, e.id)] : [])));
const ways = (map: Installation, numbers: readonly number[]): string[] => numbers.flatMap((n) => protectionsOf(map).find((p) => p.id === `w${n}`)?.poles ?? []);
/** Ways that are off; everything else on. */
const off = (map: Installation, ...numbers: number[]): WorkState => ({ ...untouched, off: ways(map, numbers) });
const see = (test: LiveTest, state: WorkState): LiveObservation => ({ test, state });
const closed = (device: string, result: 'holds' | 'at once' | 'after', tripped: string | null = null): LiveTest => ({ kind: 'closed', device, result, tripped });

/** Share of all suspects that a test of the id picks out, after live tests alone. */
function shares(map: Installation, observations: LiveObservation[]): (pick: RegExp) => number {
  const suspects = suspectsOf(map);
  const cells = cellsOf(suspects);
  const bias = new LiveEvidence(map, suspects, cells).bias(observations);
  const weight = cells.logPrior.map((x, c) => Math.exp(x + (bias[c] as number)));
  const total = weight.reduce((a, b) => a + b, 0);
  return (pick) => weight.reduce((sum, w, c) => (pick.test(suspects[cells.suspect[c] as number]?.id ?? '') ? sum + w / total : sum), 0);
}

const six = draft('6 ways, RCD on 1 to 6');
/** Reset routine: every way off, then back one at a time. */
const routine = (map: Installation, upTo: number, trips: number | null, loadsOut = false): LiveObservation[] =>
  Array.from({ length: upTo }, (_, i) => {
    const later = [1, 2, 3, 4, 5, 6].filter((n) => n > i + 1);
    return see(closed(`w${i + 1}`, i + 1 === trips ? 'at once' : 'holds', i + 1 === trips ? 'G1' : null), { ...off(map, ...later), loadsOut: loadsOut ? loads(map) : [] });
  });

test('a way that trips the RCD the moment it is closed: line to earth on that way, not on those that held', () => {
  const share = shares(six, routine(six, 3, 3));
  const before = shares(six, []);
  const onWay = (n: number): RegExp => new RegExp(`^(contact|load) (s|c)${n}[.:].*LE$`);
  expect(share(onWay(3))).toBeGreaterThan(4 * before(onWay(3)));
  expect(share(onWay(2))).toBeLessThan(0.6 * before(onWay(2)));
});

test('every way back and it holds: proves little against a neutral on earth at no load, more against a hard line to earth', () => {
  const share = shares(six, routine(six, 6, null, true));
  const before = shares(six, []);
  const hardLine = share(/contact .*LE/) / before(/contact .*LE/);
  const neutral = share(/contact .*NE/) / before(/contact .*NE/);
  expect(hardLine).toBeLessThan(0.7);
  expect(neutral).toBeGreaterThan(hardLine);
});

test('it trips with every way off: the device itself, or neutral to earth, which switching does not disconnect', () => {
  const share = shares(six, [see(closed('G1', 'at once', 'G1'), { ...off(six, 1, 2, 3, 4, 5, 6), loadsOut: loads(six) })]);
  const before = shares(six, []);
  expect(share(/contact .*NE/)).toBeGreaterThan(2 * before(/contact .*NE/));
  expect(share(/^sensitive/)).toBeLessThan(2 * before(/^sensitive/));
  expect(share(/contact .*LE/)).toBeLessThan(before(/contact .*LE/));
});

test('a ramp far below half with the outgoing conductors out: the device has failed, whatever it is called', () => {
  const ramp = (mA: number): LiveTest => ({ kind: 'ramp', device: 'G1', mA, outgoing: 'out' });
  const times: LiveTest = { kind: 'times', device: 'G1', multiple: 0.5, ms: 60 };
  expect(shares(six, [see(ramp(11), untouched), see(times, untouched)])(/^sensitive/)).toBeGreaterThan(0.5);
  expect(shares(six, [see(ramp(22), untouched)])(/^sensitive/)).toBeLessThan(0.01);
});

test('no trip at all at its rated current: blind', () => {
  expect(shares(six, [see({ kind: 'times', device: 'G1', multiple: 1, ms: null }, untouched), see({ kind: 'ramp', device: 'G1', mA: null, outgoing: 'out' }, untouched)])(/^blind/)).toBeGreaterThan(0.7);
});

test('a clamp that reads most of IΔn round the device and a little round each way: leakage that adds up, no single fault', () => {
  const round = (around: string, mA: number): LiveObservation => see({ kind: 'clamp', around, mA, filtered: true, peak: false }, untouched);
  const share = shares(six, [round('G1', 21), ...[1, 2, 3, 4, 5, 6].map((n) => round(`w${n}`, 3.5)), see({ kind: 'ramp', device: 'G1', mA: 22, outgoing: 'out' }, untouched)]);
  const before = shares(six, []);
  expect(share(/^leak G1/)).toBeGreaterThan(8 * before(/^leak G1/));
  expect(share(/^(contact|load) .*LE$/)).toBeLessThan(before(/^(contact|load) .*LE$/));
});

test('the branch with the most: a clamp round one way that reads what the device reads', () => {
  const round = (around: string, mA: number): LiveObservation => see({ kind: 'clamp', around, mA, filtered: true, peak: false }, untouched);
  const share = shares(six, [round('G1', 17), round('w4', 15.5), round('w1', 0.6)]);
  const four = /^(contact|load) (s|c)4[.:].*LE$/;
  expect(share(four)).toBeGreaterThan(10 * shares(six, [])(four));
});

test('a neutral in another device’s bar: both devices go as that load runs, and the cable itself loses nothing', () => {
  const map = draft('6 ways, RCD on 1 to 3, RCD on 4 to 6');
  const share = shares(map, [
    see(closed('w2', 'at once', 'G1'), off(map, 1, 3, 4, 5, 6)),
    see(closed('w5', 'holds'), off(map, 1, 2, 3, 4, 6)),
    see({ kind: 'clamp', around: 'w2', mA: 0.8, filtered: true, peak: false }, off(map, 1, 3)),
    see({ kind: 'clamp', around: 'G2', mA: 1500, filtered: true, peak: false }, off(map, 1, 3)),
  ]);
  expect(share(/^(otherBar s2@a:N>NG2|borrowed c2)/)).toBeGreaterThan(0.5);
});

test('a breaker that goes at once is a short; after minutes with everything running, overload', () => {
  const share = shares(draft('6 ways'), [see(closed('w3', 'at once', 'w3'), untouched)]);
  expect(share(/(c|s)3[.:].*(LN|LE)$/)).toBeGreaterThan(0.5);
  const map = draft('6 ways');
  const later = shares(map, [see(closed('w3', 'after', 'w3'), untouched), see({ kind: 'clamp', around: 'w3/L', mA: 46_000, filtered: false, peak: false }, untouched)]);
  expect(later(/^overload w3/)).toBeGreaterThan(15 * shares(map, [])(/^overload w3/));
  expect(later(/^overload w[^3]/)).toBeLessThan(0.02);
});

test('a high L–N loop and a good L–E loop is a bad neutral; the other way round a bad earth', () => {
  const map = draft('4 ways');
  const loop = (to: string, ohm: number): LiveObservation => see({ kind: 'loop', from: 'c2:L', to, ohm, noTrip: false }, untouched);
  const neutral = shares(map, [loop('c2:N', 4), loop('c2:E', 0.9)]);
  const earth = shares(map, [loop('c2:N', 0.7), loop('c2:E', 4)]);
  const bad = (core: string): RegExp => new RegExp(`^(resistive s2@[ab]:${core}|open s2:${core})`);
  const before = shares(map, []);
  for (const [share, core, other] of [[neutral, 'N', 'E'], [earth, 'E', 'N']] as const) {
    expect(share(bad(core))).toBeGreaterThan(10 * before(bad(core)));
    expect(share(bad(core))).toBeGreaterThan(10 * share(bad(other)));
  }
});

test('230 V from neutral to earth at the point: the neutral is broken; with the earth terminal live to an independent earth, line and earth are crossed', () => {
  const map = draft('4 ways');
  const volt = (from: string, to: string, v: number): LiveObservation => see({ kind: 'voltage', from, to, volt: v, meter: 'low' }, untouched);
  const pairs = [volt('c3:L', 'c3:N', 0.6), volt('c3:L', 'c3:E', 231), volt('c3:N', 'c3:E', 229)];
  expect(shares(map, [...pairs, volt('c3:E', 'ground', 0.3)])(/^(open s3:N|loose s3@[ab]:N)/)).toBeGreaterThan(0.7);
  expect(shares(map, [...pairs, volt('c3:E', 'ground', 230)])(/^crossed s3:LE/)).toBeGreaterThan(0.7);
});

test('the order of tests does not matter, and no single test rules anything out', () => {
  const all = [...routine(six, 3, 3), see({ kind: 'clamp', around: 'G1', mA: 12, filtered: true, peak: false }, untouched)];
  const [a, b] = [shares(six, all), shares(six, [...all].reverse())];
  for (const pick of [/contact s3:LE/, /^leak/, /^sensitive/]) {
    expect(a(pick)).toBeCloseTo(b(pick), 10);
    expect(a(pick)).toBeGreaterThan(0);
  }
});

test('a loop as long as metal in the stead of a broken earth makes it speaks for just that, by the exact network', () => {
  const map = draft('radial, 4');
  const state = { ...untouched, loadsOut: loads(map) };
  const suspects = suspectsOf(map);
  const bridged = suspects.findIndex((s) => s.id === 'bridged s3:E');
  const ohm = 2.2;
  const exact = Energised.of(map, state, suspects[bridged]?.fault(ohm, 0.5) ?? []).loop('p3:L', 'p3:E');
  const sound = Energised.of(map, state).loop('p3:L', 'p3:E');
  const loop = (x: typeof exact): LiveObservation => see({ kind: 'loop', from: 'p3:L', to: 'p3:E', ohm: magnitude(x ?? { re: 0, im: 0 }), noTrip: false }, state);
  expect(magnitude(exact ?? { re: 0, im: 0 })).toBeGreaterThan(magnitude(sound ?? { re: 0, im: 0 }) + 1);
  // One cell of just this size, and the sound circuit.
  const cells = { count: 2, suspect: Int32Array.of(bridged, 0), answer: Int32Array.of(bridged, 0), logPrior: Float64Array.of(-1, -1), tCentre: Float64Array.of(Math.log10(ohm + 0.1), NaN), tSd: Float64Array.of(0, 0), fixedOhm: Float64Array.of(0, 0) };
  const evidence = new LiveEvidence(map, suspects, cells);
  const of = (factor: number): number => evidence.bias([loop(exact && { re: exact.re * factor, im: exact.im * factor })])[0] ?? NaN;
  for (const off of [0.6, 0.8, 1.25, 1.6]) expect(of(1)).toBeGreaterThan(of(off));
  expect(of(1)).toBeGreaterThan((evidence.bias([loop(exact)])[1] ?? 0) + 2);
});

test('leakage that adds up is shared unevenly, and what is off has none of it: neither speaks against it', () => {
  const clamp = (around: string, mA: number): LiveTest => ({ kind: 'clamp', around, mA, filtered: true, peak: false });
  const leak = /^leak G1/;
  const state = off(six, 1, 3);
  const of = (...tests: LiveTest[]): number => shares(six, tests.map((t) => see(t, state)))(leak);
  const device = of(clamp('G1', 16));
  expect(of(clamp('G1', 16), clamp('w1', 0), clamp('w3', 0))).toBeGreaterThan(device / 3);
  expect(of(clamp('G1', 16), clamp('w2', 7), clamp('w4', 2.2))).toBeGreaterThan(device / 3);
  // All of it on one way is that way's own.
  expect(of(clamp('G1', 16), clamp('w2', 15.5), clamp('w4', 0.1), clamp('w5', 0.1))).toBeLessThan(of(clamp('G1', 16), clamp('w2', 7), clamp('w4', 2.2), clamp('w5', 4)) / 3);
});

describe('one more thing, and it trips: leakage that adds up goes the same way as a fault in the last thing', () => {
  const drawn = editMap(six, { edit: 'drawCircuit', way: 'w1', phrase: 'lights, 3, one switch' });
  if (!drawn.ok) throw new Error('draw');
  const map = drawn.value;
  const [one, two, three] = loads(map).filter((l) => l.endsWith('.lamp')) as [string, string, string];
  const [lights] = map.points.flatMap((p) => p.elements.flatMap((e) => (e.kind === 'switch' ? [elementKey(p.id, e.id)] : [])));
  const dark: WorkState = { ...untouched, off: [lights as string] };
  const withoutOne: WorkState = { ...untouched, loadsOut: [one] };
  const ramp = (mA: number): LiveTest => ({ kind: 'ramp', device: 'G1', mA, outgoing: 'in' });
  const tripsByOne = [see(closed('G1', 'holds'), dark), see(closed('G1', 'at once', 'G1'), untouched), see(closed('G1', 'holds'), withoutOne)];
  const odds = (all: LiveObservation[]): number => {
    const share = shares(map, all);
    return share(/^leak G1/) / share(new RegExp(`^load ${one}:S?LE`));
  };

  test('the last lamp out, and it holds: the lamp, and leakage not ruled out', () => {
    const after = odds(tripsByOne);
    expect(after).toBeLessThan(0.5);
    expect(after).toBeGreaterThan(0.02);
    // Plugged in and out again: the same state shows the same, and says no more.
    expect(odds([...tripsByOne, ...tripsByOne]) / after).toBeCloseTo(1, 1);
  });

  test('little is left before the device goes, with the lamp out: it is not the lamp alone', () => {
    expect(odds([...tripsByOne, see(ramp(8), withoutOne)])).toBeGreaterThan(1);
    expect(odds([...tripsByOne, see(ramp(22), withoutOne)])).toBeLessThan(odds(tripsByOne));
  });

  test('what a switch keeps off leaks nothing: a ramp with the lights off says little of leakage, with them on much', () => {
    const of = (state: WorkState): number => shares(map, [see(ramp(20), state)])(/^leak G1/);
    expect(of(dark)).toBeGreaterThan(1.5 * of(untouched));
    expect(of({ ...untouched, loadsOut: [one, two, three] })).toBeCloseTo(of(dark), 3);
  });
});

const heater = draft('tree, 3');
const appliance = heater.points.flatMap((p) => p.elements.flatMap((e) => (e.kind === 'load' && p.kind === 'fixed' ? [elementKey(p.id, e.id)] : [])))[0] ?? '';
const onLead = (around: string, mA: number): LiveObservation => see({ kind: 'clamp', around, mA, filtered: true, peak: false }, untouched);

test('a clamp on the lead of an appliance: what it loses to earth inside, by Ohm; what passes from its line to its neutral passes the clamp twice', () => {
  const point = appliance.split('.')[0] ?? '';
  const load = appliance.split('.')[1] ?? '';
  const read = (around: string, terminals: [string, string], ohm: number): number => {
    const e = Energised.of(heater, untouched, [{ kind: 'loadFault', point, load, terminals, ohm }]);
    return 1000 * clampAmp(heater, soundView(e), null, untouched, { around, filtered: true, peak: false });
  };
  const sound = read(appliance, ['L', 'N'], 1e9);
  // 230 V over 2300 ohms: 100 mA, in quadrature with what its filter leaks.
  expect(read(appliance, ['L', 'E'], 2300)).toBeCloseTo(Math.hypot(100, sound), -1);
  expect(read(appliance, ['L', 'N'], 2300)).toBeCloseTo(sound, 0);
  expect(read(`${appliance}/L`, ['L', 'N'], 2300) - read(`${appliance}/L`, ['L', 'N'], 1e9)).toBeGreaterThan(90);
});

test('the figure on its lead speaks for and against the appliance, and not for another; a lead that is on no map says nothing', () => {
  const before = shares(heater, []);
  const inside = new RegExp(`^load ${appliance.replace('.', '\\.')}:LE$`);
  expect(shares(heater, [onLead(appliance, 120)])(inside)).toBeGreaterThan(3 * before(inside));
  expect(shares(heater, [onLead(appliance, 0.3)])(inside)).toBeLessThan(before(inside));
  expect(shares(heater, [onLead('p9.gone', 120)])(inside)).toBeCloseTo(before(inside), 3);
});

test('volts on metal that is on no circuit speak of the installation’s earth alone, to which it may be bonded: all else keeps its proportion', () => {
  const live = shares(six, [see({ kind: 'voltage', from: 'metal:Handrail', to: 'ground', volt: 96, meter: 'low' }, untouched)]);
  const before = shares(six, []);
  const ratio = (pick: RegExp): number => live(pick) / before(pick);
  expect(ratio(/^loose s1@a:L$/)).toBeCloseTo(ratio(/^contact s3:LN$/), 1);
  expect(ratio(/^open s2:N$/)).toBeCloseTo(ratio(/^sound$/), 1);
});

test('what is foreseen of a test is what it will then weigh: after every way held, the same way alone hardly trips', () => {
  const suspects = suspectsOf(six);
  const cells = cellsOf(suspects);
  const live = new LiveEvidence(six, suspects, cells);
  const made = routine(six, 6, null);
  const state = off(six, 1, 2, 4, 5, 6);
  const results = [see(closed('w3', 'holds'), state), see(closed('w3', 'at once', 'G1'), state), see(closed('w3', 'at once', 'w3'), state), see(closed('w3', 'after', 'w3'), state)];
  const some = Array.from({ length: 40 }, (_, i) => Math.floor((i * cells.count) / 40));
  const before = live.bias(made);
  const chances = live.forecast(results, some, made);
  for (const [k, o] of results.entries()) {
    const after = live.bias([...made, o]);
    for (const [i, c] of some.entries()) if (suspects[cells.suspect[c] as number]?.kind !== 'unknown') expect(chances[k]?.[i]).toBeCloseTo(Math.exp((after[c] as number) - (before[c] as number)), 1.7);
  }
});

test('a supply neutral that is lost: its volts go up and down with what runs, from one outlet to the next, and it is still that', () => {
  const whole = draft('4 ways, RCD on 1 to 2');
  const volts = (from: string, to: string, volt: number): LiveObservation => see({ kind: 'voltage', from, to, volt, meter: 'low' }, untouched);
  // Nothing runs: the neutral hangs on the meter alone. Something runs: it stands near the line. Both within the same minutes.
  const adrift = [volts('p0:N', 'ground', 5), volts('p0:L', 'p0:N', 11), volts('c1:N', 'ground', 196), volts('c2:L', 'c2:N', 35), volts('c3:N', 'ground', 4)];
  const share = shares(whole, adrift);
  const before = shares(whole, []);
  const gained = (of: RegExp): number => share(of) / before(of);
  expect(gained(/^supply neutral/)).toBeGreaterThan(5);
  expect(share(/^supply neutral/)).toBeGreaterThan(share(/^unknown/));
  // Where it stands on 230 V and the neutral on earth, nothing is lost.
  const sound = shares(whole, [volts('p0:N', 'ground', 0.6), volts('p0:L', 'p0:N', 231), volts('c1:N', 'ground', 1.4), volts('c2:L', 'c2:N', 228)]);
  expect(sound(/^supply/)).toBeLessThan(0.01);
});

test('what runs may change between two tests: one that tripped and held again in the same state is no proof of something that is on no map', () => {
  const bare = off(six, 1, 2, 3, 5, 6);
  const twice = shares(six, [see(closed('w4', 'at once', 'G1'), bare), see(closed('G1', 'holds'), { ...bare, loadsOut: ['c4.loads'] }), see(closed('w5', 'holds'), off(six, 1, 2, 3, 6))]);
  expect(twice(/^unknown/)).toBeLessThan(0.05);
});

test('an outlet that is dead beside others that work: its own face may have no contact, as well as its terminals; volts between line and neutral at the face say the same', () => {
  const map = draft('radial, 4');
  const outlets = map.points.filter((p) => p.kind === 'outlet');
  const second = outlets[1]?.id ?? '';
  const works = outlets.map((p) => see({ kind: 'works', point: p.id, works: p.id !== second }, untouched));
  const ofFace = new RegExp(`^face ${second}/f1:[LN]$`);
  const before = shares(map, []);
  expect(shares(map, works)(ofFace)).toBeGreaterThan(10 * before(ofFace));
  const volts = outlets.map((p) => see({ kind: 'voltage', from: `${p.id}/f1:L`, to: `${p.id}/f1:N`, volt: p.id === second ? 0 : 229, meter: 'low' }, untouched));
  expect(shares(map, volts)(ofFace)).toBeGreaterThan(10 * before(ofFace));
  // Where it works it has contact: poor it may be still, open it is not.
  expect(shares(map, outlets.map((p) => see({ kind: 'works', point: p.id, works: true }, untouched)))(ofFace)).toBeLessThan(before(ofFace));
});
