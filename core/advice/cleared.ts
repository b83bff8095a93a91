import { isBreak, isUnseen, touches, type Suspect } from '../faults';
import { circuitsOf, type Installation } from '../installation';
import { placeNames } from '../planning';
import { unseenShares, type Now } from './now';
import type { ClearedView } from './types';

/** Share above which nothing is cleared, and what a claim must have lost of its own. */
const CLEARED_SHARE = 0.01;
const OF_PRIOR = 0.1;

/** What is claimed of a place: two conductors apart, or one whole; of this, `bridged`: the breaks that metal would hide from the meter. */
interface Claim { readonly place: string; readonly conductors: string; readonly touching: boolean; readonly members: number[]; readonly bridged: number[] }

/** What keeps a conductor from being whole, or where it belongs: a break, an end that is poor, another bar, the neutral of another circuit. */
const unsound = (s: Suspect): boolean => isBreak(s) || s.kind === 'resistiveEnd' || s.kind === 'otherBar' || s.kind === 'borrowed';

/**
 * What the readings have ruled out, by place and by conductors, each by the reading that ruled out most of it. A reading counts for what
 * it reached, would have shown, and did not; that another suspect explains everything better clears nothing.
 */
export function clearedPlaces(now: Now): ClearedView[] {
  const { map, engine, belief, observations, readings } = now;
  if (!observations.length) return [];
  const ruled = observations.map((o) => engine.ruledOut(o));
  const { cells } = engine;
  const [cellsOf, behind] = [new Map<number, number[]>(), new Map<number, number[]>()];
  // What lies behind a switch that no lead reaches is not cleared; the rest of the same place may be.
  const unseen = unseenShares(engine, belief);
  for (let c = 0; c < cells.count; c++) {
    const i = cells.suspect[c] as number;
    const list = isUnseen(engine.answering[cells.answer[c] as number] as Suspect) ? behind : cellsOf;
    list.set(i, [...(list.get(i) ?? []), c]);
  }
  const allRuled = (list: readonly number[] | undefined): boolean => (list ?? []).every((c) => ruled.some((r) => r[c] === 1));
  const gone = (suspect: number): boolean => allRuled(cellsOf.get(suspect));
  const circuits = circuitsOf(map);
  // Conductors of a circuit that some reading has not shown to be whole.
  const doubtful = new Set<string>();
  for (const [i, s] of engine.suspects.entries()) if (isBreak(s) && s.kind !== 'openBridged' && !gone(i)) for (const c of s.conductors) doubtful.add(`${circuits.get(placeId(s.place))} ${c}`);
  const first = now.two ? engine.suspects[now.two.suspect] : undefined;
  return claimsOf(map, engine.suspects).flatMap((claim): ClearedView[] => {
    const share = claim.members.reduce((sum, i) => sum + (belief.suspectShare[i] as number) - (unseen[i] as number), 0);
    const prior = claim.members.reduce((sum, i) => sum + (engine.suspects[i]?.prior ?? 0), 0);
    if (share >= CLEARED_SHARE || share >= prior * OF_PRIOR) return [];
    if (first && first.place === claim.place) return [];
    if (!claim.members.every(gone)) return [];
    const counts = ruled.map((r) => claim.members.reduce((sum, i) => sum + (cellsOf.get(i) ?? []).filter((c) => r[c] === 1).length, 0));
    const most = counts.indexOf(Math.max(...counts));
    const ifJoined = claim.touching && [...claim.conductors].some((c) => doubtful.has(`${circuits.get(placeId(claim.place))} ${c}`));
    const asFar = ifJoined ? 'joined' : claim.members.some((i) => !allRuled(behind.get(i))) ? 'switched on' : claim.bridged.some((i) => !gone(i)) ? 'metal beside' : 'all';
    return [{ place: claim.place, conductors: claim.conductors, reading: readings[most]?.event.id ?? '', asFar }];
  });
}

const placeId = (place: string): string => place.split('.')[0] ?? '';

function claimsOf(map: Installation, suspects: readonly Suspect[]): Claim[] {
  const name = placeNames(map);
  const claims = new Map<string, Claim>();
  const undrawn = new Set(map.points.filter((p) => p.kind === 'undrawn').map((p) => p.id));
  const lumps = new Set([...undrawn, ...map.sections.filter((s) => undrawn.has(s.a) || undrawn.has(s.b)).map((s) => s.id)]);
  for (const [i, s] of suspects.entries()) {
    if (s.kind === 'sound' || s.kind === 'unknown' || s.place.startsWith('state ') || s.site.on === 'nothing' || !s.conductors.length) continue;
    // A load that is sound where it is in is so where it was left in.
    if (s.kind === 'loadLeft') continue;
    const touching = touches(s);
    // A way that nobody has drawn has more conductors than its lump: one path through it makes none of them whole.
    if (!touching && (!unsound(s) || lumps.has(placeId(s.place)))) continue;
    const place = name(s.place);
    const key = `${place} ${touching ? s.conductors.join('') : s.conductors[0]}`;
    const claim = claims.get(key) ?? { place, conductors: touching ? s.conductors.join('') : (s.conductors[0] ?? ''), touching, members: [], bridged: [] };
    (s.kind === 'openBridged' ? claim.bridged : claim.members).push(i);
    claims.set(key, claim);
  }
  return [...claims.values()].filter((c) => c.members.length > 0);
}
