import { drafted, drawHouse, drawWrong } from './house';
import { Electrician, type Visit } from './electrician';
import { Nature } from './nature';

export type { Visit } from './electrician';

/** One whole visit: a hidden house, a complaint, an electrician with the app, a repair and its proof. */
export function visit(seed: number): Visit {
  const house = drawHouse(seed);
  const wrongs = drawWrong(house);
  return new Electrician(house, new Nature(house, wrongs), drafted(house.told)).visit();
}
