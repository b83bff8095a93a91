/** Two weeks of evening reminders to write trips down, as an iCalendar file. `job`: its id; two jobs are two entries of a calendar. */
export async function diaryCalendar(job: string, title: string, now: number): Promise<string> {
  const { default: ical, ICalEventRepeatingFreq } = await import('ical-generator');
  const start = new Date(now);
  start.setHours(20, 0, 0, 0);
  const calendar = ical({ name: `${title}: trip diary` });
  calendar.createEvent({
    id: `trip-diary-${job}-${start.toISOString().slice(0, 10)}`, start, end: new Date(start.getTime() + 10 * 60000), summary: `Did it trip today? ${title}`,
    description: 'Time, weather, what was running and what was just switched on. One line each.', repeating: { freq: ICalEventRepeatingFreq.DAILY, count: 14 },
  });
  return calendar.toString();
}
