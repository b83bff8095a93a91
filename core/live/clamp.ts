import { behindWay, loadOfPart, protectionsOf, type Installation, type Load, type Protection, type Section } from '../installation';
import { elementKey, type WorkState } from '../workstate';
import type { LiveView, Under } from './scene';
import { fromFarEnd, largest, magnitude, minus, partsOf, plus, type Phasor } from './measure';
import { SUPPLY_EARTH } from './network';
import { isOff, loadsBehind, runningBehind, sharesOf, UNEVEN_SD } from './shares';
import type { LiveTest } from './tests';

/** Residual current of a device, by what may run of the leakage that a suspect adds to it: each with its weight. */
export function residualsOf(installation: Installation, view: LiveView, under: Under | null, state: WorkState, d: Protection): readonly (readonly [Phasor, number])[] {
  const { residual } = partsOf(d);
  const own = view.current(residual.name, residual.parts);
  const source = under?.suspect.kind === 'standingLeak' ? protectionsOf(installation).find((p) => p.id === under.suspect.conductors[0]) : undefined;
  if (!under || !source?.carries.some((w) => d.carries.includes(w))) return [[own, 1]];
  return sharesOf(runningBehind(installation, view, state, source)).map(([share, weight]) => [plus(own, { re: 0, im: (installation.nominalVolt / under.ohm) * share }), weight]);
}

/** Current of a device's line, the largest of several, with the overload that a suspect adds to it. */
export function lineOf(installation: Installation, view: LiveView, under: Under | null, state: WorkState, d: Protection): Phasor {
  const { lines: [first, ...more] } = partsOf(d);
  const one = first ? view.current(first.name, first.parts) : { re: 0, im: 0 };
  const own = more.length ? largest([one, ...more.map((l) => view.current(l.name, l.parts))]) : one;
  if (under?.suspect.kind !== 'overload' || under.suspect.conductors[0] !== d.id) return own;
  return plus(own, { re: (installation.nominalVolt / under.ohm) * runningBehind(installation, view, state, d).mean, im: 0 });
}

/** Of leakage that adds up, how surely a clamp finds the part of it that is foreseen: spread in ln. One of several ways has it in no known measure. */
export function leakageSpread(installation: Installation, view: LiveView, under: Under | null, state: WorkState, around: string): number {
  if (under?.suspect.kind !== 'standingLeak') return 0;
  const all = protectionsOf(installation);
  const source = all.find((p) => p.id === under.suspect.conductors[0]);
  const on = all.find((p) => p.id === around.split('/')[0]);
  if (!source || !on || isOff(on, state)) return 0;
  if (source.ways.includes(on.id)) return UNEVEN_SD;
  const { mean, sd } = runningBehind(installation, view, state, source);
  return source.id === on.id && mean > 0 ? sd / mean : 0;
}

/** What a clamp is put on: the device of its conductors, which of them, and their parts in the network. */
interface Around {
  readonly device: Protection | null;
  readonly what: 'earth' | 'line' | 'residual' | 'cable';
  readonly parts: readonly string[];
  /** The appliance on whose lead it is put. */
  readonly appliance?: { readonly key: string; readonly load: Load; /** Its terminals that the clamp goes round. */ readonly round: readonly string[] };
}

function aroundOf(installation: Installation, around: string): Around | null {
  if (around === 'earth') return { device: null, what: 'earth', parts: [SUPPLY_EARTH] };
  const [id = '', only] = around.split('/');
  const device = protectionsOf(installation).find((p) => p.id === id);
  if (!device) return aroundLead(installation, id, only === 'L');
  if (only === 'L') return { device, what: 'line', parts: partsOf(device).lines[0]?.parts ?? [] };
  if (device.kind === 'rcd' || device.kind === 'main') return { device, what: 'residual', parts: partsOf(device).residual.parts };
  // Round the cables of a way: its own line and neutral, wherever that neutral lands; of each what leaves the board.
  const { hub, leaves } = behindWay(installation, id);
  const leaving = (s: Section, core: string): string => (s.a === hub ? `core ${s.id}:${core}` : fromFarEnd(`core ${s.id}:${core}`));
  return { device, what: 'cable', parts: leaves.flatMap((s) => s.cores.filter((c) => c.role !== 'E').map((c) => leaving(s, c.id))) };
}

/** Round the lead of an appliance: its line alone, or line and neutral, which leaves what it loses to earth. */
function aroundLead(installation: Installation, key: string, lineAlone: boolean): Around | null {
  const found = loadOfPart(installation, key);
  if (!found) return null;
  const { point, load } = found;
  const [line, earth] = [load.a, point.terminals.find((t) => t.role === 'E')?.id];
  const round = lineAlone ? [line] : [load.a, load.b];
  // What passes between the two conductors that it goes round passes it twice.
  const faults = point.terminals.filter((t) => !round.includes(t.id)).flatMap((t) => round.map((r) => `fault ${key} ${r}${t.id}`));
  return { device: null, what: lineAlone ? 'line' : 'residual', parts: [...(lineAlone ? [`load ${key}`] : []), ...(earth === undefined ? [] : [`leak ${key}`]), ...faults], appliance: { key, load, round } };
}

/** Can a clamp be put there on this map? */
export const canBeClamped = (installation: Installation, around: string): boolean => aroundOf(installation, around) !== null;

/** Amperes that a suspect takes by the lead of the appliance that it sits in. */
function throughFault(view: LiveView, under: Under | null, { key, round }: NonNullable<Around['appliance']>): Phasor {
  const site = under?.suspect.site;
  if (!under || site?.on !== 'pair' || site.part !== key || under.suspect.kind === 'loadIn') return { re: 0, im: 0 };
  const [a, b] = [view.scene.node(site.a), view.scene.node(site.b)];
  const inside = round.filter((t) => under.suspect.conductors.includes(t));
  if (a < 0 || b < 0 || inside.length !== 1) return { re: 0, im: 0 };
  const [from, to] = site.a.endsWith(`:${inside[0] ?? ''}`) ? [a, b] : [b, a];
  const across = minus(view.volt(from), view.volt(to));
  const ohm = Math.max(under.ohm, 1e-3);
  return { re: across.re / ohm, im: across.im / ohm };
}

/** Steady 50 Hz current round what a clamp is put on. */
function steadyCurrent(installation: Installation, view: LiveView, under: Under | null, state: WorkState, { device: d, what, parts, appliance }: Around): Phasor {
  if (appliance) return plus(view.current(`lead ${appliance.key} ${what}`, parts), throughFault(view, under, appliance));
  if (what === 'line' && d) return lineOf(installation, view, under, state, d);
  // The likeliest of them comes first; how far it may be off is `leakageSpread`.
  if (what === 'residual' && d) return residualsOf(installation, view, under, state, d)[0]?.[0] ?? { re: 0, im: 0 };
  const own = view.current(`${what} ${d?.id ?? ''}`, parts);
  if (under?.suspect.kind !== 'standingLeak' || !d) return own;
  const source = protectionsOf(installation).find((p) => p.id === under.suspect.conductors[0]);
  if (!source?.carries.includes(d.id) || isOff(d, state)) return own;
  // What is off loses nothing: the others share it.
  const on = protectionsOf(installation).filter((p) => source.ways.includes(p.id) && !isOff(p, state)).length;
  return plus(own, { re: 0, im: ((installation.nominalVolt / under.ohm) * runningBehind(installation, view, state, source).mean) / Math.max(1, on) });
}

/** How many times its running current a load takes while it starts, and leaks while its filter charges. */
const STARTS: Readonly<Record<Load['loadClass'], { readonly draws: number; readonly leaks: number }>> = {
  resistive: { draws: 1, leaks: 1 }, electronic: { draws: 10, leaks: 3 }, neon: { draws: 1, leaks: 1 }, winding: { draws: 6, leaks: 2 }, arrester: { draws: 1, leaks: 1 },
};

/** Amperes that the hardest starter behind a device adds while it starts. */
function starting(installation: Installation, view: LiveView, { device, what, appliance }: Around): number {
  const behind = device ? loadsBehind(installation, device).map(({ point, load }) => ({ key: elementKey(point.id, load.id), load })) : appliance ? [appliance] : [];
  return behind.reduce((most, { key, load }) => {
    const more = (what === 'line' ? STARTS[load.loadClass].draws : STARTS[load.loadClass].leaks) - 1;
    return more > 0 ? Math.max(most, more * magnitude(view.scene.current(`${what === 'line' ? 'load' : 'leak'} ${key}`))) : most;
  }, 0);
}

/** Amperes that a clamp shows: at 50 Hz alone, with all harmonics, or the most while something starts. 0 where it is put on nothing. */
export function clampAmp(installation: Installation, view: LiveView, under: Under | null, state: WorkState, test: Pick<Extract<LiveTest, { kind: 'clamp' }>, 'around' | 'filtered' | 'peak'>): number {
  const around = aroundOf(installation, test.around);
  if (!around) return 0;
  const steady = magnitude(steadyCurrent(installation, view, under, state, around));
  const shown = test.filtered ? steady : Math.hypot(steady, view.harmonics.through(around.parts));
  return test.peak ? shown + starting(installation, view, around) : shown;
}
