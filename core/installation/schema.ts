import { z } from 'zod';
import { Ampere, Area, Kiloampere, Metres, Milli, Minutes, NominalVolt, ResidualMa, SomeOhm } from '../units';

z.config({ jitless: true });

/** What a conductor is for. A switched line (SL) and the strappers between two-way switches (T1, T2) are lines of their own. */
export const Role = z.enum(['L', 'L1', 'L2', 'L3', 'N', 'E', 'SL', 'T1', 'T2']);
export type Role = z.infer<typeof Role>;

const id = z.string().min(1).max(40).regex(/^[A-Za-z0-9_-]+$/);

/** `name` where the role alone does not say which: "way 3", "N bar of RCD 1". */
export const Terminal = z.looseObject({ id, role: Role, name: z.string().optional() });
export type Terminal = z.infer<typeof Terminal>;

/** What a residual current device can see: alternating current alone (AC), pulsating too (A), mixed frequencies (F), smooth direct current (B). */
export const residualTypes = ['AC', 'A', 'F', 'B'] as const;
export const ResidualType = z.enum(residualTypes);
export type ResidualType = z.infer<typeof ResidualType>;

/** The protective device of a way. Ratings in amperes, residual currents in milliamperes. */
export const Device = z.looseObject({
  kind: z.enum(['mcb', 'rcbo', 'fuse']),
  curve: z.enum(['B', 'C', 'D']).nullable(),
  ratingA: Ampere,
  /** What it opens; an RCBO that opens line alone leaves its neutral through. */
  opens: z.enum(['line', 'line and neutral']),
  residualMa: ResidualMa.nullable(),
  residualType: ResidualType.optional(),
  /** Its figures are those of most such ways: nobody has read them on the device. */
  guessed: z.boolean().optional(),
});
export type Device = z.infer<typeof Device>;

/** What sits inside a point between two of its terminals. */
export const InnerElement = z.discriminatedUnion('kind', [
  /** A single-pole switch: joins `a` and `b` while it is on; the second throw of a two-way switch (`contrary`) while that contact is off. A way of a sub-board carries its `device`. */
  z.looseObject({ kind: z.literal('switch'), id, name: z.string(), a: id, b: id, contrary: id.optional(), device: Device.optional() }),
  /** A way of the board: joins the bar `a` to the way terminal `b` while it is on. */
  z.looseObject({ kind: z.literal('way'), id, name: z.string(), a: id, b: id, device: Device.optional(), group: id.optional(), drawn: z.looseObject({ label: z.string(), shape: z.enum(['ring', 'radial', 'lights', 'tree', 'board']) }).optional() }),
  /** Any other pole that opens: of an RCD over a group, or the neutral of a two-pole device. Joins `a` and `b` while on. */
  z.looseObject({ kind: z.literal('pole'), id, name: z.string(), a: id, b: id, residualMa: ResidualMa.optional(), residualType: ResidualType.optional(), guessed: z.boolean().optional() }),
  z.looseObject({
    kind: z.literal('load'),
    id,
    name: z.string(),
    a: id,
    b: id,
    loadClass: z.enum(['resistive', 'electronic', 'neon', 'winding', 'arrester']),
    /** Resistance between a and b when cold, in ohms. */
    ohm: SomeOhm,
    /** Can it be taken out by pulling a plug (or a lamp), without opening the point? */
    unplugs: z.boolean(),
    /** True where nobody said how large it is: `ohm` is then a guess. */
    guessed: z.boolean().optional(),
    /** True where nobody said that there is one: something may be plugged in here. No dead test meets it until it is stated. */
    implied: z.boolean().optional(),
    /** What it loses to earth in normal service, in milliamperes, where it was measured. */
    leakMa: Milli.optional(),
  }),
]);
export type InnerElement = z.infer<typeof InnerElement>;
export type Load = Extract<InnerElement, { kind: 'load' }>;

/** A place to read with the cover on; each terminal is joined to it through a contact of its own. */
export const Face = z.looseObject({ id, name: z.string() });
export type Face = z.infer<typeof Face>;

export const PointKind = z.enum(['board', 'outlet', 'lamp', 'switch', 'joint', 'fixed', 'undrawn', 'subboard']);
export type PointKind = z.infer<typeof PointKind>;

export const Point = z.looseObject({
  id,
  name: z.string().min(1).max(80),
  kind: PointKind,
  /** What it takes to read here: at a face with the cover on, only opened, or never (a hidden joint, a place nobody reaches). */
  reach: z.enum(['face', 'opened', 'never']),
  /** Minutes more than usual to get there: a ladder, a ceiling, furniture. */
  extraMin: Minutes.optional(),
  /** Ohms from its earth to the board's by metalwork that it touches (pipe, frame, structure), beside the CPC; a guess unless measured. */
  metalOhm: SomeOhm.optional(),
  terminals: z.array(Terminal).min(1),
  elements: z.array(InnerElement),
  faces: z.array(Face),
});
export type Point = z.infer<typeof Point>;

export const Core = z.looseObject({
  id,
  role: Role,
  /** Terminal of point A (B) that this core's end lands on. */
  a: id,
  b: id,
  csaMm2: Area,
});
export type Core = z.infer<typeof Core>;

/** The cable between two points. */
export const Section = z.looseObject({
  id,
  a: id,
  b: id,
  lengthM: Metres,
  /** False while the length is a guess (s.d. about 40 %); true: s.d. about 8 %. */
  lengthKnown: z.boolean(),
  /** True where the protective conductor's area was read or stated, not taken as the usual one beside the line. */
  cpcKnown: z.boolean().optional(),
  flexible: z.boolean().optional(),
  /** Names of its two ends, where they are older than the section (a cable that was cut in two keeps its outer ends). */
  ends: z.object({ a: z.string(), b: z.string() }).optional(),
  cores: z.array(Core).min(1),
});
export type Section = z.infer<typeof Section>;

export const CircuitShape = z.enum(['ring', 'radial', 'lights', 'tree', 'board']);
export type CircuitShape = z.infer<typeof CircuitShape>;

export const arrangements = ['TN-S', 'TN-C-S', 'TT', 'IT'] as const;

/** Supply and earthing arrangement, as found; ohms up to the board where they were measured. */
export const Supply = z.looseObject({
  arrangement: z.enum(arrangements).nullable(),
  phases: z.union([z.literal(1), z.literal(3)]),
  lineOhm: SomeOhm.optional(),
  neutralOhm: SomeOhm.optional(),
  /** Of the earth that comes with the supply, or of the electrode. */
  earthOhm: SomeOhm.optional(),
  /** Main switch: plain, or a residual current device over all. Amperes and milliamperes. */
  main: z.looseObject({ ratingA: Ampere, residualMa: ResidualMa.nullable(), residualType: ResidualType.optional() }).optional(),
  /** What the devices of the board can break, in kiloamperes: the least of them. */
  breakingKa: Kiloampere.optional(),
});
export type Supply = z.infer<typeof Supply>;

/** What is there: a document that the user edits. Ids are never used twice. */
export const Installation = z.looseObject({
  name: z.string(),
  shape: CircuitShape,
  /** True when the order of the points along the cable is known, not guessed. */
  orderKnown: z.boolean(),
  nominalVolt: NominalVolt,
  supply: Supply.optional(),
  points: z.array(Point),
  sections: z.array(Section),
  /** Next free number for ids. */
  nextId: z.number().int().min(1).max(1e9),
});
export type Installation = z.infer<typeof Installation>;
