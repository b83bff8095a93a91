import { Advisor, expectedAt, type Expected } from '@core/advice';
import { deriveJob, type JobEvent, type JobView } from '@core/job';
import type { Answer, Ask, EngineApi } from './contract';

/** The worker's side: keeps the log of the job in hand and answers. Plain code, so that tests run it without a worker. */
export function createEngineHost(): EngineApi {
  const advisor = new Advisor();
  let job = '';
  let events: JobEvent[] = [];

  const viewNow = (now: number): JobView => deriveJob(events, now);
  return {
    believe(ask: Ask): Answer {
      if (ask.habits) advisor.settle(ask.habits);
      if (ask.job !== job) {
        if (ask.from !== 0) return { says: 'need all' };
        job = ask.job;
        events = [];
      }
      if (ask.from > events.length) return { says: 'need all' };
      events = [...events.slice(0, ask.from), ...ask.events];
      if (events.length !== ask.revision) return { says: 'need all' };
      return { says: 'advice', revision: ask.revision, advice: advisor.advise(viewNow(ask.now), false), planned: false };
    },
    async plan(id, revision, now): Promise<Answer> {
      // Let a newer request in first: planning for an older one would be wasted.
      await new Promise((resolve) => setTimeout(resolve, 0));
      if (id !== job || revision !== events.length) return { says: 'stale' };
      return { says: 'advice', revision, advice: advisor.advise(viewNow(now), true), planned: true };
    },
    expect(id, probe): Expected | null {
      if (id !== job) return null;
      const view = viewNow(Date.now());
      const now = advisor.believe(view);
      return now && expectedAt(now, view, probe);
    },
  };
}
