import { useEffect, useSyncExternalStore } from 'react';
import { useMutation, useQuery, useQueryClient, type UseQueryResult } from '@tanstack/react-query';
import type { JobFile } from '@core/job';
import { listJobs, recall, type JobMeta } from '@/storage/meta';
import { jobChannel } from '@/storage/tabLock';
import { onUnkept, unkeptJobs } from '@/storage/unkept';

const KEY = ['jobs'];
const work = () => import('@/work');

/** Was the server started to show the demo world? False offline or elsewhere. */
async function isDemoServer(): Promise<boolean> {
  try {
    const config = (await (await fetch('/config.json')).json()) as { demo?: unknown };
    return config.demo === true;
  } catch {
    return false;
  }
}

/** Jobs with entries that the browser would not keep: they are nowhere but in this page. */
export const useUnkept = (): readonly string[] => useSyncExternalStore(onUnkept, unkeptJobs);

export function useJobList(): UseQueryResult<JobMeta[]> {
  const client = useQueryClient();
  // What another tab does to a job shows here at once.
  useEffect(() => {
    const channel = jobChannel(() => void client.invalidateQueries({ queryKey: KEY }));
    return () => channel.close();
  }, [client]);
  return useQuery({
    queryKey: KEY,
    staleTime: 0,
    refetchOnMount: 'always',
    queryFn: async () => {
      const jobs = await listJobs();
      if (jobs.length > 0 || (await recall('seeded')) !== null || !(await isDemoServer())) return jobs;
      await (await work()).seedDemo();
      return listJobs();
    },
  });
}

export function useJobActions() {
  const client = useQueryClient();
  const onSuccess = (): Promise<void> => client.invalidateQueries({ queryKey: KEY });
  return {
    create: useMutation({ mutationFn: async (file: JobFile) => (await work()).saveJob(file), onSuccess }),
    remove: useMutation({ mutationFn: async (id: string) => (await work()).removeJob(id), onSuccess }),
    restore: useMutation({ mutationFn: async (id: string) => (await work()).restoreJob(id), onSuccess }),
    rename: useMutation({ mutationFn: async ({ id, name }: { id: string; name: string }) => (await work()).renameJob(id, name), onSuccess }),
    demo: useMutation({ mutationFn: async () => (await work()).seedDemo(), onSuccess }),
    open: useMutation({ mutationFn: async (text: string) => (await work()).openJobFile(text), onSuccess }),
  };
}
