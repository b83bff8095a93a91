import { useQuery } from '@tanstack/react-query';
import { createContext, useCallback, useContext, useEffect, useMemo, useRef, useState, type ReactNode } from 'react';
import type { Advice } from '@core/advice';
import type { Issue } from '@core/issue';
import { deriveJob, JobEvent, type EventBody, type JobFile, type JobView } from '@core/job';
import { useHabits } from '@/features/settings/useHabits';
import { newId } from '@/id';
import { holdJob, jobChannel, jobStore, keptInMemory, leaveInMemory, type LockState } from '@/storage';
import { isDeleted } from '@/storage/meta';
import { engineClient } from '@/worker/client';

export type Keeping = 'kept' | 'saving' | 'refused';

/** `since`: when the work began, ms since 1970. */
export interface Working { readonly knows: number; readonly of: number; readonly since: number }

/** Shorter than this it is no news. */
const A_MOMENT_MS = 1000;
const readingsIn = (events: readonly JobEvent[] | null): number => (events ?? []).filter((e) => e.type === 'read' || e.type === 'liveRead').length;

function useWorking(thinking: boolean, known: readonly JobEvent[] | null, all: readonly JobEvent[]): Working | null {
  const [since, setSince] = useState<number | null>(null);
  useEffect(() => {
    const began = Date.now();
    const timer = thinking ? setTimeout(() => setSince(began), A_MOMENT_MS) : null;
    return () => {
      if (timer !== null) clearTimeout(timer);
      setSince(null);
    };
  }, [thinking]);
  return useMemo(() => (since === null ? null : { knows: readingsIn(known), of: readingsIn(all), since }), [since, known, all]);
}

interface JobSession {
  readonly file: JobFile;
  readonly view: JobView;
  readonly advice: Advice | null;
  /** True while the shown advice is older than the log, or its next step is still being worked out. */
  readonly thinking: boolean;
  /** Where it takes longer than a moment: how many readings the shown advice knows, of how many, and since when it is being worked on. */
  readonly working: Working | null;
  /** The engine threw. Nothing of the job hangs on it; `workAgain` begins it anew. */
  readonly failed: boolean;
  readonly workAgain: () => void;
  readonly keeping: Keeping;
  /** The last entry holds a figure that cannot be, and was not taken. */
  readonly refusedEntry: boolean;
  readonly dropRefused: () => void;
  readonly lock: LockState;
  /** Another tab has deleted it meanwhile. */
  readonly deleted: boolean;
  readonly record: (...events: EventBody[]) => void;
  /** How many entries made here wait for this tab to write. */
  readonly waiting: number;
  readonly dropWaiting: () => void;
  readonly takeOver: () => void;
  readonly saveAgain: () => void;
}

const Context = createContext<JobSession | null>(null);

export function useJob(): JobSession {
  const session = useContext(Context);
  if (!session) throw new Error('no job above');
  return session;
}

/** A save that has begun ends well within it. */
const LAST_SAVE_MS = 250;

/** Loads a job, keeps every event at once, and holds the advice in step with the log. */
export function JobProvider({ id, children, whileLoading, onMissing }: { id: string; children: ReactNode; whileLoading: ReactNode; onMissing: (issue: Issue) => ReactNode }) {
  const [lock, setLock] = useState<LockState>('writing');
  const loaded = useQuery({ queryKey: ['job', id], queryFn: () => jobStore().load(id), staleTime: Infinity, gcTime: 0 });
  const { refetch } = loaded;
  const held = useRef<{ release(): void } | null>(null);
  // Entries made while another tab writes: they wait here until this one does.
  const [deleted, setDeleted] = useState(false);
  const [waiting, setWaiting] = useState<readonly EventBody[]>([]);
  const lose = useCallback(() => {
    setLock('reading');
    void refetch();
  }, [refetch]);
  useEffect(() => {
    held.current = holdJob(id, false, (state) => (state === 'writing' ? setLock('writing') : lose()));
    return () => held.current?.release();
  }, [id, lose]);
  // A reader follows what the writing tab keeps.
  useEffect(() => {
    if (lock === 'writing') return undefined;
    const channel = jobChannel((kept) => {
      if (kept !== id) return;
      void refetch();
      void isDeleted(id).then(setDeleted);
    });
    return () => channel.close();
  }, [id, lock, refetch]);
  const takeOver = useCallback(() => {
    held.current?.release();
    held.current = holdJob(id, true, (state) => {
      if (state === 'reading') lose();
      // What the other tab was keeping at that moment is kept first, and read with the rest.
      else void new Promise((resolve) => setTimeout(resolve, LAST_SAVE_MS)).then(() => refetch()).then(() => setLock('writing'));
    });
  }, [id, lose, refetch]);
  // What waits is nowhere but here: the page asks before it is left.
  useEffect(() => {
    if (!waiting.length) return undefined;
    const ask = (event: BeforeUnloadEvent): void => event.preventDefault();
    window.addEventListener('beforeunload', ask);
    return () => window.removeEventListener('beforeunload', ask);
  }, [waiting.length]);
  const wait = useCallback((events: readonly EventBody[]) => setWaiting((w) => [...w, ...events]), []);
  const noneWaits = useCallback(() => setWaiting([]), []);
  if (!loaded.data) return <>{loaded.error ? onMissing({ code: 'job.missing', path: [] }) : whileLoading}</>;
  if (!loaded.data.ok) return <>{onMissing(loaded.data.issues[0] ?? { code: 'job.missing', path: [] })}</>;
  const file = loaded.data.value;
  return <Session key={id} read={file} lock={lock} deleted={deleted} takeOver={takeOver} waiting={waiting} onWait={wait} onNoneWaits={noneWaits}>{children}</Session>;
}

interface Advised { readonly events: readonly JobEvent[] | null; readonly advice: Advice | null; readonly planned: boolean }

interface SessionProps { /** As it was read last: anew whenever another tab may have written it. */ read: JobFile; lock: LockState; deleted: boolean; takeOver: () => void; waiting: readonly EventBody[]; onWait: (events: readonly EventBody[]) => void; onNoneWaits: () => void; children: ReactNode }

const keepingOf = (id: string): Keeping => (keptInMemory(id) ? 'refused' : 'kept');

function Session({ read, lock, deleted, takeOver, waiting, onWait, onNoneWaits, children }: SessionProps) {
  const [file, setFile] = useState(read);
  const [keeping, setKeeping] = useState<Keeping>(() => keepingOf(read.id));
  const [refusedEntry, setRefusedEntry] = useState(false);
  const [advised, setAdvised] = useState<Advised>({ events: null, advice: null, planned: false });
  const [failedOn, setFailedOn] = useState<readonly JobEvent[] | null>(null);
  const [attempt, setAttempt] = useState(0);
  const [now, setNow] = useState(() => Date.now());
  const channel = useRef<ReturnType<typeof jobChannel> | null>(null);
  const current = useRef(read);
  // What another tab wrote is taken over into what stands here: nothing that is half typed goes for it.
  const taken = useRef(read);
  useEffect(() => {
    if (taken.current === read) return;
    taken.current = current.current = read;
    setFile(read);
    setKeeping(keepingOf(read.id));
  }, [read]);
  useEffect(() => {
    channel.current = jobChannel(() => undefined);
    return () => channel.current?.close();
  }, []);
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
    else leaveInMemory(next);
  }, []);

  const enter = useCallback((events: readonly EventBody[]) => {
    const at = Date.now();
    const added = events.map((e) => ({ ...e, id: newId(), at }) as JobEvent);
    const next = { ...current.current, events: [...current.current.events, ...added] };
    current.current = next;
    setFile(next);
    setNow(at);
    void keep(next);
  }, [keep]);
  const record = useCallback((...events: EventBody[]) => {
    // What a file may not hold is not taken into one.
    const wrong = events.some((e) => !JobEvent.safeParse({ ...e, id: 'new', at: Date.now() }).success);
    setRefusedEntry(wrong);
    if (wrong) return;
    if (lock === 'reading') onWait(events);
    else enter(events);
  }, [enter, lock, onWait]);
  useEffect(() => {
    if (lock === 'reading' || !waiting.length) return;
    enter(waiting);
    onNoneWaits();
  }, [lock, waiting, enter, onNoneWaits]);

  const [habits] = useHabits();
  useEffect(() => {
    const { events } = file;
    engineClient().settle(habits);
    engineClient().advise(file.id, events, { advice: (advice, planned, of) => setAdvised({ events: of, advice, planned: planned || advice === null }), failed: () => setFailedOn(events) });
  }, [file, habits, attempt]);
  const { advice } = advised;
  const failed = failedOn === file.events;
  const thinking = !failed && (advised.events !== file.events || !advised.planned);
  const working = useWorking(thinking, advised.events, file.events);
  const workAgain = useCallback(() => {
    engineClient().restart();
    setFailedOn(null);
    setAttempt((n) => n + 1);
  }, []);

  const view = useMemo(() => deriveJob(file.events, now), [file, now]);
  const value = useMemo<JobSession>(
    () => ({ file, view, advice, thinking, working, failed, workAgain, keeping, refusedEntry, dropRefused: () => setRefusedEntry(false), lock, deleted, record, waiting: waiting.length, dropWaiting: onNoneWaits, takeOver, saveAgain: () => void keep(current.current) }),
    [file, view, advice, thinking, working, failed, workAgain, keeping, refusedEntry, lock, deleted, record, waiting, onNoneWaits, takeOver, keep],
  );
  return <Context.Provider value={value}>{children}</Context.Provider>;
}
