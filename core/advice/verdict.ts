import { BeliefEngine, misfitOf } from '../belief';
import { bears } from '../asking';
import { isFact, type Suspect } from '../faults';
import { circuitsOf, loadOfPart, protectionsOf, type Installation } from '../installation';
import { shareByPlace } from '../planning';
import { probeKey } from '../probes';
import { stateSignature } from '../workstate';
import { carrier } from './carrier';
import { mostOnUndrawn } from './draw';
import { idleShare, type Now } from './now';
import { surelyAt } from './surely';
import type { Verdict } from './types';

export const SURE = 0.95;
/** What else there may be is mostly what no map shows, which claims no place. */
const SURE_OF_TWO = 0.85;

/** Two faults that no reading in reach makes any surer: what else there may be is what no map shows, and names no place. */
export const twoAsFar = (now: Now, told: Verdict): Verdict | null => (now.two && now.two.placeShare >= SURE && told.share >= SURE ? { ...told, says: 'two' } : null);

/** A neutral on earth elsewhere may hold just because one thing less runs: what tests with the supply on name by themselves must be surer. */
const SURE_LIVE = 0.98;

/** What is plugged in is put aside, and its circuit proved without it: tests with the supply on may name it before any dead reading. */
const isPluggedIn = (map: Installation, place: string): boolean => loadOfPart(map, place)?.load.unplugs === true;

/** What leaks in use, and a device that opens early: behind either the same ways hold and trip together. */
const TOLD_BY_FIGURES: ReadonlySet<Suspect['kind']> = new Set(['standingLeak', 'rcdSensitive', 'rcdBlind']);

const likeliestOf = ({ engine, belief }: Now): Suspect | undefined => engine.suspects[belief.suspectShare.indexOf(Math.max(...belief.suspectShare))];

/** Told by a figure of the device: no dead test says anything to it. */
const toldByFigure = (now: Now): boolean => TOLD_BY_FIGURES.has(likeliestOf(now)?.kind ?? 'sound') && !wantsFigure(now);

/** Has nobody yet ramped or timed the device that is suspected, nor clamped what leaks behind it? Only a figure tells the one from the other. */
function wantsFigure(now: Now): boolean {
  const { map, liveReadings } = now;
  const suspect = likeliestOf(now);
  if (!suspect || !TOLD_BY_FIGURES.has(suspect.kind)) return false;
  const [device] = suspect.conductors;
  // With all that is on it a ramp is low either way; a device of one way is ramped as it stands.
  const alone = protectionsOf(map).find((d) => d.id === device)?.kind === 'rcd' ? 'out' : 'in';
  return !liveReadings.some(({ event: { test: t } }) => (((t.kind === 'ramp' && t.outgoing === alone) || t.kind === 'times') && t.device === device) || (t.kind === 'clamp' && t.around === device));
}

/** Does one place carry the belief, and on what? `nothingLeft`: no test tells more; what tests with the supply on name by themselves is named then, without any dead reading. */
export function verdictOf(now: Now, nothingLeft = false): Verdict {
  const { map, engine, belief, observations } = now;
  const shares = shareByPlace(map, engine.suspects, belief);
  const leader = shares[0] ?? { place: '', share: 0 };
  const none: Verdict = { says: 'none', place: leader.place, share: leader.share, repeat: null, onGuess: false, surely: null };
  const lump = observations.length + now.liveReadings.length === 0 || now.two ? null : mostOnUndrawn(map, shares);
  if (lump && lump.share >= SURE) return { ...none, ...lump, says: 'draw' };
  if (observations.length === 0 && !(now.liveReadings.length && (nothingLeft || (leader.share >= SURE_LIVE && isPluggedIn(map, leader.place)) || (leader.share >= SURE && toldByFigure(now))))) return none;
  // That nothing is wrong is never said of what was not read dead.
  const fine = nothingLeft ? 0 : nothingWrong(now);
  if (fine >= SURE && !now.two) return { ...none, place: 'sound', share: fine, says: 'sound' };
  if (leader.share < SURE) return none;
  if (leader.place === 'unknown') return { ...none, says: 'unknown' };
  // No fault is no place, however sure.
  if (leader.place === 'sound' || leader.place.startsWith('state ')) return none;
  if (now.two) return now.two.placeShare >= SURE && now.two.share >= SURE_OF_TWO ? { ...none, says: 'two' } : none;
  if (!nothingLeft && wantsFigure(now)) return none;
  const onGuess = hangsOnGuess(now, leader.place);
  const repeat = stranger(now) ?? carrier(now, leader.place);
  if (repeat) return { ...none, says: 'repeat', repeat, onGuess };
  return { ...none, says: 'place', onGuess, surely: surelyAt(now, leader.place) };
}

/**
 * Chance that nothing is wrong that could cause what was complained of, and that nothing else was found. What is no fault may stand beside
 * one, so it says nothing for or against faults; a fault that nobody can have felt is none of the complaint's, until readings show it.
 */
export function nothingWrong({ view, engine, belief }: Now): number {
  const idle = idleShare(engine, belief);
  let causes = 0;
  for (const [i, s] of engine.suspects.entries()) {
    const share = belief.suspectShare[i] as number;
    if (!isFact(s) && s.kind !== 'sound') causes += bears(view.asked, s) ? share : Math.max(0, share - idle * s.prior);
  }
  return recordHides({ engine, belief }) ? 0 : 1 - causes / (1 - factShare({ engine, belief }));
}

/** Chance that something is not as it is recorded, and nothing faulty shows. */
const factShare = ({ engine, belief }: Pick<Now, 'engine' | 'belief'>): number => engine.suspects.reduce((sum, s, i) => sum + (isFact(s) ? (belief.suspectShare[i] as number) : 0), 0);

/** Chance that nothing is wrong that could cause what was complained of, from which leaving it is offered. */
export const LIKELY_FINE = 0.8;

/** Where a record that is wrong explains everything, it hides faults: it is settled first. */
const ALL_FACTS = 0.8;
export const recordHides = (now: Pick<Now, 'engine' | 'belief'>): boolean => factShare(now) > ALL_FACTS;

/** Standard deviations from which a reading does not go with the leader. */
const STRANGE_SD = 3;

/** A reading, taken only once and in the present state, that the leader does not explain: a slip, or a second fault. */
export function stranger({ view, belief, observations, readings }: Now): string | null {
  const misfit = misfitOf(belief, observations);
  const key = (o: Now['observations'][number]): string => `${stateSignature(o.state)} ${probeKey(o.probe)}`;
  const odd = observations.findIndex((o, i) => (misfit[i] as number) > STRANGE_SD && stateSignature(o.state) === stateSignature(view.state) && observations.filter((x) => key(x) === key(o)).length === 1);
  return odd < 0 ? null : (readings[odd]?.event.id ?? null);
}

/** One standard deviation of a guessed length, as a factor. */
const GUESS_PULL = 1.4;

function hangsOnGuess({ map, engine, observations }: Now, place: string): boolean {
  const circuits = circuitsOf(map);
  const own = circuits.get(place.split('.')[0] ?? '');
  const circuitOf = (x: string): number | undefined => circuits.get(x.split('.')[0] ?? '');
  if (map.sections.every((s) => s.lengthKnown || circuitOf(s.id) !== own)) return false;
  // Lengths of a circuit move what is believed within it: what is suspected elsewhere stands aside.
  const here = engine.suspects.map((s) => own === undefined || s.kind === 'sound' || s.kind === 'unknown' || circuitOf(s.place) === own);
  const suspects = engine.suspects.filter((_, i) => here[i]);
  const bias = engine.bias?.filter((_, c) => here[engine.cells.suspect[c] as number]) ?? null;
  // The guessed lengths pulled this way and that: does another place come out?
  return [0, 1].some((turn) => {
    const sections = map.sections.map((s, i) => (s.lengthKnown ? s : { ...s, lengthM: s.lengthM * ((i + turn) % 2 ? GUESS_PULL : 1 / GUESS_PULL) }));
    const pulled = new BeliefEngine({ ...map, sections }, suspects, engine.options, bias, engine.assumed);
    const shares = shareByPlace(map, suspects, pulled.believe(observations));
    // What no map shows is no other place.
    const known = 1 - (shares.find((p) => p.place === 'unknown')?.share ?? 0);
    const leader = shares.find((p) => p.place !== 'unknown');
    return leader?.place !== place || leader.share < 0.8 * known;
  });
}
