import type { Run } from './strategies';
import type { TwoRun } from './two';
import type { Family } from './world';

/** One line of a table of hunts. */
export interface Row {
  readonly cases: number;
  readonly rightShare: number;
  readonly verdictShare: number;
  readonly verdictRightShare: number;
  readonly minutes: number;
  readonly readings: number;
  readonly opened: number;
}

export function summarise(runs: readonly Run[]): Row {
  const n = runs.length;
  const mean = (f: (r: Run) => number): number => (n ? runs.reduce((sum, r) => sum + f(r), 0) / n : 0);
  const verdicts = runs.filter((r) => r.verdict);
  return {
    cases: n,
    rightShare: mean((r) => (r.right ? 1 : 0)),
    verdictShare: mean((r) => (r.verdict ? 1 : 0)),
    verdictRightShare: verdicts.length ? verdicts.filter((r) => r.right).length / verdicts.length : 0,
    minutes: mean((r) => r.minutes),
    readings: mean((r) => r.readings),
    opened: mean((r) => r.opened),
  };
}

export type Strategy = 'gutter' | 'halfSplitting' | 'pointByPoint';
export interface Result { readonly strategy: Strategy; readonly family: Family; readonly seed: number; readonly run: Run }

const percent = (x: number): string => `${(100 * x).toFixed(1)} %`;

export function printTable(title: string, results: readonly Result[], strategies: readonly Strategy[]): Record<string, Record<string, Row>> {
  console.log(`\n${title}`);
  console.log(`${'strategy'.padEnd(16)}${'family'.padEnd(10)}${'cases'.padStart(6)}${'right'.padStart(9)}${'verdicts'.padStart(10)}${'of those right'.padStart(16)}${'minutes'.padStart(9)}${'readings'.padStart(10)}${'opened'.padStart(8)}`);
  const table: Record<string, Record<string, Row>> = {};
  for (const strategy of strategies) {
    const mine = results.filter((r) => r.strategy === strategy);
    const rows: Record<string, Row> = {};
    for (const family of [...new Set(mine.map((r) => r.family)), 'pooled']) {
      const row = summarise(mine.filter((r) => family === 'pooled' || r.family === family).map((r) => r.run));
      rows[family] = row;
      console.log(
        `${strategy.padEnd(16)}${family.padEnd(10)}${String(row.cases).padStart(6)}${percent(row.rightShare).padStart(9)}${percent(row.verdictShare).padStart(10)}${percent(row.verdictRightShare).padStart(16)}${row.minutes.toFixed(1).padStart(9)}${row.readings.toFixed(1).padStart(10)}${row.opened.toFixed(1).padStart(8)}`,
      );
    }
    table[strategy] = rows;
  }
  printCalibration('', results.filter((r) => r.strategy === 'gutter').map((r) => r.run));
  const base = table.gutter?.pooled;
  if (base) for (const s of strategies) if (s !== 'gutter') console.log(`minutes against ${s}: ${(base.minutes / (table[s]?.pooled?.minutes ?? NaN)).toFixed(3)}`);
  return table;
}

/** Of the leaders whose share stood between 85 and 95 %, over every step of the runs, how many were right. */
export function printCalibration(of: string, runs: readonly Pick<Run, 'nearlySure'>[]): { steps: number; right: number } {
  const steps = runs.reduce((s, r) => s + r.nearlySure.steps, 0);
  const right = runs.reduce((s, r) => s + r.nearlySure.right, 0);
  if (steps) console.log(`leaders between 85 and 95 %${of}: ${steps} steps, ${percent(right / steps)} of them right`);
  return { steps, right };
}

/** Two faults in different circuits: how often both were named, and how often it was called one or three. */
export function printTwo(title: string, results: readonly { readonly two: TwoRun }[]): Record<string, number> {
  const n = results.length;
  const share = (f: (r: TwoRun) => boolean): number => results.filter((r) => f(r.two)).length / n;
  const row = { cases: n, both: share((r) => r.both), one: share((r) => r.called === 1), none: share((r) => r.called === 0), three: share((r) => r.called > 2), atOnce: share((r) => r.atOnce), minutes: results.reduce((s, r) => s + r.two.minutes, 0) / n };
  console.log(`\nTwo faults in different circuits, ${title}: ${n} cases, both named ${percent(row.both)} (${percent(row.atOnce)} named two at once), called one ${percent(row.one)}, three or more ${percent(row.three)}, none ${percent(row.none)}, ${row.minutes.toFixed(1)} minutes`);
  printCalibration('', results.map((r) => r.two));
  return row;
}
