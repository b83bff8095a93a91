import { canBeGiven, engineGiven, leadCircuits, ohmOfCell, tellsOf, type Belief, type BeliefEngine, type Observation } from '../belief';
import type { Suspect } from '../faults';
import { circuitsOf, type Installation } from '../installation';
import { numbered, placeNames } from '../planning';
import { bestCell, idleShare } from './now';
import type { SuspectView } from './types';

/** No fault, but plain from the readings: the record is wrong somewhere, or metal helps. Taken as given from then on. */
export type FactView = Pick<SuspectView, 'id' | 'kind' | 'place' | 'conductors' | 'share' | 'ohm'>;

/** Share from which a fact is taken as given. */
export const PLAIN = 0.85;
const MOST = 4;
/** Share of all facts together from which it is tried whether two of them are plain. */
const WORTH_TRYING = 0.4;

/** Times its share where readings say nothing of it, from which they speak for a fact. */
const GAINED = 2;

export interface Settled { readonly engine: BeliefEngine; readonly belief: Belief; readonly facts: readonly FactView[] }

/**
 * The belief with every plain fact in the network: what is left is about faults. Facts of several circuits that only together explain
 * the readings share the belief among them: the strongest is plain where both together are.
 */
export function settleFacts(engine: BeliefEngine, belief: Belief, observations: readonly Observation[], before: readonly FactView[] = []): Settled {
  const facts = [...before];
  const numbers = factGroups(engine.installation, engine.suspects);
  while (facts.length < MOST) {
    const stands = otherThrow(engine, observations);
    if (!stands || facts.some((f) => f.id === stands.fact.id)) break;
    facts.push(stands.fact);
    ({ engine, belief } = stands);
  }
  while (facts.length < MOST) {
    const top = strongestFact(engine, belief, numbers);
    if (!top || top.ofAll < WORTH_TRYING || facts.some((f) => f.id === top.s.id)) break;
    // Of many, each as likely as before any reading, none is plain: what readings do not speak for explains none.
    if ((belief.suspectShare[top.i] as number) < GAINED * idleShare(engine, belief) * top.s.prior) break;
    const c = bestCell(belief, top.i);
    const ohm = ohmOfCell(belief, c);
    const given = engineGiven(engine, top.s, ohm, belief.d[c] as number);
    const then = given.believe(observations);
    const next = strongestFact(given, then, numbers);
    // Weight of both together, that of all single ones being 1.
    const both = next && numbers[next.i] !== numbers[top.i] ? (top.share * next.share) / Math.max(1e-9, 1 - next.share) : 0;
    const share = (top.share + both) / (1 + both);
    if (share < PLAIN) break;
    facts.push(factOf(top.s, share, ohm));
    [engine, belief] = [given, then];
  }
  return { engine, belief, facts };
}

/** The point of a load or switch that a fact is about: its place is "state p2.load". */
const pointOfState = (place: string): string => place.slice('state '.length).split('.')[0] ?? '';

/** Number of where a fact stands, per suspect: which load of a circuit stayed in, and which of its two-way switches stands the other way, is one thing. */
function factGroups(installation: Installation, suspects: readonly Suspect[]): number[] {
  const name = placeNames(installation);
  const circuits = circuitsOf(installation);
  return numbered(suspects.map((s) => (s.kind === 'loadIn' || s.kind === 'thrown' ? `${s.kind} in circuit ${circuits.get(pointOfState(s.place)) ?? s.place}` : name(s.place))));
}

/**
 * A two-way switch that plainly stands the other way: whichever fault there is, with it so the readings of its circuit, and what else feels
 * it, are far likelier. Both throws were as likely before any reading. What is read elsewhere has no say in it, and leaves it as it is.
 */
function otherThrow(engine: BeliefEngine, observations: readonly Observation[]): { engine: BeliefEngine; belief: Belief; fact: FactView } | null {
  const { installation } = engine;
  const circuits = circuitsOf(installation);
  let best: { s: Suspect; given: BeliefEngine; share: number } | null = null;
  for (const [i, s] of engine.suspects.entries()) {
    if (s.kind !== 'thrown') continue;
    const circuit = circuits.get(pointOfState(s.place));
    const own = observations.filter((o) => tellsOf(engine, o, i) || leadCircuits(installation, o.probe).includes(circuit));
    if (!own.some((o) => feels(engine, o, i))) continue;
    const given = engineGiven(engine, s, 0, 0.5);
    const share = 1 / (1 + Math.exp(engine.believe(own).logEvidence - given.believe(own).logEvidence));
    if (share > Math.max(PLAIN, best?.share ?? 0)) best = { s, given, share };
  }
  return best && { engine: best.given, belief: best.given.believe(observations), fact: factOf(best.s, best.share, 0) };
}

/** Would the reading be another with it? */
export function feels(engine: BeliefEngine, o: Observation, suspect: number): boolean {
  const answers = engine.formulas.of(o.state, o.probe);
  return answers !== null && answers.to(suspect) !== answers.sound;
}

/**
 * The likeliest fact at the place where facts are likeliest: its share, and that of all facts, among what explains the same readings.
 * A fault that says nothing of them stands beside a fact as well as without one: only what it gained by the readings speaks against it.
 */
function strongestFact(engine: BeliefEngine, belief: Belief, numbers: readonly number[]): { i: number; s: Suspect; share: number; ofAll: number } | null {
  const { suspects } = engine;
  const shareOf = (i: number): number => belief.suspectShare[i] as number;
  const idle = idleShare({ suspects }, belief);
  const byPlace = new Map<number, number>();
  const byMetal = new Map<string, number>();
  for (const [i, s] of suspects.entries()) if (s.kind === 'metalPath') byMetal.set(between(s), shareOf(i));
  // The same metal, and a conductor that is open besides.
  const speaksForMetal = (s: Suspect, i: number): boolean => s.kind === 'openBridged' && shareOf(i) < (byMetal.get(between(s)) ?? 0);
  let [facts, others] = [0, 0];
  for (const [i, s] of suspects.entries()) {
    if (canBeGiven(s)) {
      facts += shareOf(i);
      byPlace.set(numbers[i] ?? -1, (byPlace.get(numbers[i] ?? -1) ?? 0) + shareOf(i));
    } else if (!speaksForMetal(s, i)) others += s.kind === 'sound' ? shareOf(i) : Math.max(0, shareOf(i) - idle * s.prior);
  }
  const [place, share = 0] = [...byPlace].sort((a, b) => b[1] - a[1])[0] ?? [];
  let best = -1;
  for (const [i, s] of suspects.entries()) if (numbers[i] === place && canBeGiven(s) && (best < 0 || shareOf(i) > shareOf(best))) best = i;
  const s = suspects[best];
  if (s?.kind === 'thrown') others = Math.max(0, others - speaksForThrow(engine, belief, numbers, place ?? -1));
  const all = Math.max(1e-300, facts + others);
  return s ? { i: best, s, share: share / all, ofAll: facts / all } : null;
}

/** Share of the faults that stand beside a two-way switch on its other throw, in the circuit of that switch: whichever it is, the switch stands so. */
function speaksForThrow({ suspects, answering }: BeliefEngine, { cells, weight }: Belief, numbers: readonly number[], place: number): number {
  const ofSwitch = new Map(suspects.flatMap((s, i) => (s.kind === 'thrown' ? [[s.id, numbers[i]] as const] : [])));
  let sum = 0;
  for (let c = 0; c < cells.count; c++) {
    const parts = answering[cells.answer[c] as number]?.thrown?.parts ?? [];
    // Of two that both stand otherwise nothing shows.
    if (parts.length === 1 && ofSwitch.get(`thrown ${parts[0] ?? ''}`) === place) sum += weight[c] as number;
  }
  return sum;
}

/** The places that metal joins. */
const between = ({ site }: Suspect): string => (site.on === 'pair' || site.on === 'opened' ? `${site.a} ${site.b}` : '');

/** Does it say otherwise than the record when something was read? A load that nobody said was out is in as recorded. */
export function againstRecord({ kind, place }: Pick<FactView, 'kind' | 'place'>, observations: readonly Observation[]): boolean {
  const part = place.replace(/^state /, '');
  return kind !== 'loadIn' || observations.some((o) => o.state.loadsOut.includes(part));
}

/** Where a suspect is, to whoever reads of it: what is as it was recorded is nothing wrong. */
export const placeSaid = (s: Pick<Suspect, 'kind' | 'place'> | undefined, observations: readonly Observation[]): string => (s && againstRecord(s, observations) ? s.place : 'sound');

export const factOf = (s: Suspect, share: number, ohm: number): FactView => ({ id: s.id, kind: s.kind, place: s.place, conductors: s.conductors, share, ohm: ohm === Infinity ? 'open' : ohm });
