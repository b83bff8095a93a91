import { JOB_FORMAT, JOB_VERSION, parseJobFile, type JobEvent, type JobFile } from '@core/job';
import type { Installation } from '@core/installation';
import type { Issue } from '@core/issue';
import { isHeldElsewhere, jobChannel, jobStore, takePhotos } from '@/storage';
import { listJobs, remember } from '@/storage/meta';
import { newId } from '@/id';
import { fetchDemo } from './demo';
import { Refused } from './refused';

/** What is done to whole jobs; behind the lazy door, for it needs the core. Expected problems are thrown as Refused, for TanStack Query. */
export function newJobFile(name: string, phrase: string, map: Installation | null, agreedMin: number): JobFile {
  const at = Date.now();
  const event = (e: object): JobEvent => ({ ...e, id: newId(), at }) as JobEvent;
  return {
    format: JOB_FORMAT, version: JOB_VERSION, id: newId(),
    events: [event({ type: 'created', name, agreedMin }), ...(map ? [event({ type: 'drafted', phrase, map })] : []), event({ type: 'clock', run: true })],
  };
}

export async function saveJob(file: JobFile, options?: { deletedAt?: number | null; demo?: boolean }): Promise<JobFile> {
  const result = await jobStore().save(file, options);
  if (!result.ok) throw new Refused(result.issues[0] as Issue);
  return file;
}

/** A job that another tab has in hand is changed there, or nowhere: two that write lose each other's entries. */
async function takeInHand(id: string): Promise<JobFile> {
  if (await isHeldElsewhere(id)) throw new Refused({ code: 'job.openElsewhere', path: [] });
  const result = await jobStore().load(id);
  if (!result.ok) throw new Refused(result.issues[0] as Issue);
  return result.value;
}

/** Other tabs hear of it at once. */
function told(file: JobFile): JobFile {
  const channel = jobChannel(() => undefined);
  channel.tell(file.id);
  channel.close();
  return file;
}

export const removeJob = async (id: string): Promise<JobFile> => told(await saveJob(await takeInHand(id), { deletedAt: Date.now() }));
export const restoreJob = async (id: string): Promise<JobFile> => told(await saveJob(await takeInHand(id), { deletedAt: null }));

export async function renameJob(id: string, name: string): Promise<JobFile> {
  const file = await takeInHand(id);
  return told(await saveJob({ ...file, events: [...file.events, { type: 'renamed', name, id: newId(), at: Date.now() }] }));
}

/** An id that an address and a key can carry. */
const isAddress = (id: string): boolean => /^[\w-]{1,64}$/.test(id);

/** Takes a job in from a file. A job that is already here stays as it is: the file comes in beside it. */
export async function openJobFile(text: string): Promise<JobFile> {
  const parsed = parseJobFile(text);
  if (!parsed.ok) throw new Refused(parsed.issues[0] as Issue);
  const here = (await listJobs()).some((m) => m.id === parsed.value.id);
  const { photos, ...file } = parsed.value;
  const taken = here || !isAddress(file.id) ? { ...file, id: newId() } : file;
  await takePhotos(taken.id, photos);
  return saveJob(taken, { deletedAt: null });
}

/** Puts the made-up pottery beside whatever is there; what was deleted of it comes back as it was. */
export async function seedDemo(): Promise<void> {
  const here = new Map((await listJobs()).map((m) => [m.id, m]));
  for (const file of await fetchDemo()) {
    const known = here.get(file.id);
    if (!known) await saveJob(file, { demo: true });
    else if (known.deletedAt !== null) await restoreJob(file.id);
  }
  await remember('seeded', 'yes');
}
