import { fireEvent, screen, waitFor } from '@testing-library/react';
import { JobMaker, kept, press, pressId, renderScreen, routes, type } from '@/testing/renderJob';
import { jobStore } from '@/storage';
import { listJobs, storage } from '@/storage/meta';
import { deriveJob, writeJobFile } from '@core/job';
import { seedDemo } from './actions';
import { JobsScreen } from './JobsScreen';
import { NewJobScreen } from './NewJobScreen';

// The part behind the lazy door takes its time the first time.
beforeAll(async () => void (await import('@/work')), 60000);

let demoServer = false;
const pottery = new JobMaker('ring, 4').add({ type: 'renamed', name: 'Kiln room' });
const demoJobs = (): unknown => ({ made: Date.now(), jobs: [pottery.file] });
beforeEach(async () => {
  await storage.clear();
  demoServer = false;
  const answer = (url: string): Partial<Response> => ({ ok: true, json: () => Promise.resolve(url.includes('config') ? { demo: demoServer } : demoJobs()) });
  globalThis.fetch = (url) => Promise.resolve(answer(typeof url === 'string' ? url : '') as Response);
});
const pressAfter = async (id: string): Promise<void> => {
  await screen.findByTestId(id);
  await pressId(id);
};
const save = async (job: JobMaker): Promise<JobMaker> => {
  const r = await jobStore().save(job.file);
  if (!r.ok) throw new Error(r.issues[0]?.code);
  return job;
};

test('with no jobs it says what to do, and offers the made-up place', async () => {
  renderScreen(<JobsScreen />);
  await screen.findByText('No jobs yet');
  await pressId('walk-pottery');
  expect(await screen.findByTestId('job-Kiln room')).toBeTruthy();
});

test('a server started for the demo fills an empty browser once; what was deleted stays deleted', async () => {
  demoServer = true;
  renderScreen(<JobsScreen />);
  await screen.findByTestId('job-Kiln room');
  await press('More about Kiln room');
  await press('Delete');
  await screen.findByTestId('undo');
  expect(screen.queryByTestId('job-Kiln room')).toBeNull();
  expect((await listJobs()).filter((j) => j.deletedAt === null)).toEqual([]);
});

test('a deleted job has its place for 30 days and comes back whole, readings and all', async () => {
  const job = new JobMaker('radial, 3').dead().read('continuity', 's1@a:N', 'p1/f1:N', 0.1);
  await jobStore().save(job.file, { deletedAt: Date.now() - 28.5 * 24 * 3600 * 1000 });
  renderScreen(<JobsScreen />);
  await pressAfter('show-deleted');
  const place = await screen.findByTestId('deleted');
  expect(place.textContent).toMatch(/Throwing room.*1 reading; 2 days left/);
  await press('Bring back Throwing room');
  expect((await screen.findByTestId('job-Throwing room')).textContent).toMatch(/0 of 45 min/);
  expect(screen.queryByTestId('show-deleted')).toBeNull();
  expect(await kept(job, 'read')).toHaveLength(1);
});

test('walking the pottery again brings back what was deleted of it, as it was left', async () => {
  renderScreen(<JobsScreen />);
  await pressAfter('walk-pottery');
  await screen.findByTestId('job-Kiln room');
  const [meta] = (await listJobs()).filter((m) => m.demo);
  if (!meta) throw new Error('no demo job');
  const loaded = await jobStore().load(meta.id);
  if (!loaded.ok) throw new Error('not kept');
  const before = loaded.value.events.length;
  await jobStore().save({ ...loaded.value, events: [...loaded.value.events, { type: 'noted', text: 'mine', severity: 'observation', id: 'mine', at: Date.now() }] }, { deletedAt: Date.now() });
  await seedDemo();
  const again = await jobStore().load(meta.id);
  expect(again.ok && again.value.events).toHaveLength(before + 1);
  expect((await listJobs()).find((m) => m.id === meta.id)?.deletedAt).toBeNull();
});

test('a job is listed with its readings and minutes, and opens where work goes on', async () => {
  await save(new JobMaker('radial, 3').dead().read('continuity', 's1@a:N', 'p1/f1:N', 0.1));
  renderScreen(<JobsScreen />);
  const row = await screen.findByTestId('job-Throwing room');
  expect(row.textContent).toMatch(/1 reading/);
  expect(row.textContent).toMatch(/0 of 45 min/);
  await pressId('job-Throwing room');
  expect(routes.at(-1)).toMatch(/\/trace$/);
});

test('a job that nobody has asked about opens at its questions; a closed one at its report', async () => {
  await save(new JobMaker('radial, 3'));
  await save(new JobMaker('radial, 3').add({ type: 'renamed', name: 'Old shed' }, { type: 'closed', state: 'closed' }));
  renderScreen(<JobsScreen />);
  await screen.findByTestId('job-Old shed');
  await pressId('job-Throwing room');
  await pressId('job-Old shed');
  expect(routes.map((r) => r.split('/').at(-1))).toEqual(['ask', 'over']);
});

test('a new name is written to the job itself', async () => {
  const job = await save(new JobMaker('radial, 3'));
  renderScreen(<JobsScreen />);
  await screen.findByTestId('job-Throwing room');
  await press('More about Throwing room');
  await type('Name', 'Glaze store');
  await press('Save name');
  await screen.findByTestId('job-Glaze store');
  const loaded = await jobStore().load(job.id);
  expect(loaded.ok && deriveJob(loaded.value.events, 0).name).toBe('Glaze store');
});

test('deleted is undone with one press, readings and all', async () => {
  const job = await save(new JobMaker('radial, 3').dead().read('continuity', 's1@a:N', 'p1/f1:N', 0.1));
  renderScreen(<JobsScreen />);
  await screen.findByTestId('job-Throwing room');
  await press('More about Throwing room');
  await press('Delete');
  await screen.findByText(/is deleted. It stays for 30 days/);
  fireEvent.click(screen.getByText('Undo'));
  await screen.findByTestId('job-Throwing room');
  const loaded = await jobStore().load(job.id);
  expect(loaded.ok && loaded.value.events.filter((e) => e.type === 'read')).toHaveLength(1);
});

/** What the file picker hands over. */
async function open(text: string): Promise<void> {
  await pressId('open-file');
  const input = document.querySelector<HTMLInputElement>('input[type=file]');
  if (!input) throw new Error('no picker');
  Object.defineProperty(input, 'files', { value: [{ name: 'job.json', text: () => Promise.resolve(text) }] });
  fireEvent.change(input);
}

test('a job file comes in; the same once more comes in beside it, not over it', async () => {
  const job = new JobMaker('radial, 3');
  renderScreen(<JobsScreen />);
  await screen.findByText('No jobs yet');
  await open(writeJobFile(job.file));
  await waitFor(() => expect(routes.at(-1)).toBe(`/job/${job.id}/trace`));
  await open(writeJobFile(job.file));
  await waitFor(async () => expect(await listJobs()).toHaveLength(2));
});

test.each([['{"format":"gutter-job","vers', /cut short/], ['{"format":"something"}', /not a Gutter job|not.*job file/i], ['{"format":"gutter-job","version":9,"events":[]}', /newer/i]])('a file “%s” opens nothing and says so', async (text, words) => {
  renderScreen(<JobsScreen />);
  await screen.findByText('No jobs yet');
  await open(text);
  await waitFor(() => expect(screen.getByTestId('problem').textContent).toMatch(words));
  expect(await listJobs()).toEqual([]);
});

describe('a new job', () => {
  test('nothing is chosen beforehand: it starts when a number of points is given', async () => {
    renderScreen(<NewJobScreen />);
    expect(screen.getByTestId('start-job').getAttribute('aria-disabled')).toBe('true');
    await pressId('count-9');
    expect(screen.getByTestId('drafted').textContent).toContain('9 points, 10 cables');
    await pressId('start-job');
    await waitFor(() => expect(routes.at(-1)).toMatch(/^\/job\/.+\/ask$/));
    const [meta] = await listJobs();
    expect(meta).toMatchObject({ phrase: 'ring, 9', agreedMin: 45, readings: 0 });
  });

  test('lights ask for a switch; a phrase takes the place of what was tapped', async () => {
    renderScreen(<NewJobScreen />);
    await press('Lights');
    await pressId('count-6');
    await press('One switch');
    expect(screen.getByTestId('drafted').textContent).toContain('7 points');
    await press('Two-way');
    expect(screen.getByTestId('drafted').textContent).toContain('8 points');
    await press('Loop-in');
    expect(screen.getByTestId('drafted').textContent).toContain('12 points');
    await press('One switch');
    await type(/Or say it/, 'tree, 4, branch 2 at 3');
    expect(screen.getByTestId('drafted').textContent).toContain('6 points, 6 cables');
    await type(/Or say it/, '');
    expect(screen.getByTestId('drafted').textContent).toContain('7 points');
  });

  test('a phrase that cannot be drafted says why and keeps the words', async () => {
    renderScreen(<NewJobScreen />);
    await type(/Or say it/, 'ring, 1');
    expect(screen.getByTestId('problem').textContent).toMatch(/ring/i);
    expect(screen.getByTestId('start-job').getAttribute('aria-disabled')).toBe('true');
    expect(screen.getByTestId<HTMLInputElement>('phrase').value).toBe('ring, 1');
  });

  test('when storage refuses, it says so and stays', async () => {
    const full = jest.spyOn(storage, 'setMany').mockRejectedValue(new Error('QuotaExceededError'));
    renderScreen(<NewJobScreen />);
    await pressId('count-4');
    await pressId('start-job');
    await waitFor(() => expect(screen.getByTestId('problem').textContent).toMatch(/would not keep the job.*still here/));
    expect(routes).toEqual([]);
    full.mockRestore();
  });
});
