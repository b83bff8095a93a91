import { agreeing, shareWithout, type Belief, type BeliefEngine, type Observation } from '../belief';
import { shareByPlace } from '../planning';
import { probeKey } from '../probes';
import { stateSignature } from '../workstate';
import type { Now } from './now';

/** Share from which the leader stands without a reading, and how many readings are left out for it one by one. */
const STANDS = 0.75;
const MOST_CARRIERS = 6;
/** A reading is not asked for again once it was taken so often. */
const OFTEN = 3;

/**
 * The reading on which the verdict hangs: no other shows the same, without it the leader would not stand, and taken again as things are
 * joined now it tells the leader from what would then be likelier. Its event's id; null where there is none.
 */
export function carrier({ view, map, engine, belief, observations, readings }: Now, place: string): string | null {
  const shareOf = (suspectShare: Float64Array): number => shareByPlace(map, engine.suspects, { suspectShare }).find((p) => p.place === place)?.share ?? 0;
  const present = stateSignature(view.state);
  const mayBeTaken = (o: Observation): boolean => {
    const again = observations.filter((x) => x !== o && probeKey(x.probe) === probeKey(o.probe) && stateSignature(x.state) === present);
    return again.length < OFTEN - 1 && !again.some((x) => agreeing(x, o)) && engine.formulas.of(view.state, o.probe) !== null;
  };
  const once = observations.map((o, i) => ({ o, i })).filter(({ o }) => mayBeTaken(o)).map((x) => ({ ...x, share: shareOf(shareWithout(engine, belief, x.o)) }));
  const leader = likeliest(engine, belief, () => true);
  for (const { i, o } of once.sort((x, y) => x.share - y.share).slice(0, MOST_CARRIERS)) {
    const others = observations.filter((x) => x !== o);
    // A glance leaves to all that shows nothing what they were worth at first: where it says that the verdict hangs, the whole is weighed.
    if (shareOf(engine.glance(others).suspectShare) >= STANDS) continue;
    const without = engine.believe(others);
    if (shareOf(without.suspectShare) >= STANDS) continue;
    const rival = likeliest(engine, without, (suspect) => suspect !== belief.cells.suspect[leader]);
    const answers = engine.formulas.of(view.state, o.probe);
    if (answers && answers.to(engine.cells.answer[leader] as number) !== answers.to(engine.cells.answer[rival] as number)) return readings[i]?.event.id ?? null;
  }
  return null;
}

/** The likeliest cell of those of some suspects. */
function likeliest(engine: BeliefEngine, belief: Belief, among: (suspect: number) => boolean): number {
  let most = -1;
  for (let c = 0; c < engine.cells.count; c++) if (among(engine.cells.suspect[c] as number) && (most < 0 || (belief.weight[c] as number) > (belief.weight[most] as number))) most = c;
  return most;
}
