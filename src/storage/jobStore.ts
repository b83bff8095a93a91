import { createAsyncStorage } from '@react-native-async-storage/async-storage';
import { z } from 'zod';
import { deriveJob, parseJobFile, writeJobFile, type JobFile } from '@core/job';
import { fail, issue, ok, type Result } from '@core/issue';

/** One line of the list of jobs, kept beside the job so that the list opens without reading them all. */
export const JobMeta = z.object({
  id: z.string(),
  name: z.string(),
  status: z.enum(['open', 'left safe', 'closed']),
  phrase: z.string(),
  changedAt: z.number(),
  minutes: z.number(),
  agreedMin: z.number(),
  readings: z.number(),
  deletedAt: z.number().nullable(),
  demo: z.boolean(),
});
export type JobMeta = z.infer<typeof JobMeta>;

/** The door to what the browser keeps. A save has ended only when its transaction has. */
export interface JobStore {
  list(): Promise<JobMeta[]>;
  load(id: string): Promise<Result<JobFile>>;
  save(file: JobFile, options?: { deletedAt?: number | null; demo?: boolean }): Promise<Result<JobMeta>>;
  remember(key: string, value: string): Promise<void>;
  recall(key: string): Promise<string | null>;
}

const PURGE_AFTER_MS = 30 * 24 * 3600 * 1000;

export function metaOf(file: JobFile, now: number, deletedAt: number | null, demo: boolean): JobMeta {
  const view = deriveJob(file.events, now);
  return {
    id: file.id, name: view.name, status: view.status, phrase: view.phrase, changedAt: file.events.at(-1)?.at ?? now, minutes: view.minutesUsed,
    agreedMin: view.agreedMin, readings: view.readings.filter((r) => !r.struck).length, deletedAt, demo,
  };
}

export function browserJobStore(name = 'gutter'): JobStore {
  const storage = createAsyncStorage(name);
  const metas = async (): Promise<JobMeta[]> => {
    const keys = (await storage.getAllKeys()).filter((k) => k.startsWith('meta:'));
    if (!keys.length) return [];
    const found = await storage.getMany(keys);
    return Object.values(found).flatMap((text) => {
      const parsed = JobMeta.safeParse(text === null ? null : JSON.parse(text));
      return parsed.success ? [parsed.data] : [];
    });
  };
  return {
    list: async () => {
      const all = await metas();
      const old = all.filter((m) => m.deletedAt !== null && Date.now() - m.deletedAt > PURGE_AFTER_MS);
      if (old.length) await storage.removeMany(old.flatMap((m) => [`meta:${m.id}`, `job:${m.id}`]));
      return all.filter((m) => !old.includes(m)).sort((a, b) => b.changedAt - a.changedAt);
    },
    load: async (id) => {
      const text = await storage.getItem(`job:${id}`);
      return text === null ? fail(issue('job.missing')) : parseJobFile(text);
    },
    save: async (file, options = {}) => {
      try {
        const before = await storage.getItem(`meta:${file.id}`);
        const known = before === null ? null : JobMeta.safeParse(JSON.parse(before));
        const old = known?.success ? known.data : null;
        const meta = metaOf(file, Date.now(), options.deletedAt === undefined ? (old?.deletedAt ?? null) : options.deletedAt, options.demo ?? old?.demo ?? false);
        await storage.setMany({ [`job:${file.id}`]: writeJobFile(file), [`meta:${file.id}`]: JSON.stringify(meta) });
        return ok(meta);
      } catch (error) {
        return fail(issue('storage.refused', [], { why: error instanceof Error ? error.message : String(error) }));
      }
    },
    remember: (key, value) => storage.setItem(`app:${key}`, value),
    recall: (key) => storage.getItem(`app:${key}`),
  };
}
