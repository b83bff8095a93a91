import { screen, waitFor } from '@testing-library/react';
import { circuitOfWay } from '@core/installation';
import { deriveJob } from '@core/job';
import { JobMaker, kept, key, press, pressId, renderJob } from '@/testing/renderJob';
import { ReadingPad } from './ReadingPad';

const pair = { fn: 'insulation', from: ['s1@a:L'], to: ['s1@a:E'] } as const;
const core = { fn: 'continuity', from: ['s1@a:L'], to: ['p2/f1:L'] } as const;
const typed = async (text: string): Promise<void> => {
  for (const k of text) await pressId(`key-${k}`);
};
async function pad(job: JobMaker, probe: { readonly fn: 'insulation' | 'continuity'; readonly from: readonly string[]; readonly to: readonly string[] }): Promise<jest.Mock> {
  const done = jest.fn();
  await renderJob(job, <ReadingPad probe={{ fn: probe.fn, from: [...probe.from], to: [...probe.to] }} onDone={done} onState={() => undefined} />);
  return done;
}

test('nothing is filled in beforehand, and an empty pad keeps nothing', async () => {
  const job = new JobMaker('ring, 4').dead();
  const done = await pad(job, pair);
  expect(screen.getByTestId('pad-value').textContent).toBe('');
  await pressId('keep');
  expect(screen.getByTestId('pad-problem').textContent).toBeTruthy();
  expect(done).not.toHaveBeenCalled();
  expect(await kept(job, 'read')).toHaveLength(0);
});

test('0.23 in megohms is kept as 230 kΩ with its state, volts and conditions', async () => {
  const job = new JobMaker('ring, 4').dead();
  const done = await pad(job, pair);
  await typed('0.23');
  expect(screen.getByTestId('echo').textContent).toMatch(/0\.23 MΩ|230 kΩ/);
  await pressId('keep');
  if (!done.mock.calls.length) await pressId('keep');
  expect(done).toHaveBeenCalledWith(true);
  await waitFor(async () => expect(await kept(job, 'read')).toHaveLength(1));
  const [read] = await kept(job, 'read');
  expect(read).toMatchObject({ displayed: { ohm: 230000 }, unit: 'MΩ', testVolt: 500, conditions: ['dry'], beforeProof: false });
});

test('the echo says what the figure means: 230 V through 230 kΩ is 1 mA; near nothing, between what; and no power of an ohms reading', async () => {
  await pad(new JobMaker('ring, 4').dead(), pair);
  await typed('0.23');
  expect(screen.getByTestId('echo').textContent).toContain('1.00 mA at 230 V');
  await press('Delete');
  await press('Delete');
  await typed('02');
  // 0.02 MΩ is anything from 15 to 25 kΩ: 9 to 15 mA; and a meter two digits off shows it for a short.
  expect(screen.getByTestId('echo').textContent).toMatch(/^15\.0 kΩ to 25\.0 kΩ: 9\.20 mA to 15\.3 mA at 230 V; may be a short: read ohms$/);
  await pressId('fn-ohms');
  expect(screen.getByTestId('echo').textContent).not.toMatch(/kW|A at/);
});

test.each([['w2', /: as 10(\.\d)? m of 2\.5 mm²/], ['w1', /: as 6\.\d m of 1\.5 mm²/]] as const)('metres are of the cable where the leads are, not of another: 0.074 Ω on %s', async (way, metres) => {
  const job = new JobMaker('4 ways').add({ type: 'mapEdited', edit: { edit: 'drawCircuit', way: 'w1', phrase: 'lights, 3, one switch' } }, { type: 'mapEdited', edit: { edit: 'drawCircuit', way: 'w2', phrase: 'radial, 3' } }).dead();
  const { map } = deriveJob(job.file.events, Date.now());
  const [first, second] = map ? circuitOfWay(map, way).sections : [];
  await pad(job, { fn: 'continuity', from: [`${first?.id}@b:L`], to: [`${second?.id}@b:L`] });
  await typed('0.074');
  expect(screen.getByTestId('echo').textContent).toMatch(metres);
});

test('between an end and the bar beside it lie no metres', async () => {
  await pad(new JobMaker('ring, 4').dead(), { fn: 'continuity', from: ['s1@a:N'], to: ['p0:N'] });
  await typed('0.01');
  expect(screen.getByTestId('echo').textContent).toBe('0.01 Ω');
});

test('neutral to earth is given no current: nobody knows what drives it', async () => {
  await pad(new JobMaker('ring, 4').dead(), { ...pair, from: ['s1@a:N'] });
  await typed('0.05');
  expect(screen.getByTestId('echo').textContent).not.toContain('mA');
});

test('ohms chosen as the unit of an insulation test: which range was it? No test is kept that was not made', async () => {
  const job = new JobMaker('ring, 4').dead();
  const done = await pad(job, pair);
  await typed('7.40');
  await pressId('unit-Ω');
  expect(screen.getByTestId('which-range').textContent).toContain('was it read on the ohms range?');
  await pressId('range-ohms');
  expect(screen.queryByTestId('which-range')).toBeNull();
  await pressId('keep');
  if (!done.mock.calls.length) await pressId('keep');
  await waitFor(async () => expect((await kept(job, 'read'))[0]).toMatchObject({ probe: { fn: 'continuity' }, displayed: { ohm: 7.4 }, unit: 'Ω', typed: '7.40', testVolt: null }));
});

test('the echo of a conductor is metres of its own cable: 0.741 Ω of 2.5 mm² is 100 m', async () => {
  await pad(new JobMaker('ring, 4').dead(), core);
  await typed('0.741');
  expect(screen.getByTestId('echo').textContent).toContain('100 m');
});

test('a decimal point is taken once, and the last figure can be taken back', async () => {
  await pad(new JobMaker('ring, 4').dead(), core);
  await typed('1.2.3');
  expect(screen.getByTestId('pad-value').textContent).toBe('1.23');
  await press('Delete');
  expect(screen.getByTestId('pad-value').textContent).toBe('1.2');
});

test('off scale is a reading of its own, and a figure typed after it takes its place', async () => {
  const job = new JobMaker('ring, 4').dead();
  await pad(job, core);
  await pressId('key-no-path');
  expect(screen.getByTestId('pad-value').textContent).toBe('no path');
  await typed('5');
  expect(screen.getByTestId('pad-value').textContent).toBe('5');
  await pressId('key-no-path');
  await pressId('keep');
  await waitFor(async () => expect((await kept(job, 'read'))[0]?.displayed).toEqual({ above: 1e5 }));
});

test('what lies beyond the top of the range is asked about once, then kept', async () => {
  const job = new JobMaker('ring, 4').dead();
  const done = await pad(job, core);
  await typed('900');
  await pressId('unit-MΩ');
  await pressId('keep');
  expect(screen.getByTestId('doubtful')).toBeTruthy();
  expect(done).not.toHaveBeenCalled();
  await pressId('keep');
  expect(done).toHaveBeenCalledWith(true);
});

test('a thousand times what is expected: the unit is doubted before it is kept', async () => {
  const job = new JobMaker('ring, 4').dead();
  const done = await pad(job, { ...core, from: ['s1@a:L'], to: ['s5@b:L'] });
  await screen.findByText(/exp\./);
  const expected = Number(/exp\. ([\d.]+) Ω/.exec(screen.getByText(/exp\./).textContent ?? '')?.[1]);
  await typed(expected.toFixed(2));
  await pressId('unit-kΩ');
  await pressId('keep');
  expect(screen.getByTestId('doubtful').textContent).toContain('Is the unit right?');
  await pressId('unit-Ω');
  await pressId('keep');
  expect(done).toHaveBeenCalledWith(true);
});

test('without proof the pad says so, and keeps it as taken before proof', async () => {
  const job = new JobMaker('ring, 4');
  await pad(job, core);
  expect(screen.getByTestId('before-proof').textContent).toContain('circuit not secured');
  await typed('0.3');
  await press('Keep, before proof');
  await waitFor(async () => expect((await kept(job, 'read'))[0]?.beforeProof).toBe(true));
});

test('the keyboard does all of it: figures, taking back, Enter', async () => {
  const job = new JobMaker('ring, 4').dead();
  const done = await pad(job, core);
  const dialog = screen.getByTestId('pad');
  for (const key_ of ['0', '.', '4', '4', 'Backspace', '1', 'Enter']) await key(dialog, key_);
  expect(done).toHaveBeenCalledWith(true);
  await waitFor(async () => expect((await kept(job, 'read'))[0]?.displayed).toEqual({ ohm: 0.41 }));
});

test('dry and damp exclude each other; water about can be added', async () => {
  const job = new JobMaker('ring, 4').dead();
  await pad(job, core);
  await pressId('conditions');
  await press('damp');
  await typed('0.5');
  await pressId('keep');
  await waitFor(async () => expect((await kept(job, 'read'))[0]?.conditions).toEqual(['damp']));
});

test('electronics still in: the pad stands at 250 V and says why; 500 V is the person’s own choice, with its caution', async () => {
  const job = new JobMaker('radial, 3').add({ type: 'mapEdited', edit: { edit: 'setLoad', point: 'p2', watt: 60, loadClass: 'electronic' } }).dead();
  await pad(job, { fn: 'insulation', from: ['s1@a:L'], to: ['s1@a:N'] });
  expect(screen.getByTestId('volt-caution').textContent).toMatch(/^250 V: a load is still in/);
  await pressId('fn-500');
  expect(screen.getByTestId('volt-caution').textContent).toMatch(/^500 V harms electronics/);
  await pressId('fn-250');
  await typed('1.5');
  await pressId('keep');
  if (screen.queryByTestId('doubtful')) await pressId('keep');
  await waitFor(async () => expect((await kept(job, 'read'))[0]?.testVolt).toBe(250));
});
