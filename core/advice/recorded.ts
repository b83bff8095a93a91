import { engineGiven, ohmOfCell, type Belief, type BeliefEngine, type Observation } from '../belief';
import { actsIn, type Suspect } from '../faults';
import { parsePlace, type Installation } from '../installation';
import { shareByPlace } from '../planning';
import type { WorkState } from '../workstate';
import { feels } from './facts';
import { bestCell } from './now';
import { SURE } from './verdict';

/** Chance that something recorded as done was not done, or was done to another conductor (field guide, section 4: the state is often not as believed). */
const NOT_DONE = 0.02;
/** Acts that are looked into, the last first; and the share below which a doubt moves nothing. */
const MOST_ACTS = 6;
const TOO_LITTLE = 0.002;
/** Ohms below which two places that were recorded apart read as joined. */
const JOINED_OHM = 0.05;

/** An act on record that may not have been done: how likely that is, and that something other than the leader is then wrong; what is believed of it then. */
export interface RecordDoubt { readonly suspect: number; readonly share: number; readonly engine: BeliefEngine }

/**
 * What was recorded as apart and may be joined all the same, with a fault elsewhere than where the readings point to as recorded. Alone
 * it explains no fault, so among single suspects it comes to nothing; beside one it may be what a verdict hangs on. It is looked into
 * where a place is about to be named, and where it was read across.
 */
export function recordDoubts(map: Installation, engine: BeliefEngine, belief: Belief, observations: readonly Observation[]): RecordDoubt[] {
  const state = observations.at(-1)?.state;
  if (!state) return [];
  const [leader] = shareByPlace(map, engine.suspects, belief);
  const named = leader !== undefined && leader.share >= SURE && leader.place !== 'unknown' && leader.place !== 'sound' && !leader.place.startsWith('state ');
  const acts = engine.suspects.flatMap((s, i) => (stillOnRecord(s, state) && (named || readAcross(s, observations)) && observations.some((o) => feels(engine, o, i)) ? [{ s, i }] : []));
  const shareAt = (b: Belief, place: string): number => shareByPlace(map, engine.suspects, b).find((p) => p.place === place)?.share ?? 0;
  const doubts = acts.slice(-MOST_ACTS).map(({ s, i }) => {
    const c = bestCell(belief, i);
    const given = engineGiven(engine, s, ohmOfCell(belief, c), belief.d[c] as number);
    const then = given.glance(observations);
    const otherwise = named && leader ? 1 - shareAt(then, leader.place) : 1;
    return { suspect: i, weight: (NOT_DONE / doneTogether(s, state)) * Math.exp(Math.min(50, then.logEvidence - belief.logEvidence)) * otherwise, engine: given };
  });
  const total = doubts.reduce((sum, d) => sum + d.weight, 1);
  return doubts.map((d) => ({ suspect: d.suspect, share: d.weight / total, engine: d.engine })).filter((d) => d.share > TOO_LITTLE);
}

/** The belief with those doubts in it: each has its share, and the rest is what the record leaves. */
export function doubting(belief: Belief, doubts: readonly RecordDoubt[]): Belief {
  if (!doubts.length) return belief;
  const left = 1 - doubts.reduce((sum, d) => sum + d.share, 0);
  const [weight, suspectShare] = [belief.weight.map((w) => w * left), belief.suspectShare.map((w) => w * left)];
  for (const { suspect, share } of doubts) {
    const c = bestCell(belief, suspect);
    weight[c] = (weight[c] as number) + share;
    suspectShare[suspect] = (suspectShare[suspect] as number) + share;
  }
  return { ...belief, weight, suspectShare };
}

/** Something taken out or switched off, as far as is recorded still so. */
const stillOnRecord = (s: Suspect, state: WorkState): boolean => (s.kind === 'endNotOut' || s.kind === 'switchOn') && s.site.on === 'pair' && actsIn(s.site, state);

/** Conductors that were taken out of one place with it: one act, and one of them may have been forgotten. */
function doneTogether(s: Suspect, state: WorkState): number {
  const end = s.site.on === 'pair' ? parsePlace(s.site.part ?? '') : null;
  if (end?.at !== 'end') return 1;
  return state.out.filter((k) => {
    const other = parsePlace(k);
    return other?.at === 'end' && other.section === end.section && other.side === end.side;
  }).length || 1;
}

/** Was it read from one side of it to the other, and found joined? */
const readAcross = ({ site }: Suspect, observations: readonly Observation[]): boolean =>
  site.on === 'pair' && observations.some(({ probe, state, displayed }) => probe.fn === 'continuity' && 'ohm' in displayed && displayed.ohm <= JOINED_OHM && actsIn(site, state) && probe.from.length === 1 && probe.to.length === 1 && [site.a, site.b].every((k) => probe.from[0] === k || probe.to[0] === k));
