import { JobMaker, keptView, press, pressId, renderJob } from '@/testing/renderJob';
import { cleanup, screen } from '@testing-library/react';
import { LookSheet } from './LookSheet';

const job = (): JobMaker => new JobMaker('radial, 3').dead();

test('from outside nothing is opened; nothing to see is kept as a look at this point', async () => {
  const j = job();
  let closed = 0;
  await renderJob(j, <LookSheet look={{ point: 'p2', outside: true, plug: null, bar: null }} onClose={() => closed++} />);
  expect(screen.getByTestId('look-sheet').textContent).toContain('nothing is opened');
  await pressId('nothing-to-see');
  expect(closed).toBe(1);
  expect((await keptView(j)).asked.seen).toEqual([{ what: 'cleanOutside', place: 'p2' }]);
});

test('a sign is kept at the point where it was seen', async () => {
  const j = job();
  await renderJob(j, <LookSheet look={{ point: 'p2', outside: false, plug: null, bar: null }} onClose={() => undefined} />);
  await press('Scorched or melted');
  expect((await keptView(j)).asked.seen).toEqual([{ what: 'scorch', place: 'p2' }]);
});

test('under a cover an end that moves comes first; from outside nobody tugs', async () => {
  await renderJob(job(), <LookSheet look={{ point: 'p2', outside: false, plug: null, bar: null }} onClose={() => undefined} />);
  expect(screen.getByTestId('look-loose').compareDocumentPosition(screen.getByTestId('look-screws')) & Node.DOCUMENT_POSITION_FOLLOWING).toBeTruthy();
  cleanup();
  await renderJob(job(), <LookSheet look={{ point: 'p2', outside: true, plug: null, bar: null }} onClose={() => undefined} />);
  expect(screen.queryByTestId('look-loose')).toBeNull();
});

test('a plug that stayed in is looked for by name: what is found puts the record right, and nothing in is kept as seen', async () => {
  const j = new JobMaker('ring, 4').dead().add({ type: 'loadsMoved', parts: ['p2.plug'], out: true });
  await renderJob(j, <LookSheet look={{ point: 'p2', outside: true, plug: 'p2.plug', bar: null }} onClose={() => undefined} />);
  await pressId('nothing-in');
  expect((await keptView(j)).asked.seen).toEqual([{ what: 'nothingIn', place: 'p2' }]);
  cleanup();
  await renderJob(j, <LookSheet look={{ point: 'p2', outside: true, plug: 'p2.plug', bar: null }} onClose={() => undefined} />);
  await pressId('was-in');
  expect((await keptView(j)).asked.seen).toContainEqual({ what: 'wasIn', place: 'p2.plug' });
});

test('which bar a neutral is in: every neutral bar of the board by its name, as drawn first; what is said is kept', async () => {
  const j = new JobMaker('4 ways, RCD on 1 to 2, RCD on 3 to 4').dead();
  const look = { point: 'p0', outside: false, plug: null, bar: 's2@a:N' };
  await renderJob(j, <LookSheet look={look} onClose={() => undefined} />);
  const text = screen.getByTestId('look-sheet').textContent;
  expect(text).toContain('as drawn');
  expect(text).not.toMatch(/NG\d|s2@a/);
  await pressId('bar-NG2');
  expect((await keptView(j)).asked.seen).toEqual([{ what: 'inBar', place: 's2@a:N>NG2' }]);
});
