import { SOUND_FROM_OHM } from '../belief';
import type { Suspect } from '../faults';
import { findPoint, type Installation } from '../installation';
import type { JobView } from '../job';
import { bandsBetween, chanceOfPart, PARTS, forecast, frontOf, placeNames, placesOf, stepKey, stepPoints, tellingCuts, type Band, type Forecast, type Front, type Step } from '../planning';
import { unmetNeeds, type SafetyState } from '../safety';
import { isAbove, meter, toY, type Displayed } from '../tester';
import { placeSaid } from './facts';
import { shareOfKind, type Now } from './now';
import type { Outcome, StepView } from './types';

type Scene = Pick<Now, 'map' | 'engine' | 'belief' | 'observations'>;

export function safetyOf(view: JobView): SafetyState {
  return { secured: view.secured !== null, proved: new Map([...view.proofs].map(([p, proof]) => [p, proof.earthPlace !== ''])), state: view.state };
}

/** The best step, then the best that work elsewhere or otherwise: runners-up should suit another way of working. */
export function distinct(map: Installation, steps: readonly Step[]): Step[] {
  const chosen: Step[] = [];
  const seen = new Set<string>();
  for (const s of steps) {
    const manner = `${s.actions.map((a) => a.do).join()} ${stepPoints(map, s).sort().join()}`;
    if (seen.has(manner)) continue;
    seen.add(manner);
    chosen.push(s);
  }
  return chosen;
}

/** Steps shown at the most, and how far down the list they are looked for. */
export const SHOWN = 3;
const LOOKED_AT = 8;

/** A step with a reading in front whose table says more than one thing; null where none does. */
function tellingFirst(s: Step, view: (s: Step) => StepView): StepView | null {
  for (const [i, first] of s.probes.entries()) {
    const v = view(i === 0 ? s : { ...s, probes: [first, ...s.probes.filter((p) => p !== first)] });
    if (merged(v.outcomes.filter((o) => o.count > 0), true).length >= 2) return v;
  }
  return null;
}

/** The best steps as they are shown. A reading whose table has but one row is not proposed: whatever it shows, nothing is learnt; as long as there is another. */
export function telling(steps: readonly Step[], view: (s: Step) => StepView): StepView[] {
  const found: StepView[] = [];
  const poor: StepView[] = [];
  for (const s of steps.slice(0, LOOKED_AT)) {
    if (found.length === SHOWN) break;
    const v = tellingFirst(s, view);
    if (v) found.push(v);
    else poor.push(view(s));
  }
  return found.length ? found : poor.slice(0, SHOWN);
}

export function stepView({ map, engine, belief, observations }: Scene, step: Step, safety: SafetyState, earthDoubt: boolean): StepView {
  const splits = step.actions.some((a) => a.do === 'takeOut');
  const links = step.actions.some((a) => a.do === 'link');
  const opens = step.actions.some((a) => a.do === 'open');
  return {
    // Turned down is turned down with whatever would have been read after it.
    key: stepKey({ actions: step.actions, probes: step.probes.slice(0, 1) }), actions: step.actions, probes: step.probes, minutes: step.minutes, bits: step.bits,
    needs: unmetNeeds(map, safety, { actions: step.actions, probes: step.probes, earthDoubt }),
    outcomes: outcomesOf({ map, engine, belief, observations }, step),
    why: { code: splits && map.shape === 'board' && step.actions.every((a) => findPoint(map, a.point)?.kind === 'board') ? 'pulls' : splits ? 'splits' : links ? 'links' : opens ? 'opens' : step.bits > 0.8 ? 'halves' : 'cheap', figure: step.bits },
  };
}

/** What the first reading of a step would mean: up to three outcomes and "else", chances summing to 1. */
export function outcomesOf({ map, engine, belief, observations }: Scene, step: Pick<Step, 'actions' | 'probes' | 'stateAfter'>): Outcome[] {
  const probe = step.probes[0];
  if (!probe) return [];
  const answers = engine.formulas.in(step.stateAfter, probe);
  if (!answers) return [];
  const numbers = placesOf(map, engine.suspects);
  const front = frontOf(engine, belief, (s) => numbers[s] ?? 0);
  const f = forecast(engine, belief, front, answers);
  const unknown = shareOfKind({ engine, belief }, 'unknown');
  // Sound insulation is one row from a few megohms up, whatever the meter's top.
  const most = engine.soundIsFlat && probe.fn === 'insulation' ? toY(probe.fn, SOUND_FROM_OHM) : toY(probe.fn, meter[probe.fn].topOhm);
  const bands = bandsBetween(f, front.weight, tellingCuts(front, f, MOST_CUTS, most));
  const known = together(apart(bands.map((band) => outcomeOf({ map, engine, belief, observations }, front, f, band, 1 - unknown))));
  const sum = known.reduce((s, o) => s + o.share, 0);
  return [...known, { low: 0, high: 0, above: false, places: [], suspects: [], count: 0, share: Math.max(NEVER_NOTHING, 1 - sum) }];
}

/** What a reading would mean if it had not been taken, where it likely shows again what it `showed`: `sure`, how likely that was no slip. */
export function readAgain(rows: readonly Outcome[], showed: Displayed, sure: number): Outcome[] {
  const shows = (o: Outcome): boolean => o.count > 0 && (isAbove(showed) ? o.above : showed.ohm >= o.low && showed.ohm <= o.high);
  const rest = rows.reduce((sum, o) => (shows(o) ? sum : sum + o.share), 0);
  return rows.some(shows) && rest > 0 ? rows.map((o) => ({ ...o, share: shows(o) ? sure : ((1 - sure) * o.share) / rest })) : [...rows];
}

/** Three rows and "else" are what one takes in. */
const MOST_CUTS = 2;

/** What no map shows is never impossible. */
const NEVER_NOTHING = 1e-4;

/** Rows end where the next begins. */
const apart = (rows: readonly Outcome[]): Outcome[] => rows.map((row, i) => ({ ...row, high: Math.min(row.high, Math.max(row.low, rows[i + 1]?.low ?? Infinity)) }));

/** Neighbours that mean the same, or that are the same figures, are one row; where their words alone would leave but one, they stay two. */
function together(rows: readonly Outcome[]): Outcome[] {
  const told = merged(rows, true);
  return told.length < 2 ? inTwo(merged(rows, false)) : told;
}

function merged(rows: readonly Outcome[], byWords: boolean): Outcome[] {
  const out: Outcome[] = [];
  for (const row of rows) {
    const last = out[out.length - 1];
    const same = last && last.low === row.low && (last.high === row.high || last.high <= last.low);
    if (last && same) {
      const [first, other] = last.share >= row.share ? [last, row] : [row, last];
      out[out.length - 1] = { ...first, high: row.high, share: last.share + row.share, count: Math.max(last.count, row.count, new Set([...first.suspects, ...other.suspects]).size) };
    } else if (last && last.above === row.above && (sameOnes(last, row) || (byWords && saysTheSame(last, row)))) out[out.length - 1] = joined(last, row);
    else out.push(row);
  }
  return out;
}

const joined = (a: Outcome, b: Outcome): Outcome => ({ ...a, high: b.high, above: b.above, share: a.share + b.share, count: Math.max(a.count, b.count) });

/** Rows whose words are alike, parted once where most stands on either side. */
function inTwo(rows: readonly Outcome[]): Outcome[] {
  const sum = (part: readonly Outcome[]): number => part.reduce((s, r) => s + r.share, 0);
  const cuts = rows.slice(1).map((_, i) => i + 1).sort((x, y) => Math.min(sum(rows.slice(0, y)), sum(rows.slice(y))) - Math.min(sum(rows.slice(0, x)), sum(rows.slice(x))));
  const [at] = cuts;
  return at === undefined ? [...rows] : [rows.slice(0, at), rows.slice(at)].map((part) => part.reduce(joined));
}

/** The same suspects in both, and none besides: the likeliest alone may lead a row of one place and a row of many. */
const sameOnes = (a: Outcome, b: Outcome): boolean => a.suspects.length > 0 && a.suspects.join() === b.suspects.join() && (a.count === b.count || Math.min(a.count, b.count) > 1);

/** Of many places the first alone is named, of a few all: rows that then read alike mean the same to whoever reads them. */
const saysTheSame = (a: Outcome, b: Outcome): boolean => a.count === b.count && a.count > 1 && (a.count > 3 ? a.places[0] === b.places[0] : a.places.join() === b.places.join());

/** How far from what is foreseen a reading may lie and still be in its row, s.d.; rows end where the next begins. */
const WITHIN_SD = 2.3;

/** Share of a row from which one suspect is what it means; from which a place is named in it. */
export const SURE_OF_ONE = 0.95;
export const NAMED_FROM = 0.12;

function outcomeOf({ map, engine, belief, observations }: Scene, front: Front, f: Forecast, band: Band, scale: number): Outcome {
  const { mass } = band;
  const { fn } = f.probe;
  const k = meter[fn].scaleOhm;
  const name = placeNames(map);
  const places = new Map<string, number>();
  const suspects = new Map<string, number>();
  let low = Infinity;
  let high = 0;
  let total = 0;
  const most = Math.max(...mass);
  for (let i = 0; i < mass.length; i++) {
    const m = mass[i] as number;
    if (m <= 0) continue;
    total += m;
    const s = engine.suspects[belief.cells.suspect[front.cells[i] as number] as number] as Suspect;
    const place = placeSaid(s, observations);
    places.set(name(place), (places.get(name(place)) ?? 0) + m);
    suspects.set(place === 'sound' ? 'sound' : s.id, (suspects.get(place === 'sound' ? 'sound' : s.id) ?? 0) + m);
    for (let part = PARTS * i; part < PARTS * (i + 1); part++) {
      if ((front.weight[i] as number) * chanceOfPart(f, part, band.low, band.high) < 0.02 * most) continue;
      const [y, reach] = [f.y[part] as number, WITHIN_SD * (f.sd[part] as number)];
      const least = k * Math.sinh(Math.max(0, band.low, y - reach));
      // Sound insulation is from a few megohms up, whatever the meter's top.
      const sound = engine.soundIsFlat && fn === 'insulation' && least > meter.insulation.topOhm;
      low = Math.min(low, sound ? Math.max(SOUND_FROM_OHM, k * Math.sinh(Math.max(0, band.low))) : least);
      high = Math.max(high, sound ? Infinity : k * Math.sinh(Math.min(band.high, y + reach)));
    }
  }
  const ranked = (m: Map<string, number>, from: number): string[] => [...m].sort((a, b) => b[1] - a[1]).filter(([, v]) => v > from * total).map(([p]) => p).slice(0, 3);
  return { low, high, above: low > meter[fn].topOhm, places: ranked(places, NAMED_FROM), suspects: ranked(suspects, 1 - SURE_OF_ONE), count: [...places.values()].filter((v) => v > 0.02 * total).length, share: total * scale };
}
