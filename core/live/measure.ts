import { rootOfSquares } from '../numeric';
import type { Installation, Protection } from '../installation';
import { compileLive, SUPPLY_LINE, SUPPLY_NEUTRAL, usualService, type LiveBranch, type LiveNetwork, type Service } from './network';
import type { Fault } from '../faults';
import { planPhysics, type Physics } from '../network';
import type { WorkState } from '../workstate';
import { LiveSolver, type Phasor, type Phasors } from './solve';

export type { Phasor };

export const magnitude = (p: Phasor): number => rootOfSquares(p.re, p.im);
/** Degrees. */
export const angle = (p: Phasor): number => (Math.atan2(p.im, p.re) * 180) / Math.PI;

/** What a voltage indicator draws itself, in ohms: with its load button a two-pole indicator, without it a multimeter. */
export const indicatorOhm = { low: 7e3, high: 1e7 } as const;
export type Impedance = keyof typeof indicatorOhm;

/** One installation, energised in one state: every live quantity. */
export class Energised {
  readonly solver: LiveSolver;
  readonly volts: Phasors;
  private readonly impedances = new Map<string, Phasor>();
  private byPart: Map<string, LiveBranch[]> | null = null;

  constructor(readonly network: LiveNetwork) {
    this.solver = new LiveSolver(network);
    this.volts = this.solver.energised();
  }

  static of(installation: Installation, state: WorkState, faults: readonly Fault[] = [], service: Service = usualService, physics: Physics = planPhysics): Energised {
    return new Energised(compileLive(installation, state, faults, service, physics));
  }

  node(place: string): number {
    return this.network.index.get(place) ?? -1;
  }

  /** Volts between two nodes with no meter there. */
  across(a: number, b: number): Phasor {
    const { re, im } = this.volts;
    return { re: (re[a] as number) - (re[b] as number), im: (im[a] as number) - (im[b] as number) };
  }

  /** Impedance seen between two nodes with the supply at rest, in ohms. */
  impedance(a: number, b: number): Phasor {
    if (a === b) return { re: 0, im: 0 };
    const key = `${Math.min(a, b)} ${Math.max(a, b)}`;
    let found = this.impedances.get(key);
    if (!found) {
      const z = this.solver.column(a, b);
      found = minus(z(a), z(b));
      this.impedances.set(key, found);
    }
    return found;
  }

  /** What a meter of so many ohms shows between two places ("ground": an independent earth); null where one is not there. An induced voltage falls away under a low impedance, a real one stays. */
  voltage(from: string, to: string, meterOhm: number): Phasor | null {
    const [a, b] = [this.node(from), this.node(to)];
    if (a < 0 || b < 0) return null;
    const open = this.across(a, b);
    const z = this.impedance(a, b);
    return over(times(open, { re: meterOhm, im: 0 }), { re: meterOhm + z.re, im: z.im });
  }

  /** Branches by the name of their part, the other way round where it is taken from its far end. */
  branches(part: string): readonly LiveBranch[] {
    return part.startsWith(FROM_FAR) ? this.drawn(part.slice(FROM_FAR.length)).map((b) => ({ ...b, a: b.b, b: b.a })) : this.drawn(part);
  }

  private drawn(part: string): readonly LiveBranch[] {
    if (!this.byPart) {
      this.byPart = new Map();
      for (const b of this.network.branches) {
        const list = this.byPart.get(b.part);
        if (list) list.push(b);
        else this.byPart.set(b.part, [b]);
      }
    }
    return this.byPart.get(part) ?? [];
  }

  /** What the sources in a part drive through it. */
  driven(part: string): Phasor {
    return this.network.sources.filter((s) => s.part === part).reduce<Phasor>(plus, { re: 0, im: 0 });
  }

  /** Current in amperes through a part (an element, core or link), from its first node to its second. */
  current(part: string): Phasor {
    const own = this.driven(part);
    return this.branches(part).reduce((sum, b) => plus(sum, times({ re: b.re, im: b.im }, this.across(b.a, b.b))), own);
  }

  /** What a clamp round several conductors sees: the sum of their currents. */
  clamp(parts: readonly string[]): Phasor {
    return parts.map((p) => this.current(p)).reduce(plus, { re: 0, im: 0 });
  }

  /** What leaves a device through its line and does not come back through its neutral. */
  residual(device: Protection): Phasor {
    return this.clamp(partsOf(device).residual.parts);
  }

  /** Loop impedance at a place: from line back through `to`, supply included, in ohms; null where a place is missing. */
  loop(line: string, to: string): Phasor | null {
    const [a, b] = [this.node(line), this.node(to)];
    return a < 0 || b < 0 ? null : this.impedance(a, b);
  }
}

/** Before the name of a part whose current is counted from its far end to its near one: the second leg of a ring leaves the board there. */
const FROM_FAR = 'from its far end ';
export const fromFarEnd = (part: string): string => `${FROM_FAR}${part}`;

/** Some branches by the name of their parts, and a name for them all. */
interface Parts { readonly name: string; readonly parts: readonly string[] }
const partsKnown = new WeakMap<Protection, { readonly residual: Parts; readonly lines: readonly Parts[] }>();

/** Whose currents a device adds up, and those of each of its lines; worked out once. */
export function partsOf(device: Protection): { readonly residual: Parts; readonly lines: readonly Parts[] } {
  let known = partsKnown.get(device);
  if (!known) {
    const main = device.id === 'main';
    known = {
      residual: { name: `residual ${device.id}`, parts: main ? [SUPPLY_LINE, SUPPLY_NEUTRAL] : device.poles.flatMap(partsOfPole) },
      lines: (main ? [[SUPPLY_LINE]] : device.linePoles.map(partsOfPole)).map((parts, i) => ({ name: `line ${device.id} ${i}`, parts })),
    };
    partsKnown.set(device, known);
  }
  return known;
}

export const residualParts = (device: Protection): readonly string[] => partsOf(device).residual.parts;
export const lineParts = (device: Protection): readonly (readonly string[])[] => partsOf(device).lines.map((l) => l.parts);

/** A pole is named by its kind. */
const partsOfPole = (p: string): string[] => [`way ${p}`, `pole ${p}`, `switch ${p}`];

/** The largest of several currents: what an overcurrent device of several poles goes by. */
export const largest = (currents: readonly Phasor[]): Phasor => currents.reduce((a, b) => (magnitude(b) > magnitude(a) ? b : a), { re: 0, im: 0 });

export const plus = (a: Phasor, b: Phasor): Phasor => ({ re: a.re + b.re, im: a.im + b.im });
export const minus = (a: Phasor, b: Phasor): Phasor => ({ re: a.re - b.re, im: a.im - b.im });
export const times = (a: Phasor, b: Phasor): Phasor => ({ re: a.re * b.re - a.im * b.im, im: a.re * b.im + a.im * b.re });
export function over(a: Phasor, b: Phasor): Phasor {
  const size = b.re * b.re + b.im * b.im;
  return { re: (a.re * b.re + a.im * b.im) / size, im: (a.im * b.re - a.re * b.im) / size };
}
