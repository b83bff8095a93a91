import { Advisor } from '@core/advice';
import { ohmOfT } from '@core/belief';
import { deriveJob, type JobEvent, type JobView } from '@core/job';
import { respond } from '@core/probes';
import type { Answer, Ask, EngineApi, Expected } from './contract';

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
      const answers = now?.engine.answersOf(view.state, probe);
      if (!now || !answers) return null;
      const { engine, belief } = now;
      const ohm = (i: number, x: number, d: number, s: number): number => respond(answers.to(i), x, d, Math.exp(s));
      const best = belief.weight.indexOf(Math.max(...belief.weight));
      const i = belief.cells.suspect[best] as number;
      const suspect = engine.suspects[i];
      const t = belief.cells.tCentre[best] as number;
      const x = Number.isNaN(t) ? (belief.cells.fixedOhm[best] as number) : ohmOfT(belief.t[best] as number);
      const named = suspect && suspect.kind !== 'sound' && suspect.kind !== 'unknown' && now.observations.length > 0;
      return { sound: ohm(0, 0, 0, 0), suspect: named ? ohm(i, x, belief.d[best] as number, belief.s[best] as number) : null, suspectId: named ? suspect.id : null };
    },
  };
}
