import { rootOfSquares } from '../numeric';
import { boardOf, loadsOf, type InnerElement, type Installation, type Load, type Point } from '../installation';
import { meter, toY, type TestFunction } from '../tester';
import { elementKey, type WorkState } from '../workstate';

// What may be there that nobody vouches for, and that changes readings without being the fault: loads that are in, of any size, and
// earth that goes by metal beside the protective conductor.

/** The least ohms that all loads of a circuit together show. */
export const LEAST_LOAD_OHM = 5;
/** The least ohms of a way to earth by metalwork. */
export const LEAST_METAL_OHM = 0.2;
/** A plate is good for a tenth and a bit. */
const PLATE = 0.13;

/** Chance that something is in where nobody said that it is out; and that metal beside the CPC has a say, with loads or without. */
export const LOADS_MAY_BE_IN = 0.45;
export const METAL_MAY_BE = 0.08;
/** Chance that something conducts where it was just plugged in: it may be off at its own switch. */
export const PUT_IN = 0.7;
/** What is hardly ever so, as a load that stayed in against the record, is looked for in a reading, not foreseen, and not taken as settled by one. */
export const SELDOM = 0.1;

/** Only a resistor of stated size is one to a dead test: electronics, windings and neon are anything. */
export const isDoubtful = (l: Load): boolean => l.loadClass !== 'arrester' && (l.guessed === true || l.loadClass !== 'resistive');

const withLoads = (map: Installation, change: (l: Load) => Load[]): Installation => ({ ...map, points: map.points.map((p) => (loadsOf(p).length ? { ...p, elements: p.elements.flatMap((e): InnerElement[] => (e.kind === 'load' ? change(e) : [e])) } : p)) });

/** The installation with the loads alone that are vouched for. */
export const vouchedLoads = (map: Installation): Installation => withLoads(map, (l) => (isDoubtful(l) ? [] : [l]));

/** The installation with all loads that may be in, at their least. */
export const mostLoads = (map: Installation): Installation => withLoads(map, (l) => [l.loadClass === 'arrester' ? l : { ...l, implied: undefined, ohm: isDoubtful(l) ? LEAST_LOAD_OHM : l.ohm * (1 - PLATE) }]);

/** The same with every accessory on metal that leads to the board's earth. */
export function mostMetal(map: Installation): Installation {
  const board = boardOf(map);
  const touches = (p: Point): boolean => p !== board && p.kind !== 'joint' && p.terminals.some((t) => t.role === 'E');
  return mostLoads({ ...map, points: map.points.map((p) => (touches(p) && p.metalOhm === undefined ? { ...p, metalOhm: LEAST_METAL_OHM } : p)) });
}

/** Chance that something stayed in although all was taken out: on a way that nobody has drawn, what is wired in comes out by no plug. */
export const leftIn = (map: Installation, state: WorkState): number => (map.points.some((p) => p.kind === 'undrawn' && loadsOf(p).some((l) => state.loadsOut.includes(elementKey(p.id, l.id)))) ? 0.08 : 0.02);

/** May any load be in, in this state? */
export const anyLoadIn = (map: Installation, state: WorkState): boolean => map.points.some((p) => loadsOf(p).some((l) => l.loadClass !== 'arrester' && !state.loadsOut.includes(elementKey(p.id, l.id))));

/**
 * What such things do to the chance of a reading: how likely they have a say in it at all, and that share times their density in y
 * (or times the chance that it is off scale). `near`: how much of that density is of a thing whose own ohms are lost beside the rest, as
 * a heater's are in series with a leak: the reading is then as sharp as without it. `nearShare`: how likely that is; `nearSd`: s.d. in y.
 */
export interface Say { share: number; density: number; near: number; nearShare: number; nearSd: number }

export const noSay = (): Say => ({ share: 0, density: 0, near: 0, nearShare: 0, nearSd: 1 });

export function clearSay(out: Say): void {
  out.share = 0;
  out.density = 0;
  out.near = 0;
  out.nearShare = 0;
  out.nearSd = 1;
}

export function scaleSay(say: Say, factor: number): void {
  say.share *= factor;
  say.density *= factor;
  say.near *= factor;
  say.nearShare *= factor;
}

/** Readings nearer to each other than this share are one: the thing does not touch this probe. */
const ALIKE = 0.05;
/** The most ohms of a load that is in. */
export const MOST_OHM = 5e6;

/**
 * Adds the say of one thing of chance `share` in a reading that would be `plain` ohms without it and is `least` with all of it: anything
 * between, by the ohms that the thing itself may have, as the meter blurs it. `ohm` null: it was off scale. `again`: what another reading
 * showed (off scale: 'above'), which it then shows again; `sd`: the instrument's, both in y.
 */
export function addSay(out: Say, share: number, own: number, fn: TestFunction, ohm: number | null, least: number, plain: number, y: number, again: number | 'above' | null, sd: number): void {
  if (!(least < plain * (1 - ALIKE))) return;
  const range = meter[fn];
  // What the display cannot tell from nothing, in ohms.
  const blur = range.residualOhm + range.digitOhm(0) * range.digits * 0.5;
  const most = Math.min(plain * (1 + PLATE), least + MOST_OHM) * (1 + range.gain);
  if (Math.log((most + blur) / (least + blur)) < 2 * range.gain) return;
  // One instrument compares more finely than it is true: what lies below the least by a hundredth is below it.
  // Near nothing an insulation tester's digits are all it has.
  const digits = fn === 'insulation' ? (range.digits * range.digitOhm(ohm ?? range.topOhm)) / Math.sqrt(3) : 0;
  // Ohms of the thing up to here are lost in what is read with it.
  const lost = own + blur + EDGE[fn] * least + digits;
  const whole = ohmsUpTo(most - least + lost, own);
  const nearPart = ohmsUpTo(lost, own) / whole;
  out.share += share;
  if (ohm === null) {
    const off = Math.min(1, Math.max(0, 1 - ohmsUpTo(Math.max(0, range.topOhm - least) + lost, own) / whole));
    out.density += share * (again === null ? off : (1 - THE_SAME) * off + (again === 'above' ? THE_SAME : 0));
    return;
  }
  const soft = EDGE[fn] + digits / (ohm + blur);
  const edge = 0.5 * (Math.tanh(Math.log((ohm + blur) / (least + blur)) / soft + 1) - Math.tanh(Math.log((ohm + blur) / (most + blur)) / soft - 1));
  const beyond = Math.max(0, ohm - least) + lost;
  const far = (edge * ohmsPerLn(beyond, own) * rootOfSquares(ohm, range.scaleOhm)) / (beyond * whole);
  const wide = (soft * (ohm + blur)) / rootOfSquares(ohm, range.scaleOhm);
  const near = (nearPart * Math.exp(-0.5 * ((y - toY(fn, least)) / wide) ** 2)) / (wide * 2.5066282746);
  out.near += share * near;
  out.nearShare += share * nearPart;
  out.nearSd = wide;
  const any = near + far;
  // What it showed before it shows again, but only where it can show it at all.
  const shown = typeof again === 'number' ? (edge * Math.exp(-0.5 * ((y - again) / sd) ** 2)) / (sd * 2.5066282746) : 0;
  out.density += share * (again === null ? any : (1 - THE_SAME) * any + THE_SAME * shown);
}

/** Most loads are heaters, lamps and windings of so many ohms at the most; the rest is electronics, of anything beyond. */
export const USUAL_OHM = 3000;
export const USUAL = 0.75;

/** Density in ln of the ohms that a load has, and the chance that it has up to so many; `own`: the least. */
const ohmsPerLn = (ohm: number, own: number): number => (ohm < USUAL_OHM ? USUAL / Math.log(USUAL_OHM / own) : (1 - USUAL) / Math.log(MOST_OHM / USUAL_OHM));
const ohmsUpTo = (ohm: number, own: number): number => (ohm < USUAL_OHM ? (USUAL * Math.log(ohm / own)) / Math.log(USUAL_OHM / own) : USUAL + ((1 - USUAL) * Math.log(ohm / USUAL_OHM)) / Math.log(MOST_OHM / USUAL_OHM));

/** How finely two readings of one instrument are told apart, in ln. */
const EDGE: Readonly<Record<TestFunction, number>> = { continuity: 0.012, insulation: 0.06 };

/** How surely what showed a figure in one state, a load, metal or what insulates, shows it again in the next. */
export const THE_SAME = 0.9;

/** Does the thing touch a reading so much that a forecast of it is a span, not a figure? */
export const blurs = (least: number, plain: number): boolean => least < plain * (1 - ALIKE);
