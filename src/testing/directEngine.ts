import type { Habits } from '@core/planning';
import type { EngineClient } from '@/worker/client';
import type { EngineApi } from '@/worker/contract';
import { createEngineHost } from '@/worker/engineHost';

/** The engine without a worker: the same code, answering in the next turns of the loop. */
export function directEngine(): EngineClient {
  const host: EngineApi = createEngineHost();
  let habits: Habits | undefined;
  return {
    advise(job, events, onAdvice) {
      setTimeout(() => {
        const answer = host.believe({ job, revision: events.length, from: 0, events, now: Date.now(), ...(habits ? { habits } : {}) });
        if (answer.says !== 'advice') return;
        onAdvice(answer.advice, false);
        void host.plan(job, events.length, Date.now()).then((planned) => {
          if (planned.says === 'advice') onAdvice(planned.advice, true);
        });
      }, 0);
    },
    settle(next) {
      habits = next;
    },
    expect: (job, probe) => Promise.resolve(host.expect(job, probe)),
  };
}
