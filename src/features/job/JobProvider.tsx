import { createContext, useCallback, useContext, useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import type { Advice } from '@core/advice';
import type { Issue } from '@core/issue';
import { deriveJob, type JobEvent, type JobFile, type JobView } from '@core/job';
import { holdJob, jobChannel, jobStore, type LockState } from '@/storage';
import { engineClient } from '@/worker/client';

/** An event as a screen gives it: id and time are put on here. */
export type NewEvent = JobEvent extends infer E ? (E extends JobEvent ? Omit<E, 'id' | 'at'> : never) : never;

export type Keeping = 'kept' | 'saving' | 'refused';

interface JobSession {
  readonly file: JobFile;
  readonly view: JobView;
  readonly advice: Advice | null;
  /** True while the shown advice is older than the log, or its next step is still being worked out. */
  readonly thinking: boolean;
  readonly keeping: Keeping;
  readonly lock: LockState;
  record(...events: NewEvent[]): void;
  takeOver(): void;
  saveAgain(): void;
}

const Context = createContext<JobSession | null>(null);

export function useJob(): JobSession {
  const session = useContext(Context);
  if (!session) throw new Error('no job above');
  return session;
}

type Loaded = { readonly is: 'loading' } | { readonly is: 'missing'; readonly issue: Issue } | { readonly is: 'here'; readonly file: JobFile };

/** Loads a job, keeps every event at once, and holds the advice in step with the log. */
export function JobProvider({ id, children, whileLoading, onMissing }: { id: string; children: ReactNode; whileLoading: ReactNode; onMissing: (issue: Issue) => ReactNode }) {
  const [loaded, setLoaded] = useState<Loaded>({ is: 'loading' });
  const [lock, setLock] = useState<LockState>('writing');
  const load = useCallback(async () => {
    const result = await jobStore().load(id);
    setLoaded(result.ok ? { is: 'here', file: result.value } : { is: 'missing', issue: result.issues[0] ?? { code: 'job.missing', path: [] } });
  }, [id]);
  const held = useRef<{ release(): void } | null>(null);
  useEffect(() => {
    void load();
    held.current = holdJob(id, false, setLock);
    return () => held.current?.release();
  }, [id, load]);
  const takeOver = useCallback(() => {
    held.current?.release();
    held.current = holdJob(id, true, setLock);
    void load();
  }, [id, load]);
  if (loaded.is === 'loading') return <>{whileLoading}</>;
  if (loaded.is === 'missing') return <>{onMissing(loaded.issue)}</>;
  return <Session key={id} first={loaded.file} lock={lock} takeOver={takeOver} reload={load}>{children}</Session>;
}

function Session({ first, lock, takeOver, reload, children }: { first: JobFile; lock: LockState; takeOver: () => void; reload: () => Promise<void>; children: ReactNode }) {
  const [file, setFile] = useState(first);
  const [keeping, setKeeping] = useState<Keeping>('kept');
  const [advice, setAdvice] = useState<Advice | null>(null);
  const [thinking, setThinking] = useState(true);
  const [now, setNow] = useState(() => Date.now());
  const channel = useRef<ReturnType<typeof jobChannel> | null>(null);
  const current = useRef(first);

  // A reader follows what the writing tab keeps.
  useEffect(() => {
    channel.current = jobChannel((id) => {
      if (id === first.id && lock === 'reading') void reload();
    });
    return () => channel.current?.close();
  }, [first.id, lock, reload]);
  useEffect(() => {
    if (lock === 'writing' && current.current.events.length >= first.events.length) return;
    current.current = first;
    setFile(first);
  }, [first, lock]);
  useEffect(() => {
    const timer = setInterval(() => setNow(Date.now()), 15000);
    return () => clearInterval(timer);
  }, []);

  const keep = useCallback(async (next: JobFile) => {
    setKeeping('saving');
    const result = await jobStore().save(next);
    if (current.current !== next) return;
    setKeeping(result.ok ? 'kept' : 'refused');
    if (result.ok) channel.current?.tell(next.id);
  }, []);

  const record = useCallback((...events: NewEvent[]) => {
    if (lock === 'reading') return;
    const at = Date.now();
    const added = events.map((e) => ({ ...e, id: crypto.randomUUID(), at }) as JobEvent);
    const next = { ...current.current, events: [...current.current.events, ...added] };
    current.current = next;
    setFile(next);
    setNow(at);
    void keep(next);
  }, [keep, lock]);

  useEffect(() => {
    setThinking(true);
    engineClient().advise(file.id, file.events, (a, planned) => {
      setAdvice(a);
      if (planned || a === null) setThinking(false);
    });
  }, [file]);

  const view = useMemo(() => deriveJob(file.events, now), [file, now]);
  const value = useMemo<JobSession>(
    () => ({ file, view, advice, thinking, keeping, lock, record, takeOver, saveAgain: () => void keep(current.current) }),
    [file, view, advice, thinking, keeping, lock, record, takeOver, keep],
  );
  return <Context.Provider value={value}>{children}</Context.Provider>;
}
