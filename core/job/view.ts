import type { Trip } from '../diary';
import type { Installation } from '../installation';
import type { WorkState } from '../workstate';
import type { Complaint, EventOf, JobEvent, VoltCheck } from './events';

export interface ReadingView {
  readonly event: EventOf<'read'>;
  readonly state: WorkState;
  /** Ends taken out and put back since the job began: their terminations are not what was read before. */
  readonly remade: readonly string[];
  /** Links recorded as taken off by then (`linkKey`). */
  readonly unlinked: readonly string[];
  readonly epoch: number;
  readonly struck: string | null;
  /** Why the reading stands outside the belief, or null. */
  readonly parked: string | null;
}

/** A live test in the state in which it was made. */
export interface LiveReadingView {
  readonly event: EventOf<'liveRead'>;
  readonly state: WorkState;
  readonly epoch: number;
  readonly struck: string | null;
}

export interface ProofView {
  readonly point: string;
  readonly at: number;
  readonly checks: readonly VoltCheck[];
  readonly earthPlace: string;
}

export interface Securing { readonly at: number; readonly key: string; readonly permission: boolean; readonly off: boolean; readonly locked: boolean; readonly second: string | null; readonly tails: 'shrouded' | 'isolated' | null; readonly people: { readonly hands: string; readonly board: string } | null }

export interface MendView { readonly event: EventOf<'mended'>; readonly epoch: number }
export interface Flag { readonly event: JobEvent; readonly code: string }

/** What was told and seen before any reading. */
export interface Asked {
  readonly complaint: Complaint | null;
  readonly shock: boolean;
  readonly notes: string;
  /** Question → answer. */
  readonly answers: Readonly<Record<string, string>>;
  /** Questions that nobody could answer: no evidence, and not asked again. */
  readonly notKnown?: readonly string[];
  readonly seen: readonly { readonly what: string; readonly place: string | null }[];
}

export type JobStatus = 'open' | 'left safe' | 'closed';

/** Everything that a job's log says at its end. */
export interface JobView {
  readonly name: string;
  readonly agreedMin: number;
  readonly createdAt: number;
  readonly status: JobStatus;
  readonly asked: Asked;
  readonly photos: readonly { readonly id: string; readonly note: string }[];
  readonly trips: readonly (Trip & { readonly id: string })[];
  /** True where the diary, not a person, answered when it trips. */
  readonly diaryAnswers: boolean;
  /** Switches that were drawn after something had been read there, and of which nobody has said how they stood. */
  readonly howFound: readonly string[];
  /** What each way really feeds, as found by switching it off. */
  readonly feeds: ReadonlyMap<string, { readonly what: string; readonly asLabelled: boolean }>;
  /** Read no further, with nothing found: how likely it is that nothing here explains it. Null once anything more is read, or mended. */
  readonly leftIt: number | null;
  readonly phrase: string;
  readonly map: Installation | null;
  readonly state: WorkState;
  readonly secured: Securing | null;
  /** Was it made dead at any time in this job? */
  readonly everSecured: boolean;
  /** Points proved dead and not left since. */
  readonly proofs: ReadonlyMap<string, ProofView>;
  readonly everyProof: readonly ProofView[];
  readonly notDead: EventOf<'notDead'> | null;
  readonly readings: readonly ReadingView[];
  /** Readings that wait for a board with their way. */
  readonly early: readonly EventOf<'early'>[];
  readonly liveReadings: readonly LiveReadingView[];
  /** Metal that was found above 50 V to an independent earth since the last repair: where, and the highest figure. `toNeutral`: it was read to the neutral beside it, and either may be what is live. */
  readonly liveMetal: { readonly place: string; readonly volt: number; readonly toNeutral: boolean } | null;
  readonly epoch: number;
  readonly mends: readonly MendView[];
  /** Ends taken out and put back by now. */
  readonly remade: readonly string[];
  /** Pairs of places that were ever linked in this job. */
  readonly linksMade: readonly (readonly [string, string])[];
  readonly unreachable: readonly string[];
  /** Why a point cannot be reached, where it was said. */
  readonly whyUnreached: ReadonlyMap<string, string>;
  readonly longLead: boolean;
  readonly notNow: readonly string[];
  readonly live: ReadonlyMap<string, EventOf<'liveTest'>>;
  readonly leftSafe: readonly EventOf<'leftSafe'>[];
  readonly notes: readonly EventOf<'noted'>[];
  readonly energised: boolean;
  readonly at: readonly string[];
  readonly minutesUsed: number;
  readonly clockSince: number | null;
  readonly flags: readonly Flag[];
}
