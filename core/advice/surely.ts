import { natureOf, type SuspectKind } from '../faults';
import { placeNames } from '../planning';
import type { Now } from './now';

/** What of a verdict is as sure as its place: the kind of fault, and the conductors; null where that is still open, with the suspects that are. */
export interface Surely { readonly kind: SuspectKind | null; readonly conductors: readonly string[] | null; readonly open: readonly { readonly id: string; readonly share: number }[] }

/** Share of the place's belief from which a kind or a pair of conductors is said. */
const SURE_OF_IT = 0.95;
/** An appliance is put right whole: between which of its conductors it leaks is said only where hardly anything else is left. */
const SURE_INSIDE = 0.99;
/** What is less likely is no longer open. */
const OPEN = 0.03;
const OPEN_INSIDE = 0.01;

type Scene = { readonly map: Now['map']; readonly engine: Pick<Now['engine'], 'suspects'>; readonly belief: Pick<Now['belief'], 'suspectShare'> };

/** What is told about a place, whatever else is: of everything that may be wrong there, how much is of one kind, and on the same conductors. */
export function surelyAt({ map, engine, belief }: Scene, place: string): Surely {
  const name = placeNames(map);
  const here = engine.suspects.flatMap((s, i) => (name(s.place) === place ? [{ s, share: belief.suspectShare[i] as number }] : []));
  const total = here.reduce((sum, x) => sum + x.share, 0);
  const inside = place.includes('.');
  const most = (key: (x: (typeof here)[number]) => string): (typeof here)[number] | null => {
    const sums = new Map<string, number>();
    for (const x of here) sums.set(key(x), (sums.get(key(x)) ?? 0) + x.share);
    const [best] = [...sums].sort((a, b) => b[1] - a[1]);
    return best && best[1] >= (inside ? SURE_INSIDE : SURE_OF_IT) * total ? (here.find((x) => key(x) === best[0]) ?? null) : null;
  };
  const kind = most((x) => natureOf(x.s));
  const conductors = most((x) => [...x.s.conductors].sort().join());
  const open = here.filter((x) => x.share >= (inside ? OPEN_INSIDE : OPEN) * total).sort((a, b) => b.share - a.share).slice(0, 4).map((x) => ({ id: x.s.id, share: x.share }));
  return { kind: kind ? natureOf(kind.s) : null, conductors: conductors?.s.conductors ?? null, open };
}
