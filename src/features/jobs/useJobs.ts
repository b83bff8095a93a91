import { useMutation, useQuery, useQueryClient, type UseQueryResult } from '@tanstack/react-query';
import { JOB_FORMAT, JOB_VERSION, parseJobFile, type JobEvent, type JobFile } from '@core/job';
import type { Installation } from '@core/installation';
import type { Issue } from '@core/issue';
import { jobStore, type JobMeta } from '@/storage';
import { fetchDemo, isDemoServer } from './demo';

const KEY = ['jobs'];

/** Raised through TanStack Query when an expected problem stops an action; screens show its issue in words. */
export class Refused extends Error {
  constructor(readonly issue: Issue) {
    super(issue.code);
  }
}

export function useJobList(): UseQueryResult<JobMeta[]> {
  return useQuery({
    queryKey: KEY,
    staleTime: 0,
    refetchOnMount: 'always',
    queryFn: async () => {
      const jobs = await jobStore().list();
      if (jobs.length === 0 && (await jobStore().recall('seeded')) === null && (await isDemoServer())) {
        await seedDemo();
        return jobStore().list();
      }
      return jobs;
    },
  });
}

/** Puts the made-up pottery beside whatever is there. */
export async function seedDemo(): Promise<void> {
  for (const file of await fetchDemo()) await jobStore().save(file, { demo: true });
  await jobStore().remember('seeded', 'yes');
}

export function newJobFile(name: string, phrase: string, map: Installation, agreedMin: number): JobFile {
  const at = Date.now();
  const event = (e: object): JobEvent => ({ ...e, id: crypto.randomUUID(), at }) as JobEvent;
  return {
    format: JOB_FORMAT, version: JOB_VERSION, id: crypto.randomUUID(),
    events: [event({ type: 'created', name, agreedMin }), event({ type: 'drafted', phrase, map }), event({ type: 'clock', run: true })],
  };
}

async function saved(file: JobFile, options?: { deletedAt?: number | null }): Promise<JobFile> {
  const result = await jobStore().save(file, options);
  if (!result.ok) throw new Refused(result.issues[0] as Issue);
  return file;
}

async function loaded(id: string): Promise<JobFile> {
  const result = await jobStore().load(id);
  if (!result.ok) throw new Refused(result.issues[0] as Issue);
  return result.value;
}

export function useJobActions() {
  const client = useQueryClient();
  const onSuccess = (): Promise<void> => client.invalidateQueries({ queryKey: KEY });
  return {
    create: useMutation({ mutationFn: (file: JobFile) => saved(file), onSuccess }),
    remove: useMutation({ mutationFn: async (id: string) => saved(await loaded(id), { deletedAt: Date.now() }), onSuccess }),
    restore: useMutation({ mutationFn: async (id: string) => saved(await loaded(id), { deletedAt: null }), onSuccess }),
    rename: useMutation({
      mutationFn: async ({ id, name }: { id: string; name: string }) => {
        const file = await loaded(id);
        return saved({ ...file, events: [...file.events, { type: 'renamed', name, id: crypto.randomUUID(), at: Date.now() }] });
      },
      onSuccess,
    }),
    demo: useMutation({ mutationFn: seedDemo, onSuccess }),
    open: useMutation({
      mutationFn: async (text: string) => {
        const parsed = parseJobFile(text);
        if (!parsed.ok) throw new Refused(parsed.issues[0] as Issue);
        const here = (await jobStore().list()).some((m) => m.id === parsed.value.id);
        // A job that is already here stays as it is: the file comes in beside it.
        return saved(here ? { ...parsed.value, id: crypto.randomUUID() } : parsed.value, { deletedAt: null });
      },
      onSuccess,
    }),
  };
}
