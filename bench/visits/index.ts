import { drafted, drawHouse, drawWrong } from './house';
import { Electrician, type Visit } from './electrician';
import { Nature } from './nature';
import { Routine, type RoutineRun } from './routine';

export { CAP_MIN, type Visit } from './electrician';
export type { RoutineRun } from './routine';

/** A visit, and the same house and complaint by the trade's own routine, half-split and point by point. */
export interface Visited extends Visit { readonly routine: RoutineRun; readonly points: RoutineRun }

/** One whole visit: a hidden house, a complaint, an electrician with the app, a repair and its proof. */
export function visit(seed: number): Visited {
  const house = drawHouse(seed);
  const wrongs = drawWrong(house);
  const visited = new Electrician(house, new Nature(house, wrongs), drafted(house.told)).visit();
  return { ...visited, ...baselines(seed, visited.complaint) };
}

export function baselines(seed: number, complaint: Visit['complaint']): Pick<Visited, 'routine' | 'points'> {
  const by = (halves: boolean): RoutineRun => {
    const house = drawHouse(seed);
    return new Routine(house, new Nature(house, drawWrong(house)), complaint, halves).run();
  };
  return { routine: by(true), points: by(false) };
}
