import { z } from 'zod';
import { JobFile } from '@core/job';

const DemoFile = z.object({ made: z.number(), jobs: z.array(JobFile) });

/** The jobs of the made-up pottery, their dates moved to just now. */
export async function fetchDemo(): Promise<JobFile[]> {
  const file = DemoFile.parse(await (await fetch('/demo.json')).json());
  const shift = Date.now() - file.made;
  return file.jobs.map((j) => ({ ...j, events: j.events.map((e) => ({ ...e, at: e.at + shift })) }));
}
