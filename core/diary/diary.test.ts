import { answerOf, diaryPage, patternsOf, type Trip } from '.';

const trip = (hour: number, weather: Trip['weather'], ...running: string[]): Trip => ({ at: hour * 3.6e6, hour, weather, running });
const kinds = (trips: Trip[]): string[] => patternsOf(trips).map((p) => p.kind);

test('fewer than three trips show nothing', () => {
  expect(patternsOf([trip(6, 'wet'), trip(7, 'wet')])).toEqual([]);
  expect(answerOf([])).toBeNull();
});

test('in the small hours, across midnight: hours go round the clock', () => {
  const found = patternsOf([trip(23, 'dry'), trip(0, 'dry'), trip(1, 'unknown'), trip(23, 'dry'), trip(14, 'dry')]);
  expect(found[0]).toMatchObject({ kind: 'hours', share: 0.8, of: 5 });
});

test('in the wet, with one thing, with several: each is named, and answers when it trips', () => {
  expect(kinds([trip(3, 'wet'), trip(9, 'wet'), trip(15, 'wet'), trip(20, 'dry')])).toEqual(['wet']);
  const kiln = [trip(3, 'dry', 'Kiln', 'Radio'), trip(9, 'dry', 'kiln '), trip(15, 'unknown', 'Kiln', 'Fan')];
  expect(patternsOf(kiln)[0]).toMatchObject({ kind: 'appliance', what: 'kiln', share: 1 });
  expect(answerOf(patternsOf(kiln))).toBe('oneThing');
  const many = [trip(3, 'dry', 'a', 'b', 'c'), trip(9, 'dry', 'd', 'e', 'f'), trip(15, 'dry', 'a', 'd', 'g', 'h')];
  expect(answerOf(patternsOf(many))).toBe('moreLoad');
});

test('what is always on is no pattern; trips with nothing in common come at odd times', () => {
  const always = [trip(3, 'dry', 'freezer', 'router'), trip(9, 'wet', 'freezer', 'router'), trip(17, 'dry', 'freezer', 'router')];
  expect(kinds(always)).toEqual(['none']);
  expect(answerOf(patternsOf(always))).toBe('odd');
});

test('the page for the customer holds the words safely', () => {
  expect(diaryPage('Shop <board>', ['Sign & lamp'])).toContain('Shop &lt;board&gt;: when');
});
