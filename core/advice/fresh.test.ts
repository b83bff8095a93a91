import { draft } from '../installation/fixtures/drafted';
import { Play } from '../simulation';
import { Advisor, type Advice } from '.';

test('whoever has advised another job on the same board advises as if it were the first: what was seen there is not seen here', () => {
  const start = (): Play => new Play({ id: 'x', name: 'X', agreedMin: 90, seed: 5, phrase: '', map: draft('4 ways, RCD on 1 to 4'), faults: [], cantReach: [], asked: { complaint: 'rcd trips', shock: false, notes: '', wet: false, works: false } }, 1e12);
  const other = start();
  other.workDevices(4);
  expect(other.view.liveReadings.length).toBeGreaterThan(1);
  const used = new Advisor();
  used.advise(other.view);
  const said = (a: Advice | null): unknown => a?.liveSteps.map((s) => [s.key, s.bits]);
  expect(said(used.advise(start().view))).toEqual(said(new Advisor().advise(start().view)));
});
