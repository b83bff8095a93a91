import type { LiveTest } from '@core/live';

type Read = { readonly ok: true; readonly tests: LiveTest[] } | { readonly ok: false; readonly problem: string };

/** Up to eight typed figures as tests: the slower time, the lower ramp; "x" says that the device did not go. */
export function readRcdFigures(device: string, figures: Readonly<Record<string, string>>, outgoing: 'out' | 'in', multiples: readonly (0.5 | 1 | 5)[]): Read {
  const tests: LiveTest[] = [];
  const values = (id: string): (number | null)[] | undefined => {
    const texts = [figures[`${id} 0`], figures[`${id} 180`]].map((t) => (t ?? '').trim()).filter(Boolean);
    const found = texts.map((t) => (/^(x|-|–|no)$/i.test(t) ? null : Number(t.replace(',', '.'))));
    return found.some((v) => v !== null && !(Number.isFinite(v) && v >= 0)) ? undefined : found;
  };
  for (const multiple of multiples) {
    const found = values(String(multiple));
    if (found === undefined) return { ok: false, problem: `The time at ${multiple}× is no figure. Type milliseconds, or “x” where it did not trip.` };
    if (!found.length) continue;
    const went = found.filter((v): v is number => v !== null);
    // At half it must not go, so one half-cycle that goes counts; at 1× and 5× one that does not go counts.
    const ms = multiple === 0.5 ? (went.length ? Math.max(...went) : null) : went.length < found.length ? null : Math.max(...went);
    tests.push({ kind: 'times', device, multiple, ms });
  }
  const ramp = values('ramp');
  if (ramp === undefined) return { ok: false, problem: 'The ramp is no figure. Type milliamperes, or “x” where it did not trip.' };
  if (ramp.length) {
    const went = ramp.filter((v): v is number => v !== null);
    tests.push({ kind: 'ramp', device, mA: went.length < ramp.length ? null : Math.min(...went), outgoing });
  }
  return tests.length ? { ok: true, tests } : { ok: false, problem: 'Nothing is typed yet.' };
}
