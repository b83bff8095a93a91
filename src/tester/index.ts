import type { JobFile } from '@core/job';
import { practiceTester } from './practice';
import type { LiveTest } from '@core/live';
import type { Probe } from '@core/probes';
import type { LiveAsk } from '@core/simulation';
import type { Displayed } from '@core/tester';
import type { WorkState } from '@core/workstate';

/** The door for an instrument that answers by itself: a real link, or the practice tester of a demo job. */
export interface TesterLink {
  readonly name: string;
  read(state: WorkState, probe: Probe): Displayed;
  /** A test with the supply on, in the state in which it is made. */
  live(state: WorkState, ask: LiveAsk): LiveTest;
}

export type { LiveAsk };

/** The instrument that belongs to this job; null when readings are typed. */
export const testerFor = (file: JobFile): TesterLink | null => (file.practice === undefined ? null : practiceTester(file));
