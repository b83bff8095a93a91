import type { Belief } from '../belief';
import type { Suspect } from '../faults';
import { circuitsOf, type Installation } from '../installation';

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

/** Place number per suspect: equal for suspects that stand at one place. Which load of a circuit stayed in, and which of its two-way switches stands the other way, is no fault: nothing is read to tell. */
export function placesOf(installation: Installation, suspects: readonly Suspect[]): number[] {
  const name = placeNames(installation);
  const circuits = circuitsOf(installation);
  const numbers = new Map<string, number>();
  return suspects.map((s) => {
    const key = s.kind === 'loadIn' || s.kind === 'thrown' ? `${s.kind} in circuit ${circuits.get(s.place.slice(6).split('.')[0] ?? '') ?? s.place}` : name(s.place);
    let n = numbers.get(key);
    if (n === undefined) numbers.set(key, (n = numbers.size));
    return n;
  });
}

/** Number of what is wrong, per suspect: equal for suspects of one kind on the same conductors, wherever they stand. */
export function naturesOf(_installation: Installation, suspects: readonly Suspect[]): number[] {
  const numbers = new Map<string, number>();
  return suspects.map((s) => {
    const key = `${s.kind} ${[...s.conductors].sort().join()}`;
    let n = numbers.get(key);
    if (n === undefined) numbers.set(key, (n = numbers.size));
    return n;
  });
}

export interface PlaceShare {
  readonly place: string;
  readonly share: number;
}

/** Probability by place, largest first. */
export function shareByPlace(installation: Installation, suspects: readonly Suspect[], belief: Belief): PlaceShare[] {
  const name = placeNames(installation);
  const shares = new Map<string, number>();
  for (const [i, s] of suspects.entries()) {
    const key = name(s.place);
    shares.set(key, (shares.get(key) ?? 0) + (belief.suspectShare[i] as number));
  }
  return [...shares].map(([place, share]) => ({ place, share })).sort((a, b) => b.share - a.share);
}
