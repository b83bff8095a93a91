import { circuitsOf, endKeyOf, type Installation } from '../installation';
import type { Physics } from '../network';
import type { Field } from '../network/field';
import type { Suspect } from '../faults';
import type { Response } from './response';

/** The cores of a state as a list, so that currents can be summed by section. */
export interface CoreList {
  readonly count: number;
  /** As in the skeleton: `s3:N`. */
  readonly part: readonly string[];
  readonly section: Int32Array;
  readonly ohm: Float64Array;
  /** The cable's own part of it, without terminations: what grows with length. */
  readonly cableOhm: Float64Array;
  readonly a: Int32Array;
  readonly b: Int32Array;
  /** Column of a protective conductor's circuit, after one column a section; -1 for other cores. */
  readonly cpc: Int32Array;
}

export function coresOf(installation: Installation, field: Field, physics: Physics): CoreList {
  const circuits = circuitsOf(installation);
  const rows = installation.sections.flatMap((s, i) =>
    s.cores.flatMap((c) => {
      const cpc = c.role === 'E' && !s.cpcKnown ? installation.sections.length + (circuits.get(s.id) ?? 0) : -1;
      const branch = field.branch(`${s.id}:${c.id}`);
      return branch && branch.ohm < Infinity ? [{ part: branch.part, section: i, ohm: branch.ohm, cable: physics.ohmPerM(c.csaMm2, s.flexible ?? false) * s.lengthM, a: branch.a, b: branch.b, cpc }] : [];
    }),
  );
  return {
    count: rows.length,
    part: rows.map((r) => r.part),
    section: Int32Array.from(rows, (r) => r.section),
    ohm: Float64Array.from(rows, (r) => r.ohm),
    cableOhm: Float64Array.from(rows, (r) => r.cable),
    a: Int32Array.from(rows, (r) => r.a),
    b: Int32Array.from(rows, (r) => r.b),
    cpc: Int32Array.from(rows, (r) => r.cpc),
  };
}

/** Metal current in each core for one ampere in at `p` and out at `q`. */
export function currentsFor(field: Field, cores: CoreList, p: number, q: number): Float64Array {
  const out = new Float64Array(cores.count);
  for (let e = 0; e < cores.count; e++) out[e] = field.metal(p, q, cores.a[e] as number, cores.b[e] as number) / (cores.ohm[e] as number);
  return out;
}

/** What a suspect does to the currents: its pair at end a and at end b of the section (the same at a point), or across its branch. */
export interface SiteCurrents {
  readonly near: Float64Array;
  readonly far: Float64Array;
  /** Core rows of the suspect's own two cores, or of the one that its branch is; -1 for none. */
  readonly own: readonly [number, number];
  /** 1 − Rpp / r of a series branch: the share of a current driven through its ends that goes round; 0 for a bridge. */
  readonly round: number;
}

export function siteCurrents(installation: Installation, field: Field, cores: CoreList, suspect: Suspect): SiteCurrents | null {
  const { site } = suspect;
  if (site.on === 'branch') {
    const branch = field.branch(site.part);
    if (!branch || branch.bridge) return null;
    const near = currentsFor(field, cores, branch.a, branch.b);
    return { near, far: near, own: [cores.part.indexOf(site.part), -1], round: 1 - field.metal(branch.a, branch.b, branch.a, branch.b) / branch.ohm };
  }
  if (site.on === 'pair') {
    const a = field.node(site.a);
    const b = field.node(site.b);
    if (a < 0 || b < 0) return null;
    const near = currentsFor(field, cores, a, b);
    return { near, far: near, own: [-1, -1], round: 0 };
  }
  if (site.on !== 'cable') return null;
  const index = installation.sections.findIndex((s) => s.id === site.section);
  const section = installation.sections[index];
  if (!section) return null;
  const [c, d] = site.cores;
  const at = (side: 'a' | 'b', core: string): number => field.node(endKeyOf(section, side, core));
  const row = (core: string): number => {
    for (let e = 0; e < cores.count; e++) if (cores.section[e] === index && cores.a[e] === at('a', core) && cores.b[e] === at('b', core)) return e;
    return -1;
  };
  return { near: currentsFor(field, cores, at('a', c), at('a', d)), far: currentsFor(field, cores, at('b', c), at('b', d)), own: [row(c), row(d)], round: 0 };
}

/**
 * d(ohms)/d(ln length) of every section for one reading: Σ i² r over its cores, with the currents as the suspect bends
 * them. `out` has one entry per section and, where it is longer, one per circuit for what its protective conductors have of it.
 * Insulation is left out: it matters only beyond a megohm.
 */
export function lengthSlopes(out: Float64Array, cores: CoreList, probe: Float64Array, r: Response, site: SiteCurrents | null, x: number, d: number, k: number): void {
  out.fill(0);
  const add = (e: number, ohm: number): void => {
    const s = cores.section[e] as number;
    out[s] = (out[s] as number) + ohm;
    const q = cores.cpc[e] as number;
    if (q >= 0 && q < out.length) out[q] = (out[q] as number) + ohm;
  };
  let bend = 0;
  let [series, left] = [-1, 1];
  if (site && r.kind === 1) {
    const c = 1 - d;
    const p = r.place;
    const z = c * c * p.zAA + d * d * p.zBB + 2 * c * d * p.zAB;
    const m = c * c * p.mAA + d * d * p.mBB + 2 * c * d * p.mAB + x + d * c * p.cores;
    bend = -((c * r.zA + d * r.zB) * k + c * r.mA + d * r.mB) / (z * k + m);
  } else if (site && r.kind === 2 && site.round > 1e-9) {
    const through = Math.sqrt(r.share);
    const moved = x === Infinity ? 1 : x / (x + r.own + r.rest);
    // The sign of the current through the branch is that of its transfer; squares lose it, so it is taken from the probe.
    bend = (signOf(probe, site.near) * through * moved) / site.round;
    [series, left] = [site.own[0], 1 - moved];
  }
  for (let e = 0; e < cores.count; e++) {
    // What goes round its own core leaves it; the rest of the metal takes it up.
    const i = e === series ? (probe[e] as number) * left : (probe[e] as number) + (bend === 0 ? 0 : bend * ((1 - d) * ((site as SiteCurrents).near[e] as number) + d * ((site as SiteCurrents).far[e] as number)));
    add(e, i * i * (cores.cableOhm[e] as number));
  }
  if (site && r.kind === 1 && r.place.cores > 0)
    for (const e of site.own) if (e >= 0) add(e, bend * bend * d * (1 - d) * (cores.cableOhm[e] as number));
}

/** Same direction (1) or against (-1). */
function signOf(a: Float64Array, b: Float64Array): number {
  let dot = 0;
  for (let e = 0; e < a.length; e++) dot += (a[e] as number) * (b[e] as number);
  return dot >= 0 ? 1 : -1;
}

