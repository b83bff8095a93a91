import { deriveJob, parseJobFile, writeJobFile, type JobFile } from '@core/job';
import { standingOf } from '@core/wording';
import { fail, issue, ok, type Result } from '@core/issue';
import { parseMeta, storage, type JobMeta } from './meta';

/** The door to the jobs that the browser keeps. A save has ended only when its transaction has. */
export interface JobStore {
  load(id: string): Promise<Result<JobFile>>;
  save(file: JobFile, options?: { deletedAt?: number | null; demo?: boolean }): Promise<Result<JobMeta>>;
}

function metaOf(file: JobFile, now: number, deletedAt: number | null, demo: boolean): JobMeta {
  const view = deriveJob(file.events, now);
  const standing = standingOf(view);
  return {
    ...standing, ...(view.clockSince === null ? {} : { runningSince: now }),
    id: file.id, name: view.name, status: view.status, phrase: view.phrase, changedAt: file.events.at(-1)?.at ?? now, minutes: view.minutesUsed,
    agreedMin: view.agreedMin, readings: view.readings.filter((r) => !r.struck).length, deletedAt, demo,
  };
}

const browserStore: JobStore = {
  load: async (id) => {
    const text = await storage.getItem(`job:${id}`);
    return text === null ? fail(issue('job.missing')) : parseJobFile(text);
  },
  save: async (file, options = {}) => {
    try {
      const old = parseMeta(await storage.getItem(`meta:${file.id}`));
      const meta = metaOf(file, Date.now(), options.deletedAt === undefined ? (old?.deletedAt ?? null) : options.deletedAt, options.demo ?? old?.demo ?? false);
      await storage.setMany({ [`job:${file.id}`]: writeJobFile(file), [`meta:${file.id}`]: JSON.stringify(meta) });
      return ok(meta);
    } catch (error) {
      return fail(issue('storage.refused', [], { why: error instanceof Error ? error.message : String(error) }));
    }
  },
};

export const jobStore = (): JobStore => browserStore;
