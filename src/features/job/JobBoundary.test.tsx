import { screen, waitFor } from '@testing-library/react';
import { jobStore } from '@/storage';
import { JobMaker, press, pressId, renderScreen, routes } from '@/testing/renderJob';
import { parseJobFile } from '@core/job';
import { JobBoundary } from './JobBoundary';

let broken = true;
function Stage() {
  if (broken) throw new Error('no such section');
  return <>the stage</>;
}

const mockSaved: string[] = [];
jest.mock('@/files', () => ({ ...jest.requireActual<object>('@/files'), saveFile: (_name: string, _type: string, content: string) => void mockSaved.push(content) }));

beforeEach(() => {
  mockSaved.length = 0;
  broken = true;
  // React tells of what it caught.
  jest.spyOn(console, 'error').mockImplementation(() => undefined);
});
afterEach(() => jest.restoreAllMocks());

test('a stage that cannot be shown says so, and the job goes out as it is kept', async () => {
  const job = new JobMaker('radial, 3').dead().read('continuity', 's1@a:N', 'p1/f1:N', 0.1);
  await jobStore().save(job.file);
  renderScreen(<JobBoundary id={job.id}><Stage /></JobBoundary>);
  expect(screen.getByTestId('problem').textContent).toContain('no such section');
  await pressId('broken-export');
  await waitFor(() => expect(mockSaved).toHaveLength(1));
  const file = parseJobFile(mockSaved[0] ?? '');
  expect(file.ok && file.value).toEqual(job.file);
});

test('the other stages and all jobs are a press away; once it works it is shown', async () => {
  renderScreen(<JobBoundary id="j1"><Stage /></JobBoundary>);
  await press('Hand over');
  await press('All jobs');
  expect(routes.slice(-2)).toEqual(['/job/j1/over', '/']);
  broken = false;
  await press('Show it again');
  expect(screen.getByText('the stage')).toBeTruthy();
});
