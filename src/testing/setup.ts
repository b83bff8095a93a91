import { configure } from '@testing-library/react';
import { webcrypto } from 'node:crypto';

// What the browser has and the test's page lacks.
if (!('randomUUID' in globalThis.crypto)) Object.defineProperty(globalThis, 'crypto', { value: webcrypto });

// A missing element is told in a line, not with the whole page.
process.env.DEBUG_PRINT_LIMIT = '0';

// The router only notes where it was sent; the engine runs without a worker, the same code.
jest.mock('expo-router', () => jest.requireActual<typeof import('./renderJob')>('./renderJob').mockRouter());
jest.mock('@/worker/client', () => {
  let engine: unknown;
  return { engineClient: () => (engine ??= jest.requireActual<typeof import('./directEngine')>('./directEngine').directEngine()) };
});

// The engine answers in the same thread: a busy machine takes longer than the usual second.
configure({ asyncUtilTimeout: 30_000 });
