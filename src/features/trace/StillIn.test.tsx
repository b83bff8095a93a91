import { screen, waitFor } from '@testing-library/react';
import { JobMaker, kept, keptView, pressId, renderJob } from '@/testing/renderJob';
import { loadsOf } from '@core/installation';
import { TraceScreen } from './TraceScreen';

/** Everything is out by the record, and yet 36 Ω show between line and neutral, least at p2. */
function stillIn(): JobMaker {
  const job = new JobMaker('radial, 3').dead();
  const parts = job.map.points.flatMap((p) => loadsOf(p).map((l) => `${p.id}.${l.id}`));
  job.add({ type: 'loadsMoved', parts, out: true });
  for (const [place, ohm] of [['s1@a', 36.3], ['p2/f1', 36], ['p3/f1', 36.1], ['p2/f1', 36]] as const) job.read('continuity', `${place}:L`, `${place}:N`, ohm);
  return job;
}

test('what the record has as out and the readings do not is corrected in a tap, for the readings taken since', async () => {
  const job = stillIn();
  await renderJob(job, <TraceScreen />);
  await waitFor(() => expect(screen.getByTestId('next-step').textContent).not.toMatch(/Working/), { timeout: 30000 });
  if (!screen.queryByTestId('was-still p2.plug')) await pressId('open-suspects');
  expect((await screen.findAllByText(/A load is in at/)).length).toBeGreaterThan(0);
  await pressId('was-still p2.plug');
  expect(await kept(job, 'wasStill')).toMatchObject([{ part: 'p2.plug', now: 'out' }]);
  const view = await keptView(job);
  expect(view.readings.every((r) => !r.state.loadsOut.includes('p2.plug'))).toBe(true);
  expect(view.state.loadsOut).toContain('p2.plug');
  await pressId('state-bar');
  expect(screen.getByTestId('state-sheet').textContent).toMatch(/record put right: .* was still in/);
  expect(screen.getByTestId('state-sheet').textContent).not.toContain('p2.plug');
});
