import { cleanup, screen } from '@testing-library/react';
import { JobMaker, keptView, press, pressId, renderJob, routes, type } from '@/testing/renderJob';
import { AskScreen } from './AskScreen';

const advice = (): string => screen.getByTestId('first-advice').textContent ?? '';

test('a complaint is one tap, kept at once, and answered with first advice', async () => {
  const job = new JobMaker('radial, 3');
  await renderJob(job, <AskScreen />);
  expect(screen.queryByTestId('first-advice')).toBeNull();
  await press('RCD trips');
  expect((await keptView(job)).asked.complaint).toBe('rcd trips');
  expect(advice()).toMatch(/Unplug what can be unplugged first/);
});

test('a suspected short gets dead tests, not closing to see', async () => {
  await renderJob(new JobMaker('radial, 3'), <AskScreen />);
  await press('MCB trips or fuse blows');
  expect(advice()).toMatch(/Do not close it to see/);
});

test('an answer is kept, tells what it made likelier and why, and sharpens the advice', async () => {
  const job = new JobMaker('radial, 3');
  await renderJob(job, <AskScreen />);
  await press('RCD trips');
  await pressId('answer-tripsWhen-atOnce');
  expect((await keptView(job)).asked.answers).toEqual({ tripsWhen: 'atOnce' });
  expect(screen.getByTestId('answered-tripsWhen').textContent).toMatch(/likelier, because it trips at once: line touches earth/);
  expect(screen.getByTestId('likely-now').textContent).toMatch(/^MOST LIKELY NOWline touches earth/);
  expect(advice()).toContain('L–E');
});

test('what trips at once whenever it is reset stands off, until it is told otherwise', async () => {
  const job = new JobMaker('4 ways, RCD on 1 to 4');
  await renderJob(job, <AskScreen />);
  await press('RCD trips');
  await pressId('answer-tripsWhen-atOnce');
  expect((await keptView(job)).state.off).toEqual(['p0.G1L', 'p0.G1N']);
  await pressId('answered-tripsWhen');
  await pressId('answer-tripsWhen-odd');
  expect((await keptView(job)).state.off).toEqual([]);
});

test('an answer given after it was made dead switches nothing: how it stands is how it was left', async () => {
  const job = new JobMaker('4 ways, RCD on 1 to 4').add({ type: 'asked', complaint: 'rcd trips', shock: false, notes: '' }, { type: 'answered', question: 'tripsWhen', answer: 'atOnce' }).secured();
  await renderJob(job, <AskScreen />);
  const { off } = (await keptView(job)).state;
  await pressId('answered-tripsWhen');
  await pressId('answer-tripsWhen-odd');
  expect((await keptView(job)).state.off).toEqual(off);
});

test('“don’t know” leads on to another question and is no evidence; an answer can be changed', async () => {
  const job = new JobMaker('radial, 3');
  await renderJob(job, <AskScreen />);
  await press('RCD trips');
  const first = screen.getByTestId('question').textContent;
  await pressId('answer-tripsWhen-unknown');
  expect(screen.getByTestId('question').textContent).not.toBe(first);
  expect((await keptView(job)).asked).toMatchObject({ answers: {}, notKnown: ['tripsWhen'] });
  expect(screen.getByTestId('answered-tripsWhen').textContent).toContain('Not known');
  const [row] = screen.getAllByTestId(/^answer-.*-still$|^answer-since-work$/);
  await pressId(row?.getAttribute('data-testid') ?? '');
  const [answered] = screen.getAllByTestId(/^answered-/);
  await pressId(answered?.getAttribute('data-testid') ?? '');
  expect(screen.getByTestId('question')).toBeTruthy();
});

test('the first advice is over once something was read, unless a step with the supply on comes next', async () => {
  const asked = [{ type: 'asked', complaint: 'rcd trips', shock: false, notes: '' }] as const;
  await renderJob(new JobMaker('radial, 3').add(...asked), <AskScreen />);
  expect(screen.getByTestId('first-advice')).toBeTruthy();
  cleanup();
  await renderJob(new JobMaker('radial, 3').add(...asked).dead().read('insulation', 's1@a:L', 's1@a:E', 2e5), <AskScreen />);
  expect(screen.queryByTestId('first-advice')).toBeNull();
});

test('what nobody knew is not asked again after another screen; it can be answered, and taken back to not known', async () => {
  const job = new JobMaker('radial, 3').add({ type: 'asked', complaint: 'rcd trips', shock: false, notes: '' }, { type: 'answered', question: 'tripsWhen', answer: null });
  await renderJob(job, <AskScreen />);
  expect(screen.queryByTestId('answer-tripsWhen-unknown')).toBeNull();
  await pressId('answered-tripsWhen');
  await pressId('answer-tripsWhen-odd');
  expect((await keptView(job)).asked).toMatchObject({ answers: { tripsWhen: 'odd' }, notKnown: [] });
  await pressId('answered-tripsWhen');
  await pressId('answer-tripsWhen-unknown');
  expect((await keptView(job)).asked).toMatchObject({ answers: {}, notKnown: ['tripsWhen'] });
});

test('a shock brings the make-safe card on top, and it stays while the complaint changes', async () => {
  const job = new JobMaker('radial, 3');
  await renderJob(job, <AskScreen />);
  expect(screen.queryByTestId('danger-shock')).toBeNull();
  await press('Shock or tingle');
  expect(screen.getByTestId('danger-shock').textContent).toContain('independent earth');
  await press('RCD trips');
  expect(screen.getByTestId('danger-shock')).toBeTruthy();
  expect((await keptView(job)).asked).toMatchObject({ complaint: 'rcd trips', shock: true });
  await press('Nobody had a shock after all');
  expect(screen.queryByTestId('danger-shock')).toBeNull();
});

test('a lost supply neutral is not the electrician’s to mend: it says whom to call', async () => {
  await renderJob(new JobMaker('radial, 3'), <AskScreen />);
  await press('Flicker or heat');
  await pressId('answer-smell-none');
  await pressId('answer-brightDim-everywhere');
  expect(screen.getByTestId('danger-supplyNeutral').textContent).toMatch(/call the network operator/);
});

test('what was seen is one tap, its place a second, and both are evidence', async () => {
  const job = new JobMaker('radial, 3');
  await renderJob(job, <AskScreen />);
  await press('RCD trips');
  await pressId('seen-screws');
  await press('Outlet 2');
  expect((await keptView(job)).asked.seen).toEqual([{ what: 'screws', place: 'p2' }]);
  expect(screen.getByTestId('where-screws').textContent).toMatch(/Fresh screws or shelves at Outlet 2.*Most of all at Outlet 2/);
  await pressId('seen-screws');
  expect((await keptView(job)).asked.seen).toEqual([]);
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

test('trips typed back from the diary: three in the wet are a pattern, and evidence; a time still to come is refused', async () => {
  const job = new JobMaker('radial, 3');
  await renderJob(job, <AskScreen />);
  await press('RCD trips');
  const trip = async (day: string, time: string): Promise<void> => {
    await pressId('type-trip');
    await type(/^Day/, day);
    await type(/^Time/, time);
    await press('Rain, dew, steam');
    await pressId('keep-trip');
  };
  await trip('2099-01-01', '6:30');
  expect(screen.getByTestId('problem').textContent).toMatch(/still to come/);
  await press('Close');
  for (const day of ['2026-01-03', '2026-01-09', '2026-01-12']) await trip(day, '6:30');
  expect(screen.getByTestId('pattern-wet').textContent).toContain('3 of 3');
  const view = await keptView(job);
  expect(view.diaryAnswers).toBe(true);
  expect(view.asked.answers.tripsWhen).toBe('wet');
});

test('what is dead on a board is on a circuit that people can name: it is asked after the dangers, kept, and told back', async () => {
  const job = new JobMaker('4 ways, RCD on 1 to 4');
  await renderJob(job, <AskScreen />);
  await press('All or part is dead');
  await press('None');
  await press('No');
  expect(screen.getByTestId('question').textContent).toMatch(/Which circuit is it on\?.*Way 1.*Way 4.*More than one.*Don’t know/);
  await pressId('answer-where-w3');
  expect((await keptView(job)).asked.answers.where).toBe('w3');
  expect(screen.getByTestId('answered-where').textContent).toMatch(/Way 3 became likelier, and the rest much less likely/);
});
