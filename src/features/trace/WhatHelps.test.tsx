import { screen, waitFor } from '@testing-library/react';
import { JobMaker, kept, pressId, renderJob, routes } from '@/testing/renderJob';
import { Advisor } from '@core/advice';
import { deriveJob } from '@core/job';
import { TraceScreen } from './TraceScreen';

let keys: readonly string[] | null = null;
/** A job in which everything that was offered has been turned down. */
function turnedDown(): JobMaker {
  const job = new JobMaker('radial, 1').dead();
  if (keys) return job.add(...keys.map((step) => ({ type: 'notNow', step })));
  const found: string[] = [];
  for (let i = 0; i < 60; i++) {
    const steps = new Advisor().advise(deriveJob(job.file.events, Date.now()))?.steps ?? [];
    if (!steps.length) {
      keys = found;
      return job;
    }
    for (const { key: step } of steps) {
      found.push(step);
      job.add({ type: 'notNow', step });
    }
  }
  throw new Error('steps without end');
}

test('where no step is left the card says what would help: what was turned down comes back at a tap', async () => {
  const job = turnedDown();
  await renderJob(job, <TraceScreen />);
  await waitFor(() => expect(screen.getByTestId('next-step').textContent).toMatch(/No reading in reach tells more.*would help:/), { timeout: 30000 });
  await pressId('help-turnedDown');
  await waitFor(() => expect(screen.getByTestId('step-title').textContent).not.toBe(''), { timeout: 30000 });
  expect((await kept(job, 'struck')).length).toBe(job.file.events.filter((e) => e.type === 'notNow').length);
}, 60000);

test('and it can be left safe', async () => {
  await renderJob(turnedDown(), <TraceScreen />);
  await waitFor(() => expect(screen.getByTestId('help-safe')).toBeTruthy(), { timeout: 30000 });
  await pressId('help-safe');
  expect(routes.at(-1)).toMatch(/\/right$/);
}, 60000);
