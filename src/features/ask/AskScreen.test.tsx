import { screen } from '@testing-library/react';
import { JobMaker, keptView, press, pressId, renderJob, routes, type } from '@/testing/renderJob';
import { AskScreen } from './AskScreen';

test('a complaint is one tap, kept at once, and answered with first advice', async () => {
  const job = new JobMaker('radial, 3');
  await renderJob(job, <AskScreen />);
  expect(screen.queryByText('FIRST ADVICE')).toBeNull();
  await press('RCD trips');
  expect((await keptView(job)).asked.complaint).toBe('rcd trips');
  expect(screen.getByText(/Unplug what can be unplugged first/)).toBeTruthy();
});

test('a suspected short gets dead tests, not closing to see', async () => {
  await renderJob(new JobMaker('radial, 3'), <AskScreen />);
  await press('MCB trips or fuse blows');
  expect(screen.getByText(/No closing to see/)).toBeTruthy();
});

test('a shock brings the make-safe card first, and it stays while the complaint changes', async () => {
  const job = new JobMaker('radial, 3');
  await renderJob(job, <AskScreen />);
  expect(screen.queryByTestId('shock')).toBeNull();
  await press('Shock or tingle');
  expect(screen.getByTestId('shock').textContent).toContain('call the network operator');
  await press('RCD trips');
  expect(screen.getByTestId('shock')).toBeTruthy();
  expect((await keptView(job)).asked).toMatchObject({ complaint: 'rcd trips', shock: true });
});

test('water and lately done work are kept beside the complaint', async () => {
  const job = new JobMaker('radial, 3');
  await renderJob(job, <AskScreen />);
  await press('RCD trips');
  await press('Water, steam or rain about');
  await press('Work was done lately: screws, shelves, a new board');
  expect((await keptView(job)).asked).toMatchObject({ complaint: 'rcd trips', wet: true, works: true });
});

test('their own words are kept when said so, and a later answer does not lose them', async () => {
  const job = new JobMaker('radial, 3');
  await renderJob(job, <AskScreen />);
  await type('In their words: when, since when, with what on', 'since the rain on Sunday');
  await press('Keep the words');
  await press('Inspection');
  expect((await keptView(job)).asked).toMatchObject({ notes: 'since the rain on Sunday', complaint: 'inspection' });
  expect(screen.queryByText('Keep the words')).toBeNull();
});

test('the way on is to make dead', async () => {
  const job = new JobMaker('radial, 3');
  await renderJob(job, <AskScreen />);
  await pressId('to-dead');
  expect(routes).toEqual([`/job/${job.id}/dead`]);
});
