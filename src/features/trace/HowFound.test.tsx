import { screen } from '@testing-library/react';
import { JobMaker, kept, keptView, pressId, renderJob } from '@/testing/renderJob';
import { TraceScreen } from './TraceScreen';

/** A way read at the board, then drawn with a switch in it. */
function drawnAfter(): JobMaker {
  const job = new JobMaker('4 ways, RCD on 1 to 4').dead();
  job.read('insulation', 'p0:W2', 'p0:E', 200e6);
  job.add({ type: 'mapEdited', edit: { edit: 'drawCircuit', way: 'w2', phrase: 'lights, 3, one switch' } });
  return job;
}

test.each([['found-off', true], ['found-on', false]] as const)('how a switch stood is asked once, when it is drawn after something was read there: %s', async (button, off) => {
  const job = drawnAfter();
  await renderJob(job, <TraceScreen />);
  expect((await screen.findByTestId('how-found')).textContent).toMatch(/stand when the readings so far were taken/);
  await pressId(button);
  const [event] = await kept(job, 'switched');
  expect(event).toMatchObject({ off, found: true });
  const view = await keptView(job);
  expect(view.readings[0]?.state.off.includes(event?.part ?? '')).toBe(off);
  expect(screen.queryByTestId('how-found')).toBeNull();
});
