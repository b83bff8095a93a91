import { boardOf, circuitOfWay, endsAtPoint, labelOfWay, terminalKey, waysOfBoard } from '../installation';
import type { JobView, ReadingView } from '../job';
import type { Probe } from '../probes';
import { isAbove } from '../tester';

/**
 * What would trip new residual current devices, found while the old board still hangs. With every neutral out of its bar, each
 * way is read twice, its line and neutral tied so that no load is harmed: to earth, and to all the other neutrals together.
 */
export interface ChangeRow {
  readonly way: string;
  readonly name: string;
  readonly toEarth: Check;
  /** Null where there is no other neutral to share. */
  readonly toOthers: Check | null;
}

export interface Check {
  readonly probe: Probe;
  readonly reading: ReadingView | null;
  readonly finding: Finding | null;
}

/** trips: passes more than half of the device's current; loads it: more than its share; poor: below the least insulation; joined: another circuit's neutral. */
export type Finding = 'trips' | 'loads it' | 'poor' | 'joined' | 'good';

export interface BoardChange {
  /** Ends of neutrals that still lie in a bar. */
  readonly neutralsIn: readonly string[];
  readonly rows: readonly ChangeRow[];
  readonly found: number;
  readonly left: number;
}

const LEAST_OHM = 1e6;
/** A load between two circuits' neutrals is some ohms to kilohms; sound wiring is megohms. */
const JOINED_BELOW_OHM = 1e6;

/** Of a board; `residualMa`: of the devices to come, `share`: of it that may leak in service. Null where no board is drawn. */
export function boardChange(view: JobView, residualMa: number, share: number): BoardChange | null {
  const { map, state } = view;
  const board = map && boardOf(map);
  if (!map || !board || map.shape !== 'board') return null;
  const ends = endsAtPoint(map, board.id);
  const neutrals = ends.filter((e) => e.role === 'N');
  const neutralsIn = neutrals.filter((e) => !state.out.includes(e.key)).map((e) => e.key);
  const earth = terminalKey(board.id, board.terminals.find((t) => t.role === 'E')?.id ?? 'E');
  const readingOf = (probe: Probe): ReadingView | null => [...view.readings].reverse().find((r) => !r.struck && !r.parked && same(r.event.probe, probe) && r.state.out.length >= neutrals.length) ?? null;
  const rows = waysOfBoard(map).map((w): ChangeRow => {
    const leaves = circuitOfWay(map, w.id).leaves;
    const own = ends.filter((e) => leaves.includes(e.section));
    const lines = [...new Set(own.filter((e) => /^L[123]?$/.test(e.role)).map((e) => (state.out.includes(e.key) ? e.key : terminalKey(board.id, e.terminal))))];
    const tied = [...lines, ...own.filter((e) => e.role === 'N').map((e) => e.key)];
    const others = neutrals.filter((e) => !own.includes(e)).map((e) => e.key);
    const toEarth: Probe = { fn: 'insulation', from: tied, to: [earth] };
    const toOthers: Probe = { fn: 'insulation', from: tied, to: others };
    const check = (probe: Probe, judge: (ohm: number) => Finding): Check => {
      const reading = readingOf(probe);
      const d = reading?.event.displayed;
      return { probe, reading, finding: d === undefined ? null : isAbove(d) ? 'good' : judge(d.ohm) };
    };
    return {
      way: w.id, name: labelOfWay(map, w.id),
      toEarth: check(toEarth, (ohm) => {
        const mA = (1000 * map.nominalVolt) / Math.max(ohm, 1);
        return mA > residualMa / 2 ? 'trips' : mA > residualMa * share ? 'loads it' : ohm < LEAST_OHM ? 'poor' : 'good';
      }),
      toOthers: others.length ? check(toOthers, (ohm) => (ohm < JOINED_BELOW_OHM ? 'joined' : 'good')) : null,
    };
  });
  const checks = rows.flatMap((r) => [r.toEarth, ...(r.toOthers ? [r.toOthers] : [])]);
  return { neutralsIn, rows, found: checks.filter((c) => c.finding !== null && c.finding !== 'good').length, left: checks.filter((c) => c.finding === null).length };
}

const same = (a: Probe, b: Probe): boolean => sorted(a.from) === sorted(b.from) && sorted(a.to) === sorted(b.to);
const sorted = (keys: readonly string[]): string => [...keys].sort().join();
