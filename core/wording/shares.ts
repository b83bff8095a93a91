import type { Advice } from '../advice/types';
import type { SuspectKind } from '../faults';
import type { Installation } from '../installation';
import { formatShare } from '../units';
import { beliefPlaceName, firstCapital } from './places';

const NAMED = 4;
const WORTH_NAMING = 0.005;

/** What the shortlist leaves out, by place: "Elsewhere: Kiln 12 %, Bench 9 %, and 7 more places". */
export function othersWords(map: Installation, advice: Pick<Advice, 'places' | 'suspects' | 'others'>): string {
  const listed = new Map<string, number>();
  for (const s of advice.suspects) listed.set(beliefPlaceName(map, s.place), (listed.get(beliefPlaceName(map, s.place)) ?? 0) + s.share);
  const left = advice.places.filter((p) => p.place !== 'unknown').map((p) => ({ name: beliefPlaceName(map, p.place), share: p.share - (listed.get(beliefPlaceName(map, p.place)) ?? 0) })).filter((p) => p.share > WORTH_NAMING).sort((a, b) => b.share - a.share);
  if (!left.length) return `${advice.others.count} others`;
  const more = left.length - NAMED;
  return `Others: ${left.slice(0, NAMED).map((p) => `${firstCapital(p.name)} ${formatShare(p.share)}`).join(', ')}${more > 0 ? `, and ${more} more ${more === 1 ? 'place' : 'places'}` : ''}`;
}

/** What to do about something that is no fault and yet changes readings. */
export function factWords(kind: SuspectKind): string {
  switch (kind) {
    case 'metalPath': return 'Earth readings there are lower for it, and a broken CPC can hide behind it: note the metalwork on the map.';
    case 'loadIn': return 'The record has it out. Readings are understood with it in: find what it is, and take it out or record it as in.';
    case 'endNotOut': return 'Readings are understood with it in. Look, and take it out or record it as in.';
    case 'thrown': return 'Nobody can see which way a two-way switch stands. Readings are understood with it the other way.';
    case 'switchOn': return 'Readings are understood with it on. Look, and record it.';
    default: return 'Look, and correct the record.';
  }
}
