import { CAP_MIN, type RoutineRun, type Visited } from '.';

type Made = Omit<Visited, 'log'>;

const percent = (x: number): string => `${(100 * x).toFixed(1)} %`;

/** Figures of whole visits: right, wrong though sure, minutes, calibration by tenths, and every sentence that was checked. */
export function printVisits(title: string, visits: readonly Made[]): Record<string, number> {
  const n = visits.length;
  const sum = (f: (v: Made) => number): number => visits.reduce((s, v) => s + f(v), 0);
  const nothing = visits.filter((v) => !v.families.length);
  const wrong = visits.filter((v) => v.families.length);
  const share = (a: number, b: number): number => (b ? a / b : NaN);
  const figures = {
    visits: n, right: share(wrong.filter((v) => v.right).length, wrong.length), wrongThoughSure: share(visits.filter((v) => v.wrongSure).length, n), answered: share(wrong.filter((v) => v.answered).length, wrong.length), rightAfterNothing: share(nothing.filter((v) => v.right).length, nothing.length), minutes: share(sum((v) => v.minutes), n),
    clearedTruth: share(sum((v) => v.clearedTruth), sum((v) => v.advices)), outcomeHeld: share(sum((v) => v.outcomes.held), sum((v) => v.outcomes.asked)), explainsAgrees: share(sum((v) => v.explains.agreed), sum((v) => v.explains.asked)),
    unsafe: sum((v) => v.unsafe), powerOnHazard: sum((v) => v.powerOn), proved: sum((v) => v.proved), falseProof: sum((v) => v.falseProof),
  };
  console.log(`\nWhole visits, ${title}: ${n}, of them ${nothing.length} with nothing wrong`);
  console.log(`right place and conductor ${percent(figures.right)} of ${wrong.length}, or with nothing found that explains it where what is wrong does not: ${percent(figures.answered)} · wrong at 95 % or more ${percent(figures.wrongThoughSure)} · right where nothing was wrong ${percent(figures.rightAfterNothing)} · ${figures.minutes.toFixed(1)} minutes · ${share(sum((v) => v.steps), n).toFixed(1)} steps`);
  console.log(`cleared lists held the truth in ${percent(figures.clearedTruth)} of ${sum((v) => v.advices)} steps · table held the reading ${percent(figures.outcomeHeld)} of ${sum((v) => v.outcomes.asked)} · explains agrees ${percent(figures.explainsAgrees)} of ${sum((v) => v.explains.asked)} · needs unmet ${figures.unsafe} · power on with a hazard ${figures.powerOnHazard} · proved ${figures.proved}, with the fault in ${figures.falseProof}`);
  // Until something is named; a visit that ends wrong costs all the time there is, for somebody has to come again.
  const minutesOf = (f: (v: Made) => { right: boolean; minutes: number }): { named: number; found: number; right: number } => ({ named: share(sum((v) => f(v).minutes), n), found: share(sum((v) => (f(v).right ? f(v).minutes : CAP_MIN)), n), right: share(sum((v) => (f(v).right ? 1 : 0)), n) });
  const ours = minutesOf((v) => ({ right: v.right, minutes: v.huntMinutes }));
  console.log(`until something is named: ${ours.named.toFixed(1)} minutes, ${ours.found.toFixed(1)} where a wrong end counts ${CAP_MIN}`);
  const against = (name: string, f: (v: Made) => RoutineRun): void => {
    const theirs = minutesOf(f);
    console.log(`  ${name}: ${theirs.named.toFixed(1)} and ${theirs.found.toFixed(1)} minutes, right ${percent(theirs.right)}; ratio ${(ours.named / theirs.named).toFixed(2)} and ${(ours.found / theirs.found).toFixed(2)}`);
  };
  against('the trade’s routine', (v) => v.routine);
  against('point by point', (v) => v.points);
  const bins = Array.from({ length: 10 }, (_, k) => ({ steps: sum((v) => v.bins[k]?.steps ?? 0), right: sum((v) => v.bins[k]?.right ?? 0) }));
  console.log(`leaders right, by tenth of their share: ${bins.map((b, k) => `${k * 10}–${k * 10 + 10}: ${b.steps ? Math.round((100 * b.right) / b.steps) : '–'} % of ${b.steps}`).join(' · ')}`);
  const families = [...new Set(visits.map((v) => v.families.join('+') || 'nothing'))].sort();
  for (const f of families) {
    const mine = visits.filter((v) => (v.families.join('+') || 'nothing') === f);
    console.log(`  ${f.padEnd(30)} ${String(mine.length).padStart(3)}  right ${String(mine.filter((v) => v.right).length).padStart(3)}  sure and wrong ${mine.filter((v) => v.wrongSure).map((v) => v.seed).join(' ')}`);
  }
  return figures;
}
