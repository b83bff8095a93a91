import { boardOf, circuitsOf, findPoint, loadsOf } from '../installation';
import { shareByPlace } from '../planning';
import { elementKey } from '../workstate';
import { ENOUGH } from './enough';
import type { Now } from './now';

/** What would help where no reading in reach tells more: each a thing that somebody can do about it. */
export type Help =
  /** Steps were turned down that still tell something. */
  | { readonly help: 'turnedDown'; readonly count: number }
  /** A place that was said not to be reached, or that is hidden, and the share of belief that lies on it. */
  | { readonly help: 'reach' | 'hidden'; readonly point: string; readonly share: number }
  /** A circuit that is not drawn, and the share that lies on it. */
  | { readonly help: 'draw'; readonly point: string; readonly share: number }
  /** Points whose loads may be in and are of no stated size. */
  | { readonly help: 'loads'; readonly points: number }
  /** Lengths that are guesses, while what is open is where along them. */
  | { readonly help: 'lengths'; readonly guessed: number; readonly of: number }
  /** What comes and goes is read while it is there. */
  | { readonly help: 'wait' }
  | { readonly help: 'safe' };

/** Belief on a place from which it is worth naming. */
const WORTH = 0.02;
const MOST_PLACES = 2;

/** What would help, first what costs least. */
export function helpOf({ view, map, engine, belief, observations }: Now): Help[] {
  const places = shareByPlace(map, engine.suspects, belief);
  const circuits = circuitsOf(map);
  const board = boardOf(map);
  const shareAt = (id: string): number => places.reduce((sum, p) => sum + (p.place === id || p.place.startsWith(`${id}.`) || map.sections.some((s) => s.id === p.place && (s.a === id || s.b === id)) ? p.share : 0), 0);
  const worst = (kind: 'reach' | 'hidden' | 'draw', ids: readonly string[], share: (id: string) => number): Help[] =>
    ids.map((point) => ({ help: kind, point, share: share(point) })).filter((h) => h.share > WORTH).sort((a, b) => b.share - a.share).slice(0, MOST_PLACES);
  const onCircuit = (id: string): number => places.reduce((sum, p) => sum + (circuits.get(p.place.split('.')[0] ?? '') === circuits.get(id) ? p.share : 0), 0);
  const turnedDown = view.notNow.filter((k) => k !== ENOUGH);
  const unsaid = map.points.filter((p) => p !== board && loadsOf(p).some((l) => l.guessed && !view.state.loadsOut.includes(elementKey(p.id, l.id))));
  const guessed = map.sections.filter((s) => !s.lengthKnown && findPoint(map, s.b)?.kind !== 'undrawn' && findPoint(map, s.a)?.kind !== 'undrawn');
  return [
    ...(turnedDown.length ? [{ help: 'turnedDown' as const, count: turnedDown.length }] : []),
    ...worst('reach', [...view.unreachable], shareAt),
    ...worst('draw', map.points.filter((p) => p.kind === 'undrawn').map((p) => p.id), onCircuit),
    ...worst('hidden', map.points.filter((p) => p.reach === 'never').map((p) => p.id), shareAt),
    ...(unsaid.length ? [{ help: 'loads' as const, points: unsaid.length }] : []),
    ...(guessed.length && observations.some((o) => o.probe.fn === 'continuity') ? [{ help: 'lengths' as const, guessed: guessed.length, of: map.sections.length }] : []),
    ...(observations.length ? [{ help: 'wait' as const }] : []),
    { help: 'safe' },
  ];
}
