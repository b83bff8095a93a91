export type ReadTrip = { readonly ok: true; readonly trip: { readonly when: number; readonly hour: number; readonly running: string[] } } | { readonly ok: false; readonly problem: string };

/** A line of the diary as it is typed: a day without a year is the latest that is past; a time that is still to come is refused. */
export function readTrip(date: string, time: string, running: string, now: number): ReadTrip {
  const clock = /^(\d{1,2})(?:[:.h](\d{2}))?$/.exec(time.trim());
  const hour = Number(clock?.[1] ?? NaN);
  const minute = Number(clock?.[2] ?? 0);
  if (!clock || hour > 23 || minute > 59) return { ok: false, problem: 'The time is not understood. Type it as 6:30 or 18.' };
  const today = new Date(now);
  const iso = /^(\d{4})-(\d{1,2})-(\d{1,2})$/.exec(date.trim());
  const short = /^(\d{1,2})[./](\d{1,2})\.?(\d{4})?$/.exec(date.trim());
  let [year, month, day] = [today.getFullYear(), today.getMonth() + 1, today.getDate()];
  if (iso) [year, month, day] = [Number(iso[1]), Number(iso[2]), Number(iso[3])];
  else if (short) [day, month, year] = [Number(short[1]), Number(short[2]), short[3] ? Number(short[3]) : year];
  else if (date.trim() !== '') return { ok: false, problem: 'The day is not understood. Type it as 24.11. or 2026-11-24.' };
  let when = new Date(year, month - 1, day, hour, minute);
  if (when.getMonth() !== month - 1 || when.getDate() !== day) return { ok: false, problem: 'There is no such day. Type it as 24.11. or 2026-11-24.' };
  if (when.getTime() > now && short && !short[3]) when = new Date(year - 1, month - 1, day, hour, minute);
  if (when.getTime() > now) return { ok: false, problem: 'This time is still to come. A diary holds what has been: correct the day or the time.' };
  return { ok: true, trip: { when: when.getTime(), hour, running: running.split(/[,;]/).map((x) => x.trim().slice(0, 60)).filter(Boolean).slice(0, 20) } };
}
