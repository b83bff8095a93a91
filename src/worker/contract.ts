import type { Advice, Expected } from '@core/advice';
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

export interface EngineApi {
  /** Belief at once, without the next step. */
  believe(ask: Ask): Answer;
  /** The same with the next step; answers "stale" when a newer revision has come meanwhile. */
  plan(job: string, revision: number, now: number): Promise<Answer>;
  expect(job: string, probe: Probe): Expected | null;
}
