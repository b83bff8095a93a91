import type { Field, LeakList } from '../network/field';
import type { PartedPotentials } from '../network/parted';
import type { Suspect } from '../faults';
import type { Lead, Response } from './response';

/** What a suspect does to insulation: potentials of the pieces for one ampere through its contact, or for the whole reading with its break open. */
export interface SiteLeaks { readonly contact: Float64Array | null; readonly parted: PartedPotentials | null }

/** The insulation of one state as its readings share it; worked out when first asked for. */
export class Leakage {
  readonly list: LeakList;
  private readonly contacts = new Map<string, Float64Array>();
  private readonly breaks = new Map<string, PartedPotentials>();

  constructor(
    private readonly field: Field,
    /** Number of each section. */
    readonly sections: ReadonlyMap<string, number>,
  ) {
    this.list = field.leaksBetween(sections);
  }

  /** `r`: the probe's formula for the suspect. */
  site(suspect: Suspect, leads: readonly [Lead, Lead], r: Response): SiteLeaks {
    if (r.kind === 1) return { contact: once(this.contacts, suspect.id, () => this.field.piecePotentials(r.place.a[0], r.place.a[1])), parted: null };
    const { site } = suspect;
    const branch = r.kind === 3 && site.on === 'branch' ? this.field.branch(site.part) : undefined;
    if (site.on !== 'branch' || !branch?.bridge) return NOTHING;
    const on = leads.map((l) => this.field.piece(l.node) === branch.piece);
    const [a, b] = [leads[0].node, leads[1].node];
    if (!on[0] && !on[1]) return { contact: null, parted: once(this.breaks, `${suspect.id} ${this.field.piece(a)} ${this.field.piece(b)}`, () => this.field.potentialsBesideOpen(branch, a, b, site.endKey)) };
    const inside = on[0] ? leads[0] : leads[1];
    const outside = on[0] && on[1] ? -1 : on[0] ? leads[1].node : leads[0].node;
    const beyond = this.field.beyond(branch, inside.node);
    const parted = once(this.breaks, `${suspect.id} ${beyond} ${outside < 0 ? -1 : this.field.piece(outside)}`, () => this.field.potentialsBehindOpen(branch, beyond, outside, site.endKey));
    return { contact: null, parted };
  }
}

const NOTHING: SiteLeaks = { contact: null, parted: null };

function once<T>(cache: Map<string, T>, key: string, make: () => T): T {
  let found = cache.get(key);
  if (!found) cache.set(key, (found = make()));
  return found;
}

/**
 * d(ohms)/d(ln insulation) of every section for one reading: Σ u² g over its leaks, with u the voltage between pieces for one
 * ampere through the probe (`probe`: potentials at nominal insulation, all sound). `out` has one entry per section.
 */
export function insulationSlopes(out: Float64Array, { list, sections }: Leakage, probe: Float64Array, r: Response, site: SiteLeaks, x: number, d: number, k: number): void {
  out.fill(0);
  const { parted } = site;
  // A poor end lets insulation be read through it: only what is open parts it.
  const open = parted !== null && r.kind === 3 && x === Infinity;
  const at = open ? parted.ofPiece : probe;
  let bend = 0;
  if (r.kind === 1 && site.contact) {
    const c = 1 - d;
    const p = r.place;
    const z = c * c * p.zAA + d * d * p.zBB + 2 * c * d * p.zAB;
    const m = c * c * p.mAA + d * d * p.mBB + 2 * c * d * p.mAB + x + d * c * p.cores;
    bend = -((c * r.zA + d * r.zB) * k + c * r.mA + d * r.mB) / (z * k + m);
  }
  for (let e = 0; e < list.count; e++) {
    const p = list.p[e] as number;
    const q = list.q[e] as number;
    let u = (at[p] as number) - (at[q] as number);
    if (bend !== 0) u += bend * ((site.contact?.[p] ?? 0) - (site.contact?.[q] ?? 0));
    const s = list.section[e] as number;
    out[s] = (out[s] as number) + u * u * k * (list.siemens[e] as number);
  }
  if (!open) return;
  // What leaks from the smaller side was counted at the larger side's potential.
  for (const l of parted.leaks) {
    const s = sections.get(l.section);
    if (s === undefined) continue;
    const other = parted.ofPiece[l.to] as number;
    const counted = l.to === parted.own ? 0 : ((parted.ofPiece[parted.own] as number) - other) ** 2;
    out[s] = (out[s] as number) + ((parted.small - other) ** 2 - counted) * k * l.siemens;
  }
}
