import type { Observation } from '../belief';
import type { Action, Situation } from '../planning';
import { linkKey, setCover } from '../workstate';
import type { JobView, ReadingView } from './view';
import type { EventBody } from './events';
import { waysOff } from './waysOff';

/** Readings of every epoch that are not struck out and whose place is still on the map. */
export const usableReadings = (view: JobView): ReadingView[] => view.readings.filter((r) => !r.struck && !r.parked);

export const observationOf = (r: ReadingView): Observation => ({ probe: r.event.probe, state: r.state, displayed: r.event.displayed, remade: r.remade, unlinked: r.unlinked, unsteady: r.event.unsteady });

/** Where dead steps begin. With the power on they begin once it is made dead: ways off, the board's cover off. */
export function situationOf(view: JobView): Situation {
  const board = view.map?.points.find((p) => p.kind === 'board')?.id;
  const state = view.map && board !== undefined && !view.secured ? setCover(waysOff(view.map, view.state), board, true) : view.state;
  return { state, at: view.at.length ? view.at : board ? [board] : [], proved: new Set(view.proofs.keys()), unreachable: new Set(view.unreachable), longLead: view.longLead };
}

/** What is written in the log when an action of the plan has been done. */
export function eventOfAction(a: Action): EventBody {
  switch (a.do) {
    case 'open': return { type: 'opened', point: a.point };
    case 'takeOut': return { type: 'tookOut', point: a.point, ends: [...a.ends] };
    case 'putBack': return { type: 'putBack', point: a.point, ends: [...a.ends] };
    case 'switch': return { type: 'switched', part: a.part, off: a.off };
    case 'switchesOn': return { type: 'switchesOn', ways: [...a.ways], on: true };
    case 'unplug': return { type: 'loadsMoved', parts: [...a.parts], out: true };
    case 'plugIn': return { type: 'loadsMoved', parts: [...a.parts], out: false };
    case 'link': return { type: 'linked', link: { id: linkKey(a.a, a.b), a: a.a, b: a.b } };
    case 'unlink': return { type: 'unlinked', link: a.link };
  }
}
