import type { Advice } from '@core/advice';
import type { JobEvent } from '@core/job';
import type { Answer, Ask } from './contract';
import { createEngineClient, type Connection, type EngineClient, type Listener } from './engineClient';

const log = (n: number): JobEvent[] => Array.from({ length: n }, (_, i) => ({ id: `e${i}`, at: 0, type: 'noted', text: '', severity: 'observation' }));
const advice = {} as Advice;
const settle = async (): Promise<void> => {
  for (let i = 0; i < 20; i++) await Promise.resolve();
};

/** An engine whose answers come when the test says so. */
class Engines {
  readonly asked: Ask[] = [];
  readonly planned: number[] = [];
  begun = 0;
  ended = 0;
  private waiting: { answer: (a: Answer) => void; refuse: (e: Error) => void; revision: number }[] = [];
  private die: (e: Error) => void = () => undefined;

  connect = (): Connection => {
    this.begun++;
    const wait = (revision: number): Promise<Answer> => new Promise((answer, refuse) => this.waiting.push({ answer, refuse, revision }));
    const died = new Promise<never>((_, refuse) => {
      this.die = refuse;
    });
    died.catch(() => undefined);
    return {
      api: {
        believe: (ask) => {
          this.asked.push(ask);
          return wait(ask.revision);
        },
        plan: (_, revision) => {
          this.planned.push(revision);
          return wait(revision);
        },
        expect: () => Promise.resolve(null),
      },
      died,
      end: () => {
        this.ended++;
      },
    };
  };
  async answer(): Promise<void> {
    const next = this.waiting.shift();
    next?.answer({ says: 'advice', revision: next.revision, advice, planned: false });
    await settle();
  }
  async throws(): Promise<void> {
    this.waiting.shift()?.refuse(new Error('a bug'));
    await settle();
  }
  async dies(): Promise<void> {
    this.waiting = [];
    this.die(new Error('gone'));
    await settle();
  }
}

class Heard implements Listener {
  readonly told: string[] = [];
  failures = 0;
  advice(_: Advice | null, planned: boolean, events: readonly JobEvent[]): void {
    this.told.push(`${events.length}${planned ? ' with a step' : ''}`);
  }
  failed(): void {
    this.failures++;
  }
}

/** A client that has been asked about a log of so many events. */
async function asked(n: number): Promise<{ engines: Engines; heard: Heard; client: EngineClient }> {
  const engines = new Engines();
  const heard = new Heard();
  const client = createEngineClient(engines.connect);
  client.advise('j', log(n), heard);
  await settle();
  return { engines, heard, client };
}

test('entered faster than it can be weighed: what works is not cut off, its belief is shown, and the newest is next', async () => {
  const { engines, heard, client } = await asked(3);
  for (const n of [4, 5, 6]) client.advise('j', log(n), heard);
  expect(engines.asked.map((a) => a.revision)).toEqual([3]);
  await engines.answer();
  // Of 3 something can be shown; 4 and 5 are passed over, and no step is sought for 3.
  expect(heard.told).toEqual(['3']);
  expect(engines.asked.map((a) => [a.from, a.revision])).toEqual([[0, 3], [3, 6]]);
  expect(engines.planned).toEqual([]);
  await engines.answer();
  await engines.answer();
  expect(heard.told).toEqual(['3', '6', '6 with a step']);
  expect([engines.begun, engines.ended, heard.failures]).toEqual([1, 0, 0]);
});

test('an engine that dies is begun again with the whole log, and nobody is asked twice', async () => {
  const { engines, heard, client } = await asked(5);
  await engines.answer();
  await engines.answer();
  client.advise('j', log(6), heard);
  await settle();
  await engines.dies();
  expect(engines.asked.map((a) => [a.from, a.revision])).toEqual([[0, 5], [5, 6], [0, 6]]);
  await engines.answer();
  await engines.answer();
  expect(heard.told).toEqual(['5', '5 with a step', '6', '6 with a step']);
  expect([engines.begun, heard.failures]).toEqual([2, 0]);
});

test('a log on which it throws twice is given up and said; the next entry is tried again', async () => {
  const { engines, heard, client } = await asked(4);
  await engines.throws();
  expect(heard.failures).toBe(0);
  await engines.throws();
  expect(heard.failures).toBe(1);
  expect(engines.asked).toHaveLength(2);
  client.advise('j', log(5), heard);
  await settle();
  await engines.answer();
  await engines.answer();
  expect(heard.told).toEqual(['5', '5 with a step']);
  expect(heard.failures).toBe(1);
});

test('an entry that comes while a log fails is tried at once, and its own failures are counted', async () => {
  const { engines, heard, client } = await asked(4);
  await engines.throws();
  client.advise('j', log(5), heard);
  await engines.throws();
  expect(engines.asked.at(-1)?.revision).toBe(5);
  await engines.answer();
  await engines.answer();
  expect([heard.told, heard.failures]).toEqual([['5', '5 with a step'], 0]);
});
