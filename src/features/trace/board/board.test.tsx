import { screen, waitFor } from '@testing-library/react';
import { hold, JobMaker, kept, keptView, press, pressId, renderJob, routes, type } from '@/testing/renderJob';
import { MapScreen } from '@/features/map/MapScreen';
import { boardOf } from '@core/installation';
import { TraceScreen } from '../TraceScreen';

/** A board made dead: secured, proved, open, ways and poles off, loads out. */
const board = (phrase = '4 ways'): JobMaker => {
  const job = new JobMaker(phrase);
  const loads = job.map.points.flatMap((p) => p.elements.flatMap((e) => (e.kind === 'load' ? [`${p.id}.${e.id}`] : [])));
  return job.secured().proved('p0').add({ type: 'opened', point: 'p0' }, { type: 'loadsMoved', parts: loads, out: true });
};
const cell = (id: string): HTMLElement => screen.getByTestId(id);
async function enter(...keys: string[]): Promise<void> {
  for (const k of keys) await pressId(`key-${k}`);
  await pressId('keep');
  if (screen.queryByTestId('doubtful')) await pressId('keep');
}

test('the grid has a row for each way and a column for each pair; the bars stand last', async () => {
  const device = { kind: 'mcb', curve: 'C', ratingA: 20, opens: 'line', residualMa: null };
  await renderJob(board('4 ways, RCD on 1 to 2').add({ type: 'mapEdited', edit: { edit: 'setDevice', way: 'w3', device } }), <TraceScreen />);
  // What stands on a device is told where somebody has read it.
  expect([1, 2, 3, 4].map((n) => screen.getByTestId(`way-${n}`).textContent)).toEqual(['Way 1', 'Way 2', 'Way 3MCB C20', 'Way 4']);
  expect(screen.getByTestId('bar-N bar')).toBeTruthy();
  expect(screen.getByTestId('bar-N bar of RCD 1')).toBeTruthy();
});

test('a cell is read by a tap, its figure and Keep: the reading stands in the grid with its pair', async () => {
  const job = board();
  await renderJob(job, <TraceScreen />);
  await pressId('cell-3-LE');
  expect(screen.getByTestId('pad-title').textContent).toMatch(/Way 3/);
  await enter('0', '.', '3');
  expect((await kept(job, 'read'))[0]?.probe).toEqual({ fn: 'insulation', from: ['p0:W3'], to: ['p0:E'] });
  expect(cell('cell-3-LE').getAttribute('aria-label')).toBe('Way 3, L–E: 0.3 MΩ');
  await waitFor(() => expect(screen.getByTestId('way-3').textContent).toMatch(/\d %/));
});

test('a sweep goes way after way without another tap between', async () => {
  const job = board();
  await renderJob(job, <TraceScreen />);
  await pressId('sweep-LE');
  for (let n = 1; n <= 4; n++) {
    expect(screen.getByTestId('pad-title').textContent).toContain(`Way ${n}`);
    await enter('2', '0', '0');
  }
  expect(screen.queryByTestId('pad')).toBeNull();
  expect((await kept(job, 'read')).map((e) => e.probe.from[0])).toEqual(['p0:W1', 'p0:W2', 'p0:W3', 'p0:W4']);
});

test('a pulled neutral is in the record, its tail is what is read, and older readings are marked as before', async () => {
  const job = board().read('insulation', 'p0:N', 'p0:E', 50e3);
  await renderJob(job, <TraceScreen />);
  expect(cell('bar-N bar').getAttribute('aria-label')).toBe('N bar to earth: 0.05 MΩ');
  await pressId('way-2');
  await hold('N out of its bar, hold');
  expect((await keptView(job)).state.out).toEqual(['s2@a:N']);
  expect(screen.getByTestId('way-2').textContent).toContain('N out');
  expect(cell('bar-N bar').getAttribute('aria-label')).toContain('in another state');
  await pressId('cell-2-NE');
  await enter('5');
  expect((await kept(job, 'read')).at(-1)?.probe).toEqual({ fn: 'insulation', from: ['s2@a:N'], to: ['p0:E'] });
  await pressId('way-2');
  await hold('N back in its bar, hold');
  expect((await keptView(job)).state.out).toEqual([]);
});

test('a load that was left in is a row’s note, and can be said and taken back', async () => {
  const job = board();
  await renderJob(job, <TraceScreen />);
  await pressId('way-1');
  await hold('A load is in, hold');
  expect(screen.getByTestId('way-1').textContent).toContain('loads in');
  expect((await keptView(job)).state.loadsOut).not.toContain('c1.loads');
});

test('the next step is a move at the board, in the words of the board', async () => {
  await renderJob(board('6 ways').read('insulation', 'p0:N', 'p0:E', 20e3), <TraceScreen />);
  await waitFor(() => expect(screen.getByTestId('step-title').textContent).toMatch(/Way \d|bar/), { timeout: 30000 });
  expect(screen.getByTestId('step-title').textContent).not.toMatch(/p0|s\d@|undefined/);
});

test('the map names what a way feeds and what protects it; a device without a rating is refused', async () => {
  const job = new JobMaker('4 ways, RCBO on 4');
  await renderJob(job, <MapScreen />);
  await pressId('map-way-w2');
  await type('What it feeds, as the label says', 'Kiln room sockets');
  await press('Fuse');
  await type('Rating', '0');
  await pressId('save-way');
  expect(screen.getByTestId('problem').textContent).toMatch(/rating/);
  // Both or neither: the label is not kept while the device is refused.
  expect((await keptView(job)).map?.points.find((p) => p.id === 'c2')?.name).toBe('Way 2');
  await type('Rating', '30');
  await pressId('save-way');
  const view = await keptView(job);
  expect(view.map?.points.find((p) => p.id === 'c2')?.name).toBe('Kiln room sockets');
  expect((view.map ? boardOf(view.map) : undefined)?.elements.find((e) => e.id === 'w2')).toMatchObject({ device: { kind: 'fuse', curve: null, ratingA: 30 } });
  await pressId('map-supply');
  await press('TT');
  await pressId('save-supply');
  expect((await keptView(job)).map?.supply?.arrangement).toBe('TT');
});

test('before a board change: neutrals out first, then each way to earth and to the other neutrals; what would trip is said', async () => {
  const job = board('3 ways');
  await renderJob(job, <TraceScreen />);
  await pressId('before-change');
  expect(screen.getByTestId('earth-w1').getAttribute('aria-disabled')).toBe('true');
  await hold(/^All neutrals out of their bars/);
  await hold(/^Loads back in/);
  expect((await keptView(job)).state.out).toEqual(['s1@a:N', 's2@a:N', 's3@a:N']);
  await pressId('earth-w2');
  await enter('0', '.', '0', '1');
  // Back in the list by itself, with what it means.
  expect(screen.getByTestId('change-w2').textContent).toMatch(/0\.01 MΩ.*23\.0 mA to earth: a 30 mA device would not hold/);
  await pressId('others-w3');
  await enter('0', '.', '0', '2');
  expect(screen.getByTestId('change-w3').textContent).toMatch(/Shares a neutral, or borrows one/);
  expect((await kept(job, 'read')).map((e) => [e.probe.from, e.probe.to])).toEqual([[['p0:W2', 's2@a:N'], ['p0:E']], [['p0:W3', 's3@a:N'], ['s1@a:N', 's2@a:N']]]);
  expect(screen.getByTestId('board-change').textContent).toMatch(/4 readings to go/i);
});

test('several ways side by side: their sum stands under them, with the one that carries it', async () => {
  await renderJob(board('3 ways').read('insulation', 'p0:W1', 'p0:E', 2e6).read('insulation', 'p0:W2', 'p0:E', 1.5e6).read('insulation', 'p0:W3', 'p0:E', 1.2e6), <TraceScreen />);
  expect(screen.getByTestId('together-LE').textContent).toMatch(/^L–E of 3 ways together: 0\.50 MΩ: no single way is below 1 MΩ; they add up\.$/);
});

test('a cell keeps what was read on both ranges: the ohms after a dead short do not hide it', async () => {
  await renderJob(board('3 ways').read('insulation', 'p0:W2', 'p0:E', 0).read('continuity', 'p0:W2', 'p0:E', 1.72), <TraceScreen />);
  expect(screen.getByTestId('cell-2-LE').textContent).toBe('0.00 MΩ1.72 Ω');
  expect(screen.getByTestId('cell-2-LE').getAttribute('aria-label')).toMatch(/L–E: 0\.00 MΩ; on ohms 1\.72 Ω/);
  // The sweep of insulation has read this one; ohms alone would not count as that.
  expect(screen.getByTestId('sweep-LE').textContent).toMatch(/sweep 2/);
});

test('a question that promises a shorter way than any reading is offered, and leads to where it is asked', async () => {
  const job = new JobMaker('4 ways, RCD on 1 to 4').add({ type: 'asked', complaint: 'rcd trips', shock: false, notes: '' });
  await renderJob(job, <TraceScreen />);
  await waitFor(() => expect(screen.getByTestId('ask-first').textContent).toMatch(/^Ask first: .+\?$/), { timeout: 30000 });
  await pressId('ask-first');
  expect(routes.at(-1)).toMatch(/\/ask$/);
});

test('with the supply on first, the card leads there or to making dead, and no reading is marked as next', async () => {
  const job = new JobMaker('6 ways, RCD on 1 to 3, RCD on 4 to 6').add({ type: 'asked', complaint: 'rcd trips', shock: false, notes: '' }, { type: 'answered', question: 'went', answer: 'G1' }, { type: 'answered', question: 'tripsWhen', answer: 'moreLoad' });
  await renderJob(job, <TraceScreen />);
  await waitFor(() => expect(screen.getByTestId('live-next-title').textContent).toMatch(/clos|see if it holds/i), { timeout: 30000 });
  expect(screen.queryByTestId('do-step')).toBeNull();
  expect(screen.queryAllByText('next')).toEqual([]);
  await pressId('to-live');
  expect(routes.at(-1)).toMatch(/\/live$/);
  await pressId('to-dead');
  expect(routes.at(-1)).toMatch(/\/dead$/);
});

test('every switch of a way that nobody has drawn is recorded as on, in its sheet, and as unknown again', async () => {
  const job = board();
  await renderJob(job, <TraceScreen />);
  await pressId('way-2');
  await hold(/Every switch on it is on/);
  expect((await keptView(job)).state.on).toEqual(['c2']);
  await pressId('way-2');
  await hold(/Its switches may be off again/);
  expect((await keptView(job)).state.on).toEqual([]);
});
