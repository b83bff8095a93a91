import type { Advice, Expected } from '@core/advice';
import type { JobEvent } from '@core/job';
import type { Habits } from '@core/planning';
import type { Probe } from '@core/probes';
import type { Answer, Ask } from './contract';

/** Who asked: gets what is believed of a log as soon as there is anything, and the next step after it. */
export interface Listener {
  /** Of these events, which a newer log may have overtaken meanwhile. */
  advice(advice: Advice | null, planned: boolean, events: readonly JobEvent[]): void;
  /** It threw twice on the same log. Nothing of the job hangs on it. */
  failed(): void;
}

/** The page's side of the engine: one question at a time, always the newest; never cut off while it works, begun again when it dies. */
export interface EngineClient {
  advise(job: string, events: readonly JobEvent[], listener: Listener): void;
  expect(job: string, probe: Probe): Promise<Expected | null>;
  /** From the next question on. */
  settle(habits: Habits): void;
  /** Ends what it is at and begins again from nothing. */
  restart(): void;
}

/** The engine from afar. */
export interface RemoteEngine {
  believe(ask: Ask): Promise<Answer>;
  plan(job: string, revision: number, now: number): Promise<Answer>;
  expect(job: string, probe: Probe): Promise<Expected | null>;
}

/** A running engine; `died` is refused once it is gone. */
export interface Connection { readonly api: RemoteEngine; readonly died: Promise<never>; end(): void }

interface Wanted { readonly job: string; readonly events: readonly JobEvent[]; readonly listener: Listener }

const MOST_ATTEMPTS = 2;

export function createEngineClient(connect: () => Connection): EngineClient {
  let connection: Connection | null = null;
  let confirmed = { job: '', revision: 0, lastId: '' };
  let wanted: Wanted | null = null;
  let working = false;
  let habits: Habits | undefined;

  const running = (): Connection => {
    if (!connection) {
      confirmed = { job: '', revision: 0, lastId: '' };
      connection = connect();
    }
    return connection;
  };
  const end = (): void => {
    const old = connection;
    connection = null;
    old?.end();
  };
  const answerOf = <T,>(ask: (api: RemoteEngine) => Promise<T>): Promise<T> => {
    const c = running();
    return Promise.race([ask(c.api), c.died]);
  };

  /** Which events the worker has for certain: as many as agree, from the start. */
  const knownOf = ({ job, events }: Wanted): number =>
    confirmed.job === job && confirmed.revision <= events.length && events[confirmed.revision - 1]?.id === confirmed.lastId ? confirmed.revision : 0;

  const believe = async (w: Wanted): Promise<Answer> => {
    const { job, events } = w;
    const ask = (from: number): Promise<Answer> => answerOf((api) => api.believe({ job, revision: events.length, from, events: events.slice(from), now: Date.now(), ...(habits ? { habits } : {}) }));
    running();
    const answer = await ask(knownOf(w));
    return answer.says === 'need all' ? ask(0) : answer;
  };

  const workOn = async (w: Wanted): Promise<void> => {
    const { job, events, listener } = w;
    const believed = await believe(w);
    if (believed.says !== 'advice') return;
    confirmed = { job, revision: believed.revision, lastId: events[believed.revision - 1]?.id ?? '' };
    listener.advice(believed.advice, false, events);
    // What was entered meanwhile is believed before any step is sought.
    if (wanted !== w) return;
    const planned = await answerOf((api) => api.plan(job, believed.revision, Date.now()));
    if (planned.says === 'advice') listener.advice(planned.advice, true, events);
  };

  const work = async (): Promise<void> => {
    if (working) return;
    working = true;
    let attempts = 0;
    let last: Wanted | null = null;
    while (wanted) {
      const now: Wanted = wanted;
      if (now !== last) attempts = 0;
      last = now;
      try {
        await workOn(now);
        if (wanted === now) wanted = null;
      } catch {
        end();
        if (++attempts >= MOST_ATTEMPTS && wanted === now) {
          wanted = null;
          now.listener.failed();
        }
      }
    }
    working = false;
  };

  return {
    advise(job, events, listener) {
      wanted = { job, events, listener };
      void work();
    },
    expect: (job, probe) => answerOf((api) => api.expect(job, probe)),
    settle(next) {
      habits = next;
    },
    restart: end,
  };
}
