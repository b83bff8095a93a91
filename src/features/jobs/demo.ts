import { z } from 'zod';
import { JobFile } from '@core/job';

const Config = z.object({ demo: z.boolean() });
const DemoFile = z.object({ made: z.number(), jobs: z.array(JobFile) });

/** Was the server started to show the demo world? False offline or elsewhere. */
export async function isDemoServer(): Promise<boolean> {
  try {
    const config = Config.safeParse(await (await fetch('/config.json')).json());
    return config.success && config.data.demo;
  } catch {
    return false;
  }
}

/** The jobs of the made-up pottery, their dates moved to just now. */
export async function fetchDemo(): Promise<JobFile[]> {
  const file = DemoFile.parse(await (await fetch('/demo.json')).json());
  const shift = Date.now() - file.made;
  return file.jobs.map((j) => ({ ...j, events: j.events.map((e) => ({ ...e, at: e.at + shift })) }));
}
