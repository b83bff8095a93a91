import { screen, waitFor } from '@testing-library/react';
import { kept, JobMaker, press, renderJob } from '@/testing/renderJob';
import { Button } from '@/components';
import { JobFrame } from './JobFrame';
import { useJob } from './JobProvider';

function Clamp({ mA }: { mA: number }) {
  const { record } = useJob();
  return <Button label={`${mA} mA`} onPress={() => record({ type: 'liveRead', test: { kind: 'clamp', around: 'main', mA, filtered: true, peak: false } })} />;
}

test('an entry with a figure that cannot be is refused in words and not kept; the next good one is taken', async () => {
  const job = new JobMaker('4 ways, RCD on all');
  await renderJob(job, <JobFrame stage="live"><Clamp mA={1e12} /><Clamp mA={12} /></JobFrame>);
  await press('1000000000000 mA');
  expect(screen.getByTestId('refused-entry').textContent).toContain('a figure that cannot be');
  expect(await kept(job, 'liveRead')).toHaveLength(0);
  await press('12 mA');
  expect(screen.queryByTestId('refused-entry')).toBeNull();
  await waitFor(async () => expect(await kept(job, 'liveRead')).toHaveLength(1));
});
