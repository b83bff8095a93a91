import { screen } from '@testing-library/react';
import { JobMaker, keptView, press, pressId, renderJob, type } from '@/testing/renderJob';
import { deriveJob } from '@core/job';
import { MapScreen } from './MapScreen';

const radial = (): JobMaker => new JobMaker('radial, 3');
const problem = (): string => screen.queryByTestId('problem')?.textContent ?? '';

test('it says how much is there and how much of it is known', async () => {
  await renderJob(radial(), <MapScreen />);
  expect(screen.getByText('3 points, 3 cables, 3 lengths known. Tap a point, or the cable between two.')).toBeTruthy();
  expect(screen.getByTestId('row-s2').textContent).toContain('7.0 m');
});

test('a point is renamed; the readings taken there keep their place', async () => {
  const job = radial().dead().read('continuity', 's1@a:N', 'p2/f1:N', 0.14);
  await renderJob(job, <MapScreen />);
  await pressId('row-p2');
  await type('Name', 'Sink wall');
  await press('Save name');
  expect(screen.queryByTestId('edit-point')).toBeNull();
  const view = await keptView(job);
  expect(view.map?.points.find((p) => p.id === 'p2')?.name).toBe('Sink wall');
  expect(view.readings[0]?.parked).toBeNull();
});

test('two points of one name: the sheet stays, says so, and nothing is kept', async () => {
  const job = radial();
  await renderJob(job, <MapScreen />);
  await pressId('row-p2');
  await type('Name', 'outlet 1');
  await press('Save name');
  expect(problem()).toMatch(/outlet 1/i);
  expect(screen.getByTestId('edit-point')).toBeTruthy();
  expect((await keptView(job)).map?.points.map((p) => p.name)).toEqual(['Board', 'Outlet 1', 'Outlet 2', 'Outlet 3']);
});

test.each([['0', /longer than 0|more than 0|above 0|0 m/i], ['10000', /2000|2,000|km/i], ['', /length/i]])('a length of “%s” is refused with what to do', async (text, words) => {
  const job = radial();
  await renderJob(job, <MapScreen />);
  await pressId('row-s2');
  await type('Length', text);
  await pressId('save-length');
  expect(problem()).toMatch(words);
  expect(problem()).not.toMatch(/NaN|undefined/);
  expect((await keptView(job)).map?.sections[1]?.lengthM).toBe(7);
});

test('a length typed with a comma is known from then on', async () => {
  const job = radial();
  await renderJob(job, <MapScreen />);
  await pressId('row-s2');
  await type('Length', '12,5');
  await pressId('save-length');
  expect((await keptView(job)).map?.sections[1]).toMatchObject({ lengthM: 12.5, lengthKnown: true });
});

test('a joint put into a cable parts its length; the reading across it stays', async () => {
  const job = radial().dead().read('continuity', 's1@a:N', 'p2/f1:N', 0.14);
  await renderJob(job, <MapScreen />);
  await pressId('row-s2');
  await type('Its name', 'Loft joint');
  await press('Put it in');
  const view = await keptView(job);
  expect(view.map?.points.map((p) => p.name)).toContain('Loft joint');
  expect(view.map?.sections.filter((s) => s.lengthM === 3.5)).toHaveLength(2);
  expect(view.readings[0]?.parked).toBeNull();
});

test('a branch with a reading that is taken away parks the reading and says so', async () => {
  const job = radial().add({ type: 'mapEdited', edit: { edit: 'addBranch', point: 'p2', kind: 'outlet', name: 'Spur' } });
  const spur = deriveJob(job.file.events, Date.now()).map?.points.at(-1)?.id ?? '';
  job.dead().read('continuity', 's1@a:N', `${spur}/f1:N`, 0.3);
  await renderJob(job, <MapScreen />);
  await pressId(`row-${spur}`);
  await press('Remove point');
  expect(screen.getByText('1 reading is parked: the place is no longer on the map.')).toBeTruthy();
  expect((await keptView(job)).readings[0]?.parked).toContain('no longer on the map');
});

test('a point becomes a hidden joint: nobody reads there any more', async () => {
  const job = radial();
  await renderJob(job, <MapScreen />);
  await pressId('row-p2');
  await press('Joint');
  await press('Hidden');
  expect((await keptView(job)).map?.points.find((p) => p.id === 'p2')).toMatchObject({ kind: 'joint', reach: 'never', faces: [] });
});

test('two neighbours change places, and the order can be marked as known', async () => {
  const job = radial();
  await renderJob(job, <MapScreen />);
  await pressId('row-p1');
  await press('Change places with Outlet 2');
  await press('The order of the points is known');
  const { map } = await keptView(job);
  expect(map?.sections.map((s) => [s.a, s.b])).toEqual([['p0', 'p2'], ['p2', 'p1'], ['p1', 'p3']]);
  expect(map?.orderKnown).toBe(true);
});

test('the board can neither be removed nor become something else', async () => {
  await renderJob(radial(), <MapScreen />);
  await pressId('row-p0#1');
  expect(screen.getByTestId('edit-point').textContent).not.toContain('Remove point');
  expect(screen.queryByLabelText('Outlet')).toBeNull();
});

test('the supply is said in one sheet: loops at the origin, main switch, and whether the devices can break what may flow', async () => {
  const job = new JobMaker('4 ways');
  await renderJob(job, <MapScreen />);
  await pressId('map-supply');
  await press('TN-S');
  await type('L–N', '0,03');
  await type('L–E (Ze)', '0.21');
  await type('The least of the board’s devices', '6');
  expect(screen.getByTestId('prospective').textContent).toMatch(/7\.67 kA prospective, above the 6 kA/);
  await type('Rating', 'x');
  await pressId('save-supply');
  expect(screen.getByTestId('problem').textContent).toMatch(/above 0/);
  expect((await keptView(job)).map?.supply?.breakingKa).toBeUndefined();
  await type('Rating', '100');
  await pressId('save-supply');
  expect(screen.queryByTestId('supply-sheet')).toBeNull();
  expect(screen.getByTestId('map-supply').textContent).toMatch(/TN-S.*L–E 0\.21 Ω.*L–N 0\.03 Ω.*main switch 100 A/);
  expect((await keptView(job)).map?.supply).toMatchObject({ arrangement: 'TN-S', breakingKa: 6, main: { ratingA: 100, residualMa: null } });
});

test('what hangs at a point is said by its plate: cold ohms beside it; a power that cannot be is refused', async () => {
  const job = new JobMaker('tree, 2');
  await renderJob(job, <MapScreen />);
  await press(/^Appliance 2/);
  await type('Power on its plate', '0');
  await pressId('save-load');
  expect(screen.getByTestId('problem').textContent).toMatch(/0 W cannot be/);
  await type('Power on its plate', '3000');
  expect(screen.getByText(/Cold, L to N: about 17\.6 Ω/)).toBeTruthy();
  await pressId('save-load');
  const point = (await keptView(job)).map?.points.find((p) => p.name === 'Appliance 2');
  expect(point?.elements).toMatchObject([{ kind: 'load', loadClass: 'resistive', guessed: false }]);
});

test('a ladder is said in minutes at its point, and taken away by an empty field', async () => {
  const job = new JobMaker('radial, 3');
  await renderJob(job, <MapScreen />);
  await press(/^Outlet 2/);
  await type(/^More minutes than usual/, '500');
  await pressId('save-extra');
  expect(screen.getByTestId('problem').textContent).toMatch(/0 to 120/);
  await type(/^More minutes than usual/, '6');
  await pressId('save-extra');
  expect((await keptView(job)).map?.points.find((p) => p.id === 'p2')?.extraMin).toBe(6);
  await type(/^More minutes than usual/, '');
  await pressId('save-extra');
  expect((await keptView(job)).map?.points.find((p) => p.id === 'p2')?.extraMin).toBe(0);
});

test('a sub-board stands in a way; a circuit behind it is drawn when it is wanted', async () => {
  const job = new JobMaker('4 ways').add({ type: 'mapEdited', edit: { edit: 'drawCircuit', way: 'w2', phrase: 'sub-board, 2' } });
  await renderJob(job, <MapScreen />);
  await pressId('map-way-w2');
  await pressId('edit-circuit');
  await press(/^Way 2 way 1/);
  await type(/^Draw it: “radial, 3”/, '6 ways');
  await pressId('draw-lump');
  expect(screen.getByTestId('problem').textContent).toMatch(/cannot feed its own board/);
  await type(/^Draw it: “radial, 3”/, 'radial, 3');
  await pressId('draw-lump');
  expect((await keptView(job)).map?.points.map((p) => p.name)).toEqual(expect.arrayContaining(['Way 2 way 1 outlet 1', 'Way 2 way 1 outlet 3', 'Way 2 way 2']));
});

test('an IT supply is asked for no L–E loop, and surge arresters come and go with their tick', async () => {
  const job = new JobMaker('4 ways');
  await renderJob(job, <MapScreen />);
  await pressId('map-supply');
  await press('IT');
  expect(screen.queryByTestId('supply-earth')).toBeNull();
  expect(screen.getByTestId('no-ze')).toBeTruthy();
  await pressId('surge');
  await pressId('save-supply');
  const arresters = (await keptView(job)).map?.points[0]?.elements.filter((e) => e.kind === 'load').map((e) => e.name);
  expect(arresters).toEqual(['surge arrester L', 'surge arrester N']);
  await pressId('map-supply');
  await pressId('surge');
  await pressId('save-supply');
  expect((await keptView(job)).map?.points[0]?.elements.filter((e) => e.kind === 'load')).toEqual([]);
});

test('a point that touches metal takes a guess until its ohms are measured; nonsense is refused with the limit', async () => {
  const job = radial();
  await renderJob(job, <MapScreen />);
  await pressId('row-p2');
  await press('Yes');
  expect((await keptView(job)).map?.points.find((p) => p.id === 'p2')?.metalOhm).toBe(0.5);
  await type(/By that way/, '0');
  await pressId('save-metal');
  expect(screen.getByTestId('edit-point').textContent).toContain('above 0 and up to');
  await type(/By that way/, '0,18');
  await pressId('save-metal');
  expect((await keptView(job)).map?.points.find((p) => p.id === 'p2')?.metalOhm).toBe(0.18);
  await press('No');
  expect((await keptView(job)).map?.points.find((p) => p.id === 'p2')?.metalOhm).toBeUndefined();
});

test('the ways of a sub-board: each with what it feeds and its device; a rating is said better, nothing is refused in words', async () => {
  const job = new JobMaker('sub-board, 2, RCD');
  await renderJob(job, <MapScreen />);
  await pressId('row-p1');
  expect(screen.getByTestId('edit-point').textContent).toMatch(/All behind its RCD, 30 mA/);
  expect(screen.getByTestId('sub-way-p1.w2').textContent).toMatch(/Way 2.*MCB B16/);
  await pressId('sub-way-p1.w2');
  await type('Rating', '');
  await pressId('save-sub-way');
  expect(screen.getByTestId('edit-sub-way').textContent).toMatch(/rating/i);
  expect(problem()).not.toMatch(/NaN|undefined/);
  await type('Rating', '20');
  await pressId('save-sub-way');
  expect(screen.queryByTestId('edit-sub-way')).toBeNull();
  expect(screen.getByTestId('sub-way-p1.w2').textContent).toMatch(/MCB B20/);
});

test('an RCD of the board: what it goes at and its type, said by tapping; nothing is refused in words', async () => {
  const job = new JobMaker('4 ways, RCD on 1 to 4');
  await renderJob(job, <MapScreen />);
  expect(screen.getByTestId('map-rcd-G1').textContent).toMatch(/RCD 30 mA \(guessed\), type not said/);
  // Who looks at the sheet and leaves it has read nothing on the device; who ticks it has.
  await pressId('map-rcd-G1');
  await press('Close');
  expect(screen.getByTestId('map-rcd-G1').textContent).toMatch(/guessed/);
  await pressId('map-rcd-G1');
  await pressId('rcd-read');
  await pressId('save-rcd');
  expect(screen.getByTestId('map-rcd-G1').textContent).toMatch(/RCD 30 mA, type not said/);
  await pressId('map-rcd-G1');
  await type('Residual current, IΔn', '');
  await pressId('save-rcd');
  expect(problem()).toMatch(/residual/i);
  await type('Residual current, IΔn', '100');
  await press('AC');
  await pressId('save-rcd');
  expect(screen.queryByTestId('edit-rcd')).toBeNull();
  expect(screen.getByTestId('map-rcd-G1').textContent).toMatch(/RCD 100 mA type AC/);
  expect((await keptView(job)).map?.points[0]?.elements.flatMap((e) => (e.kind === 'pole' && e.residualMa ? [[e.residualMa, e.residualType]] : []))).toEqual([[100, 'AC']]);
});

test('the type of a main RCD outlives a change of the supply', async () => {
  const edits = [{ edit: 'setSupply', supply: { arrangement: 'TT', phases: 1, main: { ratingA: 80, residualMa: 100 } } }, { edit: 'setResidual', device: 'main', residualMa: 100, type: 'B' }];
  const job = new JobMaker('4 ways').add(...edits.map((edit) => ({ type: 'mapEdited', edit })));
  await renderJob(job, <MapScreen />);
  expect(screen.getByTestId('map-rcd-main').textContent).toMatch(/Main RCD.*100 mA type B/);
  await pressId('map-supply');
  await type('Rating', '63');
  await pressId('save-supply');
  expect((await keptView(job)).map?.supply?.main).toEqual({ ratingA: 63, residualMa: 100, residualType: 'B' });
});

// Nothing typed is lost, whatever closes the sheet.
const closeSheet = (): Promise<void> => press('Close');

test('what was typed at a way is kept when its sheet is closed, and when its circuit is drawn', async () => {
  const job = new JobMaker('4 ways');
  await renderJob(job, <MapScreen />);
  await pressId('map-way-w2');
  await type('What it feeds, as the label says', 'Kiln room');
  await type('Rating', '20');
  await closeSheet();
  expect(screen.queryByTestId('edit-way')).toBeNull();
  expect(screen.getByTestId('map-way-w2').textContent).toMatch(/Kiln room.*B20/);
  await pressId('map-way-w3');
  await type('Rating', '6');
  await type(/^Draw it/, 'lights, 4');
  await pressId('draw-it');
  expect(screen.getByTestId('map-way-w3').textContent).toMatch(/B6/);
  expect((await keptView(job)).map?.points.length).toBeGreaterThan(7);
});

test('a sheet that was opened and closed says nothing', async () => {
  const job = new JobMaker('4 ways');
  await renderJob(job, <MapScreen />);
  for (const id of ['map-way-w1', 'map-supply']) {
    await pressId(id);
    await closeSheet();
  }
  expect((await keptView(job)).map).toEqual(deriveJob(job.file.events, Date.now()).map);
});

test('a point: name, minutes, load and metal typed together are all kept on closing; a length too', async () => {
  const job = radial();
  await renderJob(job, <MapScreen />);
  await pressId('row-p2');
  await press('Yes');
  await type('Name', 'Sink wall');
  await type(/^More minutes than usual/, '4');
  await type(/By that way/, '0,3');
  await type('Power on its plate', '2000');
  await closeSheet();
  const point = (await keptView(job)).map?.points.find((p) => p.id === 'p2');
  expect(point).toMatchObject({ name: 'Sink wall', extraMin: 4, metalOhm: 0.3 });
  expect(point?.elements.flatMap((e) => (e.kind === 'load' ? [[Math.round((230 * 230) / e.ohm), e.guessed ?? false]] : []))).toEqual([[2000, false]]);
  await pressId('row-s2');
  await type('Length', '9');
  await closeSheet();
  expect((await keptView(job)).map?.sections[1]).toMatchObject({ lengthM: 9, lengthKnown: true });
});

test('metal that was said not to touch after all is not brought back by what was typed before', async () => {
  const job = radial();
  await renderJob(job, <MapScreen />);
  await pressId('row-p2');
  await press('Yes');
  await type(/By that way/, '0,3');
  await press('No');
  await closeSheet();
  expect((await keptView(job)).map?.points.find((p) => p.id === 'p2')?.metalOhm).toBeUndefined();
});

test('what the map refuses keeps the sheet open with the reason; closed once more it is given up, pressed to save it is not', async () => {
  const job = radial();
  await renderJob(job, <MapScreen />);
  await pressId('row-s2');
  await type('Length', '0');
  await pressId('save-length');
  await pressId('save-length');
  expect(screen.getByTestId('edit-section')).toBeTruthy();
  await closeSheet();
  expect(problem()).not.toBe('');
  expect(screen.getByTestId('edit-section')).toBeTruthy();
  await closeSheet();
  expect(screen.queryByTestId('edit-section')).toBeNull();
  expect((await keptView(job)).map?.sections[1]?.lengthM).toBe(7);
});

test('what stands on the device of a way is a guess until it is typed or ticked; a name alone reads nothing', async () => {
  const job = new JobMaker('4 ways');
  await renderJob(job, <MapScreen />);
  const row = (n: number): string => screen.getByTestId(`map-way-w${n}`).textContent ?? '';
  const edit = async (way: number, what: () => Promise<void>): Promise<void> => {
    await pressId(`map-way-w${way}`);
    await what();
    await pressId('save-way');
  };
  await edit(1, () => type('What it feeds, as the label says', 'Kitchen'));
  await edit(2, () => pressId('way-read'));
  await edit(3, () => type('Rating', '6'));
  expect([1, 2, 3].map((n) => /guessed/.test(row(n)))).toEqual([true, false, false]);
  expect(row(1)).toContain('Kitchen');
  expect(row(2)).toContain('MCB B32');
  expect(row(3)).toContain('MCB B6');
  // Nobody is asked twice.
  await pressId('map-way-w3');
  expect(screen.queryByTestId('way-read')).toBeNull();
});
