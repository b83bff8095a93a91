import { boardPart, findPoint, linePoles, parsePlace, pointOfPlace, roleOfPlace, type Installation, type Point } from '../installation';
import type { Probe } from '../probes';
import type { WorkState } from '../workstate';

/** What a physical step asks for before hands touch anything. */
export type Need =
  | { readonly need: 'secured' }
  | { readonly need: 'proved'; readonly point: string; readonly toEarth: boolean }
  | { readonly need: 'opened'; readonly point: string }
  | { readonly need: 'loadsOut'; readonly parts: readonly string[] };

/** What has been made safe by now. */
export interface SafetyState {
  readonly secured: boolean;
  /** Point → was every terminal also read to an independent earth. */
  readonly proved: ReadonlyMap<string, boolean>;
  readonly state: WorkState;
}

/** A step as hands do it. */
export interface PhysicalStep {
  readonly actions: readonly { readonly do: 'open' | 'takeOut' | 'putBack' | 'switch' | 'switchesOn' | 'unplug' | 'plugIn' | 'link' | 'unlink'; readonly point: string; readonly parts?: readonly string[]; readonly a?: string; readonly b?: string }[];
  readonly probes: readonly Probe[];
  /** Is a broken earth or neutral still among the suspects? Then pairs at the point do not prove it dead. */
  readonly earthDoubt: boolean;
}

/** Is a point proved dead? Where earth or neutral may be broken (`earthDoubt`), pairs alone prove nothing. */
export function isProved({ secured, proved }: SafetyState, point: string, earthDoubt: boolean): boolean {
  const toEarth = proved.get(point);
  return secured && toEarth !== undefined && (toEarth || !earthDoubt);
}

/** Needs in the order in which they are met; those already met are left out. */
export function unmetNeeds(map: Installation, safety: SafetyState, step: PhysicalStep): Need[] {
  const needs: Need[] = [];
  const touches = step.probes.length > 0 || step.actions.some((a) => a.do !== 'switch' && a.do !== 'switchesOn');
  if (touches && !safety.secured) needs.push({ need: 'secured' });
  const opened = new Set(safety.state.opened);
  const proving = (point: string): void => {
    if (!isProved(safety, point, step.earthDoubt) && !needs.some((n) => n.need === 'proved' && n.point === point)) needs.push({ need: 'proved', point, toEarth: step.earthDoubt });
  };
  for (const a of step.actions) {
    // Taking a cover off is live work until proved; the proof comes when the terminals can be reached.
    if (a.do === 'open') {
      opened.add(a.point);
      proving(a.point);
    } else if (a.do === 'takeOut' || a.do === 'putBack') {
      if (!opened.has(a.point)) {
        needs.push({ need: 'opened', point: a.point });
        opened.add(a.point);
      }
      proving(a.point);
    } else if (a.do === 'unplug' || a.do === 'plugIn') {
      // What is wired in comes out by its conductors: hands are at its terminals.
      for (const point of wiredIn(map, a.parts ?? [])) {
        if (!opened.has(point)) {
          needs.push({ need: 'opened', point });
          opened.add(point);
        }
        proving(point);
      }
    } else if (a.do === 'link' || a.do === 'unlink') {
      const bare = [a.a, a.b].some((k) => k !== undefined && needsCoverOff(map, k));
      if (bare && !opened.has(a.point)) {
        needs.push({ need: 'opened', point: a.point });
        opened.add(a.point);
      }
      proving(a.point);
    }
  }
  for (const probe of step.probes)
    for (const place of [...probe.from, ...probe.to]) {
      const point = pointOfPlace(map, place);
      if (needsCoverOff(map, place) && !opened.has(point)) {
        needs.push({ need: 'opened', point });
        opened.add(point);
      }
      if (point) proving(point);
    }
  const loads = step.probes.some((p) => p.fn === 'insulation' && !tiesLineAndNeutral(map, p)) ? sensitiveLoads(map, safety.state, step) : [];
  if (loads.length) needs.push({ need: 'loadsOut', parts: loads });
  return needs;
}

/** Points of the loads among these that no plug takes out. */
const wiredIn = (map: Installation, parts: readonly string[]): string[] => map.points.filter((p) => p.elements.some((e) => e.kind === 'load' && !e.unplugs && parts.includes(`${p.id}.${e.id}`))).map((p) => p.id);

/** Can the place be touched only with its cover off? */
const needsCoverOff = (map: Installation, place: string): boolean => findPoint(map, pointOfPlace(map, place))?.reach !== 'face' || parsePlace(place)?.at === 'end';

/** Line and neutral on one lead, earth on the other: no voltage stands across a load. */
function tiesLineAndNeutral(map: Installation, p: Probe): boolean {
  const roles = (keys: readonly string[]): string[] => keys.map((k) => roleOfPlace(map, k));
  const [a, b] = [roles(p.from), roles(p.to)];
  const tied = (x: string[], y: string[]): boolean => x.includes('N') && x.some((r) => r !== 'N' && r !== 'E') && y.every((r) => r === 'E');
  return tied(a, b) || tied(b, a);
}

/** Electronic loads still in: 500 V would harm them. */
function sensitiveLoads(map: Installation, state: WorkState, step: PhysicalStep): string[] {
  const gone = new Set([...state.loadsOut, ...step.actions.flatMap((a) => (a.do === 'unplug' ? (a.parts ?? []) : []))]);
  return map.points.flatMap((p) =>
    p.elements.flatMap((e) => (e.kind === 'load' && e.loadClass !== 'resistive' && !gone.has(`${p.id}.${e.id}`) ? [`${p.id}.${e.id}`] : [])),
  );
}

/** What stands between the job and power back on: test links and bare ends first, then covers. */
export interface PutBackItem {
  readonly item: string;
  readonly kind: 'link' | 'ends' | 'cover' | 'load' | 'lock';
  readonly point: string;
  /** Ends, load parts or the link concerned. */
  readonly parts: readonly string[];
  readonly gatesPower: boolean;
}

export function putBackList(map: Installation, state: WorkState, secured: boolean): PutBackItem[] {
  const items: PutBackItem[] = state.links.map((l) => ({ item: `link ${l.id}`, kind: 'link', point: pointOfPlace(map, l.a), parts: [l.id], gatesPower: true }));
  const ends = new Map<string, string[]>();
  for (const key of state.out) {
    const point = pointOfPlace(map, key);
    ends.set(point, [...(ends.get(point) ?? []), key]);
  }
  for (const [point, parts] of ends) items.push({ item: `ends ${point}`, kind: 'ends', point, parts, gatesPower: true });
  for (const point of state.opened) items.push({ item: `cover ${point}`, kind: 'cover', point, parts: [point], gatesPower: true });
  if (state.loadsOut.length) items.push({ item: 'loads', kind: 'load', point: '', parts: state.loadsOut, gatesPower: false });
  if (secured) items.push({ item: 'lock', kind: 'lock', point: '', parts: [], gatesPower: false });
  return items;
}

/**
 * At a board of many ways: the bars with each other, and each way with its own neutral and with earth. `asOne`: every way and every group
 * is on, so that all lines are their bar and all neutrals theirs: the bars alone.
 */
function boardPairs(map: Installation, board: Point, asOne: boolean): [string, string][] {
  const bars = asOne ? ['N'] : board.terminals.filter((t) => boardPart(t) === 'neutral bar').map((t) => t.id);
  const ways = asOne ? [] : board.elements.flatMap((w) => (w.kind === 'way' ? linePoles(board.elements, w).map((e) => e.b) : []));
  const lines = board.terminals.filter((t) => boardPart(t) === 'line bar' && !board.elements.some((e) => e.kind === 'pole' && e.b === t.id)).map((t) => t.id);
  const neutral = (way: string): string => map.sections.flatMap((s) => (s.cores.some((c) => c.a === way) ? s.cores.filter((c) => c.role === 'N').map((c) => c.a) : []))[0] ?? 'N';
  return [...bars.map((b): [string, string] => ['E', b]), ...lines.flatMap((l): [string, string][] => [['E', l], ['N', l]]), ...lines.flatMap((l, i) => lines.slice(0, i).map((m): [string, string] => [m, l])), ...ways.flatMap((w): [string, string][] => [['E', w], [neutral(w), w]])];
}

/** Share of what may join one circuit to another from which a board is proved way by way. */
const MAY_BE_FED = 0.1;

/** May a board be proved with its ways on, all lines as one and all neutrals as one? Not where one circuit may feed another (`fedElsewhere`: the share of what would), something was found to be so, or there is a second supply. */
export const provesAsOne = (map: Installation, point: string, fedElsewhere: number, seen: readonly { readonly what: string }[], secondSupply: string | null): boolean =>
  secondSupply === null && map.shape === 'board' && findPoint(map, point)?.kind === 'board' && fedElsewhere < MAY_BE_FED && !seen.some((s) => s.what === 'inBar');

/** Every pair of the terminals that a point has, the least dangerous first: earth to neutral, earth to line, neutral to line. */
export function provingPairs(map: Installation, point: string, asOne = false): [string, string][] {
  const board = findPoint(map, point);
  if (board?.kind === 'board' && map.shape === 'board') return boardPairs(map, board, asOne);
  if (board?.kind === 'subboard') return [...board.terminals.filter((t) => t.role === 'N').map((t): [string, string] => ['E', t.id]), ...board.terminals.filter((t) => t.role.startsWith('L')).flatMap((t): [string, string][] => [['E', t.id], ['N', t.id]])];
  const rank = (role: string): number => (role === 'E' ? 0 : role === 'N' ? 1 : 2);
  const terminals = [...(findPoint(map, point)?.terminals ?? [])].sort((a, b) => rank(a.role) - rank(b.role));
  return terminals.flatMap((t, i) => terminals.slice(i + 1).map((u): [string, string] => [t.id, u.id]));
}
