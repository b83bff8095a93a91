import type { Advice } from '@core/advice';
import { boardOf, boardPart, circuitsOf, endsAtPoint, isDrawn, labelOfWay, lineRoles, terminalKey, type Device, type Installation } from '@core/installation';
import type { JobView, ReadingView } from '@core/job';
import { placeNames } from '@core/planning';
import { probeKey, type Probe } from '@core/probes';
import { elementKey } from '@core/workstate';

export const pairs = ['LN', 'LE', 'NE'] as const;
export type Pair = (typeof pairs)[number];

export interface Cell {
  readonly pair: Pair;
  readonly probe: Probe;
  /** The last insulation reading of this pair, in this state of the way or in another. */
  readonly reading: ReadingView | null;
  /** True when the reading was taken in another state of the work: it no longer says what it said. */
  readonly stale: boolean;
  /** The last one on the ohms range, in the same way: the one never hides the other. */
  readonly ohms: { readonly reading: ReadingView; readonly stale: boolean } | null;
  /** Is this the pair that the next step reads? */
  readonly next: boolean;
  /** The neutral lies in a bar with others: what is read is the bar, not this way. */
  readonly shared: boolean;
}

export interface WayRow {
  readonly way: string;
  readonly number: number;
  readonly section: string;
  readonly circuit: string;
  readonly name: string;
  /** Is its circuit drawn, so that one can go into it? */
  readonly drawn: boolean;
  readonly device: Device | null;
  readonly on: boolean;
  readonly neutralOut: boolean;
  readonly earthOut: boolean;
  readonly loadsIn: boolean;
  /** Belief that the fault is in this way's circuit, 0…1; null before any reading. */
  readonly share: number | null;
  readonly cells: readonly Cell[];
}

/** The board as a grid: a row a way, a column a pair, the bars last. */
export function describeBoard(view: JobView, advice: Advice | null, next: Probe | null): { ways: WayRow[]; bars: { name: string; cell: Cell }[] } {
  const { map, state } = view;
  const board = map && boardOf(map);
  if (!map || !board) return { ways: [], bars: [] };
  const out = new Set(state.out);
  const circuits = circuitsOf(map);
  const shares = sharesByCircuit(map, advice, circuits);
  const cell = (pair: Pair, from: readonly string[], to: readonly string[], shared = false): Cell => {
    const probe: Probe = { fn: 'insulation', from: [...from], to: [...to] };
    const [a, b] = [from.join(), to.join()];
    const same = (p: Probe): boolean => (p.from.join() === a && p.to.join() === b) || (p.from.join() === b && p.to.join() === a);
    const last = (fn: Probe['fn']): ReadingView | null => [...view.readings].reverse().find((r) => !r.struck && !r.parked && r.event.probe.fn === fn && same(r.event.probe)) ?? null;
    const before = (r: ReadingView): boolean => JSON.stringify(r.state) !== JSON.stringify(state);
    const [reading, ohms] = [last('insulation'), last('continuity')];
    return {
      pair, probe: next && same(next) ? next : probe, reading, stale: reading !== null && before(reading), ohms: ohms && { reading: ohms, stale: before(ohms) }, next: next !== null && same(next), shared,
    };
  };
  const ends = endsAtPoint(map, board.id);
  const ways = board.elements.flatMap((w, i): WayRow[] => {
    if (w.kind !== 'way') return [];
    const section = ends.find((e) => e.terminal === w.b)?.section;
    if (!section) return [];
    const end = (role: string): { key: string; terminal: string } | undefined => ends.find((e) => e.section.id === section.id && e.role === role);
    const place = (role: string, otherwise: string): string => {
      const e = end(role);
      return !e ? terminalKey(board.id, otherwise) : out.has(e.key) ? e.key : terminalKey(board.id, e.terminal);
    };
    // Three lines are read tied: which of them it is comes after, pair by pair.
    const lines = ends.filter((x) => x.section.id === section.id && lineRoles.some((r) => r === x.role)).map((x) => place(x.role, x.terminal));
    const [l, n, e] = [lines.length ? lines : [place('L', w.b)], [place('N', 'N')], [place('E', 'E')]];
    const circuit = section.a === board.id ? section.b : section.a;
    const loads = map.points.filter((p) => circuits.get(p.id) === circuits.get(section.id)).flatMap((p) => p.elements.flatMap((x) => (x.kind === 'load' ? [elementKey(p.id, x.id)] : [])));
    return [{
      way: w.id, number: Number(w.id.replace(/\D/g, '')) || i + 1, section: section.id, circuit, name: labelOfWay(map, w.id), drawn: isDrawn(map, w.id), device: w.device ?? null, on: !state.off.includes(elementKey(board.id, w.id)),
      neutralOut: out.has(end('N')?.key ?? ''), earthOut: out.has(end('E')?.key ?? ''), loadsIn: loads.some((x) => !state.loadsOut.includes(x)), share: shares.get(circuits.get(section.id) ?? -1) ?? (advice?.hasReadings ? 0 : null),
      cells: [cell('LN', l, n), cell('LE', l, e), cell('NE', n, e, !out.has(end('N')?.key ?? '') && !out.has(end('E')?.key ?? '') && boardPart({ id: end('N')?.terminal ?? '', role: 'N' }) === 'neutral bar')],
    }];
  });
  const bars = board.terminals.filter((t) => boardPart(t) === 'neutral bar').map((t) => ({ name: t.name ?? t.id, cell: cell('NE', [terminalKey(board.id, t.id)], [terminalKey(board.id, 'E')]) }));
  return { ways, bars };
}

/** What several ways read together: 1/R = Σ 1/Rᵢ, and the way that carries most of it. Null before two of them are read in this state, each for itself. */
export interface Together { readonly pair: Pair; readonly ohm: number; readonly of: number; readonly most: { readonly name: string; readonly share: number }; readonly each: number; readonly atLeast: boolean }

/** What a way beside others is asked for: its figures. */
export interface Beside { readonly name: string; /** With its loads in a line reads the neutral bar, and all that hangs on it, to earth as well. */ readonly loadsIn?: boolean; readonly cells: readonly (Pick<Cell, 'pair' | 'stale' | 'shared'> & { readonly reading: { readonly event: Pick<ReadingView['event'], 'displayed'> } | null })[] }

export function together(ways: readonly Beside[], pair: Pair): Together | null {
  const read = ways.flatMap((w) => (pair === 'LE' && w.loadsIn ? [] : w.cells).flatMap((c) => {
    const d = c.pair === pair && !c.stale && !c.shared ? c.reading?.event.displayed : undefined;
    return d === undefined ? [] : [{ name: w.name, ohm: Math.max(1, 'ohm' in d ? d.ohm : d.above), off: 'above' in d }];
  }));
  if (read.length < 2) return null;
  const total = read.reduce((sum, r) => sum + 1 / r.ohm, 0);
  const [most] = [...read].sort((a, b) => a.ohm - b.ohm);
  return { pair, ohm: 1 / total, of: read.length, most: { name: most?.name ?? '', share: 1 / (most?.ohm ?? 1) / total }, each: most?.ohm ?? 0, atLeast: read.every((r) => r.off) };
}

function sharesByCircuit(map: Installation, advice: Advice | null, circuits: ReadonlyMap<string, number>): Map<number, number> {
  const shares = new Map<number, number>();
  if (!advice?.hasReadings) return shares;
  const name = placeNames(map);
  for (const p of advice.places) {
    const at = circuits.get(p.place.split('.')[0] ?? '') ?? circuits.get(name(p.place));
    if (at !== undefined) shares.set(at, (shares.get(at) ?? 0) + p.share);
  }
  return shares;
}

/** Cells of one column that were not read in this state yet, from a way on: lead parked, way after way. */
export function sweepFrom(ways: readonly WayRow[], pair: Pair, from = 0): Probe[] {
  return ways.slice(from).flatMap((w) => w.cells.filter((c) => c.pair === pair && (c.reading === null || c.stale)).map((c) => c.probe)).filter((p, i, all) => all.findIndex((x) => probeKey(x) === probeKey(p)) === i);
}
