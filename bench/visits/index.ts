import { drafted, drawHouse, drawWrong } from './house';
import { Electrician, type Visit } from './electrician';
import { Nature } from './nature';
import { Routine, type RoutineRun } from './routine';

export type { Visit } from './electrician';
export type { RoutineRun } from './routine';

/** One whole visit: a hidden house, a complaint, an electrician with the app, a repair and its proof. */
export function visit(seed: number): Visit {
  const house = drawHouse(seed);
  const wrongs = drawWrong(house);
  return new Electrician(house, new Nature(house, wrongs), drafted(house.told)).visit();
}

/** The same house and complaint by the trade's own routine, and point by point. */
export function baselines(seed: number, complaint: Visit['complaint']): { readonly routine: RoutineRun; readonly points: RoutineRun } {
  const by = (halves: boolean): RoutineRun => {
    const house = drawHouse(seed);
    return new Routine(house, new Nature(house, drawWrong(house)), complaint, halves).run();
  };
  return { routine: by(true), points: by(false) };
}
