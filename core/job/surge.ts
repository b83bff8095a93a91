import { loadsOf, terminalKey, type Installation } from '../installation';
import { compileNetwork, planPhysics, resistanceBetween } from '../network';
import { isAbove } from '../tester';
import { elementKey } from '../workstate';
import type { ReadingView } from './view';

/** From here on the test voltage makes a surge arrester conduct, volts. */
const CONDUCTS_FROM_VOLT = 400;
/** What a tester shows through an arrester that conducts lies between these, ohms; anything else is not the arrester. */
const SHOWN_OHM: readonly [number, number] = [5e4, 5e6];
/** With the arresters shorted the leads would meet within this, ohms. */
const MEETS_OHM = 1e4;

/** Is the reading perhaps no more than a surge arrester that the test voltage makes conduct? Then it tells nothing of the circuit. */
export function throughArrester(map: Installation, { event, state }: Pick<ReadingView, 'event' | 'state'>): boolean {
  const { probe, displayed, testVolt } = event;
  if (probe.fn !== 'insulation' || (testVolt ?? 0) < CONDUCTS_FROM_VOLT || isAbove(displayed) || displayed.ohm < SHOWN_OHM[0] || displayed.ohm > SHOWN_OHM[1]) return false;
  const arresters = map.points.flatMap((p) => loadsOf(p).filter((l) => l.loadClass === 'arrester' && !state.loadsOut.includes(elementKey(p.id, l.id))).map((l) => [terminalKey(p.id, l.a), terminalKey(p.id, l.b)] as const));
  if (!arresters.length) return false;
  const network = compileNetwork(map, state, arresters.map((terminals) => ({ kind: 'joined', terminals: [...terminals], ohm: 1 })), planPhysics);
  const [a, b] = [probe.from[0], probe.to[0]].map((k) => network.index.get(k ?? '') ?? -1);
  const ohm = a === undefined || b === undefined || a < 0 || b < 0 ? 'open' : resistanceBetween(network, a, b);
  return ohm !== 'open' && ohm < MEETS_OHM;
}
