import { noPrediction, SELDOM, USUAL, type Belief, type BeliefEngine } from '../belief';
import { normalCdf } from '../numeric';
import type { Answers, Probe, Response } from '../probes';
import { meter, toY } from '../tester';

/** The cells that planning looks at: the heaviest of each likely suspect, or a fair sample where there are too many of them; sorted by place, weights made to sum to 1. */
export interface Front {
  readonly cells: Int32Array;
  readonly weight: Float64Array;
  /** Place number of each cell; equal numbers stand together. */
  readonly place: Int32Array;
  /** By whose formulas they are read. */
  readonly suspects: readonly number[];
  /** Which of `suspects` each cell is read by. */
  readonly of: Int32Array;
  readonly entropy: number;
}

export const FULL_FRONT = 220;
export const ROUGH_FRONT = 60;
const COVERED = 0.995;

export function frontOf(engine: BeliefEngine, belief: Belief, placeNumber: (suspect: number) => number, most = FULL_FRONT): Front {
  const suspectOf = (c: number): number => belief.cells.suspect[c] as number;
  const bySuspect = new Map<number, number[]>();
  for (let c = 0; c < belief.cells.count; c++) {
    const s = suspectOf(c);
    if (engine.suspects[s]?.kind === 'unknown' || !((belief.weight[c] as number) > 0)) continue;
    const list = bySuspect.get(s);
    if (list) list.push(c);
    else bySuspect.set(s, [c]);
  }
  // Every likely suspect has cells here in proportion to its share: one that spreads over many sizes is not crowded out by those that have only one.
  const shareOf = (s: number): number => belief.suspectShare[s] as number;
  const kept: number[] = [];
  const weights: number[] = [];
  let mass = 0;
  const byShare = [...bySuspect].sort((x, y) => shareOf(y[0]) - shareOf(x[0]));
  const many = byShare.slice(0, most).reduce((sum, [s]) => sum + shareOf(s), 0) < COVERED * byShare.reduce((sum, [s]) => sum + shareOf(s), 0);
  for (const [s, cells] of byShare) {
    // Of very many suspects, each next to nothing, those that weigh as much as one cell of the front stand for themselves.
    if (mass > COVERED || kept.length >= most || (many && shareOf(s) * most < 1)) break;
    const room = Math.min(cells.length, Math.max(1, Math.round(most * shareOf(s))), most - kept.length);
    const top = cells.length > room ? cells.sort((x, y) => (belief.weight[y] as number) - (belief.weight[x] as number)).slice(0, room) : cells;
    const sum = top.reduce((t, c) => t + (belief.weight[c] as number), 0);
    for (const c of top) {
      kept.push(c);
      weights.push(((belief.weight[c] as number) / sum) * shareOf(s));
    }
    mass += shareOf(s);
  }
  if (many) {
    const small = byShare.filter(([s]) => shareOf(s) * most < 1);
    const rest = small.reduce((sum, [s]) => sum + shareOf(s), 0);
    const room = Math.max(Math.ceil(most * FOR_THE_MANY), most - kept.length);
    for (const c of fairly(engine, belief, small.flatMap(([, cells]) => cells), room)) {
      kept.push(c);
      weights.push(rest / room);
    }
    mass += rest;
  }
  const order = kept.map((_, i) => i).sort((x, y) => placeNumber(suspectOf(kept[x] as number)) - placeNumber(suspectOf(kept[y] as number)));
  const cells = order.map((i) => kept[i] as number);
  const weight = Float64Array.from(order, (i) => (weights[i] as number) / mass);
  const place = Int32Array.from(cells, (c) => placeNumber(suspectOf(c)));
  const answerOf = (c: number): number => belief.cells.answer[c] as number;
  const suspects = [...new Set(cells.map(answerOf))];
  const number = new Map(suspects.map((s, i) => [s, i]));
  return { cells: Int32Array.from(cells), weight, place, suspects, of: Int32Array.from(cells, (c) => number.get(answerOf(c)) as number), entropy: placeEntropy(weight, place) };
}

/** Share of a front that the many small suspects have at least. */
const FOR_THE_MANY = 0.4;

/** So many cells, each standing for as much of the weight of all: taken in even steps through them, like beside like, so that every family of faults has its part. */
function fairly(engine: BeliefEngine, belief: Belief, cells: readonly number[], room: number): number[] {
  const family = engine.suspects.map((s) => `${s.kind} ${[...s.conductors].sort().join()}`);
  const suspectOf = (c: number): number => belief.cells.suspect[c] as number;
  const likeByLike = [...cells].sort((x, y) => {
    const [a, b] = [family[suspectOf(x)] as string, family[suspectOf(y)] as string];
    return a < b ? -1 : a > b ? 1 : suspectOf(x) - suspectOf(y) || x - y;
  });
  const step = likeByLike.reduce((sum, c) => sum + (belief.weight[c] as number), 0) / room;
  const taken: number[] = [];
  let sum = 0;
  for (const c of likeByLike) {
    sum += belief.weight[c] as number;
    while (taken.length < room && sum > (taken.length + 0.5) * step) taken.push(c);
  }
  return taken;
}

function placeEntropy(weight: Float64Array, place: Int32Array): number {
  let entropy = 0;
  for (let i = 0; i < weight.length; ) {
    let sum = 0;
    const p = place[i];
    while (i < weight.length && place[i] === p) sum += weight[i++] as number;
    if (sum > 0) entropy -= sum * Math.log2(sum);
  }
  return entropy;
}

/** What each cell may show: with nothing in that nobody vouches for, with a usual load, and with electronics. */
export const PARTS = 3;

/** Predicted outcomes of one probe for every cell of the front; of each its `PARTS` side by side, `share` the chance of each. */
export interface Forecast { readonly probe: Probe; readonly y: Float64Array; readonly sd: Float64Array; readonly share: Float64Array }

export function forecast(engine: BeliefEngine, belief: Belief, front: Front, answers: Answers): Forecast {
  const { probe } = answers;
  const n = front.cells.length;
  const [y, sd, share] = [new Float64Array(PARTS * n), new Float64Array(PARTS * n), new Float64Array(PARTS * n)];
  const responses = front.suspects.map((s) => answers.to(s));
  const loads = answers.others.filter((m) => m.is === 'load' && m.share > SELDOM).map((m) => ({ share: m.share, to: front.suspects.map((s) => m.to(s)) }));
  const moved = noPrediction();
  const still = noPrediction();
  // Most suspects do not touch a probe: cells that answer alike, with the same insulation, are told once.
  let last = -1;
  let stillIs: Response | null = null;
  for (let i = 0; i < n; i++) {
    const c = front.cells[i] as number;
    const of = front.of[i] as number;
    const r = responses[of] as Response;
    const told = r.kind === 0 && !loads.length ? still : moved;
    let shareIn = 0;
    if (told === moved || r !== stillIs || !(r.z === 0 || sameInsulation(belief, c, last))) {
      told.spans = false;
      for (let k = 0; k === 0 || (k < loads.length && !told.spans); k++) {
        engine.predict(belief, c, probe.fn, r, told, loads[k]?.to[of] ?? null);
        if (told.spans) shareIn = loads[k]?.share ?? 0;
      }
      if (told === still) [last, stillIs] = [c, r];
    }
    const at = PARTS * i;
    [y[at], sd[at], share[at]] = [told.y, told.sd, 1 - shareIn];
    if (!shareIn) continue;
    [y[at + 1], sd[at + 1], share[at + 1]] = [told.usualY, told.usualSd, shareIn * USUAL];
    [y[at + 2], sd[at + 2], share[at + 2]] = [told.farY, told.farSd, shareIn * (1 - USUAL)];
  }
  return { probe, y, sd, share };
}

/** Do two forecasts foresee the same of a cell of the front? `same`: are two figures one? */
export function foreseenAlike(f: Forecast, g: Forecast, cell: number, same: (x: number, y: number) => boolean): boolean {
  for (let k = PARTS * cell; k < PARTS * (cell + 1); k++)
    if (f.share[k] !== g.share[k] || ((f.share[k] as number) > 0 && !same(f.y[k] as number, g.y[k] as number))) return false;
  return true;
}

/** Do two cells hold the same of the insulation, apart from their other unknowns? */
function sameInsulation({ s, precision }: Belief, c: number, d: number): boolean {
  const [at, was] = [6 * c, 6 * d];
  const alone = (i: number): boolean => precision[i + 3] === 0 && precision[i + 4] === 0;
  return s[c] === s[d] && precision[at + 5] === precision[was + 5] && alone(at) && alone(was);
}

const CDF_STEPS = 64;
const cdfTable = Float64Array.from({ length: 6 * CDF_STEPS + 1 }, (_, i) => normalCdf(i / CDF_STEPS - 3));
const cdf = (z: number): number => (z <= -3 ? 0 : z >= 3 ? 1 : (cdfTable[Math.round((z + 3) * CDF_STEPS)] as number));

const BIN = { continuity: 0.07, insulation: 0.12 } as const;
const MOST_BINS = 320;
/** Share of readings that tell nothing (slips), so that no gain is endless. */
const SLIP = 0.008;

const binMass = new Float64Array(MOST_BINS + 2);
const placeMass = new Float64Array(MOST_BINS + 2);

/** Bits that the probe tells about the place, for the given weights (same order as the front). */
export function information(front: Front, f: Forecast, weight: Float64Array = front.weight): number {
  const width = BIN[f.probe.fn];
  const top = toY(f.probe.fn, meter[f.probe.fn].topOhm);
  const bins = Math.min(MOST_BINS, Math.ceil(top / width));
  binMass.fill(0, 0, bins + 1);
  const n = weight.length;
  let within = 0;
  let placeEntropyBits = 0;
  for (let i = 0; i < n; ) {
    const p = front.place[i];
    let low = bins;
    let high = 0;
    let mass = 0;
    for (; i < n && front.place[i] === p; i++) {
      const w = weight[i] as number;
      if (w < 1e-7) continue;
      mass += w;
      for (let part = PARTS * i; part < PARTS * (i + 1); part++) {
        const m = w * (f.share[part] as number);
        if (m === 0) continue;
        const y = f.y[part] as number;
        const sd = Math.max(f.sd[part] as number, width / 4);
        const a = Math.max(0, Math.floor((y - 2.5 * sd) / width));
        const b = Math.floor((y + 2.5 * sd) / width);
        if (a >= bins) {
          placeMass[bins] = (placeMass[bins] as number) + m;
          high = bins;
          continue;
        }
        if (a < low) low = a;
        // What lies below the first bin belongs to it: mass that is left out would pass for knowledge.
        let done = 0;
        for (let k = a; k <= Math.min(b, bins - 1); k++) {
          const next = k === b ? 1 : cdf(((k + 1) * width - y) / sd);
          placeMass[k] = (placeMass[k] as number) + m * (next - done);
          done = next;
        }
        if (b >= bins) placeMass[bins] = (placeMass[bins] as number) + m * (1 - done);
        if (Math.min(b, bins) > high) high = Math.min(b, bins);
      }
    }
    if (mass <= 0) continue;
    placeEntropyBits -= mass * Math.log2(mass);
    for (let k = Math.min(low, high); k <= high; k++) {
      const m = placeMass[k] as number;
      if (m > 0) {
        within += m * Math.log2(m);
        binMass[k] = (binMass[k] as number) + m;
        placeMass[k] = 0;
      }
    }
  }
  let all = 0;
  for (let k = 0; k <= bins; k++) {
    const m = binMass[k] as number;
    if (m > 0) all += m * Math.log2(m);
  }
  return Math.max(0, (1 - SLIP) * (placeEntropyBits + within - all));
}

/** A run of y that is one outcome, and each cell's chance of it. Bands lie side by side. */
export interface Band { readonly mass: Float64Array; readonly low: number; readonly high: number }

/** Outcome classes of a probe: each cell's chance of a few runs of y. */
export const outcomeClasses = (f: Forecast, weight: Float64Array, most: number): Float64Array[] => bandsBetween(f, weight, classCuts(f, weight, most)).map((b) => b.mass);

/**
 * Where the outcomes of a probe are parted, in y, rising and none above `top`: at most `most` of the gaps between what is foreseen, those that
 * tell most about the place; where no gap tells anything, the one cut of those tried that does; none where none does.
 */
export function tellingCuts(front: Front, f: Forecast, most: number, top = toY(f.probe.fn, meter[f.probe.fn].topOhm)): number[] {
  const inGaps = tellingOf(front, f, most, classCuts(f, front.weight, CUTS_TRIED).map((y) => Math.min(y, top)));
  return inGaps.length ? inGaps : tellingOf(front, f, 1, evenCuts(front, f, top));
}

/** Chosen one by one, each the best beside those before it, as long as it tells something more. */
function tellingOf(front: Front, f: Forecast, most: number, tried: readonly number[]): number[] {
  let [chosen, left]: [number[], number] = [[], front.entropy];
  while (chosen.length < most) {
    const [best] = tried.filter((c) => !chosen.includes(c)).map((c) => {
      const cuts = [...chosen, c].sort((a, b) => a - b);
      return { cuts, left: bandsBetween(f, front.weight, cuts).reduce((sum, b) => sum + entropyIn(front, b.mass), 0) };
    }).sort((a, b) => a.left - b.left);
    if (!best || left - best.left <= PARTS_AT_ALL) break;
    [chosen, left] = [best.cuts, best.left];
  }
  return chosen;
}

/** Round figures at even distances over all that is foreseen. */
function evenCuts(front: Front, f: Forecast, top: number): number[] {
  let [low, high] = [top, 0];
  for (let i = 0; i < f.y.length; i++) {
    if ((front.weight[Math.floor(i / PARTS)] as number) * (f.share[i] as number) < 1e-4) continue;
    low = Math.min(low, (f.y[i] as number) - (f.sd[i] as number));
    high = Math.max(high, (f.y[i] as number) + (f.sd[i] as number));
  }
  [low, high] = [Math.max(0, low), Math.min(top, high)];
  return Array.from({ length: CUTS_TRIED - 1 }, (_, k) => roundCut(f, low + ((high - low) * (k + 1)) / CUTS_TRIED, low, high));
}
const CUTS_TRIED = 12;
/** Bits below which two rows would say the same. */
const PARTS_AT_ALL = 0.004;

/** Bits left about the place where only `mass` is left, times its chance. */
export function entropyIn(front: Front, mass: Float64Array): number {
  const total = mass.reduce((s, x) => s + x, 0);
  return total < 1e-9 ? 0 : total * placeEntropy(mass.map((m) => m / total), front.place);
}

const ROUND = [1, 2, 3, 5];
/** The roundest figure near a cut that still lies between the two, as the meter shows it. */
function roundCut(f: Forecast, at: number, low: number, high: number): number {
  const k = meter[f.probe.fn].scaleOhm;
  const ohm = k * Math.sinh(at);
  if (!(ohm > 0)) return at;
  const ten = 10 ** Math.floor(Math.log10(ohm));
  const near = [...ROUND, 10].map((r) => Math.asinh((r * ten) / k)).filter((y) => y > low && y < high).sort((a, b) => Math.abs(a - at) - Math.abs(b - at))[0];
  return near ?? at;
}

/** Chance that a cell shows this part of its forecast, and within a run of y. */
export function chanceOfPart(f: Forecast, part: number, low: number, high: number): number {
  const share = f.share[part] as number;
  if (share === 0) return 0;
  const [y, sd] = [f.y[part] as number, f.sd[part] as number];
  return share * ((high === Infinity ? 1 : cdf((high - y) / sd)) - (low === -Infinity ? 0 : cdf((low - y) / sd)));
}

/** The runs between cuts. */
export function bandsBetween(f: Forecast, weight: Float64Array, cuts: readonly number[]): Band[] {
  const n = weight.length;
  return Array.from({ length: cuts.length + 1 }, (_, k): Band => {
    const low = k === 0 ? -Infinity : (cuts[k - 1] as number);
    const high = k === cuts.length ? Infinity : (cuts[k] as number);
    const mass = new Float64Array(n);
    for (let k = 0; k < PARTS * n; k++) {
      const i = Math.floor(k / PARTS);
      mass[i] = (mass[i] as number) + (weight[i] as number) * chanceOfPart(f, k, low, high);
    }
    return { mass, low, high };
  }).filter((b) => b.mass.reduce((s, x) => s + x, 0) > 1e-3);
}

/** No foreseen value is sharper than this, in y. */
const LEAST_SD = 0.01;

/** Cuts in the widest gaps between predicted values, off scale always apart. */
export function classCuts(f: Forecast, weight: Float64Array, most: number): number[] {
  const top = toY(f.probe.fn, meter[f.probe.fn].topOhm);
  const points = Array.from(f.y, (y, i) => ({ y: Math.min(y, top + 1), sd: f.sd[i] as number, w: (weight[Math.floor(i / PARTS)] as number) * (f.share[i] as number) }))
    .filter((p) => p.w > 1e-4)
    .sort((a, b) => a.y - b.y);
  const gaps: { at: number; size: number; low: number; high: number }[] = [];
  for (let i = 1; i < points.length; i++) {
    const a = points[i - 1] as { y: number; sd: number };
    const b = points[i] as { y: number; sd: number };
    // As many s.d. from the one as from the other: what may be anything from here on begins where the figure before it ends.
    gaps.push({ at: a.y + ((b.y - a.y) * (a.sd + LEAST_SD)) / (a.sd + b.sd + 2 * LEAST_SD), size: (b.y - a.y) / (a.sd + b.sd + 2 * LEAST_SD), low: a.y + a.sd, high: b.y - b.sd });
  }
  const chosen = gaps.filter((g) => g.size > 0.5).sort((a, b) => b.size - a.size).slice(0, most - 1).map((g) => roundCut(f, g.at, g.low, g.high));
  return chosen.sort((a, b) => a - b);
}
