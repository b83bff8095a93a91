import { createAsyncStorage } from '@react-native-async-storage/async-storage';

/** One line of the list of jobs, kept beside the job so that the list opens without the engine and without reading them all. */
export interface JobMeta {
  readonly id: string;
  readonly name: string;
  readonly status: 'open' | 'left safe' | 'closed';
  readonly phrase: string;
  readonly changedAt: number;
  readonly minutes: number;
  readonly agreedMin: number;
  readonly readings: number;
  readonly deletedAt: number | null;
  readonly demo: boolean;
  /** What is wrong, where it stands, and the stage where it goes on; absent in lists that are older. */
  readonly wrong?: string;
  readonly stands?: string;
  readonly stage?: string;
  /** Name of the job's last writing as a whole. */
  readonly writing?: string;
  /** When it was kept, where its clock was running then. */
  readonly runningSince?: number;
}

export const storage = createAsyncStorage('gutter');

/** Where the pieces of one writing of a job begin. */
export const logPrefix = (id: string, writing: string): string => `log:${id}:${writing}:`;
export const logKeys = async (id: string): Promise<string[]> => (await storage.getAllKeys()).filter((k) => k.startsWith(`log:${id}:`));

/** So long a deleted job is kept. */
export const PURGE_AFTER_MS = 30 * 24 * 3600 * 1000;

/** Checked by hand: this file is in the first page, where a schema library would weigh more than the list. */
export function parseMeta(text: string | null): JobMeta | null {
  let m: Partial<Record<keyof JobMeta, unknown>> | null;
  try {
    m = JSON.parse(text ?? 'null') as typeof m;
  } catch {
    return null;
  }
  if (!m) return null;
  const texts = [m.id, m.name, m.phrase].every((x) => typeof x === 'string');
  const numbers = [m.changedAt, m.minutes, m.agreedMin, m.readings].every((x) => typeof x === 'number');
  const status = m.status === 'open' || m.status === 'left safe' || m.status === 'closed';
  const deleted = m.deletedAt === null || typeof m.deletedAt === 'number';
  const words = [m.wrong, m.stands, m.stage, m.writing].every((x) => x === undefined || typeof x === 'string');
  return texts && words && numbers && status && deleted && typeof m.demo === 'boolean' ? (m as JobMeta) : null;
}

/** Jobs, latest first; what was deleted over 30 days ago is purged. */
export async function listJobs(): Promise<JobMeta[]> {
  const every = await storage.getAllKeys();
  const keys = every.filter((k) => k.startsWith('meta:'));
  if (!keys.length) return [];
  const all = Object.values(await storage.getMany(keys)).flatMap((text) => parseMeta(text) ?? []);
  const old = all.filter((m) => m.deletedAt !== null && Date.now() - m.deletedAt > PURGE_AFTER_MS);
  if (old.length) await storage.removeMany(old.flatMap((m) => [`meta:${m.id}`, `job:${m.id}`, ...every.filter((k) => k.startsWith(`photo:${m.id}:`) || k.startsWith(`log:${m.id}:`))]));
  return all.filter((m) => !old.includes(m)).sort((a, b) => b.changedAt - a.changedAt);
}

/** Small facts of the app itself: the last screen, whether the demo world was put in. */
export const remember = (key: string, value: string): Promise<void> => storage.setItem(`app:${key}`, value);
export const recall = (key: string): Promise<string | null> => storage.getItem(`app:${key}`);

/** What was exported last: when, under which name, how large in bytes. */
export interface LastExport { readonly at: number; readonly name: string; readonly bytes: number }
export const noteExport = (name: string, bytes: number): Promise<void> => remember('exported', JSON.stringify({ at: Date.now(), name, bytes } satisfies LastExport));
export async function lastExport(): Promise<LastExport | null> {
  try {
    const x = JSON.parse((await recall('exported')) ?? 'null') as Partial<LastExport> | null;
    return x && typeof x.at === 'number' && typeof x.name === 'string' && typeof x.bytes === 'number' ? { at: x.at, name: x.name, bytes: x.bytes } : null;
  } catch {
    return null;
  }
}

export const isDeleted = async (id: string): Promise<boolean> => typeof parseMeta(await storage.getItem(`meta:${id}`))?.deletedAt === 'number';
