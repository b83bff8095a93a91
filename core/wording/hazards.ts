import type { ClearedView, HazardKind } from '../advice';
import type { JobView } from '../job';
import { metalName, pointOfPlace, type Installation } from '../installation';
import { beliefPlaceName, pointName } from './places';

/** What power would do with it. */
export const hazardWords: Readonly<Record<HazardKind, string>> = {
  'live metal': 'would make metal live', 'earth fault': 'would drive line to earth', short: 'would be a short', 'no earth': 'would leave metal without earth', burns: 'would heat under load',
};

const asFarWords: Readonly<Record<ClearedView['asFar'], string>> = {
  all: '', joined: ', as far as it is joined', 'switched on': ', but for what is behind a switch or was not in', 'metal beside': ', or metal beside it that carries in its stead',
};

/** "L–E at Sink wall", "E whole, Board to Bench, as far as it is joined". */
export function clearedWords(map: Installation, c: Pick<ClearedView, 'place' | 'conductors' | 'asFar'>): string {
  const apart = c.conductors.length > 1 ? `${[...c.conductors].join('–')} apart` : `${c.conductors} whole`;
  return `${beliefPlaceName(map, c.place)}: ${apart}${asFarWords[c.asFar]}`;
}

/** The alarm for metal that was found live; `off`: it is switched off and locked by now. */
export function liveMetalWords(map: Installation, { place, volt, toNeutral }: NonNullable<JobView['liveMetal']>, off = false): string {
  const figure = `${Math.round(volt)} V`;
  const where = pointName(map, pointOfPlace(map, place) || place);
  const found = toNeutral ? `${figure} between N and E at ${where}: one of them may ${off ? 'have been' : 'be'} live, and if it ${off ? 'was' : 'is'} E, so ${off ? 'was' : 'is'} all metal on it.` : `${figure} on ${metalName(place) ?? `the metal of ${where}`}.`;
  if (off) return `${found} It is off and locked now: what made it live is found before power.`;
  return `${found} Keep people off it, switch off the way that feeds it or the supply, and prove it dead${toNeutral ? ' to an earth of its own' : ''}.`;
}
