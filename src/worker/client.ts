import * as Comlink from 'comlink';
import type { EngineApi } from './contract';
import { createEngineClient, type Connection, type EngineClient } from './engineClient';

/** The engine in a worker of its own. */
function connectWorker(): Connection {
  const worker = new Worker(new URL('./engine.worker.ts', import.meta.url));
  let end: () => void = () => undefined;
  const died = new Promise<never>((_, refuse) => {
    end = () => {
      worker.terminate();
      refuse(new Error('the engine was ended'));
    };
    worker.addEventListener('error', () => end());
  });
  // Whoever waits for an answer hears of it; by itself it is no error of the page.
  died.catch(() => undefined);
  return { api: Comlink.wrap<EngineApi>(worker), died, end };
}

let client: EngineClient | null = null;
export const engineClient = (): EngineClient => (client ??= createEngineClient(connectWorker));
