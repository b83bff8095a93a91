import type { Suspect } from '../faults';
import { boardOf, findPoint, landingOf, metalName, protectionsOf, roleOfPlace, terminalKey, usedAt, type Installation, type Protection } from '../installation';
import { normalCdf } from '../numeric';
import type { WorkState } from '../workstate';
import { canBeClamped, clampAmp, leakageSpread, lineOf, residualsOf } from './clamp';
import type { LiveObservation } from './evidence';
import type { LiveView, Under } from './scene';
import { indicatorOhm, magnitude, minus, over, partsOf, plus, times } from './measure';
import { CUT_OUT, GROUND } from './network';
import { asRated, chanceOfTrip, type Condition } from './trips';

/** Share of entries that are plain wrong, and what a wrong one looks like. Nobody mistakes a trip; a figure is soon misread. */
const SLIP = { figure: 0.03, seen: 0.006 };
const SLIP_CHANCE = 0.25;

/** Chance of what a test showed (a density in ln for a figure), in the installation as `view` has it. */
export function chanceOf(installation: Installation, o: LiveObservation, view: LiveView, under: Under | null, condition: Condition): number {
  const p = plainChance(installation, o, view, under, condition);
  const slip = (o.test.kind === 'closed' || o.test.kind === 'works' ? SLIP.seen : SLIP.figure) ** (o.times ?? 1);
  return (1 - slip) * Math.max(0, Math.min(p, 20)) + slip * SLIP_CHANCE;
}

function plainChance(installation: Installation, { test, state }: LiveObservation, view: LiveView, under: Under | null, condition: Condition): number {
  const device = (id: string): Protection | undefined => protectionsOf(installation).find((p) => p.id === id);
  const conditionOf = (d: Protection): Condition => (under?.suspect.conductors[0] === d.id ? condition : asRated);
  const node = (place: string): number => view.scene.node(place);
  switch (test.kind) {
    case 'closed': return closedChance(installation, state, view, under, condition, test);
    case 'voltage': {
      const places = [test.from, test.to];
      const met = terminalKey(boardOf(installation)?.id ?? '', 'E');
      const lostNeutral = under?.suspect.kind === 'supplyLost' && under.suspect.conductors.includes('N');
      // What hangs on a supply neutral that is lost stands where what runs and what leaks just then put it; earth hangs on it too, where the two come in as one.
      const adrift = (k: string): boolean => lostNeutral && (roleOfPlace(installation, k) === 'N' || (roleOfPlace(installation, k) === 'E' && node(CUT_OUT) >= 0));
      const astray = (foreseen: number): number => (1 - ADRIFT) * foreseen + ADRIFT * ANY_VOLT_DENSITY;
      if (places.some((k) => metalName(k) !== null)) {
        if (!places.includes(GROUND)) return 1;
        const asEarth = density(test.volt, magnitude(minus(view.volt(node(met)), view.volt(node(GROUND)))), 4, 0.3);
        return BONDED * (adrift(met) ? astray(asEarth) : asEarth) + (1 - BONDED) * ANY_VOLT_DENSITY;
      }
      const [a, b] = [node(test.from), node(test.to)];
      if (a < 0 || b < 0) return 1;
      const { volt, floating } = shownVolt(view, a, b, indicatorOhm[test.meter]);
      const foreseen = density(test.volt, volt, 4, Math.hypot(0.2, LEAKAGE_SD * floating));
      // Two that are adrift together are still joined.
      return adrift(test.from) !== adrift(test.to) ? astray(foreseen) : foreseen;
    }
    case 'clamp':
      // Strays from elsewhere run in an earthing conductor, and part of its own leaves by bonding: it says nothing about one fault.
      if (test.around === 'earth' || !canBeClamped(installation, test.around)) return 1;
      return density(test.mA, 1000 * clampAmp(installation, view, under, state, test), 0.4, Math.hypot(test.peak ? PEAK_SD : test.filtered ? 0.35 : BROADBAND_SD, leakageSpread(installation, view, under, state, test.around)));
    case 'ramp': {
      const d = device(test.device);
      if (!d?.residualMa) return 1;
      const { sensitivity, blind } = conditionOf(d);
      if (test.mA === null) return blind ? 0.95 : 0.01;
      if (blind) return 0.02;
      const at = 0.75 * d.residualMa * sensitivity;
      const { mA } = test;
      // Between the worst case and quadrature lies what the two make together.
      const left = (standing: number): number => ((standing >= at ? 0 : Math.sqrt(at * at - standing * standing)) + Math.max(0, at - standing)) / 2;
      const sd = 0.13 + (sensitivity < 1 ? 0.1 : 0);
      if (test.outgoing === 'out') return density(mA, at, 1, sd);
      return residualsOf(installation, view, under, state, d).reduce((sum, [amp, weight]) => sum + weight * density(mA, left(1000 * magnitude(amp)), 1, sd + (magnitude(amp) > 0 ? 0.1 : 0)), 0);
    }
    case 'times': {
      const d = device(test.device);
      if (!d?.residualMa) return 1;
      const { sensitivity, blind } = conditionOf(d);
      const goes = blind ? 0.03 : normalCdf((test.multiple / sensitivity - 0.75) / 0.09);
      const inTime = test.ms !== null && test.ms <= (test.multiple === 5 ? 40 : 300);
      return test.ms === null ? 1 - goes : goes * (inTime ? 0.97 : 0.03);
    }
    case 'loop': {
      const [a, b] = [node(test.from), node(test.to)];
      if (a < 0 || b < 0) return 1;
      return density(Math.min(test.ohm, LOOP_TOP_OHM), Math.min(magnitude(view.impedance(a, b)), LOOP_TOP_OHM), 0.3, test.noTrip ? 0.35 : 0.3);
    }
    case 'works': {
      const point = findPoint(installation, test.point);
      const [l, n] = ['L', 'N'].map((t) => (point ? node(usedAt(point, t)) : -1)) as [number, number];
      if (l < 0 || n < 0) return 1;
      const alive = normalCdf((shownVolt(view, l, n, indicatorOhm.low).volt / installation.nominalVolt - 0.5) / 0.12);
      return test.works ? alive : 1 - alive;
    }
  }
}

/** What a meter of so many ohms shows. What floats is held by leakage and capacitance alone, which nobody knows to a factor of two: the meter's own ohms then set the volts. */
function shownVolt(view: LiveView, a: number, b: number, ohm: number): Shown {
  // All that one test may show is asked for one after another.
  if (shown?.view === view && shown.a === a && shown.b === b && shown.ohm === ohm) return shown;
  const z = view.impedance(a, b);
  shown = {
    view, a, b, ohm, volt: magnitude(over(times(minus(view.volt(a), view.volt(b)), { re: ohm, im: 0 }), plus({ re: ohm, im: 0 }, z))), floating: magnitude(z) / (magnitude(z) + ohm),
  };
  return shown;
}

interface Shown { readonly view: LiveView; readonly a: number; readonly b: number; readonly ohm: number; readonly volt: number; readonly floating: number }
let shown: Shown | null = null;

/** Metal that is no point of a circuit is bonded to the board's earth as often as this; what else makes it live no map shows, at any voltage. */
const BONDED = 0.6;
/** Of the volts of what hangs on a supply neutral that is lost, how much is anything between earth and line. */
const ADRIFT = 0.7;
const ANY_VOLT_DENSITY = 0.2;

/** No loop tester shows more, ohms. */
const LOOP_TOP_OHM = 1999;
/** Spread in ln of what leaks in a whole installation. */
const LEAKAGE_SD = 0.9;
/** What electronics put out above 50 Hz is known in kind, not in size; what starts just then, hardly at all. */
const BROADBAND_SD = 0.5;
const PEAK_SD = 0.8;

/** Density of a shown figure against a predicted one, both steadied by asinh(x / scale). */
function density(shown: number, predicted: number, scale: number, sd: number): number {
  const z = (Math.asinh(shown / scale) - Math.asinh(predicted / scale)) / sd;
  return Math.exp(-0.5 * z * z) / (sd * 2.5066);
}

/**
 * Chance that a suspect makes a device open, at once or within minutes, before anything is read: what it would do with that device closed is not seen then. A
 * device of the board is what its way hangs on; a way that is off drives nothing.
 */
export function opensFirst(installation: Installation, state: WorkState, view: LiveView, under: Under): number {
  const { suspect, ohm } = under;
  let ofView = opened.get(view);
  if (!ofView) opened.set(view, (ofView = new Map<string, number>()));
  const key = `${suspect.id} ${ohm}`;
  let chance = ofView.get(key);
  if (chance === undefined) ofView.set(key, (chance = chanceToOpen(installation, state, view, under)));
  return chance;
}

/** Chances of opening first, by view, suspect and size: figures of one state are asked for at many places. */
const opened = new WeakMap<LiveView, Map<string, number>>();

function chanceToOpen(installation: Installation, state: WorkState, view: LiveView, under: Under): number {
  const circuit = landingOf(installation, under.suspect.place);
  const way = protectionsOf(installation).find((d) => d.ways[0] === d.id && d.id === circuit.line.replace(/^W/, 'w'));
  if (!way || way.poles.some((k) => state.off.includes(k))) return 0;
  let stays = 1;
  for (const d of watching(installation, state, way.id)) {
    const { residual } = partsOf(d);
    const line = magnitude(lineOf(installation, view, under, state, d));
    // Near its residual threshold a device may stay closed all day; what heats it opens it within minutes.
    stays *= (1 - chanceOfTrip(d, line, magnitude(view.current(residual.name, residual.parts))).atOnce) * (1 - chanceOfTrip(d, line, 0).later);
  }
  return 1 - stays;
}

/** Devices that carry a way's current and are closed. */
export function watching(installation: Installation, state: WorkState, closed: string): Protection[] {
  const all = protectionsOf(installation);
  const of = all.find((p) => p.id === closed);
  return all.filter((p) => p.id === closed || (of !== undefined && p.carries.some((w) => of.carries.includes(w)) && p.poles.every((k) => !state.off.includes(k))));
}

function closedChance(
  installation: Installation, state: WorkState, view: LiveView, under: Under | null, condition: Condition,
  test: { readonly device: string; readonly result: 'holds' | 'at once' | 'after'; readonly tripped: string | null },
): number {
  let holdsNow = 1;
  let holdsLater = 1;
  let named = { atOnce: 0, later: 0 };
  for (const { d, p } of tripsOf(installation, state, view, under, condition, test.device)) {
    holdsNow *= 1 - p.atOnce;
    holdsLater *= 1 - p.later;
    if (d.id === test.tripped) named = p;
  }
  const any = { atOnce: 1 - holdsNow, later: holdsNow * (1 - holdsLater) };
  const which = test.tripped === null ? any : { atOnce: named.atOnce, later: named.later };
  if (test.result === 'holds') return holdsNow * holdsLater;
  return test.result === 'at once' ? which.atOnce : which.later + 0.2 * which.atOnce;
}

interface Trip { readonly d: Protection; readonly p: { readonly atOnce: number; readonly later: number } }
interface Asked { readonly view: LiveView; readonly closed: string; readonly suspect: Suspect | null; readonly ohm: number; readonly condition: Condition; readonly trips: readonly Trip[] }
/** All results of one closing are asked for one after another. */
let last: Asked | null = null;

/** Chance of each device that watches to open. */
function tripsOf(installation: Installation, state: WorkState, view: LiveView, under: Under | null, condition: Condition, closed: string): readonly Trip[] {
  const [suspect, ohm] = [under?.suspect ?? null, under?.ohm ?? 0];
  if (last?.view === view && last.closed === closed && last.suspect === suspect && last.ohm === ohm && last.condition === condition) return last.trips;
  const trips = watching(installation, state, closed).map((d) => {
    const of = under?.suspect.conductors[0] === d.id ? condition : asRated;
    const line = magnitude(lineOf(installation, view, under, state, d));
    const p = { atOnce: 0, later: 0 };
    for (const [amp, weight] of residualsOf(installation, view, under, state, d)) {
      const { atOnce, later } = chanceOfTrip(d, line, magnitude(amp), of);
      p.atOnce += weight * atOnce;
      p.later += weight * later;
    }
    return { d, p };
  });
  last = { view, closed, suspect, ohm, condition, trips };
  return trips;
}
