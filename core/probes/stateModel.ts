import { actsIn, asIn, type Suspect } from '../faults';
import { circuitsOf, endKeyOf, findSection, parsePlace, roleOfPlace, sectionOfPlace, terminalKey, throwsOf, type Installation, type PlaceKey } from '../installation';
import { Field, type MetalBranch } from '../network/field';
import { assume, changed, changedAt, endOff, skeletonOf, type Assumed, type Skeleton, type Structure } from '../network/skeleton';
import { planPhysics, type Physics } from '../network';
import { turned, type WorkState } from '../workstate';
import { coresOf, currentsFor, siteCurrents, type CoreList, type SiteCurrents } from './currents';
import { Leakage, type SiteLeaks } from './leaks';
import type { Probe } from './probe';
import { plainResponse, seriesResponse, shuntPlace, shuntResponse, soundResponse, type Lead, type Response, type ShuntPlace } from './response';

/** From so many nodes on nobody reads in the insulation of two conductors what befell a third: its share is not worth a field of its own. */
const WHOLE_HOUSE = 250;

/** One installation in one state: answers what any probe reads under any suspect. Built once per state. */
export class StateModel {
  readonly field: Field;
  private readonly skeleton: Skeleton;
  private readonly out: ReadonlySet<string>;
  private coreList: CoreList | null = null;
  private leaks: Leakage | null = null;
  private readonly sites = new Map<string, SiteCurrents | null>();
  private readonly acting = new Map<Suspect, Acting | null>();
  private readonly structures = new Map<Structure, Field>();
  private readonly coresOfStructures = new Map<Structure, CoreList>();
  private readonly opened = new Map<string, Field>();
  private readonly throws = new Map<string, StateModel>();

  constructor(
    readonly installation: Installation,
    readonly state: WorkState,
    readonly physics: Physics = planPhysics,
    /** What is known to be there besides. */
    private readonly assumed: readonly Assumed[] = [],
  ) {
    const plain = skeletonOf(installation, state, physics);
    this.skeleton = assumed.reduce((s, a) => assume(s, a, new Set(state.out)), plain);
    this.field = new Field(this.skeleton);
    this.out = new Set(state.out);
  }

  /** Null when the probe touches a place that is not there. */
  leads(probe: Probe): [Lead, Lead] | null {
    const p = this.lead(probe.from[0] ?? '');
    const q = this.lead(probe.to[0] ?? '');
    return p && q ? [p, q] : null;
  }

  private lead(place: PlaceKey): Lead | null {
    const parsed = parsePlace(place);
    if (!parsed) return null;
    const isFace = parsed.at === 'face';
    const at = isFace ? terminalKey(parsed.point, parsed.terminal) : place;
    const node = this.field.node(at);
    if (node < 0) return null;
    if (isFace) return { node, at, copper: '', extraOhm: this.physics.faceOhm };
    if (parsed.at === 'end' && !this.out.has(place)) return { node, at, copper: place, extraOhm: this.physics.terminationOhm(place) };
    return { node, at, copper: '', extraOhm: 0 };
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

  /** The same with two-way switches on their other throws. */
  private otherThrow(parts: readonly string[]): StateModel {
    const key = parts.join();
    let other = this.throws.get(key);
    if (!other) this.throws.set(key, (other = new StateModel(this.installation, turned(this.state, parts), this.physics, this.assumed)));
    return other;
  }

  /** Do the throws have a say in what the leads read? Where one of them stands on the line side of their circuit. */
  private feelsThrow([part = '']: readonly string[], probe: Probe): boolean {
    const circuits = circuitsOf(this.installation);
    const own = circuits.get(part.split('.')[0] ?? '');
    return [...probe.from, ...probe.to].some((k) => !/^[NE]/.test(roleOfPlace(this.installation, k)) && circuits.get(sectionOfPlace(this.installation, k)) === own);
  }

  /** Behind a switch that may be off a fault on the line is out of reach of every line; from the neutral it is met through what is in there. On a plug that is out it is out of reach of all. */
  private isUnseen(suspect: Suspect, { from, to }: Probe): boolean {
    return suspect === asIn(suspect, this.state) && (suspect.behind?.plug === true || [...from, ...to].some((k) => !/^[NE]/.test(roleOfPlace(this.installation, k))));
  }

  /** The way that a probe's current takes under a suspect that changes the map; null where it runs as in the sound network. */
  pathUnder(suspect: Suspect, probe: Probe): Path | null {
    if (suspect.behind) return this.isUnseen(suspect, probe) ? null : this.pathUnder(suspect.behind.suspect, probe);
    if (suspect.thrown) {
      const { suspect: thrown, parts } = suspect.thrown;
      if (!this.feelsThrow(parts, probe)) return this.pathUnder(thrown, probe);
      const other = this.otherThrow(parts);
      const leads = other.leads(probe);
      if (!leads) return null;
      const leaks: Path['leaks'] = { leakage: other.leakage(), potentials: other.probePotentials(leads), site: (r) => other.leakage().site(thrown, leads, r) };
      return { ...(other.pathUnder(thrown, probe) ?? { cores: other.cores(), currents: other.probeCurrents(leads), site: other.siteCurrents(thrown) }), leaks };
    }
    const acts = this.actsOf(suspect);
    if (acts?.as !== 'structure') return null;
    const leads = this.leads(probe);
    const field = this.structural(acts.structure);
    const [a, b] = [field.node(leads?.[0].at ?? ''), field.node(leads?.[1].at ?? '')];
    if (a < 0 || b < 0) return null;
    const cores = this.coresIn(acts.structure, field);
    return { cores, currents: currentsFor(field, cores, a, b), site: null };
  }

  /** The probe's answer to one suspect, as a formula. `sound` and `leads` are the probe's own, computed once. */
  response(suspect: Suspect, probe: Probe, [p, q]: readonly [Lead, Lead], sound: Response): Response {
    if (suspect.behind) return this.isUnseen(suspect, probe) ? sound : this.response(suspect.behind.suspect, probe, [p, q], sound);
    if (suspect.thrown) {
      const { suspect: thrown, parts } = suspect.thrown;
      if (!this.feelsThrow(parts, probe)) return this.response(thrown, probe, [p, q], sound);
      const other = this.otherThrow(parts);
      const [leads, still] = [other.leads(probe), other.sound(probe)];
      if (!leads || !still) return sound;
      const found = other.response(thrown, probe, leads, still);
      return found === still && still.z === sound.z && still.m === sound.m ? sound : found;
    }
    const acts = this.actsOf(suspect);
    if (acts === null) return sound;
    if (acts.as === 'shunt') return shuntResponse(this.field, sound, p, q, acts.place);
    if (acts.as === 'series') return seriesResponse(this.field, sound, p, q, acts.branch, acts.end, acts.endKey);
    if (acts.as === 'face') return probe.from.includes(acts.face) || probe.to.includes(acts.face) ? { ...sound, kind: 3, share: 1, own: 0, rest: Infinity, openOhm: 1e13 } : sound;
    const elsewhere = this.field.apartFrom(p.node, q.node, acts.nodes);
    if (elsewhere && (this.field.nodeCount > WHOLE_HOUSE || this.field.piece(p.node) === this.field.piece(q.node))) return sound;
    if (acts.as === 'opened') return bridged(acts, p, q);
    const field = this.structural(acts.structure);
    if (elsewhere) return { ...sound, z: field.insulation(p.node, q.node, p.node, q.node) };
    const [a, b] = [field.node(p.at), field.node(q.at)];
    return a < 0 || b < 0 ? sound : plainResponse(field, { ...p, node: a }, { ...q, node: b });
  }

  /** How a suspect acts in this state; null where it does not. Worked out once. */
  private actsOf(suspect: Suspect): Acting | null {
    let acts = this.acting.get(suspect);
    if (acts === undefined) this.acting.set(suspect, (acts = this.actingHere(suspect)));
    return acts;
  }

  private actingHere({ site }: Suspect): Acting | null {
    if (site.on === 'nothing') return null;
    if (site.on === 'face') return { as: 'face', face: site.face };
    if (site.on === 'structure') {
      const structure = structureOf(this.installation, site);
      return { as: 'structure', structure, nodes: changedAt(this.skeleton, structure) };
    }
    if (site.on === 'branch') {
      const branch = site.endKey !== '' && this.out.has(site.endKey) ? undefined : this.field.branch(site.part);
      return branch ? { as: 'series', branch, end: site.end, endKey: site.endKey } : null;
    }
    if (site.on === 'opened') {
      const branch = this.field.branch(site.part);
      const [a, b] = [this.field.node(site.a), this.field.node(site.b)];
      if (a < 0 || b < 0 || a === b) return null;
      // An end that is off anyway is open in every case: what is left of it is the metal.
      if (!branch || this.out.has(site.endKey)) return { as: 'shunt', place: shuntPlace(this.field, [a, b], [a, b], 0) };
      const field = this.openedAt(site.part, site.endKey);
      return { as: 'opened', field, place: shuntPlace(field, [a, b], [a, b], 0), nodes: [branch.a, branch.b, a, b] };
    }
    const place = this.shuntAt(site);
    return place && { as: 'shunt', place };
  }

  private shuntAt(site: Extract<Suspect['site'], { on: 'pair' | 'cable' }>): ShuntPlace | null {
    if (site.on === 'pair') {
      if (!actsIn(site, this.state)) return null;
      const pair: [number, number] = [this.field.node(site.a), this.field.node(site.b)];
      return pair[0] < 0 || pair[1] < 0 || pair[0] === pair[1] ? null : shuntPlace(this.field, pair, pair, 0);
    }
    const section = findSection(this.installation, site.section);
    if (!section) return null;
    const [c, d] = site.cores;
    const at = (side: 'a' | 'b'): [number, number] => [this.field.node(endKeyOf(section, side, c)), this.field.node(endKeyOf(section, side, d))];
    const ohm = (id: string): number => this.field.branch(`${section.id}:${id}`)?.ohm ?? 0;
    return shuntPlace(this.field, at('a'), at('b'), ohm(c) + ohm(d));
  }

  private openedAt(part: string, endKey: PlaceKey): Field {
    const key = `${part} ${endKey}`;
    let field = this.opened.get(key);
    if (!field) this.opened.set(key, (field = new Field(endKey ? endOff(this.skeleton, endKey) : assume(this.skeleton, { kind: 'series', part, endKey, ohm: Infinity }, this.out))));
    return field;
  }

  private coresIn(structure: Structure, field: Field): CoreList {
    let cores = this.coresOfStructures.get(structure);
    if (!cores) this.coresOfStructures.set(structure, (cores = coresOf(this.installation, field, this.physics)));
    return cores;
  }

  private structural(structure: Structure): Field {
    let field = this.structures.get(structure);
    if (!field) this.structures.set(structure, (field = new Field(changed(this.skeleton, structure))));
    return field;
  }
}

/** A core open and metal in its stead: read in the network that has it open, with the metal as a contact. On the copper of an end that is off, the cable's own side is read. */
function bridged({ field, place }: Extract<Acting, { as: 'opened' }>, p: Lead, q: Lead): Response {
  const [from, to] = [{ ...p, node: field.node(p.at) }, { ...q, node: field.node(q.at) }];
  return shuntResponse(field, soundResponse(field, from, to), from, to, place);
}

/** Cores in their order, the current in each for one ampere through a probe, and what a suspect does to these. */
export interface Path {
  readonly cores: CoreList;
  readonly currents: Float64Array;
  readonly site: SiteCurrents | null;
  /** The insulation there, the volts over it, and what the suspect does to them; absent where it is that of the sound network. */
  readonly leaks?: { readonly leakage: Leakage; readonly potentials: Float64Array; site(r: Response): SiteLeaks };
}

/** What a suspect does in one state: joins a pair, adds to a branch, keeps a probe off its face, or changes the map. */
type Acting =
  | { readonly as: 'shunt'; readonly place: ShuntPlace }
  | { readonly as: 'series'; readonly branch: MetalBranch; readonly end: '' | 'a' | 'b'; readonly endKey: PlaceKey }
  | { readonly as: 'face'; readonly face: PlaceKey }
  | { readonly as: 'opened'; readonly field: Field; readonly place: ShuntPlace; readonly nodes: readonly number[] }
  | { readonly as: 'structure'; readonly structure: Structure; readonly nodes: readonly number[] };

export function structureOf(installation: Installation, { structure: kind, id, cores }: Extract<Suspect['site'], { on: 'structure' }>): Structure {
  if (kind === 'thrown') return { kind, ...throwsOf(installation, id) };
  if (kind === 'crossed') return { kind, section: id, cores: [cores[0] ?? '', cores[1] ?? ''] };
  if (kind === 'missingSection') return { kind, section: id };
  return kind === 'landed' ? { kind, end: id, terminal: cores[0] ?? '' } : { kind, point: id, terminal: cores[0] ?? '' };
}
