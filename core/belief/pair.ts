import { actsIn, isFact, isFault, type Suspect } from '../faults';
import { endKeyOf, findSection, type Installation } from '../installation';
import type { Assumed } from '../network/skeleton';
import { logSumExp } from '../numeric';
import { structureOf } from '../probes';
import type { WorkState } from '../workstate';
import { BeliefEngine, type Belief, type Observation } from './belief';
import { ohmOfCell } from './cells';
import type { Formulas } from './formulas';

/** Two faults at once: the first taken as known, the second to be believed by an engine that has the first in its network. */
export interface TwoFaults {
  readonly first: { readonly suspect: number; readonly ohm: number; readonly fraction: number };
  readonly engine: BeliefEngine;
  /** Probability that there are two, against one, none and what no map shows. */
  readonly share: number;
  /** Probability that a place is one of the two, over all pairs that were weighed. */
  readonly among: (place: string) => number;
}

/** Chance of a second fault beside a first, before any reading. */
const SECOND = 0.1;
/** Candidates for the first that are looked into, best first, one a place; and facts beside which a fault may stand. */
const MOST_FIRSTS = 6;
const MOST_FACTS = 2;
/** Pairs among whose places what is common is sought, and shares that are one. */
const MOST_PAIRS = 40;
const AS_SURE = 0.02;

/**
 * All pairs of faults, or of a fact and a fault, that explain the readings, with what most of them have in common taken as known; null
 * when nothing can be the first of one. The evidence of a pair is that of its first alone, times what the second adds in the network
 * that has the first: one belief a candidate.
 */
export function twoFaults(engine: BeliefEngine, belief: Belief, observations: readonly Observation[], placeOf: (suspect: number) => string): TwoFaults | null {
  const pairs = new Map<string, Pair>();
  for (const { suspect, cell, share } of firsts(engine, belief, placeOf)) {
    const s = engine.suspects[suspect] as Suspect;
    const first: One = { place: placeOf(suspect), suspect, ...likeliest(belief, cell) };
    const then = engineGiven(engine, s, first.ohm, first.fraction).glance(observations);
    // With nothing more, the first explains this much; what it costs to be there at this size comes from its own belief.
    const alone = then.logEvidence + Math.log(then.weight[0] as number) - (then.cells.logPrior[0] as number);
    const cost = belief.logEvidence + Math.log(share) - alone;
    const before = Math.log(isFact(s) ? 1 : SECOND) + cost + then.logEvidence;
    const seconds = new Map<string, { logs: number[]; cell: number }>();
    for (const [c, w] of then.weight.entries()) {
      const other = then.cells.suspect[c] as number;
      const place = placeOf(other);
      if (!(w > 0) || !isFault(engine.suspects[other] as Suspect) || place === first.place) continue;
      const old = seconds.get(place);
      if (!old) seconds.set(place, { logs: [Math.log(w)], cell: c });
      else {
        old.logs.push(Math.log(w));
        if (w > (then.weight[old.cell] as number)) old.cell = c;
      }
    }
    // A pair is one hypothesis, whichever of the two was taken first.
    for (const [place, { logs, cell: c }] of seconds) {
      const key = [first.place, place].sort().join(' ');
      const log = before + logSumExp(logs);
      if (log > (pairs.get(key)?.log ?? -Infinity)) pairs.set(key, { log, first, second: { place, suspect: then.cells.suspect[c] as number, ...likeliest(then, c) } });
    }
  }
  const all = [...pairs.values()].sort((x, y) => y.log - x.log);
  if (!all.length) return null;
  const total = logSumExp(all.map((p) => p.log));
  const among = (place: string): number => all.reduce((sum, p) => (p.first.place === place || p.second.place === place ? sum + Math.exp(p.log - total) : sum), 0);
  // What most pairs have in common is taken as known; of several as sure, the first of the best pair.
  const members = all.slice(0, MOST_PAIRS).flatMap((p) => [p.first, ...(isFact(engine.suspects[p.first.suspect] as Suspect) ? [] : [p.second])]);
  const surest = Math.max(...members.map((x) => among(x.place)));
  const first = members.find((x) => among(x.place) > surest - AS_SURE) as One;
  return { first, engine: engineGiven(engine, engine.suspects[first.suspect] as Suspect, first.ohm, first.fraction), among, share: 1 / (1 + Math.exp(Math.min(700, belief.logEvidence - total))) };
}

/** A fault at its likeliest size and place. */
interface One { readonly place: string; readonly suspect: number; readonly ohm: number; readonly fraction: number }
interface Pair { readonly log: number; readonly first: One; readonly second: One }

const likeliest = (belief: Belief, c: number): { ohm: number; fraction: number } => ({ ohm: ohmOfCell(belief, c), fraction: belief.d[c] as number });

/** Sizes nearer to each other than this, in ln, are one: a network that has the one serves for the other. */
const SAME_SIZE = 0.03;
const MOST_GIVEN = 10;
interface Given { readonly ohm: number; readonly near: boolean; engine: BeliefEngine }
/** By the formulas of the engine that they stand beside: other evidence than readings does not change what is read. */
const given = new WeakMap<Formulas, Map<string, Given>>();

/** A fact that holds in a state or not, whatever was done before: a link left in was not there before it was made. */
export const canBeGiven = (s: Suspect): boolean => isFact(s) && !(s.site.on === 'pair' && s.site.only === 'linkOff');

/** A fact less likely than this is not looked into as company for a fault. */
const WORTH_A_FACT = 1e-4;

/** The engine with one fault in its network; kept, so that a further reading costs itself alone. */
export function engineGiven(engine: BeliefEngine, s: Suspect, ohm: number, fraction: number): BeliefEngine {
  let known = given.get(engine.formulas);
  if (!known) given.set(engine.formulas, (known = new Map<string, Given>()));
  const old = known.get(s.id);
  const near = fraction < 0.5;
  if (old && old.near === near && (old.ohm === ohm || Math.abs(Math.log((old.ohm + 0.1) / (ohm + 0.1))) < SAME_SIZE)) {
    if (old.engine.bias !== engine.bias) old.engine = old.engine.withBias(engine.bias);
    return old.engine;
  }
  // What was complained of is explained once: beside a fault that is there, the size of another need not go with it too.
  const suspects = isFault(s) ? engine.suspects.map(({ felt: _, ...x }) => x) : engine.suspects;
  const made = new BeliefEngine(engine.installation, suspects, engine.options, engine.bias, (state) => {
    return [...(engine.assumed?.(state) ?? []), ...assumedOf(engine.installation, s, ohm, fraction, state)];
  });
  if (known.size >= MOST_GIVEN) known.delete(known.keys().next().value ?? '');
  known.set(s.id, { ohm, near, engine: made });
  return made;
}

/** The heaviest cell of each likely place, heaviest place first: faults, and facts that may stand beside one. */
function firsts(engine: BeliefEngine, belief: Belief, placeOf: (suspect: number) => string): { suspect: number; cell: number; share: number }[] {
  const byPlace = new Map<string, { suspect: number; cell: number; share: number }>();
  for (let c = 0; c < belief.cells.count; c++) {
    const suspect = belief.cells.suspect[c] as number;
    const s = engine.suspects[suspect];
    if (!s || s.site.on === 'nothing' || s.site.on === 'face' || !(isFault(s) || canBeGiven(s))) continue;
    const place = placeOf(suspect);
    const old = byPlace.get(place);
    const w = belief.weight[c] as number;
    if (!old) byPlace.set(place, { suspect, cell: c, share: w });
    else {
      if (w > (belief.weight[old.cell] as number)) Object.assign(old, { suspect, cell: c });
      old.share += w;
    }
  }
  const all = [...byPlace.values()].sort((a, b) => b.share - a.share).filter((x) => x.share > 1e-12);
  const fact = ({ suspect }: { suspect: number }): boolean => isFact(engine.suspects[suspect] as Suspect);
  return [...all.filter((x) => !fact(x)).slice(0, MOST_FIRSTS), ...all.filter((x) => fact(x) && x.share > WORTH_A_FACT).slice(0, MOST_FACTS)];
}

/** A suspect of known size as parts of the network; none where the state keeps it from acting. */
function assumedOf(installation: Installation, s: Suspect, ohm: number, fraction: number, state: WorkState): Assumed[] {
  const { site } = s;
  if (site.on === 'pair') return actsIn(site, state) ? [{ kind: 'shunt', a: site.a, b: site.b, ohm }] : [];
  if (site.on === 'opened') return [{ kind: 'series', part: site.part, endKey: site.endKey, ohm: Infinity }, { kind: 'shunt', a: site.a, b: site.b, ohm }];
  if (site.on === 'branch') return [{ kind: 'series', part: site.part, endKey: site.endKey, ohm }];
  if (site.on === 'structure') return [{ kind: 'structure', structure: structureOf(installation, site) }];
  if (site.on !== 'cable') return [];
  const section = findSection(installation, site.section);
  if (!section) return [];
  // At the nearer end: two faults are told apart by circuits, not by metres.
  const side = fraction < 0.5 ? 'a' : 'b';
  return [{ kind: 'shunt', a: endKeyOf(section, side, site.cores[0]), b: endKeyOf(section, side, site.cores[1]), ohm }];
}
