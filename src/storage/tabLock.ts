import { newId } from '@/id';

/** One tab writes a job; others read it and may take over. */
export interface TabLock {
  release(): void;
}

export type LockState = 'writing' | 'reading';

const nameOf = (id: string): string => `gutter-job-${id}`;

/** Tells whether this tab may write, now and whenever that changes. `steal` takes the pen from another tab. */
export function holdJob(id: string, steal: boolean, onState: (state: LockState) => void): TabLock {
  // The browser's own locks are missing on a page that came by plain http.
  return navigator.locks ? holdByLocks(navigator.locks, id, steal, onState) : holdByBeat(id, steal, onState);
}

/** Does another tab write the job now? */
export async function isHeldElsewhere(id: string): Promise<boolean> {
  if (!navigator.locks) return othersBeat(id) !== null;
  const { held = [] } = await navigator.locks.query();
  return held.some((l) => l.name === nameOf(id));
}

function holdByLocks(locks: LockManager, id: string, steal: boolean, onState: (state: LockState) => void): TabLock {
  let release: () => void = () => undefined;
  const held = new Promise<void>((resolve) => {
    release = resolve;
  });
  const options: LockOptions = steal ? { steal: true } : { ifAvailable: true };
  locks
    .request(nameOf(id), options, async (lock) => {
      onState(lock ? 'writing' : 'reading');
      if (lock) await held;
    })
    .catch(() => onState('reading'));
  return { release };
}

// Without locks the writing tab leaves a sign of life; a tab that finds none for a while is the writer. Whoever takes over leaves its own.

const BEAT_MS = 1000;
/** A tab in the background is let run once a minute. */
const SILENT_MS = 70_000;
interface Beat { readonly tab: string; readonly at: number }
const thisTab = newId();

function beatOf(id: string): Beat | null {
  try {
    const beat = JSON.parse(localStorage.getItem(nameOf(id)) ?? 'null') as Partial<Beat> | null;
    return beat && typeof beat.tab === 'string' && typeof beat.at === 'number' ? { tab: beat.tab, at: beat.at } : null;
  } catch {
    return null;
  }
}

/** The sign of life of another tab, where it is no older than it may be. */
function othersBeat(id: string): Beat | null {
  const beat = beatOf(id);
  return beat && beat.tab !== thisTab && Math.abs(Date.now() - beat.at) < SILENT_MS ? beat : null;
}

function holdByBeat(id: string, steal: boolean, onState: (state: LockState) => void): TabLock {
  if (!steal && othersBeat(id)) {
    onState('reading');
    return { release: () => undefined };
  }
  const beat = (): void => localStorage.setItem(nameOf(id), JSON.stringify({ tab: thisTab, at: Date.now() }));
  const stop = (): void => {
    clearInterval(timer);
    window.removeEventListener('storage', onStorage);
    window.removeEventListener('pagehide', release);
  };
  const release = (): void => {
    stop();
    if (beatOf(id)?.tab === thisTab) localStorage.removeItem(nameOf(id));
  };
  const onStorage = (e: StorageEvent): void => {
    if (e.key !== nameOf(id) || !othersBeat(id)) return;
    stop();
    onState('reading');
  };
  const timer = setInterval(() => (othersBeat(id) ? onStorage(new StorageEvent('storage', { key: nameOf(id) })) : beat()), BEAT_MS);
  window.addEventListener('storage', onStorage);
  window.addEventListener('pagehide', release);
  beat();
  onState('writing');
  return { release };
}

/** Tells the other tabs that a job was kept. */
export function jobChannel(onKept: (id: string) => void): { tell(id: string): void; close(): void } {
  if (typeof BroadcastChannel === 'undefined') return { tell: () => undefined, close: () => undefined };
  const channel = new BroadcastChannel('gutter-jobs');
  channel.onmessage = (e: MessageEvent<unknown>) => {
    if (typeof e.data === 'string') onKept(e.data);
  };
  return { tell: (id) => channel.postMessage(id), close: () => channel.close() };
}
