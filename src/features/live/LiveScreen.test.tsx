import { screen, waitFor } from '@testing-library/react';
import { JobMaker, kept, keptView, press, pressId, renderJob, routes, type } from '@/testing/renderJob';
import { describeReport } from '@core/report';
import { LiveScreen } from './LiveScreen';
import { readRcdFigures } from './rcdFigures';

const board = (complaint = 'rcd trips', phrase = '4 ways, RCD on 1 to 4'): JobMaker => new JobMaker(phrase).add({ type: 'asked', complaint, shock: false, notes: '' });
const planned = (): Promise<void> => waitFor(() => expect(screen.getByTestId('live-title')).toBeTruthy(), { timeout: 30000 });
const row = (id: string): string => screen.getByTestId(`device-${id}`).textContent ?? '';

test('reset routine: all ways off in one tap, each way back in one tap with what it did; a trip leaves the device off', async () => {
  const job = board();
  await renderJob(job, <LiveScreen />);
  await pressId('all-off');
  expect((await keptView(job)).state.off).toEqual(['p0.w1', 'p0.w2', 'p0.w3', 'p0.w4']);
  await pressId('holds-w1');
  await pressId('at-once-w2');
  const view = await keptView(job);
  expect(view.state.off).toEqual(expect.arrayContaining(['p0.w3', 'p0.w4', 'p0.G1L', 'p0.G1N']));
  expect(view.state.off).not.toContain('p0.w2');
  expect((await kept(job, 'liveRead')).map((e) => e.test)).toEqual([{ kind: 'closed', device: 'w1', result: 'holds', tripped: null }, { kind: 'closed', device: 'w2', result: 'at once', tripped: 'G1' }]);
  expect(row('w1')).toContain('holds');
  expect(row('G1')).toContain('tripped with Way 2');
  // What hangs on a device that is off cannot be closed.
  expect(screen.queryByTestId('holds-w3')).toBeNull();
});

test('the trip is evidence: suspicion gathers on the way that made it go', async () => {
  await renderJob(board(), <LiveScreen />);
  await pressId('all-off');
  await pressId('holds-w1');
  await pressId('at-once-w2');
  await waitFor(() => expect(row('w2')).toMatch(/[6-9]\d(\.\d)? %/), { timeout: 30000 });
});

test('the next live step says what each result would mean, with its cautions in sight', async () => {
  await renderJob(board(), <LiveScreen />);
  await planned();
  expect(screen.getByTestId('live-title').textContent).toMatch(/RCD 1|Way \d/);
  expect(screen.getByTestId('live-cautions').textContent).toMatch(/Covers on\./);
  await pressId('live-do');
  expect(screen.getByTestId('live-sheet').textContent).toMatch(/It holds/);
});

test('while the advice is worked out anew after the first half of a step, its sheet stays; closed, what comes next is its second half', async () => {
  const told = board().add({ type: 'answered', question: 'tripsWhen', answer: 'atOnce' }, { type: 'answered', question: 'unplugged', answer: 'still' }, ...['G1L', 'G1N'].map((x) => ({ type: 'switched' as const, part: `p0.${x}`, off: true })));
  await renderJob(told, <LiveScreen />);
  await planned();
  expect(screen.getByTestId('live-title').textContent).toMatch(/off, then close RCD 1/);
  await pressId('live-do');
  await waitFor(() => expect(screen.getByTestId('live-next').textContent).not.toMatch(/Working out|checking/), { timeout: 30000 });
  expect(screen.getByTestId('live-sheet').textContent).toMatch(/It holds/);
  await press('Close');
  expect(screen.getByTestId('live-title').textContent).toMatch(/^RCD 1 on, and see if it holds/);
});

test('an MCB on a suspected short is not closed to see: dead tests are asked for instead', async () => {
  await renderJob(board('mcb trips').add({ type: 'switched', part: 'p0.w2', off: true }), <LiveScreen />);
  expect(row('w2')).toContain('dead tests first');
  expect(screen.queryByTestId('holds-w2')).toBeNull();
  await waitFor(() => expect(screen.getByTestId('live-next').textContent).not.toMatch(/Working out/), { timeout: 30000 });
  expect(screen.getByTestId('live-next').textContent).not.toMatch(/Way 2 alone|Way 2 on, and see/);
  expect(screen.getByTestId('live-next').textContent).toMatch(/Dead tests promise more|No step with the supply on is worth its minutes now/);
});

test('where dead tests left no short possible the device can be closed again, and what was said to do can be recorded', async () => {
  const off = (way: string): object => ({ type: 'switched', part: `p0.${way}`, off: true });
  const job = board('mcb trips').add(off('w2')).add({ type: 'switched', part: 'p0.w1', off: true });
  for (const pair of ['p0:NG1', 'p0:E']) job.read('insulation', 'p0:W2', pair, 'above').read('continuity', 'p0:W2', pair, 'above');
  await renderJob(job, <LiveScreen />);
  await waitFor(() => expect(screen.getByTestId('holds-w2')).toBeTruthy(), { timeout: 30000 });
  expect(row('w2')).not.toContain('dead tests first');
});

test('locked off, nothing live can be entered; taking the lock off is said and ends the isolation', async () => {
  const job = board().secured();
  await renderJob(job, <LiveScreen />);
  expect(screen.getByTestId('live-locked').textContent).toMatch(/locked off/);
  expect(screen.getByTestId('all-off').getAttribute('aria-disabled')).toBe('true');
  await pressId('lock-off');
  expect((await keptView(job)).secured).toBeNull();
  expect(screen.queryByTestId('live-locked')).toBeNull();
});

test('with an end out or a cover off the live tests stay closed and lead to the put-back list', async () => {
  await renderJob(board().add({ type: 'opened', point: 'p0' }, { type: 'tookOut', point: 'p0', ends: ['s2@a:N'] }), <LiveScreen />);
  expect(screen.getByTestId('live-locked').textContent).toMatch(/Put it back first/);
  await press('To the put-back list');
  expect(routes[0]).toMatch(/right$/);
});

test('leakage: parts add up against a third of the device, and the branch with the most is named', async () => {
  const job = board();
  await renderJob(job, <LiveScreen />);
  await press('Leakage');
  for (const [way, mA] of [['w1', '2.1'], ['w3', '8.4']] as const) {
    await pressId(`clamp-${way}`);
    await type('Current', mA);
    await pressId('live-keep');
  }
  expect((await kept(job, 'liveRead')).map((e) => e.test)).toMatchObject([{ around: 'w1', mA: 2.1, filtered: true }, { around: 'w3', mA: 8.4 }]);
  expect(screen.getByTestId('budget-G1').textContent).toMatch(/10\.5 mA|11 mA/);
  expect(screen.getByTestId('finding-G1-standingHigh').textContent).toContain('Way 3');
  expect(screen.getByTestId('clamp-w3').textContent).toContain('follow this one');
});

test('six RCD figures in one entry: the slower time and the lower ramp are kept', async () => {
  const job = board();
  await renderJob(job, <LiveScreen />);
  await press('Leakage');
  await pressId('figures-G1');
  for (const [label, value] of [['At ½×, 0°', 'x'], ['At ½×, 180°', 'x'], ['At 1×, 0°', '24'], ['At 1×, 180°', '31'], ['At 5×, 0°', '18'], ['At 5×, 180°', '16'], ['Trips at, 0°', '21'], ['Trips at, 180°', '19.5']] as const) await type(label, value);
  await pressId('rcd-keep');
  expect((await kept(job, 'liveRead')).map((e) => e.test)).toEqual([
    { kind: 'times', device: 'G1', multiple: 0.5, ms: null }, { kind: 'times', device: 'G1', multiple: 1, ms: 31 }, { kind: 'times', device: 'G1', multiple: 5, ms: 18 }, { kind: 'ramp', device: 'G1', mA: 19.5, outgoing: 'out' },
  ]);
  expect(screen.getByTestId('budget-G1').textContent).toContain('31 ms');
});

test('what is no figure is refused with what to type; one half-cycle that does not go at 1× counts', () => {
  expect(readRcdFigures('G1', { '1 0': 'abc' }, 'in', [0.5, 1, 5])).toMatchObject({ ok: false });
  expect(readRcdFigures('G1', {}, 'in', [1])).toMatchObject({ ok: false, problem: 'Nothing is typed yet.' });
  expect(readRcdFigures('G1', { '1 0': '24', '1 180': 'x' }, 'in', [1])).toMatchObject({ ok: true, tests: [{ multiple: 1, ms: null }] });
  expect(readRcdFigures('G1', { '0.5 0': 'x', '0.5 180': '90' }, 'in', [0.5])).toMatchObject({ ok: true, tests: [{ multiple: 0.5, ms: 90 }] });
});

test('a loop at the origin and one voltage: a wrong entry is struck out, never erased', async () => {
  const job = board();
  await renderJob(job, <LiveScreen />);
  await press('Measure');
  await pressId('measure-p0');
  await pressId('what-loop');
  await pressId('pair-LE');
  await pressId('live-keep');
  expect(screen.getByTestId('problem').textContent).toMatch(/figure/);
  await type('Loop impedance', '0,38');
  await pressId('live-keep');
  expect((await kept(job, 'liveRead'))[0]?.test).toEqual({ kind: 'loop', from: 'p0:L', to: 'p0:E', ohm: 0.38, noTrip: false });
  expect(screen.getByTestId('loop-p0-earth').textContent).toContain('605 A prospective');
  await press(/^Strike out/);
  expect(screen.queryByTestId('loop-p0-earth')).toBeNull();
  expect((await keptView(job)).liveReadings[0]?.struck).toBe('wrong entry');
});

test('a handrail is no point: volts on it are entered under its own name, and above 50 V the alarm stands on every screen at once', async () => {
  const job = board('shock');
  await renderJob(job, <LiveScreen />);
  await press('Measure');
  await pressId('measure-metal');
  await type('What is it, and where', 'Handrail at the ramp');
  await pressId('metal-volts');
  expect(screen.getByTestId('live-sheet').textContent).toMatch(/independent earth.*rod or real ground|rod or real ground/);
  await type('Voltage', '74');
  await pressId('live-keep');
  expect((await kept(job, 'liveRead'))[0]?.test).toMatchObject({ kind: 'voltage', from: 'metal:Handrail at the ramp', to: 'ground', volt: 74 });
  expect(screen.getByTestId('live-metal').textContent).toMatch(/^.?74 V on Handrail at the ramp/);
  expect(describeReport(await keptView(job), 0).live[0]?.what).toBe('Volts, Handrail at the ramp to an independent earth');
});

test('both sides of a device: at the board its bars, and the out side of each way by itself', async () => {
  const job = board('dead');
  await renderJob(job, <LiveScreen />);
  await press('Measure');
  await pressId('measure-p0');
  await pressId('out-w2');
  expect(screen.getByTestId('pair-sheet').textContent).toContain('out side');
  await pressId('pair-LN');
  await type('Voltage', '231');
  await pressId('live-keep');
  expect((await kept(job, 'liveRead'))[0]?.test).toMatchObject({ kind: 'voltage', from: 'p0:W2', to: 'p0:NG1', volt: 231 });
});

test('current at an appliance is entered on its own lead', async () => {
  const job = board('rcd trips').add({ type: 'mapEdited', edit: { edit: 'drawCircuit', way: 'w3', phrase: 'tree, 1' } });
  await renderJob(job, <LiveScreen />);
  await press('Leakage');
  const button = screen.getByTestId('appliances').querySelector('[data-testid^="clamp-"]:not([data-testid$="/L"])');
  await pressId(button?.getAttribute('data-testid') ?? '');
  expect(screen.getByTestId('live-sheet').textContent).toMatch(/Covers on/);
  await type('Current', '12,5');
  await pressId('live-keep');
  expect((await kept(job, 'liveRead'))[0]?.test).toMatchObject({ kind: 'clamp', mA: 12.5 });
  expect(screen.getByTestId('appliances').textContent).toContain('Loses 13 mA');
});

test('the walk: a way off, what went dead said in a tap; a wrong label is kept as found beside the label, and reported', async () => {
  const job = board('dead');
  await renderJob(job, <LiveScreen />);
  await press('Walk');
  await pressId('flick-w1');
  await pressId('labelled-w1');
  await pressId('flick-w2');
  await pressId('other-w2');
  await type(/^What it really feeds/, 'Yard lamps');
  await pressId('keep-feeds');
  const view = await keptView(job);
  expect([...view.feeds]).toEqual([['w1', { what: 'Way 1', asLabelled: true }], ['w2', { what: 'Yard lamps', asLabelled: false }]]);
  expect(screen.getByTestId('feeds-w2').textContent).toContain('wrong label: feeds Yard lamps');
  expect(describeReport(view, 0).limitations).toContain('Wrong label: Way 2 really feeds Yard lamps.');
});

test('a point that works with its way off is a finding: it hangs elsewhere', async () => {
  const job = new JobMaker('4 ways').add({ type: 'mapEdited', edit: { edit: 'drawCircuit', way: 'w2', phrase: 'radial, 2' } });
  await renderJob(job, <LiveScreen />);
  await press('Walk');
  await pressId('flick-w2');
  await press('Way 2 outlet 1 works');
  expect(screen.getByTestId('astray').textContent).toMatch(/Way 2 outlet 1 works with Way 2 off/);
});

test('a furthest point that cannot be reached is a limitation with its reason', async () => {
  const job = new JobMaker('4 ways').add({ type: 'mapEdited', edit: { edit: 'drawCircuit', way: 'w2', phrase: 'radial, 3' } });
  job.add({ type: 'liveRead', test: { kind: 'loop', from: 'c2/f1:L', to: 'c2/f1:E', ohm: 0.71, noTrip: true } });
  await renderJob(job, <LiveScreen />);
  await press('Measure');
  expect(screen.getByTestId('furthest-w2').textContent).toMatch(/Way 2 outlet 3, is not read yet/);
  await pressId('unreached-w2');
  await type('The reason goes into the report', 'behind the kiln');
  await pressId('keep-why');
  expect(screen.getByTestId('furthest-w2').textContent).toMatch(/behind the kiln/);
  const { limitations } = describeReport(await keptView(job), 0);
  expect(limitations.join(' ')).toMatch(/Way 2 outlet 3 could not be reached \(behind the kiln\).*read at Way 2 outlet 1, not at its furthest point, Way 2 outlet 3/);
});

test('the earthing conductor beside the tails: what comes in from elsewhere is said', async () => {
  const job = new JobMaker('4 ways');
  await renderJob(job, <LiveScreen />);
  await press('Leakage');
  for (const [id, mA] of [['clamp-main', '6.4'], ['clamp-earth', '19']] as const) {
    await pressId(id);
    await type(/mA|Current/, mA);
    await pressId('live-keep');
  }
  expect(screen.getByTestId('stray').textContent).toMatch(/At least 13 mA of it comes from elsewhere/);
});

test('the devices of a sub-board stand under the way that feeds them, and can be closed only while it is on', async () => {
  const job = board('rcd trips', '3 ways').add({ type: 'mapEdited', edit: { edit: 'drawCircuit', way: 'w2', phrase: 'sub-board, 2, RCD' } });
  await renderJob(job, <LiveScreen />);
  const hub = (await keptView(job)).map?.points.find((p) => p.kind === 'subboard')?.id ?? '';
  expect(screen.getAllByTestId(/^device-/).map((r) => r.getAttribute('data-testid')?.slice(7))).toEqual(['main', 'w1', 'w2', `${hub}.main`, `${hub}.w1`, `${hub}.w2`, 'w3']);
  await pressId('all-off');
  expect(screen.queryByTestId(`holds-${hub}.w1`)).toBeNull();
  await pressId('holds-w2');
  await pressId(`holds-${hub}.w1`);
  const view = await keptView(job);
  expect(view.state.off).toEqual(expect.arrayContaining([`${hub}.w2`, 'p0.w1']));
  expect(view.state.off).not.toContain(`${hub}.w1`);
  expect(row(`${hub}.w1`)).toContain('holds');
});
