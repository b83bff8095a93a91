import { z } from 'zod';
import { Area, Metres, Minutes, Ohm, ResidualMa, SomeMinutes, SomeOhm, Time, Volt, Watt } from '../units';
import { Device, Installation, ResidualType, Supply } from '../installation';
import { LiveTest } from '../live';
import { Probe } from '../probes';
import { Link } from '../workstate';

export const Condition = z.enum(['dry', 'damp', 'warm', 'vibrating', 'just switched on']);
export type Condition = z.infer<typeof Condition>;

export const Complaint = z.enum(['rcd trips', 'mcb trips', 'dead', 'shock', 'flicker or heat', 'inspection']);
export type Complaint = z.infer<typeof Complaint>;

const MapEditShape = z.discriminatedUnion('edit', [
  z.object({ edit: z.literal('renamePoint'), point: z.string(), name: z.string() }),
  z.object({ edit: z.literal('setReach'), point: z.string(), reach: z.enum(['face', 'opened', 'never']) }),
  z.object({ edit: z.literal('setSurge'), fitted: z.boolean() }),
  z.object({ edit: z.literal('setMetal'), point: z.string(), ohm: SomeOhm.nullable() }),
  z.object({ edit: z.literal('setExtra'), point: z.string(), minutes: Minutes }),
  z.object({ edit: z.literal('setKind'), point: z.string(), kind: z.enum(['board', 'outlet', 'lamp', 'switch', 'joint', 'fixed']) }),
  z.object({ edit: z.literal('setLength'), section: z.string(), lengthM: Metres, known: z.boolean() }),
  z.object({ edit: z.literal('setCsa'), section: z.string(), csaMm2: Area }),
  z.object({ edit: z.literal('setCsaAll'), csaMm2: Area }),
  z.object({ edit: z.literal('orderKnown'), known: z.boolean() }),
  z.object({ edit: z.literal('insertPoint'), section: z.string(), kind: z.enum(['outlet', 'lamp', 'switch', 'joint', 'fixed']), name: z.string() }),
  z.object({ edit: z.literal('addBranch'), point: z.string(), kind: z.enum(['outlet', 'lamp', 'switch', 'joint', 'fixed']), name: z.string() }),
  z.object({ edit: z.literal('removePoint'), point: z.string() }),
  z.object({ edit: z.literal('swapPoints'), first: z.string(), second: z.string() }),
  z.object({ edit: z.literal('setLoad'), point: z.string(), watt: Watt, loadClass: z.enum(['resistive', 'electronic', 'neon', 'winding', 'arrester']) }),
  z.object({ edit: z.literal('setDevice'), way: z.string(), device: Device }),
  z.object({ edit: z.literal('setResidual'), device: z.string(), residualMa: ResidualMa, type: ResidualType.nullable() }),
  z.object({ edit: z.literal('setSupply'), supply: Supply }),
  z.object({ edit: z.literal('drawCircuit'), way: z.string(), phrase: z.string() }),
  z.object({ edit: z.literal('drawLump'), point: z.string(), phrase: z.string() }),
  z.object({ edit: z.literal('setLabel'), way: z.string(), label: z.string() }),
]);

/** A meter display in ohms, or beyond the top of its range. */
export const DisplayedValue = z.union([z.object({ ohm: Ohm }), z.object({ above: SomeOhm })]);

/** One voltage of a proving round: between two terminals, or from one to an independent earth ("rod"). */
export const VoltCheck = z.object({ from: z.string(), to: z.string(), volt: Volt, bleep: z.boolean() });
export type VoltCheck = z.infer<typeof VoltCheck>;

const base = { id: z.string().min(1), at: Time };
const on = <T extends string, S extends z.ZodRawShape>(type: T, shape: S) => z.looseObject({ ...base, type: z.literal(type), ...shape });

/** Everything that happens in a job. The list is append-only: what is shown is derived from it. `at`: ms since 1970. */
export const JobEvent = z.discriminatedUnion('type', [
  on('created', { name: z.string(), agreedMin: SomeMinutes }),
  on('renamed', { name: z.string() }),
  on('asked', { complaint: Complaint.nullable(), shock: z.boolean(), notes: z.string(), wet: z.boolean().optional(), works: z.boolean().optional() }),
  /** An answer of the interview; null: taken back, or not known. */
  on('answered', { question: z.string(), answer: z.string().nullable() }),
  /** Something that eyes found, at a point or section or nowhere in particular; `gone`: it was not there after all. */
  on('seen', { what: z.string(), place: z.string().nullable(), gone: z.boolean() }),
  /** A photo that stands beside the job, and what it shows; the last word about it counts. */
  on('photo', { photo: z.string().regex(/^[\w-]{1,60}$/), note: z.string().max(400), gone: z.boolean() }),
  /** A trip out of the customer's diary. `when`: ms since 1970; `hour` on the customer's own clock. */
  on('trip', { when: Time, hour: z.number().int().min(0).max(23), weather: z.enum(['dry', 'wet', 'unknown']), running: z.array(z.string().max(60)).max(20) }),
  on('drafted', { phrase: z.string(), map: Installation }),
  on('mapEdited', { edit: MapEditShape }),
  on('secured', {
    permission: z.boolean(), off: z.boolean(), locked: z.boolean(), key: z.string(),
    /** A second supply that was found, off and locked too; the incoming tails; and of two people who has hands on and who stays at the board. */
    second: z.string().max(80).optional(), tails: z.enum(['shrouded', 'isolated']).optional(), people: z.object({ hands: z.string().max(60), board: z.string().max(60) }).optional(),
  }),
  on('lapsed', { why: z.enum(['left', 'lock off', 're-energised', 'next day', 'not dead']) }),
  on('proved', { point: z.string(), checks: z.array(VoltCheck), earthPlace: z.string() }),
  on('notDead', { point: z.string(), from: z.string(), to: z.string(), volt: Volt }),
  on('leftPoint', { point: z.string() }),
  on('opened', { point: z.string() }),
  on('coverOn', { point: z.string() }),
  on('tookOut', { point: z.string(), ends: z.array(z.string()).min(1) }),
  on('putBack', { point: z.string(), ends: z.array(z.string()).min(1) }),
  on('linked', { link: Link }),
  on('unlinked', { link: z.string() }),
  /** `found`: it stood so when it was met, nobody moved it. */
  on('switched', { part: z.string(), off: z.boolean(), found: z.boolean().optional() }),
  /** All switches of ways that nobody has drawn are on, by the points that stand for them, or loads are in and on, by `point.element`; or nobody knows any more. */
  on('switchesOn', { ways: z.array(z.string()).min(1), on: z.boolean() }),
  on('loadsMoved', { parts: z.array(z.string()).min(1), out: z.boolean() }),
  /** The record was wrong: what it had as out (a load, an end) or off (a switch) was still in all along. `now`: taken out since, or it stays in. */
  on('wasStill', { part: z.string(), now: z.enum(['out', 'in']) }),
  /** A two-way switch stood the other way all along: every state so far has it so. */
  on('stoodOther', { part: z.string() }),
  on('read', {
    probe: Probe, displayed: DisplayedValue, unit: z.enum(['Ω', 'kΩ', 'MΩ']), conditions: z.array(Condition),
    /** The figure as it was typed, in its unit: its digits say how finely it was read. */
    typed: z.string().max(12).optional(),
    testVolt: Volt.nullable(), unsteady: z.boolean(), climbing: z.boolean(), beforeProof: z.boolean(), retest: z.string().nullable(),
  }),
  /** A reading taken before the board was drawn: by the number of its way. It waits for the map. */
  on('early', { way: z.number().int().min(1).max(1000), pair: z.enum(['LN', 'LE', 'NE']), displayed: DisplayedValue, unit: z.enum(['Ω', 'kΩ', 'MΩ']) }),
  /** Strikes an event out: a reading that was wrong, or a change of state that never was. */
  on('struck', { target: z.string(), why: z.string() }),
  /** Is a lead at hand that reaches from one point to another? */
  on('longLead', { have: z.boolean() }),
  on('cantReach', { point: z.string(), can: z.boolean(), why: z.string().max(200).optional() }),
  on('notNow', { step: z.string() }),
  on('mended', { suspect: z.string(), place: z.string(), how: z.enum(['repaired', 'replaced', 'left safe']), text: z.string(), explains: z.enum(['yes', 'no', 'not sure']) }),
  on('liveTest', { test: z.string(), result: z.string().nullable(), because: z.string().nullable() }),
  /** A test with the supply on; what it says is evidence like any reading. */
  on('liveRead', { test: LiveTest }),
  /** What went dead with a way off: what it really feeds, and whether the label says so. */
  on('feeds', { way: z.string(), what: z.string().max(200), asLabelled: z.boolean() }),
  on('leftSafe', { item: z.string(), why: z.string() }),
  /** Read no further: nothing was found that explains it. `fine`: how likely it is that nothing here does, 0 to 1. */
  on('leftIt', { fine: z.number().min(0).max(1) }),
  on('energised', {}),
  on('clock', { run: z.boolean() }),
  on('closed', { state: z.enum(['closed', 'left safe']) }),
  on('reopened', {}),
  on('noted', { text: z.string(), severity: z.enum(['observation', 'limitation', 'danger']) }),
]);
export type JobEvent = z.infer<typeof JobEvent>;
export type EventOf<T extends JobEvent['type']> = Extract<JobEvent, { type: T }>;

/** An event as it is told: id and time are put on where it is kept. */
export type EventBody = JobEvent extends infer E ? (E extends JobEvent ? Omit<E, 'id' | 'at'> : never) : never;

export const JOB_FORMAT = 'gutter-job';
export const JOB_VERSION = 1;

/** Entries of one job at the most; a long job has some hundreds. */
export const MOST_EVENTS = 50_000;

/** The job file: what is stored, exported and read back. */
export const JobFile = z.looseObject({
  format: z.literal(JOB_FORMAT),
  version: z.literal(JOB_VERSION),
  id: z.string().min(1),
  events: z.array(JobEvent).max(MOST_EVENTS),
  /** Demo and practice jobs only: what is hidden, for the simulated tester. Nothing else reads it. */
  practice: z.unknown().optional(),
  /** In exported files only: photos by id, as data URLs. */
  photos: z.unknown().optional(),
});
export type JobFile = z.infer<typeof JobFile>;
