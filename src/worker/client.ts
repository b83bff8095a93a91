import * as Comlink from 'comlink';
import type { Advice, Expected } from '@core/advice';
import type { JobEvent } from '@core/job';
import type { Habits } from '@core/planning';
import type { Probe } from '@core/probes';
import type { Answer, EngineApi } from './contract';

/** The page's side of the engine: keeps the worker in step, restarts it when it dies, drops answers that came too late. */
export interface EngineClient {
  advise(job: string, events: readonly JobEvent[], onAdvice: (advice: Advice | null, planned: boolean) => void): void;
  expect(job: string, probe: Probe): Promise<Expected | null>;
  /** From the next question on. */
  settle(habits: Habits): void;
}

export function createEngineClient(): EngineClient {
  let worker: Worker | null = null;
  let remote: Comlink.Remote<EngineApi> | null = null;
  let confirmed = { job: '', revision: 0, firstIds: '' };
  let latest = 0;
  let habits: Habits | undefined;

  const api = (): Comlink.Remote<EngineApi> => {
    if (!remote) {
      worker = new Worker(new URL('./engine.worker.ts', import.meta.url));
      worker.addEventListener('error', restart);
      remote = Comlink.wrap<EngineApi>(worker);
      confirmed = { job: '', revision: 0, firstIds: '' };
    }
    return remote;
  };
  const restart = (): void => {
    worker?.terminate();
    worker = null;
    remote = null;
  };

  /** Which events the worker has for certain: as many as agree, from the start. */
  const knownOf = (job: string, events: readonly JobEvent[]): number =>
    confirmed.job === job && confirmed.revision <= events.length && events[confirmed.revision - 1]?.id === confirmed.firstIds ? confirmed.revision : 0;

  const ask = async (job: string, events: readonly JobEvent[], all: boolean): Promise<Answer> => {
    const from = all ? 0 : knownOf(job, events);
    return api().believe({ job, revision: events.length, from, events: events.slice(from), now: Date.now(), ...(habits ? { habits } : {}) });
  };

  const run = async (ticket: number, job: string, events: readonly JobEvent[], onAdvice: (a: Advice | null, planned: boolean) => void): Promise<void> => {
    let answer = await ask(job, events, false);
    if (answer.says === 'need all') answer = await ask(job, events, true);
    if (answer.says !== 'advice') return;
    confirmed = { job, revision: answer.revision, firstIds: events[answer.revision - 1]?.id ?? '' };
    if (ticket !== latest) return;
    onAdvice(answer.advice, false);
    const planned = await api().plan(job, answer.revision, Date.now());
    if (ticket === latest && planned.says === 'advice') onAdvice(planned.advice, true);
  };

  return {
    advise(job, events, onAdvice) {
      const ticket = ++latest;
      const attempt = (again: boolean): void => {
        let settled = false;
        const dead = setTimeout(() => {
          if (settled || ticket !== latest) return;
          restart();
          if (again) attempt(false);
        }, 15000);
        run(ticket, job, events, onAdvice)
          .catch(() => {
            restart();
            if (again && ticket === latest) attempt(false);
          })
          .finally(() => {
            settled = true;
            clearTimeout(dead);
          });
      };
      attempt(true);
    },
    expect: async (job, probe) => api().expect(job, probe),
    settle(next) {
      habits = next;
    },
  };
}

let client: EngineClient | null = null;
export const engineClient = (): EngineClient => (client ??= createEngineClient());
