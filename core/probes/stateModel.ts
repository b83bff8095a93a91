import { actsIn, type Suspect } from '../faults';
import { endKeyOf, findSection, parsePlace, terminalKey, type Installation, type PlaceKey } from '../installation';
import { Field } from '../network/field';
import { assume, changed, skeletonOf, type Assumed, type Skeleton, type Structure } from '../network/skeleton';
import { planPhysics, type Physics } from '../network';
import type { WorkState } from '../workstate';
import { coresOf, currentsFor, siteCurrents, type CoreList, type SiteCurrents } from './currents';
import { Leakage } from './leaks';
import type { Probe } from './probe';
import { seriesResponse, shuntPlace, shuntResponse, soundResponse, type Lead, type Response, type ShuntPlace } from './response';

/** One installation in one state: answers what any probe reads under any suspect. Built once per state. */
export class StateModel {
  readonly field: Field;
  private readonly skeleton: Skeleton;
  private readonly out: ReadonlySet<string>;
  private coreList: CoreList | null = null;
  private leaks: Leakage | null = null;
  private readonly sites = new Map<string, SiteCurrents | null>();
  private readonly shunts = new Map<string, ShuntPlace | null>();
  private readonly structures = new Map<string, Field>();

  constructor(
    readonly installation: Installation,
    readonly state: WorkState,
    readonly physics: Physics = planPhysics,
    assumed: Assumed | null = null,
  ) {
    const plain = skeletonOf(installation, state, physics);
    this.skeleton = assumed ? assume(plain, assumed, new Set(state.out)) : plain;
    this.field = new Field(this.skeleton);
    this.out = new Set(state.out);
  }

  /** Null when the probe touches a place that is not there. */
  leads(probe: Probe): [Lead, Lead] | null {
    const p = this.lead(this.field, probe.from[0] ?? '');
    const q = this.lead(this.field, probe.to[0] ?? '');
    return p && q ? [p, q] : null;
  }

  private lead(field: Field, place: PlaceKey): Lead | null {
    const node = field.node(place);
    const parsed = parsePlace(place);
    if (!parsed) return null;
    if (parsed.at === 'face') {
      const terminal = field.node(terminalKey(parsed.point, parsed.terminal));
      return terminal < 0 ? null : { node: terminal, copper: '', extraOhm: this.physics.faceOhm };
    }
    if (node < 0) return null;
    if (parsed.at === 'end' && !this.out.has(place)) return { node, copper: place, extraOhm: this.physics.terminationOhm(place) };
    return { node, copper: '', extraOhm: 0 };
  }

  sound(probe: Probe): Response | null {
    const leads = this.leads(probe);
    return leads && soundResponse(this.field, leads[0], leads[1]);
  }

  /** The cores in the circuit, for sums by section. */
  cores(): CoreList {
    return (this.coreList ??= coresOf(this.installation, this.field, this.physics));
  }

  /** Current per core for one ampere through the probe, all sound. */
  probeCurrents(leads: readonly [Lead, Lead]): Float64Array {
    return currentsFor(this.field, this.cores(), leads[0].node, leads[1].node);
  }

  /** Insulation between the pieces, for sums by section. */
  leakage(): Leakage {
    return (this.leaks ??= new Leakage(this.field, new Map(this.installation.sections.map((s, i) => [s.id, i]))));
  }

  /** Volts of the pieces over insulation for one ampere through the probe, all sound. */
  probePotentials(leads: readonly [Lead, Lead]): Float64Array {
    return this.field.piecePotentials(leads[0].node, leads[1].node);
  }

  siteCurrents(suspect: Suspect): SiteCurrents | null {
    let site = this.sites.get(suspect.id);
    if (site === undefined) {
      site = siteCurrents(this.installation, this.field, this.cores(), suspect);
      this.sites.set(suspect.id, site);
    }
    return site;
  }

  /** The probe's answer to one suspect, as a formula. `sound` and `leads` are the probe's own, computed once. */
  response(suspect: Suspect, probe: Probe, leads: readonly [Lead, Lead], sound: Response): Response {
    const { site } = suspect;
    const [p, q] = leads;
    if (site.on === 'nothing') return sound;
    if (site.on === 'branch') {
      if (site.endKey !== '' && this.out.has(site.endKey)) return sound;
      const branch = this.field.branch(site.part);
      return branch ? seriesResponse(this.field, sound, p, q, branch, site.end, site.endKey) : sound;
    }
    if (site.on === 'face') return probe.from.includes(site.face) || probe.to.includes(site.face) ? { ...sound, kind: 3, share: 1, own: 0, rest: Infinity, openOhm: 1e13 } : sound;
    if (site.on === 'structure') {
      const field = this.structural(site.structure, site.id, site.cores);
      const sp = this.lead(field, probe.from[0] ?? '');
      const sq = this.lead(field, probe.to[0] ?? '');
      return sp && sq ? soundResponse(field, sp, sq) : sound;
    }
    const place = this.shunt(suspect);
    return place ? shuntResponse(this.field, sound, p, q, place) : sound;
  }

  private shunt(suspect: Suspect): ShuntPlace | null {
    let place = this.shunts.get(suspect.id);
    if (place === undefined) {
      place = this.makeShunt(suspect);
      this.shunts.set(suspect.id, place);
    }
    return place;
  }

  private makeShunt(suspect: Suspect): ShuntPlace | null {
    const { site } = suspect;
    if (site.on === 'pair') {
      if (!actsIn(site, this.state)) return null;
      const pair: [number, number] = [this.field.node(site.a), this.field.node(site.b)];
      return pair[0] < 0 || pair[1] < 0 || pair[0] === pair[1] ? null : shuntPlace(this.field, pair, pair, 0);
    }
    if (site.on !== 'cable') return null;
    const section = findSection(this.installation, site.section);
    if (!section) return null;
    const [c, d] = site.cores;
    const at = (side: 'a' | 'b'): [number, number] => [this.field.node(endKeyOf(section, side, c)), this.field.node(endKeyOf(section, side, d))];
    const ohm = (id: string): number => this.field.branch(`${section.id}:${id}`)?.ohm ?? 0;
    return shuntPlace(this.field, at('a'), at('b'), ohm(c) + ohm(d));
  }

  private structural(kind: Structure['kind'], id: string, cores: readonly string[]): Field {
    const key = `${kind} ${id} ${cores.join()}`;
    let field = this.structures.get(key);
    if (!field) {
      const structure = structureOf(kind, id, cores);
      field = new Field(changed(this.skeleton, structure));
      this.structures.set(key, field);
    }
    return field;
  }
}

export function structureOf(kind: Structure['kind'], id: string, cores: readonly string[]): Structure {
  if (kind === 'crossed') return { kind, section: id, cores: [cores[0] ?? '', cores[1] ?? ''] };
  if (kind === 'missingSection') return { kind, section: id };
  return kind === 'landed' ? { kind, end: id, terminal: cores[0] ?? '' } : { kind, point: id, terminal: cores[0] ?? '' };
}
