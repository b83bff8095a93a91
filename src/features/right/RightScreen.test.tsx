import { screen, waitFor } from '@testing-library/react';
import { hold, JobMaker, kept, keptView, press, pressId, renderJob, routes, type } from '@/testing/renderJob';
import { RightScreen } from './RightScreen';

/** A radial of three whose neutral is off at p2: the readings name it. */
const found = (): JobMaker =>
  new JobMaker('radial, 3').dead().read('continuity', 's1@a:N', 'p1/f1:N', 0.07).read('continuity', 's1@a:N', 'p2/f1:N', 'above').read('continuity', 's1@a:N', 'p2/f1:N', 'above')
    .read('continuity', 's1@a:L', 'p3/f1:L', 0.2).read('continuity', 's1@a:E', 'p3/f1:E', 0.3);
const mended = (): JobMaker => found().add({ type: 'mended', suspect: 'open s2:N', place: 's2', how: 'replaced', text: 'new cable', explains: 'yes' });
const rejoined = (): JobMaker => mended().add({ type: 'putBack', point: 'p0', ends: ['s1@a:L', 's1@a:N', 's1@a:E'] });

test('what was found is offered for mending, and the mend asks whether it explains the complaint', async () => {
  const job = found();
  await renderJob(job, <RightScreen />);
  const [row] = await screen.findAllByLabelText(/^Mend N /);
  await press(row?.getAttribute('aria-label') ?? '');
  expect(screen.getByTestId('mend-sheet').textContent).toContain('Nothing was asked, so nothing is computed.');
  await type('In words', 'new end');
  await pressId('record-mend');
  expect((await kept(job, 'mended'))[0]).toMatchObject({ how: 'repaired', text: 'new end', explains: 'not sure' });
});

test('the put-back list gates power and closing', async () => {
  const job = mended();
  await renderJob(job, <RightScreen />);
  expect(screen.getByTestId('power-gate').textContent).toMatch(/^Power stays off/);
  expect(screen.queryByTestId('power-on')).toBeNull();
  expect(screen.getByTestId('close-job').getAttribute('aria-disabled')).toBe('true');
  await hold(/^Back at /);
  await hold(/^Cover on: /);
  expect((await keptView(job)).state.out).toEqual([]);
  expect(screen.getByTestId('power-on')).toBeTruthy();
  expect(screen.getByTestId('close-job').getAttribute('aria-disabled')).not.toBe('true');
});

test('a thing left as it is needs words that say how it is safe', async () => {
  const job = mended();
  await renderJob(job, <RightScreen />);
  const [leave] = screen.getAllByText('Leave safe');
  if (!leave) throw new Error('nothing to leave');
  await press(/^Back at /); // a press is not a hold: nothing happens
  expect((await keptView(job)).state.out).toHaveLength(3);
});

test('retests show what is expected before they are read, and wait until all is rejoined', async () => {
  await renderJob(mended(), <RightScreen />);
  expect(screen.getByTestId('proof').textContent).toContain('Not proved');
  const row = screen.getByTestId('retest-continuity N p3').textContent;
  expect(row).toMatch(/0\.\d+ Ω/);
  expect(screen.getByTestId('read-continuity N p3').getAttribute('aria-disabled')).toBe('true');
});

test('a retest is not read before its points are proved and its covers are off; covers wait for it', async () => {
  const job = rejoined();
  await renderJob(job, <RightScreen />);
  // The cover that it is read behind comes after it.
  expect(screen.getByTestId('retest-insulation LN').compareDocumentPosition(screen.getByTestId('cover-p0')) & Node.DOCUMENT_POSITION_FOLLOWING).toBeTruthy();
  expect(screen.getByTestId('read-continuity N p3').getAttribute('aria-disabled')).toBe('true');
  expect(screen.getByTestId('needs-continuity N p3').textContent).toContain('Prove dead first');
  // The way there is offered once, at the first row that waits.
  const [way, ...more] = screen.getAllByTestId(/^make-dead-/);
  expect(more).toEqual([]);
  await pressId(way?.getAttribute('data-testid') ?? '');
  expect(routes.at(-1)).toMatch(/dead\?points=p\d&back=right/);
});

test('with the board’s cover on again a retest asks for it off first, and then for its proof', async () => {
  await renderJob(rejoined().proved('p3').add({ type: 'coverOn', point: 'p0' }), <RightScreen />);
  const row = 'needs-insulation LN';
  expect(screen.getByTestId(row).textContent).toContain('It is read with the cover off: Board');
  expect(screen.getByTestId('read-insulation LN').getAttribute('aria-disabled')).toBe('true');
});

test('a retest is read on the pad and judged: met inside its bounds, not met outside', async () => {
  const job = rejoined().proved('p3');
  await renderJob(job, <RightScreen />);
  await pressId('read-continuity N p3');
  for (const k of ['9']) await pressId(`key-${k}`);
  await pressId('keep');
  if (screen.queryByTestId('doubtful')) await pressId('keep');
  await waitFor(() => expect(screen.getByTestId('retest-continuity N p3').textContent).toContain('not met'));
  // Where a retest failed it is never said that nothing else stands out: a place is named, or one goes on.
  expect(screen.queryByText('Nothing else stands out.')).toBeNull();
  const expected = Number(/([\d.]+) Ω/.exec(screen.getByTestId('retest-continuity N p3').textContent)?.[1]);
  await pressId('read-continuity N p3');
  for (const k of expected.toFixed(2)) await pressId(`key-${k}`);
  await pressId('keep');
  await waitFor(() => expect(screen.getByTestId('retest-continuity N p3').textContent).toContain('✓ met'));
});

test('a test that is not done says because, and the job is not proved', async () => {
  const job = rejoined();
  await renderJob(job, <RightScreen />);
  await pressId('hand-live rcd');
  expect(screen.getByTestId('keep-because').getAttribute('aria-disabled')).toBe('true');
  await type('Not done, because', 'no RCD tester here');
  await pressId('keep-because');
  expect((await kept(job, 'liveTest'))[0]).toMatchObject({ result: null, because: 'no RCD tester here' });
  expect(screen.getByTestId('proof').textContent).toContain('Not proved');
});

test('a circuit with no board drawn is asked whether there is an RCD: none here is an answer', async () => {
  const job = rejoined();
  await renderJob(job, <RightScreen />);
  expect(screen.getByTestId('retest-live rcd').textContent).toContain('RCD, if there is one');
  await pressId('hand-live rcd');
  await pressId('no-rcd');
  await waitFor(() => expect(screen.getByTestId('retest-live rcd').textContent).toContain('✓ none here'));
  expect((await kept(job, 'liveTest'))[0]).toMatchObject({ test: 'rcd', result: 'no RCD here' });
});

test('where nothing was made dead there is no lock to take off and no power to put on', async () => {
  await renderJob(new JobMaker('4 ways, RCD on 1 to 4').add({ type: 'asked', complaint: 'rcd trips', shock: false, notes: '' }), <RightScreen />);
  expect(screen.getByTestId('never-dead').textContent).toMatch(/power is as it was found/);
  expect(screen.queryByTestId('power-on')).toBeNull();
});

test('power on closes the dead steps; handing over is one press away', async () => {
  const job = rejoined().add({ type: 'coverOn', point: 'p0' });
  await renderJob(job, <RightScreen />);
  await hold('Lock off, power on, hold');
  expect((await keptView(job)).energised).toBe(true);
  expect((await keptView(job)).secured).toBeNull();
  await pressId('to-over');
  expect(routes.at(-1)).toContain('/over');
});

test('with two people power waits until the one with hands on has said so', async () => {
  const job = rejoined().add({ type: 'coverOn', point: 'p0' }, { type: 'secured', permission: true, off: true, locked: true, key: 'me', people: { hands: 'apprentice', board: 'me' } });
  await renderJob(job, <RightScreen />);
  expect(screen.getByTestId('power-on').getAttribute('aria-disabled')).toBe('true');
  await hold('Lock off, power on, hold');
  expect(await kept(job, 'energised')).toHaveLength(0);
  await pressId('hands-off');
  await hold('Lock off, power on, hold');
  expect(await kept(job, 'energised')).toHaveLength(1);
});

test('one break with three places still open is not said to be found: each is possible, and can be mended', async () => {
  await renderJob(found(), <RightScreen />);
  await screen.findAllByLabelText(/^Mend N /);
  const text = screen.getByText(/^what was found$/i).parentElement?.textContent ?? '';
  const [before = '', possible = ''] = (text.split(/what was found/i)[1] ?? '').split(/not found, but still possible/i);
  expect(before).toBe('No suspect stands out yet. Trace first.');
  expect(possible).toMatch(/^N /);
});

test('a sound circuit says that nothing was found', async () => {
  const job = new JobMaker('radial, 1').dead();
  for (const [a, b] of [['N', 'E'], ['L', 'E'], ['L', 'N']] as const) job.read('insulation', `s1@a:${a}`, `s1@a:${b}`, 'above');
  await renderJob(job, <RightScreen />);
  expect(screen.queryByText(/^not found, but still possible$/i)).toBeNull();
});

test('an earth that had volts on it is mended: what leaks to it is still owed, and “nothing else” is not said', async () => {
  const job = new JobMaker('radial, 3').add({ type: 'liveRead', test: { kind: 'voltage', from: 'p3/f1:N', to: 'p3/f1:E', volt: 152, meter: 'low' } }).dead().add({ type: 'mended', suspect: 'open s2:E', place: 's2', how: 'replaced', text: '', explains: 'no' });
  await renderJob(job, <RightScreen />);
  expect(screen.getByTestId('leak-owed').textContent).toMatch(/something leaks to it, and is not found yet/);
  expect(screen.queryByText('Nothing else stands out.')).toBeNull();
});

test('a loop behind a device that nobody has read is neither met nor failed: it is asked what stands on it', async () => {
  const job = new JobMaker('4 ways').add({ type: 'mended', suspect: 'contact c2:LE', place: 'c2', how: 'repaired', text: '', explains: 'yes' });
  await renderJob(job, <RightScreen />);
  await pressId('hand-live loop w2');
  await type('Loop impedance line to earth, in Ω', '0.9');
  await pressId('keep-live');
  const row = (): string => screen.getByTestId('retest-live loop w2').textContent ?? '';
  await waitFor(() => expect(row()).toMatch(/0\.9 Ω/));
  expect(row()).not.toContain('✓ met');
  expect(row()).toMatch(/B32 is a guess\. What is it marked\?/);
  await press('It is B32');
  await waitFor(() => expect(row()).toContain('✓ met'));
  expect(row()).not.toMatch(/guess/);
});

test('another device than was guessed is said on the map, at its way', async () => {
  await renderJob(new JobMaker('4 ways').add({ type: 'mended', suspect: 'contact c2:LE', place: 'c2', how: 'repaired', text: '', explains: 'yes' }, { type: 'liveTest', test: 'loop w2', result: '0.9 Ω', because: null }), <RightScreen />);
  await pressId('another-w2');
  expect(routes.at(-1)).toMatch(/\/map\?way=w2$/);
});
