/** One tab writes a job; others read it and may take over. */
export interface TabLock {
  release(): void;
}

export type LockState = 'writing' | 'reading';

/** Tells whether this tab may write, now and whenever that changes. `steal` takes the pen from another tab. */
export function holdJob(id: string, steal: boolean, onState: (state: LockState) => void): TabLock {
  let release: () => void = () => undefined;
  const held = new Promise<void>((resolve) => {
    release = resolve;
  });
  if (!('locks' in navigator)) {
    onState('writing');
    return { release };
  }
  const options: LockOptions = steal ? { steal: true } : { ifAvailable: true };
  navigator.locks
    .request(`gutter-job-${id}`, options, async (lock) => {
      onState(lock ? 'writing' : 'reading');
      if (lock) await held;
    })
    .catch(() => onState('reading'));
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
