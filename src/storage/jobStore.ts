import { deriveJob, parseJobFile, writeJobFile, type JobEvent, type JobFile } from '@core/job';
import { standingOf } from '@core/wording';
import { fail, issue, ok, type Result } from '@core/issue';
import { newId } from '@/id';
import { logKeys, logPrefix, parseMeta, storage, type JobMeta } from './meta';
import { keptInMemory, nowKept } from './unkept';

/** The door to the jobs that the browser keeps. A save has ended only when its transaction has. */
export interface JobStore {
  load(id: string): Promise<Result<JobFile>>;
  save(file: JobFile, options?: { deletedAt?: number | null; demo?: boolean }): Promise<Result<JobMeta>>;
}

// A job is kept as it was last written whole, `job:ID`, and what was entered since, one piece for each save: `log:ID:WRITING:FROM:PIECE`. A save
// adds a piece and overwrites none, so that nothing is lost by a save that breaks off; now and then the whole is written anew.

/** So many pieces are read back in a moment. */
const MOST_PIECES = 40;
const FROM_DIGITS = 6;

/** What is known to be kept of a job: its writing, how many pieces, and the entries up to which. */
interface Kept { readonly writing: string; readonly pieces: number; readonly events: number; readonly last: string; readonly rest: string }
const kept = new Map<string, Kept>();

/** All of a file but its entries: where that has changed, the whole is written. */
const restOf = ({ events: _, ...rest }: JobFile): string => JSON.stringify(rest);
const keptOf = (file: JobFile, writing: string, pieces: number): Kept => ({ writing, pieces, events: file.events.length, last: file.events.at(-1)?.id ?? '', rest: restOf(file) });

function metaOf(file: JobFile, now: number, deletedAt: number | null, demo: boolean): JobMeta {
  const view = deriveJob(file.events, now);
  const standing = standingOf(view);
  return {
    ...standing, ...(view.clockSince === null ? {} : { runningSince: now }),
    id: file.id, name: view.name, status: view.status, phrase: view.phrase, changedAt: file.events.at(-1)?.at ?? now, minutes: view.minutesUsed,
    agreedMin: view.agreedMin, readings: view.readings.filter((r) => !r.struck).length, deletedAt, demo,
  };
}

/** The name of a writing is the first line of what was written; jobs of before have none. */
function taken(text: string): { writing: string; text: string } {
  const end = text.startsWith('#') ? text.indexOf('\n') : -1;
  return end < 0 ? { writing: '', text } : { writing: text.slice(1, end), text: text.slice(end + 1) };
}

/** What was entered since the writing, in its order. */
async function piecesOf(id: string, writing: string): Promise<JobEvent[][]> {
  const keys = (await logKeys(id)).filter((k) => k.startsWith(logPrefix(id, writing))).sort();
  const found = keys.length ? await storage.getMany(keys) : {};
  return keys.flatMap((k) => {
    const text = found[k];
    return text ? [JSON.parse(text) as JobEvent[]] : [];
  });
}

async function readWhole(id: string): Promise<{ text: string; writing: string; pieces: number } | null> {
  for (;;) {
    const first = await storage.getItem(`job:${id}`);
    if (first === null) return null;
    const { writing, text } = taken(first);
    const pieces = await piecesOf(id, writing);
    // Written anew meanwhile by another tab: its pieces may be gone already.
    if (taken((await storage.getItem(`job:${id}`)) ?? '').writing !== writing) continue;
    if (!pieces.length) return { text, writing, pieces: 0 };
    const whole = JSON.parse(text) as { events: JobEvent[] };
    return { text: JSON.stringify({ ...whole, events: [...whole.events, ...pieces.flat()] }), writing, pieces: pieces.length };
  }
}

/** `before`: the line of the list as it stands: where it tells of another writing, or of none, what was kept is not what is thought to be. */
async function write(file: JobFile, meta: JobMeta, before: JobMeta | null): Promise<void> {
  const known = kept.get(file.id);
  const line = (writing: string): Record<string, string> => ({ [`meta:${file.id}`]: JSON.stringify({ ...meta, writing }) });
  const goesOn = known !== undefined && known.rest === restOf(file) && file.events.length >= known.events && (file.events[known.events - 1]?.id ?? '') === known.last && before !== null && (before.writing ?? '') === known.writing;
  if (goesOn && known.pieces < MOST_PIECES) {
    const added = file.events.slice(known.events);
    const from = String(known.events).padStart(FROM_DIGITS, '0');
    await storage.setMany({ ...(added.length ? { [`${logPrefix(file.id, known.writing)}${from}:${newId()}`]: JSON.stringify(added) } : {}), ...line(known.writing) });
    kept.set(file.id, keptOf(file, known.writing, known.pieces + (added.length ? 1 : 0)));
    return;
  }
  const writing = newId();
  const old = await logKeys(file.id);
  await storage.setMany({ [`job:${file.id}`]: `#${writing}\n${writeJobFile(file)}`, ...line(writing) });
  kept.set(file.id, keptOf(file, writing, 0));
  // Pieces of an older writing are read by nobody: where they stay they only take room.
  if (old.length) await storage.removeMany(old).catch(() => undefined);
}

/** Saves of one job go one after another: each adds to what the one before has kept. */
const queue = new Map<string, Promise<unknown>>();
function inTurn<T>(id: string, what: () => Promise<T>): Promise<T> {
  const next = (queue.get(id) ?? Promise.resolve()).then(what, what);
  queue.set(id, next);
  return next;
}

const browserStore: JobStore = {
  load: (id) => inTurn(id, async () => {
    const unkept = keptInMemory(id);
    if (unkept) return ok(unkept);
    let found: Awaited<ReturnType<typeof readWhole>>;
    try {
      found = await readWhole(id);
    } catch {
      return fail(issue('file.notJson'));
    }
    if (!found) return fail(issue('job.missing'));
    const parsed = parseJobFile(found.text);
    if (parsed.ok) kept.set(id, keptOf(parsed.value, found.writing, found.pieces));
    return parsed;
  }),
  save: (file, options = {}) => inTurn(file.id, async () => {
    try {
      const old = parseMeta(await storage.getItem(`meta:${file.id}`));
      const meta = metaOf(file, Date.now(), options.deletedAt === undefined ? (old?.deletedAt ?? null) : options.deletedAt, options.demo ?? old?.demo ?? false);
      await write(file, meta, old);
      nowKept(file.id);
      return ok(meta);
    } catch (error) {
      // What was kept before is read anew the next time: whether the last save arrived is not known.
      kept.delete(file.id);
      return fail(issue('storage.refused', [], { why: error instanceof Error ? error.message : String(error) }));
    }
  }),
};

export const jobStore = (): JobStore => browserStore;
