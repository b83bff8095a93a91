import { screen, waitFor } from '@testing-library/react';
import { JobMaker, kept, press, pressId, renderJob, type } from '@/testing/renderJob';
import { parseJobFile } from '@core/job';
import { OverScreen } from './OverScreen';

const saved: { name: string; type: string; text: string }[] = [];
jest.mock('@/files', () => ({
  ...jest.requireActual<typeof import('@/files')>('@/files'),
  saveFile: (name: string, mime: string, content: unknown) => void saved.push({ name, type: mime, text: typeof content === 'string' ? content : 'bytes' }),
}));
const mockPdf = jest.fn<Promise<Blob>, unknown[]>();
jest.mock('./makePdf', () => ({ makePdf: (...a: unknown[]) => mockPdf(...a) }));
beforeEach(() => {
  saved.length = 0;
  mockPdf.mockReset();
});

const measured = (): JobMaker => new JobMaker('radial, 3').dead().read('insulation', 's1@a:L', 's1@a:E', 230e3).read('continuity', 's1@a:N', 'p2/f1:N', 'above');

test('an open job is told as it is: nothing mended, nothing proved, no certificate', async () => {
  await renderJob(measured(), <OverScreen />);
  expect(screen.getByTestId('report-proof').textContent).toBe('Nothing was mended, so nothing is proved.');
  const text = screen.getByTestId('report').textContent ?? '';
  expect(text).toContain('0.23 MΩ');
  expect(text).toContain('no certificate');
  expect(text).not.toMatch(/undefined|NaN|\[object/);
});

test('a repair whose retests are open is “not proved”', async () => {
  await renderJob(measured().add({ type: 'mended', suspect: 'open s2:N', place: 's2', how: 'replaced', text: 'new cable', explains: 'yes' }), <OverScreen />);
  expect(screen.getByTestId('report-proof').textContent).toMatch(/^Not proved: \d+ of \d+ retests/);
  expect(screen.getByTestId('report').textContent).toContain('replaced: new cable; explains the complaint');
});

test('the readings go out as CSV under the name of the job', async () => {
  await renderJob(measured(), <OverScreen />);
  await pressId('csv');
  expect(saved[0]).toMatchObject({ name: 'throwing-room.csv', type: 'text/csv' });
  expect(saved[0]?.text.trim().split('\r\n')).toHaveLength(3);
});

test('the job file that goes out opens as the same job', async () => {
  const job = measured();
  await renderJob(job, <OverScreen />);
  await pressId('job-file');
  expect(saved[0]?.name).toBe('throwing-room.gutter.json');
  const parsed = parseJobFile(saved[0]?.text ?? '');
  expect(parsed.ok && parsed.value).toEqual(job.file);
});

test('the page goes out as HTML that holds the readings', async () => {
  await renderJob(measured(), <OverScreen />);
  await press('HTML page');
  expect(saved[0]?.name).toBe('throwing-room.html');
  expect(saved[0]?.text).toContain('0.23 MΩ');
});

test('the PDF is made from the report', async () => {
  mockPdf.mockResolvedValue(new Blob(['%PDF-']));
  await renderJob(measured(), <OverScreen />);
  await pressId('make-pdf');
  await waitFor(() => expect(saved[0]).toMatchObject({ name: 'throwing-room.pdf', type: 'application/pdf' }));
  expect(mockPdf.mock.calls[0]?.[0]).toMatchObject({ title: 'Throwing room' });
});

test('a PDF that cannot be made says what to do instead, and nothing is lost', async () => {
  mockPdf.mockRejectedValue(new Error('no fonts'));
  await renderJob(measured(), <OverScreen />);
  await pressId('make-pdf');
  await waitFor(() => expect(screen.getByTestId('problem').textContent).toContain('Export the HTML page instead'));
  expect(screen.getByTestId('make-pdf').getAttribute('aria-disabled')).not.toBe('true');
});

test('a danger that was seen is kept with the job and told to the customer', async () => {
  const job = measured();
  await renderJob(job, <OverScreen />);
  await press('Danger');
  await type('What', 'no bond at the inlet');
  await press('Add');
  expect((await kept(job, 'noted'))[0]).toMatchObject({ text: 'no bond at the inlet', severity: 'danger' });
  expect(screen.getByTestId('report').textContent).toContain('Danger noted: no bond at the inlet');
});

test('an empty observation is not kept', async () => {
  const job = measured();
  await renderJob(job, <OverScreen />);
  await press('Add');
  expect(await kept(job, 'noted')).toEqual([]);
});
