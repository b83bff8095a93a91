import type { Belief } from '../belief';
import type { Suspect } from '../faults';
import type { Installation } from '../installation';

/** A hidden joint and its sections are one place: nothing that can be read parts them. */
export function placeNames(installation: Installation): (place: string) => string {
  const parent = new Map<string, string>();
  const root = (x: string): string => {
    const p = parent.get(x);
    return p === undefined || p === x ? x : root(p);
  };
  for (const p of installation.points) {
    if (p.reach !== 'never') continue;
    for (const s of installation.sections) if (s.a === p.id || s.b === p.id) parent.set(root(s.id), root(p.id));
  }
  return root;
}

/** What runs or leaks behind a device is another thing than the device: nothing is put right at the same place. */
const BEHIND: ReadonlySet<Suspect['kind']> = new Set(['standingLeak', 'overload']);

/** Place number per suspect: equal for suspects that stand at one place. A record that is not so is no place of a fault: it stands with "nothing wrong", and nothing is read for it alone, unless `recordToo`. */
export function placesOf(installation: Installation, suspects: readonly Suspect[], recordToo = false): number[] {
  const name = placeNames(installation);
  return numbered(suspects.map((s) => (s.place.startsWith('state ') && !recordToo ? 'sound' : BEHIND.has(s.kind) ? `behind ${s.place}` : name(s.place))));
}

/** Equal keys, equal numbers, from 0 in the order in which they come. */
export function numbered(keys: readonly string[]): number[] {
  const numbers = new Map<string, number>();
  return keys.map((key) => {
    const n = numbers.get(key) ?? numbers.size;
    numbers.set(key, n);
    return n;
  });
}

/** Number of what is wrong, per suspect: equal for suspects of one kind on the same conductors, wherever they stand. */
export function naturesOf(_installation: Installation, suspects: readonly Suspect[]): number[] {
  return numbered(suspects.map((s) => `${s.kind} ${[...s.conductors].sort().join()}`));
}

export interface PlaceShare {
  readonly place: string;
  readonly share: number;
}

/** Probability by place, largest first. */
export function shareByPlace(installation: Installation, suspects: readonly Suspect[], belief: Pick<Belief, 'suspectShare'>): PlaceShare[] {
  const name = placeNames(installation);
  const shares = new Map<string, number>();
  for (const [i, s] of suspects.entries()) {
    const key = name(s.place);
    shares.set(key, (shares.get(key) ?? 0) + (belief.suspectShare[i] as number));
  }
  return [...shares].map(([place, share]) => ({ place, share })).sort((a, b) => b.share - a.share);
}
