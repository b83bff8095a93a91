import { diaryCalendar } from './calendar';
import { readTrip } from './readTrip';

const now = new Date(2026, 10, 26, 12, 0).getTime();
const when = (date: string, time: string): string | undefined => {
  const r = readTrip(date, time, 'Kiln, radio', now);
  return r.ok ? new Date(r.trip.when).toString().slice(4, 21) : r.problem;
};

test('days as people write them; without a year the latest that is past', () => {
  expect(when('24.11.', '6:30')).toBe('Nov 24 2026 06:30');
  expect(when('24/12', '18')).toBe('Dec 24 2025 18:00');
  expect(when('', '11.45')).toBe('Nov 26 2026 11:45');
  expect(when('2026-11-01', '0:05')).toBe('Nov 01 2026 00:05');
});

test('what cannot be is said with the way out', () => {
  expect(when('31.2.', '6')).toMatch(/no such day/i);
  expect(when('24.11.', '25:00')).toMatch(/time is not understood/);
  expect(when('', '13:00')).toMatch(/still to come/);
  expect(when('soon', '6')).toMatch(/day is not understood/);
});

test('the calendar file is one daily date for two weeks', async () => {
  const ics = await diaryCalendar('j1', 'Shop board', now);
  expect(ics).toMatch(/^BEGIN:VCALENDAR\r\n/);
  expect(ics).toMatch(/RRULE:FREQ=DAILY;COUNT=14/);
  expect(ics).toMatch(/END:VCALENDAR$/);
  const uid = (text: string): string => /UID:(.*)/.exec(text)?.[1] ?? '';
  expect(uid(ics)).not.toBe('');
  expect(uid(await diaryCalendar('j2', 'Shop board', now))).not.toBe(uid(ics));
});
