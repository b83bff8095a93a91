import type { JobFile } from '@core/job';
import type { Probe } from '@core/probes';
import type { Displayed } from '@core/tester';
import type { WorkState } from '@core/workstate';

/** The door for an instrument that answers by itself: a real link, or the practice tester of a demo job. */
export interface TesterLink {
  readonly name: string;
  read(state: WorkState, probe: Probe): Displayed;
}

/** The instrument that belongs to this job; null when readings are typed. */
export async function testerFor(file: JobFile): Promise<TesterLink | null> {
  if (file.practice === undefined) return null;
  const { practiceTester } = await import('./practice');
  return practiceTester(file);
}
