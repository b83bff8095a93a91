import { z } from 'zod';
import { fail, issue, ok, type Result } from '../issue';
import { checkInstallation } from '../installation';
import { JOB_FORMAT, JOB_VERSION, JobFile } from './events';

/** Reads a job file from text: one that is truncated, newer or not ours opens nothing and says so. Unknown keys survive. */
export function parseJobFile(text: string): Result<JobFile> {
  let raw: unknown;
  try {
    raw = JSON.parse(text.replace(/^\uFEFF/, ''));
  } catch {
    return fail(issue('file.notJson', [], { bytes: text.length }));
  }
  if (typeof raw !== 'object' || raw === null || (raw as { format?: unknown }).format !== JOB_FORMAT) return fail(issue('file.notOurs'));
  const version = (raw as { version?: unknown }).version;
  if (typeof version !== 'number') return fail(issue('file.noVersion'));
  if (version > JOB_VERSION) return fail(issue('file.newer', ['version'], { version, known: JOB_VERSION }));
  const parsed = JobFile.safeParse(raw);
  if (!parsed.success)
    return fail(...parsed.error.issues.slice(0, 8).map((i) => issue('file.shape', i.path.map((p) => (typeof p === 'symbol' ? String(p) : p)), { why: i.message })));
  const ids = new Set(parsed.data.events.map((e) => e.id));
  if (ids.size !== parsed.data.events.length) return fail(issue('file.sameEventId', ['events']));
  const wrong = parsed.data.events.flatMap((e, i) => (e.type === 'drafted' ? checkInstallation(e.map).map((x) => ({ ...x, path: ['events', i, 'map', ...x.path] })) : []));
  return wrong.length ? fail(...wrong) : ok(parsed.data);
}

export const writeJobFile = (file: JobFile): string => JSON.stringify(file, null, 1);

/** The published JSON Schema of the job file. */
export const jobFileSchema = (): unknown => z.toJSONSchema(JobFile, { io: 'input' });
