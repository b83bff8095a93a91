import { boardOf, boardPart, circuitsOf, endsAtPoint, loadsOf, protectionsOf, terminalKey, type Installation } from '../installation';
import { elementKey } from '../workstate';
import type { Draft, Unknown } from './catalogue';

/** The supply itself, as a place. */
export const SUPPLY_PLACE = 'supply';
/** A kettle to a small lamp. */
const BORROWED_OHM: readonly [number, number] = [20, 10_000];
const nothing: Unknown = { of: 'nothing' };

/**
 * What goes wrong between circuits and in the devices of a board: a neutral in another device's bar, a load that returns by
 * another circuit's neutral, a device that is over-sensitive or blind, leakage that adds up, overload, a lost supply conductor.
 * Dead tests see the first two at best; the rest shows with the supply on.
 */
export function boardSuspects(installation: Installation): Draft[] {
  const board = boardOf(installation);
  const devices = protectionsOf(installation);
  if (!board || installation.shape !== 'board') return [];
  const drafts: Draft[] = [];
  const bars = board.terminals.filter((t) => boardPart(t) === 'neutral bar').map((t) => t.id);
  const ends = endsAtPoint(installation, board.id);
  for (const e of ends.filter((x) => x.role === 'N'))
    for (const bar of bars.filter((b) => b !== e.terminal))
      drafts.push({
        id: `otherBar ${e.key}>${bar}`, kind: 'otherBar', place: e.section.id, conductors: ['N', bar], unknown: nothing,
        site: { on: 'structure', structure: 'landed', id: e.key, cores: [terminalKey(board.id, bar)] }, fault: () => [{ kind: 'landed', end: e.key, terminal: bar }],
      });
  drafts.push(...borrowed(installation));
  for (const d of devices) {
    const here = { place: d.at === board.id ? elementKey(board.id, d.id) : (d.poles[0] ?? d.at), conductors: [d.id], site: { on: 'nothing' } as const, fault: () => [] };
    if (d.residualMa !== null) {
      const amp = d.residualMa / 1000;
      drafts.push({ ...here, id: `sensitive ${d.id}`, kind: 'rcdSensitive', unknown: nothing });
      drafts.push({ ...here, id: `blind ${d.id}`, kind: 'rcdBlind', unknown: nothing });
      drafts.push({ ...here, id: `leak ${d.id}`, kind: 'standingLeak', unknown: { of: 'shunt', ohm: [installation.nominalVolt / (1.4 * amp), installation.nominalVolt / (0.3 * amp)], alongCable: false } });
    }
    if (d.ratingA !== null && d.kind !== 'main') drafts.push({ ...here, id: `overload ${d.id}`, kind: 'overload', unknown: { of: 'shunt', ohm: [installation.nominalVolt / (3 * d.ratingA), installation.nominalVolt / (1.1 * d.ratingA)], alongCable: false } });
  }
  for (const lost of ['neutral', 'earth'] as const)
    drafts.push({ id: `supply ${lost}`, kind: 'supplyLost', place: SUPPLY_PLACE, conductors: [lost === 'neutral' ? 'N' : 'E'], unknown: nothing, site: { on: 'nothing' }, fault: () => [{ kind: 'supply', lost }] });
  return drafts;
}

/** A load of one circuit whose current returns by a neutral behind another device: any load of a circuit that is drawn, joined to any such circuit. */
function borrowed(installation: Installation): Draft[] {
  const board = boardOf(installation);
  const circuits = circuitsOf(installation);
  if (!board) return [];
  const neutralOf = new Map<number, string>();
  for (const e of endsAtPoint(installation, board.id)) if (e.role === 'N') neutralOf.set(circuits.get(e.section.id) ?? -1, e.terminal);
  const drafts: Draft[] = [];
  const withLoad = installation.points.filter((p) => p.kind !== 'board' && loadsOf(p).length > 0);
  const first = new Map<number, (typeof withLoad)[number]>();
  for (const p of withLoad) if (!first.has(circuits.get(p.id) ?? -1)) first.set(circuits.get(p.id) ?? -1, p);
  for (const p of withLoad)
    for (const [j, q] of first) {
      const i = circuits.get(p.id) ?? -1;
      if (i === j || neutralOf.get(i) === neutralOf.get(j)) continue;
      const load = loadsOf(p)[0];
      if (!load) continue;
      const [a, b] = [terminalKey(p.id, load.a), terminalKey(q.id, 'N')];
      drafts.push({
        id: `borrowed ${p.id}>${q.id}`, kind: 'borrowed', place: p.id, conductors: ['N', q.id], unknown: { of: 'shunt', ohm: BORROWED_OHM, alongCable: false },
        site: { on: 'pair', a, b, only: 'loadIn', part: elementKey(p.id, load.id) }, fault: (ohm) => [{ kind: 'joined', terminals: [a, b], ohm }],
      });
    }
  return drafts;
}
