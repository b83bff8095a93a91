import { barSeen, findsOtherBar, findsSomething, inOtherBar, plugIn, signChance } from '../asking';
import type { Suspect } from '../faults';
import { loadsOf, pointOfPlace, type Point } from '../installation';
import { bitsOf } from '../numeric';
import { allSwitchesMin, costOf, frontOf, placesOf, type Costs } from '../planning';
import { elementKey } from '../workstate';
import { safetyOf } from './steps';
import type { Now } from './now';
import type { LiveStepView } from './liveSteps';
import type { StepView } from './types';
import { recordHides } from './verdict';

/** Eyes before meter: a point to look at, with the cover off where it is off already. `plug`: what may have stayed in there against the record, the first thing to look for. */
export interface LookView { readonly point: string; readonly outside: boolean; readonly plug: string | null; /** At a board: the end whose bar is looked for. */ readonly bar: string | null; readonly bits: number; readonly minutes: number }

const LOOK_MIN = 0.5;
/** Bits below which a look is not worth a word. */
const WORTH_A_LOOK = 0.03;
const CONSIDERED = 120;

/** The look that promises a shorter way than the best step: its bits are about the place, like a reading's; where a record that is wrong hides all else, about what that is. */
export function lookFirst(now: Now, costs: Costs, steps: readonly StepView[], live: readonly LiveStepView[]): LookView | null {
  const { view, map, engine, belief } = now;
  const safety = safetyOf(view);
  const numbers = placesOf(map, engine.suspects, recordHides(now));
  const { entropy } = frontOf(engine, belief, (s) => numbers[s] ?? 0, CONSIDERED);
  const looked = new Set(view.asked.seen.map((x) => `${x.place} ${x.what}`));
  let best: (LookView & { cost: number }) | null = null;
  for (const p of map.points) {
    if (view.unreachable.includes(p.id)) continue;
    const open = view.state.opened.includes(p.id) && view.secured !== null && safety.proved.has(p.id);
    const outside = !open;
    const plugs = plugsOut(now, p, looked);
    // A circuit that nobody has drawn is walked for its plugs alone.
    if (p.reach === 'never' && !(p.kind === 'undrawn' && plugs.length)) continue;
    const bar = open ? barWorthALook(now, p.id) : null;
    if (!plugs.length && !bar && looked.has(`${p.id} ${outside ? 'cleanOutside' : 'clean'}`)) continue;
    const bits = bitsOfLook(now, numbers, (s) => (bar ? findsOtherBar(s, bar) : (plugs.length > 0 ? findsSomething : signChance)(map, s, p.id, outside)));
    if (bits < WORTH_A_LOOK) continue;
    const minutes = (p.kind === 'undrawn' ? allSwitchesMin(costs) : LOOK_MIN) + (view.at.includes(p.id) ? 0 : costs.walk + (p.extraMin ?? 0));
    const cost = costOf(minutes, bits, entropy);
    if (!best || cost < best.cost) best = { point: p.id, outside, plug: plugShare(now, p.id) > WORTH_A_PLUG ? (plugs[0] ?? null) : null, bar, bits, minutes, cost };
  }
  if (!best) return null;
  const others = [...steps.slice(0, 1).map((s) => costOf(s.minutes, s.bits, entropy)), ...live.slice(0, 1).map((s) => s.cost)];
  const { cost, ...look } = best;
  return others.every((c) => cost < c) ? look : null;
}

/** Share of what a plug left in would explain from which it is looked for by name. */
const WORTH_A_PLUG = 0.03;

/** What the record has as unplugged at a point, and nobody has looked at since. */
const plugsOut = ({ view }: Now, p: Point, looked: ReadonlySet<string>): string[] => (looked.has(`${p.id} nothingIn`) ? [] : loadsOf(p).map((l) => (l.unplugs ? elementKey(p.id, l.id) : '')).filter((k) => view.state.loadsOut.includes(k) && !looked.has(`${k} wasIn`)));

const plugShare = ({ engine, belief }: Now, point: string): number => engine.suspects.reduce((sum, s, i) => sum + (plugIn(s, point) ? (belief.suspectShare[i] as number) : 0), 0);

/** The neutral at a board that is likeliest in another bar, if that is worth following it and nobody has. */
function barWorthALook({ view, engine, belief }: Now, board: string): string | null {
  const byEnd = new Map<string, number>();
  for (const [i, s] of engine.suspects.entries()) if (s.site.on === 'structure' && inOtherBar(s, s.site.id) && pointOfPlace(engine.installation, s.site.id) === board) byEnd.set(s.site.id, (byEnd.get(s.site.id) ?? 0) + (belief.suspectShare[i] as number));
  const [end, share = 0] = [...byEnd].filter(([e]) => barSeen(view.asked.seen, e) === undefined).sort((x, y) => y[1] - x[1])[0] ?? [];
  return end !== undefined && share > WORTH_A_BAR ? end : null;
}
const WORTH_A_BAR = 0.02;

/** Bits about the place of the fault in "something to see" against "nothing"; `sees`: the chance of something under a suspect. */
function bitsOfLook({ engine, belief }: Now, numbers: ArrayLike<number>, sees: (s: Suspect) => number): number {
  const [shares, seenAt] = [new Float64Array(engine.suspects.length), new Float64Array(engine.suspects.length)];
  let seen = 0;
  for (const [i, s] of engine.suspects.entries()) {
    const [share, at] = [belief.suspectShare[i] as number, numbers[i] ?? 0];
    const both = share * sees(s);
    shares[at] = (shares[at] as number) + share;
    seenAt[at] = (seenAt[at] as number) + both;
    seen += both;
  }
  return bitsOf(seen) - shares.reduce((sum, share, at) => sum + (share > 0 ? share * bitsOf((seenAt[at] as number) / share) : 0), 0);
}
