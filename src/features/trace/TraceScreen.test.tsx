import { screen, waitFor } from '@testing-library/react';
import { hold, JobMaker, kept, keptView, key, press, pressId, renderJob, routes, type, WIDE } from '@/testing/renderJob';
import { MapScreen } from '@/features/map/MapScreen';
import { TraceScreen } from './TraceScreen';

/** The card once the engine has answered. */
const stepTitle = async (): Promise<string> => (await screen.findByTestId('step-title')).textContent ?? '';

test('before anything is made dead the card says so, and its way leads there', async () => {
  await renderJob(new JobMaker('radial, 3'), <TraceScreen />);
  await stepTitle();
  expect(screen.getByTestId('state-bar').textContent).toContain('not made dead');
  expect(screen.getByText(/Make the circuit dead first/)).toBeTruthy();
  await pressId('do-step');
  await pressId('make-dead');
  expect(routes.at(-1)).toMatch(/\/dead/);
});

test('chances of the outcomes on the card make about 100 per cent', async () => {
  await renderJob(new JobMaker('radial, 3').dead(), <TraceScreen />);
  await stepTitle();
  const shares = [...screen.getByTestId('next-step').textContent.matchAll(/(\d+) %/g)].map((m) => Number(m[1]));
  expect(shares.length).toBeGreaterThanOrEqual(2);
  const sum = shares.reduce((a, b) => a + b, 0);
  expect(sum).toBeGreaterThan(95);
  expect(sum).toBeLessThan(105);
});

test('“not now” lays a step aside: another one is on the card', async () => {
  const job = new JobMaker('radial, 3').dead();
  await renderJob(job, <TraceScreen />);
  const first = await stepTitle();
  await pressId('not-now');
  await waitFor(() => expect(screen.getByTestId('step-title').textContent).not.toBe(first));
  expect(await kept(job, 'notNow')).toHaveLength(1);
});

test('“others” shows another way without changing the record', async () => {
  const job = new JobMaker('radial, 3').dead();
  await renderJob(job, <TraceScreen />);
  const first = await stepTitle();
  const before = (await keptView(job)).readings.length;
  await pressId('others');
  expect(screen.getByTestId('step-title').textContent).not.toBe(first);
  expect((await keptView(job)).readings).toHaveLength(before);
});

test('a split by hand opens the point, parts the ends, and is taken back as “it never was”', async () => {
  const job = new JobMaker('radial, 3').dead();
  await renderJob(job, <TraceScreen />);
  await pressId('row-p2');
  const [split] = screen.getAllByLabelText(/^Split here/);
  await hold(split?.getAttribute('aria-label') ?? '');
  expect((await keptView(job)).state.opened).toContain('p2');
  expect((await keptView(job)).state.out.filter((k) => /^s[23]@/.test(k)).length).toBeGreaterThan(0);
  expect(screen.getByTestId('state-bar').textContent).toMatch(/split\sat/);
  await pressId('state-bar');
  const name = job.map.points.find((p) => p.id === 'p2')?.name ?? '';
  await press(new RegExp(`^It never was: out at ${name}`));
  expect((await keptView(job)).state.out.every((k) => k.startsWith('s1@'))).toBe(true);
});

test('two leads of one’s own choice make a reading, with either function', async () => {
  const job = new JobMaker('radial, 3').dead();
  await renderJob(job, <TraceScreen />);
  await pressId('row-p1');
  await pressId('lead-p1/f1:L');
  expect(screen.getByTestId('tray')).toBeTruthy();
  await pressId('row-p3');
  await pressId('lead-p3/f1:L');
  await pressId('tray-enter');
  expect(screen.getByTestId('pad-title').textContent).toMatch(/L/);
  for (const k of ['0', '.', '2']) await pressId(`key-${k}`);
  await pressId('keep');
  await waitFor(async () => expect((await kept(job, 'read'))[0]?.probe).toEqual({ fn: 'continuity', from: ['p1/f1:L'], to: ['p3/f1:L'] }));
});

test('a point that cannot be reached is kept out of every step', async () => {
  const job = new JobMaker('radial, 3').dead();
  await renderJob(job, <TraceScreen />);
  await pressId('row-p2');
  await press('Can’t reach this point');
  const name = job.map.points.find((p) => p.id === 'p2')?.name ?? '';
  await waitFor(() => expect(screen.getByTestId('step-title').textContent).not.toContain(name));
});

test('who listens hears in one sentence what an entry changed and what is next, and nothing before', async () => {
  const job = new JobMaker('radial, 4').dead();
  await renderJob(job, <TraceScreen />);
  await stepTitle();
  await waitFor(() => expect(screen.getByTestId('next-step').textContent).not.toMatch(/Working out|checking/), { timeout: 30000 });
  expect(screen.getByTestId('spoken').textContent).toBe('');
  expect(document.title).toBe('Trace: Throwing room · Gutter');
  expect(screen.getByRole('main').contains(screen.getByTestId('next-step'))).toBe(true);
  await pressId('do-step');
  for (const k of ['0', '.', '0', '5']) await pressId(`key-${k}`);
  await pressId('keep');
  if (screen.queryByTestId('doubtful')) await pressId('keep');
  await waitFor(() => expect(screen.getByTestId('spoken').textContent).toMatch(/(Next: |[0-9] %\.$)/), { timeout: 30000 });
  expect(screen.getByTestId('spoken').getAttribute('aria-live')).toBe('polite');
});

test('leads can be tied: L and N together against E', async () => {
  const job = new JobMaker('radial, 3').dead();
  await renderJob(job, <TraceScreen />);
  for (const place of ['s1@a:L', 's1@a:E']) {
    await pressId('row-p0#1');
    await pressId(`lead-${place}`);
  }
  await pressId('row-p0#1');
  await press(/^Tie N end/);
  await press('Insulation');
  await pressId('tray-enter');
  for (const k of ['2', '0']) await pressId(`key-${k}`);
  await pressId('keep');
  if (screen.queryByTestId('doubtful')) await pressId('keep');
  await waitFor(async () => expect((await kept(job, 'read'))[0]?.probe).toEqual({ fn: 'insulation', from: ['s1@a:L'], to: ['s1@a:E', 's1@a:N'] }));
});

test('without a long lead every step keeps its leads at one point, and links take their place', async () => {
  const job = new JobMaker('radial, 4').dead().read('continuity', 's1@a:N', 'p4/f1:N', 'above');
  await renderJob(job, <TraceScreen />);
  await pressId('state-bar');
  await press('A long lead that reaches from point to point');
  expect((await keptView(job)).longLead).toBe(false);
  await press('Close');
  await waitFor(() => expect(screen.getByTestId('next-step').textContent).not.toMatch(/Working out|checking/), { timeout: 30000 });
  const title = await stepTitle();
  // Insulation at the board, too, keeps both leads at one point.
  expect(title).toMatch(/[Ll]ink|split|Open|Test .* at Board/);
  await pressId('do-step');
  const sheet = screen.queryByTestId('step-sheet')?.textContent ?? '';
  expect(sheet).not.toContain('No long lead here');
});

test('what was just read is not offered again while the next step is worked out', async () => {
  const job = new JobMaker('radial, 4').dead();
  await renderJob(job, <TraceScreen />);
  await waitFor(() => expect(screen.getByTestId('next-step').textContent).not.toMatch(/Working out|checking/), { timeout: 30000 });
  const title = await stepTitle();
  await pressId('do-step');
  for (const k of ['9', '0']) await pressId(`key-${k}`);
  // From the moment that the reading counts, whatever is shown meanwhile.
  const offered: (string | null | undefined)[] = [];
  const watch = new MutationObserver(() => {
    if (screen.queryByTestId('open-readings')?.textContent === 'Readings 1') offered.push(screen.queryByTestId('step-title')?.textContent);
  });
  watch.observe(document.body, { subtree: true, childList: true, characterData: true });
  await pressId('keep');
  if (screen.queryByTestId('doubtful')) await pressId('keep');
  await waitFor(async () => expect(await kept(job, 'read')).toHaveLength(1));
  watch.disconnect();
  expect(offered.length).toBeGreaterThan(0);
  expect(offered).not.toContain(title);
});

test('a link by hand is in the state until it is taken off', async () => {
  const job = new JobMaker('radial, 3').dead();
  await renderJob(job, <TraceScreen />);
  await pressId('row-p3');
  await hold('Link L–E here, hold');
  expect(screen.getByTestId('state-bar').textContent).toMatch(/1\slink in/);
  await pressId('state-bar');
  await hold(/^Link at .* is off, hold$/);
  expect((await keptView(job)).state.links).toEqual([]);
});

describe('on a wide screen', () => {
  test('the step, the suspects and the readings stand side by side', async () => {
    await renderJob(new JobMaker('radial, 3').dead().read('insulation', 's1@a:L', 's1@a:E', 20000), <TraceScreen />, WIDE);
    await stepTitle();
    expect(screen.getByTestId('suspects')).toBeTruthy();
    expect(screen.getByTestId('readings').textContent).toContain('0.02 MΩ');
  });
  test('single keys open the state, turn the step and lay it aside', async () => {
    const job = new JobMaker('radial, 3').dead();
    await renderJob(job, <TraceScreen />, WIDE);
    const first = await stepTitle();
    await key(document.body, 'o');
    expect(screen.getByTestId('step-title').textContent).not.toBe(first);
    await key(document.body, 's');
    expect(screen.getByTestId('state-sheet')).toBeTruthy();
    await key(document.body, 'x'); // a sheet is open: keys rest
    expect(await kept(job, 'notNow')).toHaveLength(0);
  });
});

describe('what it means', () => {
  test('shares of all lines make 100 per cent, and each suspect says what speaks for it', async () => {
    const job = new JobMaker('radial, 4').dead().read('insulation', 's1@a:L', 's1@a:E', 20000).read('insulation', 's1@a:L', 's1@a:N', 'above').read('insulation', 's1@a:N', 's1@a:E', 'above');
    await renderJob(job, <TraceScreen />);
    await stepTitle();
    await pressId('open-suspects');
    const text = screen.getByTestId('suspects').textContent;
    expect(text).toContain('L touches E');
    expect(text).toContain('Something this map does not show');
  });
  test('before any reading it tells places, not shares', async () => {
    await renderJob(new JobMaker('radial, 4').dead(), <TraceScreen />);
    await stepTitle();
    await pressId('open-suspects');
    expect(screen.getByTestId('places-open').textContent).toMatch(/^\d+ places open/);
  });
});

describe('the list of readings', () => {
  test('strikes out with a reason; the reading stays in sight and no longer counts', async () => {
    const job = new JobMaker('radial, 3').dead().read('continuity', 's1@a:L', 'p3/f1:L', 55);
    await renderJob(job, <TraceScreen />);
    await stepTitle();
    await pressId('open-readings');
    await press('Strike out');
    await press('Strike it out');
    expect((await kept(job, 'struck'))[0]?.why).toBe('misread');
    expect(screen.getByTestId('readings').textContent).toContain('struck out: misread');
  });
  test('marks what was unsteady, before proof, or before the repair', async () => {
    const job = new JobMaker('radial, 3').dead().read('continuity', 's1@a:L', 'p3/f1:L', 0.5, { unsteady: true, beforeProof: true })
      .add({ type: 'mended', suspect: 'loose s2@b:L', place: 'p2', how: 'repaired', text: '', explains: 'yes' });
    await renderJob(job, <TraceScreen />);
    await pressId('open-readings');
    const text = screen.getByTestId('readings').textContent;
    for (const word of ['unsteady', 'before proof', 'before the repair']) expect(text).toContain(word);
  });
});

test('readings come before any map: kept as typed, refused with the way out, and placed when the board is drawn', async () => {
  const job = new JobMaker('4 ways');
  const bare = { id: job.id, file: { ...job.file, events: job.file.events.filter((e) => e.type !== 'drafted') } };
  await renderJob(bare, <><TraceScreen /><MapScreen /></>);
  await type(/^Way, pair, figure/, 'way 2 0.3');
  await pressId('early-keep');
  expect(screen.getByTestId('problem').textContent).toMatch(/way 3, L–E, 0.3 MΩ/);
  await type(/^Way, pair, figure/, 'way 2, L–E, 0.3 MΩ');
  await pressId('early-keep');
  expect(screen.getByTestId('early').textContent).toContain('way 2, L–E: 0.30 MΩ');
  expect(screen.getByTestId('early-waiting').textContent).toBe('1 reading waits for a board with at least 2 ways.');
  await type(/^Say it/, '4 ways');
  await pressId('draft-now');
  expect(screen.queryByTestId('early')).toBeNull();
  expect(screen.getByTestId('cell-2-LE').textContent).toContain('0.30 MΩ');
});
