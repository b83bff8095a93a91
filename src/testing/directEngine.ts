import { createEngineClient, type Connection, type EngineClient } from '@/worker/engineClient';
import { createEngineHost } from '@/worker/engineHost';

/** The engine without a worker: the same code and the same client, answering in the next turns of the loop. */
export function directEngine(): EngineClient {
  return createEngineClient((): Connection => {
    const host = createEngineHost();
    const later = <T,>(answer: () => T | Promise<T>): Promise<T> => new Promise((resolve, refuse) => setTimeout(() => {
      try {
        resolve(answer());
      } catch (error) {
        refuse(error instanceof Error ? error : new Error(String(error)));
      }
    }, 0));
    return {
      api: { believe: (ask) => later(() => host.believe(ask)), plan: (job, revision, now) => later(() => host.plan(job, revision, now)), expect: (job, probe) => later(() => host.expect(job, probe)) },
      died: new Promise<never>(() => undefined), end: () => undefined,
    };
  });
}
