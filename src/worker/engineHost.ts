import { Advisor, type Now } from '@core/advice';
import { ohmOfT } from '@core/belief';
import { deriveJob, type JobEvent, type JobView } from '@core/job';
import { forecast, frontOf, placesOf } from '@core/planning';
import { respond, type Answers } from '@core/probes';
import type { Answer, Ask, EngineApi, Expected } from './contract';

const MOST_IN_SPREAD = 80;

/** What everything that may still be wrong foresees for a probe; alike figures are one. */
function spreadOf({ map, engine, belief }: Pick<Now, 'map' | 'engine' | 'belief'>, answers: Answers): Expected['spread'] {
  const numbers = placesOf(map, engine.suspects);
  const front = frontOf(engine, belief, (s) => numbers[s] ?? 0);
  const f = forecast(engine, belief, front, answers);
  const sums = new Map<string, { y: number; sd: number; chance: number }>();
  for (let i = 0; i < f.y.length; i++) {
    const [y, sd, w] = [f.y[i] as number, f.sd[i] as number, front.weight[i] as number];
    const key = `${y.toFixed(2)} ${sd.toFixed(2)}`;
    const old = sums.get(key);
    if (old) old.chance += w;
    else sums.set(key, { y, sd, chance: w });
  }
  return [...sums.values()].sort((a, b) => b.chance - a.chance).slice(0, MOST_IN_SPREAD);
}

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
      const answers = now?.engine.formulas.of(view.state, probe);
      if (!now || !answers) return null;
      const { engine, belief } = now;
      const ohm = (i: number, x: number, d: number, s: number): number => respond(answers.to(i), x, d, Math.exp(s));
      const best = belief.weight.indexOf(Math.max(...belief.weight));
      const i = belief.cells.suspect[best] as number;
      const suspect = engine.suspects[i];
      const t = belief.cells.tCentre[best] as number;
      const x = Number.isNaN(t) ? (belief.cells.fixedOhm[best] as number) : ohmOfT(belief.t[best] as number);
      const named = suspect && suspect.kind !== 'sound' && suspect.kind !== 'unknown' && now.observations.length > 0;
      return { sound: ohm(0, 0, 0, 0), suspect: named ? ohm(i, x, belief.d[best] as number, belief.s[best] as number) : null, suspectId: named ? suspect.id : null, spread: spreadOf(now, answers) };
    },
  };
}
