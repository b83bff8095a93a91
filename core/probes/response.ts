import type { PlaceKey } from '../installation';
import type { Field, MetalBranch } from '../network/field';

/**
 * How one probe in one state answers to one suspect, as a closed formula of the suspect's unknowns:
 * resistance x (ohms), place along the cable d (0 at end a … 1 at end b) and insulation scale k.
 */
export interface Response {
  /** 0 sound or untouched, 1 shunt (contact), 2 series on the path, 3 series on a bridge between the leads. */
  kind: 0 | 1 | 2 | 3;
  /** Reading without the suspect: insulation part (to be scaled) and metal part, ohms. */
  z: number;
  m: number;
  /** Shunt: transfers from the probe to the pair at end a and at end b, and of the pairs to each other. */
  zA: number; mA: number; zB: number; mB: number;
  place: ShuntPlace;
  // Series: squared current share through the branch, its own and the rest's resistance.
  share: number; own: number; rest: number;
  /** Series: set where a lead touches the copper behind the suspect end. */
  copper: Copper | null;
  /** What an open leaves to be read, ohms at nominal insulation. */
  openOhm: number;
}

export interface Lead {
  readonly node: number;
  /** The place whose node that is. */
  readonly at: PlaceKey;
  /** The in-place end whose copper the lead touches, as `branch part + side`; '' when on a terminal. */
  readonly copper: string;
  /** Ohms between lead and node that are in no branch (a face contact, a sound termination). */
  readonly extraOhm: number;
}

/** A lead on the copper behind a suspect end: metal and current from both ends of the branch. */
interface Copper { readonly mNear: number; readonly mFar: number; readonly iNear: number; readonly iFar: number }

const nowhere: ShuntPlace = { a: [0, 0], b: [0, 0], cores: 0, zAA: 0, mAA: 0, zBB: 0, mBB: 0, zAB: 0, mAB: 0 };
const zero: Response = { kind: 0, z: 0, m: 0, zA: 0, mA: 0, zB: 0, mB: 0, place: nowhere, share: 0, own: 0, rest: 0, copper: null, openOhm: 0 };

export function soundResponse(field: Field, p: Lead, q: Lead): Response {
  return { ...zero, z: field.insulation(p.node, q.node, p.node, q.node), m: field.metalAcross(p.node, q.node) + p.extraOhm + q.extraOhm };
}

/** Share of the insulation that is read below which its metal is not worked out to the last loop. */
const LOST_IN_INSULATION = 1e-6;

/** The same where nothing is laid over it: in an insulation reading the metal is nothing beside the rest, and what it is at the most will do. */
export function plainResponse(field: Field, p: Lead, q: Lead): Response {
  const z = field.insulation(p.node, q.node, p.node, q.node);
  if (z > 0) {
    const most = field.metalAlongTree(p.node, q.node) + p.extraOhm + q.extraOhm;
    if (most < LOST_IN_INSULATION * z) return { ...zero, z, m: most };
  }
  return soundResponse(field, p, q);
}

/** Transfers of a place that do not depend on the probe, computed once per state; `cores`: ohms of both cores of the section, 0 at a point. */
export interface ShuntPlace {
  readonly a: readonly [number, number];
  readonly b: readonly [number, number];
  readonly cores: number;
  readonly zAA: number; readonly mAA: number; readonly zBB: number; readonly mBB: number; readonly zAB: number; readonly mAB: number;
}

export function shuntPlace(field: Field, a: readonly [number, number], b: readonly [number, number], coresOhm: number): ShuntPlace {
  const same = a[0] === b[0] && a[1] === b[1];
  const zAA = field.insulation(a[0], a[1], a[0], a[1]);
  const mAA = field.metal(a[0], a[1], a[0], a[1]);
  return {
    a, b, cores: coresOhm, zAA, mAA,
    zBB: same ? zAA : field.insulation(b[0], b[1], b[0], b[1]), mBB: same ? mAA : field.metal(b[0], b[1], b[0], b[1]),
    zAB: same ? zAA : field.insulation(a[0], a[1], b[0], b[1]), mAB: same ? mAA : field.metal(a[0], a[1], b[0], b[1]),
  };
}

export function shuntResponse(field: Field, sound: Response, p: Lead, q: Lead, place: ShuntPlace): Response {
  const { a, b } = place;
  const zA = field.insulation(p.node, q.node, a[0], a[1]);
  const mA = field.metal(p.node, q.node, a[0], a[1]);
  const same = a[0] === b[0] && a[1] === b[1];
  const zB = same ? zA : field.insulation(p.node, q.node, b[0], b[1]);
  const mB = same ? mA : field.metal(p.node, q.node, b[0], b[1]);
  if (zA === 0 && mA === 0 && zB === 0 && mB === 0) return sound;
  return { ...sound, kind: 1, zA, mA, zB, mB, place };
}

/** `endAt`: the branch node where the suspect end sits ('a' or 'b'), or '' for the middle of the core. */
export function seriesResponse(field: Field, sound: Response, p: Lead, q: Lead, branch: MetalBranch, endAt: '' | 'a' | 'b', endPlace: string): Response {
  const onP = endAt !== '' && p.copper === endPlace;
  const onQ = endAt !== '' && q.copper === endPlace;
  if (onP !== onQ) return copperResponse(field, sound, onP ? p : q, onP ? q : p, branch, endAt === 'b', endPlace);
  const samePiece = field.piece(p.node) === field.piece(q.node);
  const inPiece = field.piece(p.node) === branch.piece || field.piece(q.node) === branch.piece;
  if (!inPiece) {
    // A third conductor's break is felt where the way round over it counts.
    const beside = branch.bridge && !samePiece ? field.besideOpen(branch, p.node, q.node, endPlace) : null;
    return beside === null ? sound : { ...sound, kind: 3, share: 0, own: branch.ohm, rest: Infinity, openOhm: beside };
  }
  if (!samePiece) return branch.bridge ? insulationBehindOpen(field, sound, p, q, branch, endPlace) : sound;
  if (branch.bridge) {
    if (field.beyond(branch, p.node) === field.beyond(branch, q.node)) return sound;
    return { ...sound, kind: 3, share: 1, own: branch.ohm, rest: Infinity, openOhm: ohmAcrossOpen(field, branch, endPlace) };
  }
  const current = field.metal(p.node, q.node, branch.a, branch.b) / branch.ohm;
  if (Math.abs(current) < 1e-9) return sound;
  return { ...sound, kind: 2, share: current * current, own: branch.ohm, rest: branch.restOhm, openOhm: sound.m + current * current * (branch.ohm + branch.restOhm) };
}

function copperResponse(field: Field, sound: Response, lead: Lead, other: Lead, branch: MetalBranch, atB: boolean, endPlace: string): Response {
  const near = atB ? branch.b : branch.a;
  const far = atB ? branch.a : branch.b;
  // On the copper of an end that is off: the cable's own side is what is read.
  if (field.piece(other.node) !== branch.piece) return branch.bridge ? insulationOfSide(field, sound, branch, field.beyond(branch, far), other.node, endPlace) : sound;
  const y = other.node;
  const extra = lead.extraOhm + other.extraOhm;
  const through = (from: number): number => {
    if (!branch.bridge) return field.metal(from, y, near, far) / branch.ohm;
    const side = (n: number): boolean => field.beyond(branch, n);
    return side(from) === side(y) ? 0 : side(from) === side(near) ? 1 : -1;
  };
  return {
    ...sound, kind: branch.bridge ? 3 : 2, own: branch.ohm, rest: branch.restOhm,
    copper: { mNear: field.metal(near, y, near, y) + extra, mFar: field.metal(far, y, far, y) + extra, iNear: through(near), iFar: through(far) },
    openOhm: ohmAcrossOpen(field, branch, endPlace),
  };
}

/** What insulation alone lets through between the two halves of a broken bridge. */
function ohmAcrossOpen(field: Field, branch: MetalBranch, endKey: string): number {
  if (!branch.bridge) return Infinity;
  return field.behindOpen(branch, true, -1, endKey);
}

/** With a bridge open only the near part of the insulation is read. */
function insulationBehindOpen(field: Field, sound: Response, p: Lead, q: Lead, branch: MetalBranch, endKey: string): Response {
  const inside = field.piece(p.node) === branch.piece ? p.node : q.node;
  return insulationOfSide(field, sound, branch, field.beyond(branch, inside), inside === p.node ? q.node : p.node, endKey);
}

/** Insulation between one side of an opened bridge and another piece. */
function insulationOfSide(field: Field, sound: Response, branch: MetalBranch, isBeyond: boolean, outside: number, endKey: string): Response {
  return { ...sound, kind: 3, share: 0, own: branch.ohm, rest: Infinity, openOhm: field.behindOpen(branch, isBeyond, outside, endKey) };
}

/**
 * Reading in ohms. `x`: resistance of the suspect (Infinity: open); `d`: place along the cable; `k`: scale of the insulation.
 */
export function respond(r: Response, x: number, d: number, k: number): number {
  if (r.kind === 0) return r.z * k + r.m;
  if (r.kind === 1) {
    const c = 1 - d;
    const p = r.place;
    const z1 = r.z * k;
    const z2 = (c * c * p.zAA + d * d * p.zBB + 2 * c * d * p.zAB) * k;
    const z3 = (c * r.zA + d * r.zB) * k;
    const m2 = c * c * p.mAA + d * d * p.mBB + 2 * c * d * p.mAB + x + d * c * p.cores;
    const m3 = c * r.mA + d * r.mB;
    const ohm = (z1 * z2 - z3 * z3 + z1 * m2 + z2 * r.m - 2 * z3 * m3 + r.m * m2 - m3 * m3) / (z2 + m2);
    return ohm > 0 ? ohm : 0;
  }
  if (r.copper) return copperOhm(r, r.copper, x, k);
  if (x === Infinity) return r.kind === 3 ? r.openOhm * k : r.openOhm;
  if (r.kind === 3) return r.z * k + r.m + r.share * x;
  const total = r.own + r.rest;
  return r.z * k + r.m + (total === Infinity ? r.share * x : (r.share * x * total) / (total + x));
}

function copperOhm(r: Response, { mNear, mFar, iNear, iFar }: Copper, x: number, k: number): number {
  const f = x === Infinity ? 1 : x / (r.own + x);
  const current = (1 - f) * iNear + f * iFar;
  const base = (1 - f) * mNear + f * mFar - f * (1 - f) * rOwnAcross(r);
  const total = r.own + r.rest;
  const local = x === Infinity ? r.own : (x * r.own) / (r.own + x);
  if (x === Infinity) {
    if (r.rest !== Infinity) return base + current * current * total + local;
    return Math.abs(current) > 0.5 ? r.openOhm * k : base + local;
  }
  const added = total === Infinity ? current * current * x : (current * current * x * total) / (total + x);
  return base + added + local;
}

/** Resistance across the branch in the sound network. */
const rOwnAcross = (r: Response): number => (r.rest === Infinity ? r.own : (r.own * r.rest) / (r.own + r.rest));
