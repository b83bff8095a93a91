import { behindWay, isTwoWay, loadsOf, protectionsOf, upstreamOf, type Installation, type Protection } from '../installation';
import { turnedOn } from '../job';
import { allSwitchesMin, plugMin, type Costs } from '../planning';
import { elementKey, isElementKey, setLoadOut, type WorkState } from '../workstate';
import { closedIn, holdsOrTrips, isClosed, seenToHold, seenToTrip, SHORT_SUSPECTED, shortShare, WATCH_MIN, type Candidate } from './liveCandidates';
import { somethingTrips, unseenShares, type Now } from './now';

// Appliances out or in with the supply on: which of them makes a residual device go.

/** Suspicion on all that is plugged in behind a device from which it is looked for with the supply on. */
const WORTH_TRYING = 0.1;
/** The same behind switches: they are turned on for all ways in one walk round. */
const WORTH_TURNING = 0.02;
/** So many of the most suspected are tried one by one. */
const MOST_SINGLES = 3;

/** Behind each residual device: some of what is plugged in out, and the device closed; or, it being on, something plugged in again, or switches turned on. */
export function loadTrials(now: Now, costs: Costs): Candidate[] {
  const { map, view: { state } } = now;
  if (!somethingTrips(now)) return [];
  const devices = protectionsOf(map);
  const suspicion = suspicionOf(now);
  // A residual device clears what goes to earth; on a short between line and neutral nothing is closed to see.
  const shorts = shortShare(now, (c) => !c.includes('E'));
  const shorted = (d: Protection): boolean => [d.id, ...d.carries].some((w) => (shorts.get(w) ?? 0) > SHORT_SUSPECTED);
  return devices.filter((d) => d.residualMa !== null && d.kind !== 'main' && !shorted(d) && upstreamOf(devices, d).every((u) => u.id === 'main' || isClosed(u, state))).flatMap((d): Candidate[] => {
    const most = (list: readonly string[]): number => list.reduce((sum, k) => sum + (suspicion.get(k) ?? 0), 0);
    const behind = (ways: readonly Protection[]): string[] => plugsOf(map, ways).sort((a, b) => (suspicion.get(b) ?? 0) - (suspicion.get(a) ?? 0));
    const ways = devices.filter((w) => w.ways[0] === w.id && d.carries.includes(w.id));
    const parts = behind(ways.filter((w) => w.id === d.id || isClosed(w, state)));
    const minutes = (of: readonly string[]): number => of.reduce((sum, k) => sum + plugMin(map, k, costs), 0) + costs.walk + WATCH_MIN;
    const [outside, inside] = [parts.filter((k) => state.loadsOut.includes(k)), parts.filter((k) => !state.loadsOut.includes(k))];
    const without = (closed: Protection, of: readonly string[]): Candidate[] =>
      most(of) < WORTH_TRYING ? [] : sets(of, suspicion).map((some): Candidate => ({ step: { do: 'close', device: closed.id, first: [], out: some }, minutes: costs.flick + minutes(some), results: holdsOrTrips(closed, d, closedIn(moved(state, some, true), closed)) }));
    // Something more is put only on what was seen to hold: else it says no more than closing it does.
    const switches = isClosed(d, state) && seenToHold(now, d) ? switchesOff(now, ways.filter((w) => w.id === d.id || isClosed(w, state))) : new Map<string, number>();
    const turnOns = [...switches.values()].reduce((sum, x) => sum + x, 0) < WORTH_TURNING ? [] : sets([...switches.keys()].sort((a, b) => (switches.get(b) ?? 0) - (switches.get(a) ?? 0)), switches).map((some): Candidate => ({
      step: { do: 'turnOn', device: d.id, parts: some }, minutes: some.reduce((sum, k) => sum + (isElementKey(k) ? costs.walk + costs.flick : allSwitchesMin(costs)), 0) + costs.walk + WATCH_MIN, results: holdsOrTrips(d, d, turnedOn(state, some)),
    }));
    // With less on it is closed what was seen to trip: the device itself or, where that holds, the way that is left off.
    if (!seenToTrip(now, d) && !outside.length) return turnOns;
    const off = isClosed(d, state) ? ways.filter((w) => !isClosed(w, state)).map((w) => ({ w, of: behind([w]).filter((k) => !state.loadsOut.includes(k)) })).sort((a, b) => most(b.of) - most(a.of))[0] : undefined;
    return [
      ...turnOns,
      ...(seenToTrip(now, d) ? without(d, inside) : []),
      ...(off ? without(off.w, off.of) : []),
      ...(isClosed(d, state) && most(outside) >= WORTH_TRYING ? sets(outside, suspicion).map((some): Candidate => ({ step: { do: 'plugIn', device: d.id, parts: some }, minutes: minutes(some), results: holdsOrTrips(d, d, moved(state, some, false)) })) : []),
    ];
  });
}

const moved = (state: WorkState, parts: readonly string[], out: boolean): WorkState => parts.reduce((s, k) => setLoadOut(s, k, out), state);

/** What can be unplugged on some ways. */
function plugsOf(map: Installation, ways: readonly Protection[]): string[] {
  return [...new Set(ways.flatMap((w) => behindWay(map, w.id).points.flatMap((p) => loadsOf(p).flatMap((l) => (l.unplugs && l.loadClass !== 'arrester' ? [elementKey(p.id, l.id)] : [])))))];
}

/** What is switched off on some ways, and the suspicion behind it: switches that are drawn and stand off; and of each way that nobody has drawn all of them. */
function switchesOff({ map, view: { state }, engine, belief }: Now, ways: readonly Protection[]): Map<string, number> {
  const unseen = unseenShares(engine, belief, state);
  const behind = new Map<string, number>();
  for (const [i, s] of engine.suspects.entries()) for (const b of s.beyond ?? []) if (b.way !== undefined) behind.set(b.way, (behind.get(b.way) ?? 0) + (unseen[i] as number));
  const parts = new Map<string, number>();
  for (const w of ways) {
    const { points, sections } = behindWay(map, w.id);
    const own = new Set([...points, ...sections].map((x) => x.id));
    const onLine = engine.suspects.reduce((sum, s, i) => sum + (own.has(s.place.split('.')[0] ?? '') && s.conductors.some((c) => /^[LS]/.test(c)) ? (belief.suspectShare[i] as number) : 0), 0);
    for (const p of points) {
      if (p.kind === 'undrawn' && !state.on?.includes(p.id)) parts.set(p.id, behind.get(p.id) ?? 0);
      for (const e of p.elements) if (e.kind === 'switch' && !isTwoWay(p, e) && state.off.includes(elementKey(p.id, e.id))) parts.set(elementKey(p.id, e.id), onLine);
    }
  }
  return parts;
}

/** Sets worth moving together: all, those that hold about half of the suspicion, and the most suspected alone. Most suspected first. */
function sets(parts: readonly string[], suspicion: ReadonlyMap<string, number>): string[][] {
  if (!parts.length) return [];
  const all = parts.reduce((sum, k) => sum + (suspicion.get(k) ?? 0), 0);
  const half: string[] = [];
  for (let sum = 0; half.length < parts.length && sum < all / 2; sum += suspicion.get(parts[half.length - 1] as string) ?? 0) half.push(parts[half.length] as string);
  const list = [...parts.slice(0, MOST_SINGLES).map((k) => [k]), half, [...parts]];
  return [...new Map(list.filter((x) => x.length).map((x) => [[...x].sort().join(), x])).values()];
}

/** Suspicion on what leaks to earth inside each load: a residual device sees nothing else of it. */
function suspicionOf({ engine, belief }: Now): Map<string, number> {
  const shares = new Map<string, number>();
  for (const [i, s] of engine.suspects.entries()) if (s.kind === 'loadFault' && s.conductors.some((c) => c.startsWith('E'))) shares.set(s.place, (shares.get(s.place) ?? 0) + (belief.suspectShare[i] as number));
  return shares;
}
