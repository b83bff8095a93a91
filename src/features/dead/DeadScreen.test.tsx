import { screen } from '@testing-library/react';
import { JobMaker, kept, keptView, press, pressId, renderJob, routeParams, routes, type } from '@/testing/renderJob';
import { DeadScreen } from './DeadScreen';
import { describeReport } from '@core/report';

beforeEach(() => {
  for (const k of Object.keys(routeParams)) delete routeParams[k];
});

/** Says 0 V to every question until the indicator is to be proved again. */
async function everyPairZero(): Promise<string[]> {
  const asked: string[] = [];
  while (screen.queryByTestId('zero')) {
    asked.push(screen.getByTestId('pair-question').textContent);
    await pressId('zero');
  }
  return asked;
}

test('securing takes each fact from the person, and names what is missing', async () => {
  const job = new JobMaker('radial, 3');
  await renderJob(job, <DeadScreen />);
  await pressId('secure');
  expect(screen.getByTestId('secure-missing').textContent).toBe('Not yet secured: permission, switched off, locked and tagged, who has the key.');
  for (const id of ['permission', 'off', 'locked']) await pressId(id);
  await pressId('secure');
  expect(screen.getByTestId('secure-missing').textContent).toContain('who has the key');
  expect(await kept(job, 'secured')).toHaveLength(0);
  await type('Who has the key', 'site office');
  await pressId('secure');
  expect(await kept(job, 'secured')).toMatchObject([{ permission: true, off: true, locked: true, key: 'site office' }]);
});

test('the live tails are told before anything is touched', async () => {
  await renderJob(new JobMaker('radial, 3'), <DeadScreen />);
  expect(screen.getByText(/incoming tails at the board stay live/)).toBeTruthy();
});

test('an earth that may be broken asks for one of its own before the indicator', async () => {
  await renderJob(new JobMaker('radial, 3').secured(), <DeadScreen />);
  expect(screen.getByTestId('indicator-before').getAttribute('aria-disabled')).toBe('true');
  await type('The independent earth', 'rod in the yard');
  expect(screen.getByTestId('indicator-before').getAttribute('aria-disabled')).not.toBe('true');
});

test('every pair of an outlet is asked, and each terminal to the earth of its own: six questions', async () => {
  routeParams.points = 'p2';
  const job = new JobMaker('radial, 3').secured().proved('p0');
  await renderJob(job, <DeadScreen />);
  await type('The independent earth', 'rod in the yard');
  await pressId('indicator-before');
  const asked = await everyPairZero();
  expect(asked).toHaveLength(6);
  expect(asked.filter((q) => q.startsWith('rod in the yard')).length).toBe(3);
  await pressId('indicator-after');
  const proof = (await kept(job, 'proved')).at(-1);
  expect(proof).toMatchObject({ point: 'p2', earthPlace: 'rod in the yard' });
  expect(proof?.checks.every((c) => c.volt === 0)).toBe(true);
  expect(routes.at(-1)).toContain('/trace');
});

test('a lit indicator stops everything: the volts are kept, the securing has lapsed, and the reasons are told', async () => {
  routeParams.points = 'p2';
  const job = new JobMaker('radial, 3').secured().proved('p0');
  await renderJob(job, <DeadScreen />);
  await type('The independent earth', 'rod');
  await pressId('indicator-before');
  await pressId('above');
  expect(screen.getByTestId('not-dead').textContent).toContain('Touch nothing');
  await type(/volts on the indicator/, '-4');
  expect(screen.getByText('Type the volts as a number above 0.')).toBeTruthy();
  await type(/volts on the indicator/, '231');
  await pressId('record-not-dead');
  expect((await kept(job, 'notDead'))[0]).toMatchObject({ point: 'p2', volt: 231 });
  expect((await keptView(job)).secured).toBeNull();
  expect(screen.getByText(/was not dead: 231 V/)).toBeTruthy();
});

test('leaving the place, or a lock that is off, closes the dead steps', async () => {
  const job = new JobMaker('radial, 3').secured().proved('p0');
  await renderJob(job, <DeadScreen />);
  await pressId('i-left');
  expect((await keptView(job)).secured).toBeNull();
  expect((await keptView(job)).proofs.size).toBe(0);
});

test('two people: any point can be proved in any order', async () => {
  const job = new JobMaker('radial, 3').secured().proved('p0');
  await renderJob(job, <DeadScreen />);
  const name = job.map.points.find((p) => p.id === 'p3')?.name ?? '';
  await press(name);
  expect(screen.getByTestId('prove-title').textContent).toBe(name);
});

test('two people, a second supply and the tails: each is asked for once it is there, and all of it is reported', async () => {
  const job = new JobMaker('4 ways');
  await renderJob(job, <DeadScreen />);
  for (const id of ['permission', 'off', 'locked']) await pressId(id);
  await type('Who has the key', 'with me');
  await press('Inverter');
  await pressId('two-people');
  await press('Live, shrouded');
  await pressId('secure');
  expect(screen.getByTestId('secure-missing').textContent).toBe('Not yet secured: the second supply off and locked, who has hands on, who is at the board.');
  await pressId('second-locked');
  await type('Who has hands on', 'apprentice');
  await type(/^Who is at the board/, 'me');
  await pressId('secure');
  expect(await kept(job, 'secured')).toMatchObject([{ second: 'inverter', tails: 'shrouded', people: { hands: 'apprentice', board: 'me' } }]);
  const { safety } = describeReport(await keptView(job), 0);
  expect(safety.slice(0, 3)).toEqual(['Two people: apprentice has hands on, me is at the board and alone switches.', 'Second supply, off and locked too: inverter.', 'Incoming tails: live, shrouded.']);
});

test('a three-phase board says which colours clash between new and old wiring, and names them pair by pair', async () => {
  routeParams.points = 'p0';
  await renderJob(new JobMaker('4 ways, three phase').secured(), <DeadScreen />);
  expect(screen.getByTestId('clash').textContent).toMatch(/Colours prove nothing here/);
  await type('The independent earth', 'rod');
  await press('Off, or some of them');
  await pressId('indicator-before');
  expect(screen.getByTestId('pair-colours').textContent).toMatch(/^E: green-yellow.* · N: blue/);
});

test('where no earth of its own is in reach the point stays closed, with its reason, and is never called proved', async () => {
  routeParams.points = 'p2';
  const job = new JobMaker('radial, 3').secured().proved('p0');
  await renderJob(job, <DeadScreen />);
  await pressId('no-rod');
  expect(screen.getByTestId('no-earth').textContent).toMatch(/counts as live/);
  expect(screen.getByTestId('no-earth').textContent).toMatch(/The installation’s own earth does not/);
  await pressId('leave-closed');
  expect((await kept(job, 'cantReach')).at(-1)).toMatchObject({ point: 'p2', can: false, why: expect.stringContaining('no independent earth') as string });
  expect((await kept(job, 'proved')).filter((p) => p.point === 'p2')).toEqual([]);
});

test('a twelve-way board is proved in twenty taps at the most with its ways on, nothing filled in beforehand; with some off, way by way', async () => {
  routeParams.points = 'p0';
  const job = new JobMaker('12 ways, RCD on 1 to 6, RCD on 7 to 12').secured();
  await renderJob(job, <DeadScreen />);
  // Until it is known that nothing is fed from elsewhere, every way is asked by itself.
  await screen.findByTestId('ways-on');
  await type('The independent earth', 'rod');
  expect(screen.getByTestId('indicator-before').getAttribute('aria-disabled')).toBe('true');
  await press('All on');
  await pressId('indicator-before');
  const asked = await everyPairZero();
  expect(asked.length).toBeGreaterThanOrEqual(6);
  expect(screen.getByTestId('now-off').textContent).toMatch(/switch every way and RCD off/);
  await pressId('indicator-after');
  // Four more: into the field of the earth, "all on", the indicator before and after.
  expect(asked.length + 4).toBeLessThanOrEqual(20);
  expect((await kept(job, 'proved')).at(-1)).toMatchObject({ point: 'p0', earthPlace: 'rod' });
});

test('with some ways off every way of a board is asked by itself', async () => {
  routeParams.points = 'p0';
  await renderJob(new JobMaker('6 ways').secured(), <DeadScreen />);
  await screen.findByTestId('ways-on');
  await type('The independent earth', 'rod');
  await press('Off, or some of them');
  await pressId('indicator-before');
  const asked = await everyPairZero();
  for (let way = 1; way <= 6; way++) expect(asked.some((a) => new RegExp(`way ${way}\\b`, 'i').test(a))).toBe(true);
});

test('a point that was proved by pairs alone is asked again where earth may be broken', async () => {
  routeParams.points = 'p2';
  routeParams.back = 'right';
  const byPairs = new JobMaker('radial, 3').secured().proved('p0').add({ type: 'proved', point: 'p2', checks: [{ from: 'L', to: 'N', volt: 0, bleep: false }, { from: 'L', to: 'E', volt: 0, bleep: false }, { from: 'E', to: 'N', volt: 0, bleep: false }], earthPlace: '' });
  await renderJob(byPairs, <DeadScreen />);
  expect(screen.getByTestId('prove-title').textContent).toBe('Outlet 2');
  await type('The independent earth', 'rod in the yard');
  await pressId('indicator-before');
  await everyPairZero();
  await pressId('indicator-after');
  expect(routes.at(-1)).toContain('/right');
});
