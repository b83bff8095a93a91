import { actsIn, isBreak, type Suspect } from '../faults';
import { endKeyOf, findPoint, findSection, landingOf, pointOfPlace, protectionsOf, sectionOfPlace, terminalKey, throwsOf, type Installation } from '../installation';
import { planPhysics } from '../network';
import type { WorkState } from '../workstate';
import { Harmonics } from './harmonics';
import { Energised, fromFarEnd, magnitude, minus, over, plus, times, type Phasor } from './measure';
import type { Service } from './network';
import type { Condition } from './trips';

/** A suspect at one of its sizes. */
export interface Under { readonly suspect: Suspect; readonly ohm: number }

/** One size that a suspect may have, how much of it has it, and what it makes of its device. `leak`: ohms by which line leaks to an earth that is lost, beyond the break; null for none. */
export interface Variant { readonly ohm: number; readonly share: number; readonly condition: Condition; readonly leak: number | null }

/** The circuit as a live test finds it under one suspect: volts, impedances and currents. */
export interface LiveView {
  volt(node: number): Phasor;
  impedance(a: number, b: number): Phasor;
  /** Sum of the currents through some parts; the name stands for the list. */
  current(name: string, parts: readonly string[]): Phasor;
  /** What electronic loads add above 50 Hz: as in the sound installation, whatever the suspect. */
  readonly harmonics: Harmonics;
  readonly scene: Energised;
}

export function soundView(scene: Energised): LiveView {
  const sums = new Map<string, Phasor>();
  return {
    scene, harmonics: new Harmonics(scene), volt: (n) => ({ re: scene.volts.re[n] as number, im: scene.volts.im[n] as number }), impedance: (a, b) => scene.impedance(a, b),
    current: (name, parts) => {
      let sum = sums.get(name);
      if (!sum) sums.set(name, (sum = scene.clamp(parts)));
      return sum;
    },
  };
}

/** Where a suspect acts in the energised network: one admittance changed between two nodes, one open and another in its stead, a network of its own, or nowhere. */
type Act =
  | { readonly how: 'none' }
  | ({ readonly how: 'branch'; /** Line to earth beyond it, where it is an earth that is broken. */ readonly beyond: Branch | null } & Branch)
  | { readonly how: 'instead'; readonly open: Branch; readonly instead: Branch; /** Of what stands in its stead, where it is not the suspect's own size. */ readonly ohm: number | null; readonly still: boolean }
  | { readonly how: 'exact'; readonly still: boolean };

interface Branch {
  readonly a: number;
  readonly b: number;
  readonly own: Phasor | null;
  readonly part: string;
  /** Worked out once, by the first that asks. */
  readonly column: () => Column;
  /** Nothing drives it: no volt and no current moves, whatever it is. */
  readonly still: boolean;
  /** Currents that one volt less across the branch takes out of some parts, by their name. */
  readonly sums: Map<string, { readonly re: number; readonly im: number; /** The changed branch is among them: 1, counted from its far end: -1, or not: 0. */ readonly own: number }>;
}

/** Volts of every node for one ampere through a branch, and those across it. */
interface Column { readonly at: (node: number) => Phasor; readonly self: Phasor }

/** Volts below which nothing drives a branch. */
const STILL_VOLT = 1e-6;

/** Suspects that are no single branch are compiled anew; only on installations where that is quick. */
const EXACT_BELOW_SECTIONS = 16;

/** Suspects whose views a scene keeps. */
const MOST_KEPT = 2000;

/** One installation in one state, energised as one guess has it: what every suspect makes of its volts, impedances and currents. */
export class Scene {
  readonly sound: LiveView;
  private readonly energised: Energised;
  private readonly acts = new Map<string, Act>();
  private readonly exact = new Map<string, LiveView>();
  /** Views of the cells that a step is weighed by: its tests are made at many places, each under the same few suspects. */
  private readonly kept = new Map<string, Map<number, LiveView>>();

  constructor(private readonly installation: Installation, private readonly state: WorkState, private readonly service: Service) {
    this.energised = Energised.of(installation, state, [], service);
    this.sound = soundView(this.energised);
  }

  /** The same view again for the same size of the same suspect. */
  keptView(s: Suspect, v: Pick<Variant, 'ohm' | 'leak'>, impedances: boolean): LiveView {
    const name = `${s.id} ${v.leak ?? ''} ${impedances ? 'z' : ''}`;
    let ofSuspect = this.kept.get(name);
    if (!ofSuspect) {
      if (this.kept.size >= MOST_KEPT) this.kept.clear();
      this.kept.set(name, (ofSuspect = new Map<number, LiveView>()));
    }
    let view = ofSuspect.get(v.ohm);
    if (!view) ofSuspect.set(v.ohm, (view = this.view(s, v, impedances)));
    return view;
  }

  /** `impedances`: they are asked for too, not volts and currents alone. */
  view(s: Suspect, { ohm, leak }: Pick<Variant, 'ohm' | 'leak'>, impedances: boolean): LiveView {
    let act = this.acts.get(s.id);
    if (!act) this.acts.set(s.id, (act = this.actOf(s)));
    if (act.how === 'branch' && act.beyond && leak !== null) return this.inStead(act, act.beyond, leak);
    if (act.how === 'none' || (act.still && !impedances)) return this.sound;
    if (act.how === 'exact') return this.compiled(s);
    if (act.how === 'branch') return this.changed(this.sound, act, act.column(), ohm);
    return this.inStead(act.open, act.instead, act.ohm ?? ohm);
  }

  /** One branch open, and another made. */
  private inStead(open: Branch, instead: Branch, ohm: number): LiveView {
    const first = open.column();
    const opened = this.changed(this.sound, open, first, Infinity);
    return this.changed(opened, instead, columnIn(instead, first, instead.column(), this.gain(open, first, Infinity)), ohm);
  }

  private compiled(s: Suspect): LiveView {
    let view = this.exact.get(s.id);
    if (!view) this.exact.set(s.id, (view = soundView(Energised.of(this.installation, this.state, s.fault(1, 0.5), this.service))));
    return view;
  }

  /** Admittance that is added across a branch, siemens. */
  private added({ own }: Branch, ohm: number): Phasor {
    return own ? minus(ohm === Infinity ? { re: 0, im: 0 } : over(own, plus({ re: 1, im: 0 }, times(own, { re: ohm, im: 0 }))), own) : { re: 1 / Math.max(ohm, 1e-3), im: 0 };
  }

  /** Amperes through a changed branch for one volt that was across it. */
  private gain(branch: Branch, { self }: Column, ohm: number): Phasor {
    const added = this.added(branch, ohm);
    return over(added, plus({ re: 1, im: 0 }, times(added, self)));
  }

  /** One branch of a view changed: every voltage and impedance by one column. */
  private changed(base: LiveView, act: Branch, column: Column, ohm: number): LiveView {
    const { energised } = this;
    const added = this.added(act, ohm);
    const gain = this.gain(act, column, ohm);
    const drive = times(gain, minus(base.volt(act.a), base.volt(act.b)));
    const { at } = column;
    const volt = (n: number): Phasor => minus(base.volt(n), times(at(n), drive));
    return {
      scene: energised, harmonics: this.sound.harmonics, volt,
      impedance: (a, b) => {
        const t = minus(at(a), at(b));
        return minus(base.impedance(a, b), times(times(t, t), gain));
      },
      current: (name, parts) => {
        let taken = act.sums.get(name);
        if (!taken) {
          const sum = parts.flatMap((p) => energised.branches(p)).reduce<Phasor>((s, b) => plus(s, times({ re: b.re, im: b.im }, minus(at(b.a), at(b.b)))), { re: 0, im: 0 });
          act.sums.set(name, (taken = { ...sum, own: act.part === '' ? 0 : parts.includes(act.part) ? 1 : parts.includes(fromFarEnd(act.part)) ? -1 : 0 }));
        }
        const sum = minus(base.current(name, parts), times(taken, drive));
        return taken.own === 0 ? sum : plus(sum, times(times({ re: taken.own, im: 0 }, added), minus(volt(act.a), volt(act.b))));
      },
    };
  }

  /** Is the circuit of a place switched off? Whatever is crossed or landed wrongly there carries nothing then. */
  private isOff(place: string): boolean {
    const { line } = landingOf(this.installation, sectionOfPlace(this.installation, place));
    const poles = protectionsOf(this.installation).find((p) => p.ways[0] === p.id && `W${p.id.slice(1)}` === line)?.linePoles ?? [];
    return poles.length > 0 && poles.every((k) => this.state.off.includes(k));
  }

  private actOf(s: Suspect): Act {
    const { site } = s;
    const { network } = this.energised;
    const branch = (a: number | undefined, b: number | undefined, own: Phasor | null, part: string, beyond: Branch | null = null): Extract<Act, { how: 'none' | 'branch' }> => {
      if (a === undefined || b === undefined || a === b) return { how: 'none' };
      let known: Column | null = null;
      const column = (): Column => {
        if (known) return known;
        const at = this.energised.solver.column(a, b);
        return (known = { at, self: minus(at(a), at(b)) });
      };
      return { how: 'branch', beyond, a, b, own, part, column, still: magnitude(this.energised.across(a, b)) < STILL_VOLT, sums: new Map() };
    };
    if (s.kind === 'supplyLost') return { how: 'exact', still: false };
    const inStead = (part: string, a: number | undefined, b: number | undefined, ohm: number | null): Act => {
      const [old] = this.energised.branches(part);
      const open = old ? branch(old.a, old.b, { re: old.re, im: old.im }, part) : null;
      const instead = branch(a, b, null, '');
      return open?.how === 'branch' && instead.how === 'branch' ? { how: 'instead', open, instead, ohm, still: open.still && instead.still } : { how: 'none' };
    };
    // An end in another bar: off its own, and on that.
    if (site.on === 'structure' && site.structure === 'landed') return inStead(`termination ${site.id}`, network.index.get(site.id), network.index.get(site.cores[0] ?? ''), planPhysics.terminationOhm(site.id));
    if (site.on === 'structure' && site.structure === 'thrown') {
      const { parts, throws } = throwsOf(this.installation, site.id);
      const made = this.energised.branches(`switch ${parts[0]}`).length ? 0 : 1;
      const [common] = this.energised.branches(`switch ${parts[made]}`);
      return inStead(`switch ${parts[made]}`, common?.a, network.index.get(throws[1 - made] as string), planPhysics.switchOhm);
    }
    if (site.on === 'structure') return site.structure === 'crossed' && this.installation.sections.length < EXACT_BELOW_SECTIONS ? { how: 'exact', still: this.isOff(site.id) } : { how: 'none' };
    if (site.on === 'pair') return actsIn(site, this.state) ? branch(network.index.get(site.a), network.index.get(site.b), null, '') : { how: 'none' };
    if (site.on === 'cable') {
      const section = findSection(this.installation, site.section);
      if (!section) return { how: 'none' };
      const [c, d] = site.cores;
      return branch(network.index.get(endKeyOf(section, 'b', c)), network.index.get(endKeyOf(section, 'b', d)), null, '');
    }
    if (site.on === 'opened') return inStead(`core ${site.part}`, network.index.get(site.a), network.index.get(site.b), null);
    if (site.on !== 'branch' && site.on !== 'face') return { how: 'none' };
    const part = site.on === 'face' ? `face ${site.face}` : site.end === '' ? (site.part.includes(':') ? `core ${site.part}` : `${s.kind === 'loadOpen' ? 'load' : 'switch'} ${site.part}`) : `termination ${site.endKey}`;
    const [found] = this.energised.branches(part);
    const leak = isBreak(s) && s.conductors.join() === 'E' ? branch(...this.pairBeyond(site), null, '') : null;
    return found ? branch(found.a, found.b, { re: found.re, im: found.im }, part, leak?.how === 'branch' ? leak : null) : { how: 'none' };
  }

  /** Line and earth at the first place beyond a break. */
  private pairBeyond(site: Extract<Suspect['site'], { on: 'branch' | 'face' }>): [number | undefined, number | undefined] {
    const point = findPoint(this.installation, site.on === 'face' ? pointOfPlace(this.installation, site.face) : (findSection(this.installation, sectionOfPlace(this.installation, site.endKey || site.part))?.b ?? ''));
    const { index } = this.energised.network;
    const at = (role: string): number | undefined => {
      const terminal = point?.terminals.find((t) => t.role.startsWith(role))?.id;
      return point && terminal !== undefined ? index.get(terminalKey(point.id, terminal)) : undefined;
    };
    return site.on === 'face' ? [at('L'), index.get(site.face)] : [at('L'), at('E')];
  }
}

/** The column of a branch in a network in which another, whose column and gain are given, is changed already. */
function columnIn(branch: Branch, first: Column, own: Column, gain: Phasor): Column {
  const across = times(gain, minus(first.at(branch.a), first.at(branch.b)));
  const at = (n: number): Phasor => minus(own.at(n), times(first.at(n), across));
  return { at, self: minus(at(branch.a), at(branch.b)) };
}
