import type { Advice } from '@core/advice';
import type { JobEvent } from '@core/job';
import type { Habits } from '@core/planning';
import type { Probe } from '@core/probes';

/** The page tells the worker the events since the revision that it confirmed; a revision is the number of events known. */
export interface Ask {
  readonly job: string;
  readonly revision: number;
  readonly from: number;
  readonly events: readonly JobEvent[];
  readonly now: number;
  /** How the person works, as it is kept. */
  readonly habits?: Habits;
}

export type Answer =
  | { readonly says: 'need all' }
  | { readonly says: 'stale' }
  | { readonly says: 'advice'; readonly revision: number; readonly advice: Advice | null; readonly planned: boolean };

/** What a probe would read if all is sound, and if the likeliest suspect is true: ohms. */
export interface Expected { readonly sound: number; readonly suspect: number | null; readonly suspectId: string | null; /** What all that may be wrong would show, in y, each with its s.d. and chance. */ readonly spread: readonly { readonly y: number; readonly sd: number; readonly chance: number }[] }

export interface EngineApi {
  /** Belief at once, without the next step. */
  believe(ask: Ask): Answer;
  /** The same with the next step; answers "stale" when a newer revision has come meanwhile. */
  plan(job: string, revision: number, now: number): Promise<Answer>;
  expect(job: string, probe: Probe): Expected | null;
}
