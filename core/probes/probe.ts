import { z } from 'zod';
import { TestFunction } from '../tester';
import type { WorkState } from '../workstate';

/** A test that can be made: a function of the meter and the places each lead touches (more than one place: tied together). */
export const Probe = z.looseObject({
  fn: TestFunction,
  from: z.array(z.string()).min(1),
  to: z.array(z.string()).min(1),
});
export type Probe = z.infer<typeof Probe>;

export const probeKey = (p: Probe): string => {
  const a = [...p.from].sort().join('+');
  const b = [...p.to].sort().join('+');
  return `${p.fn} ${a < b ? `${a}–${b}` : `${b}–${a}`}`;
};

/** The state while the probe is applied: what one lead ties together is joined. */
export function tiedState(state: WorkState, probe: Probe): WorkState {
  if (probe.from.length < 2 && probe.to.length < 2) return state;
  const ties = [probe.from, probe.to].flatMap(([first = '', ...rest]) => rest.map((b) => ({ id: `tie ${first} ${b}`, a: first, b })));
  return { ...state, links: [...state.links, ...ties] };
}
