import type { JobFile } from '@core/job';

// What the browser would not keep stays here, with its job, from screen to screen, until it is kept; the page asks before it is left.

const unkept = new Map<string, JobFile>();
const listeners = new Set<() => void>();

function ask(event: BeforeUnloadEvent): void {
  event.preventDefault();
}

function changed(): void {
  ids = [...unkept.keys()];
  if (typeof window !== 'undefined') {
    if (unkept.size) window.addEventListener('beforeunload', ask);
    else window.removeEventListener('beforeunload', ask);
  }
  for (const tell of listeners) tell();
}

export const keptInMemory = (id: string): JobFile | null => unkept.get(id) ?? null;

export function leaveInMemory(file: JobFile): void {
  unkept.set(file.id, file);
  changed();
}

export function nowKept(id: string): void {
  if (unkept.delete(id)) changed();
}

let ids: readonly string[] = [];
/** Jobs with entries that are nowhere but here. */
export const unkeptJobs = (): readonly string[] => ids;

export function onUnkept(tell: () => void): () => void {
  listeners.add(tell);
  return () => listeners.delete(tell);
}
