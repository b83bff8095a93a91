/** Minutes of hands and feet; every figure is the person's own to change. */
export interface Costs {
  /** To each place of a reading or an action where neither lead is yet. */
  readonly walk: number;
  readonly open: number;
  readonly split: number;
  readonly rejoin: number;
  readonly reading: number;
  readonly flick: number;
  readonly unplug: number;
  /** A neutral or earth in or out of its bar. */
  readonly bar: number;
  /** A test link on, or off again. */
  readonly link: number;
  /** Proving dead before a first reading at a closed face, at an opened point. */
  readonly proveClosed: number;
  readonly proveOpened: number;
}

export const benchCosts: Costs = { walk: 0.5, open: 2.5, split: 2, rejoin: 2, reading: 0.3, flick: 0.1, unplug: 0.3, bar: 2, link: 0.3, proveClosed: 0, proveOpened: 0 };
export const tradeCosts: Costs = { ...benchCosts, proveClosed: 0.5, proveOpened: 1.5 };
