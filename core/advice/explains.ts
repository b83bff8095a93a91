import type { Suspect } from '../faults';
import { boardOf, landingOf, terminalKey, type Installation } from '../installation';
import type { JobView } from '../job';
import { compileNetwork, planPhysics, resistanceBetween } from '../network';
import { untouched } from '../workstate';
import type { Explanation } from './types';

const DEAD_ABOVE_OHM = 1e4;
/** Half of a 30 mA device's rated current: from there it may trip. */
const RCD_MAY_TRIP_A = 0.015;
const MCB_TRIPS_BELOW_OHM = 4;
const FELT_VOLT = 50;

/**
 * Would this suspect alone, with everything in place and on, cause what was complained of? Computed on the exact
 * network with the fault: which points lose line or neutral, what current goes to earth, which metal comes to line.
 */
export function explains(view: JobView, suspect: Suspect, ohm: number, fraction: number): Explanation {
  const { map, asked } = view;
  if (!map || !asked.complaint || asked.complaint === 'inspection') return { says: 'not asked' };
  if (suspect.kind === 'sound' || suspect.kind === 'unknown' || suspect.place.startsWith('state ')) return { says: 'not asked' };
  const faults = suspect.fault(ohm, fraction);
  const read = reader(map, faults);
  const answer = (yes: boolean, code: string, points: readonly string[] = [], figure: number | null = null): Explanation => ({ says: yes ? 'yes' : 'no', code, points, figure });
  const dead = deadPoints(map, read);
  const { line, neutral } = landingOf(map, suspect.place);
  const lineToEarth = read(line, 'E');
  const lineToNeutral = read(line, neutral);
  const neutralToEarth = read(neutral, 'E');
  switch (asked.complaint) {
    case 'dead': return answer(dead.length > 0, dead.length ? 'explains.dead' : 'explains.notDead', dead);
    case 'rcd trips': {
      const amp = map.nominalVolt / lineToEarth;
      if (amp > RCD_MAY_TRIP_A) return answer(true, 'explains.rcdLine', [], amp * 1000);
      return neutralToEarth < 200 ? answer(true, 'explains.rcdNeutral', [], neutralToEarth) : answer(false, 'explains.rcdNo', [], amp * 1000);
    }
    case 'mcb trips': {
      const least = Math.min(lineToNeutral, lineToEarth);
      return answer(least < MCB_TRIPS_BELOW_OHM, least < MCB_TRIPS_BELOW_OHM ? 'explains.mcb' : 'explains.mcbNo', [], map.nominalVolt / least);
    }
    case 'shock': {
      const unearthed = unearthedPoints(map, read);
      if (unearthed.length) return answer(true, 'explains.unearthed', unearthed);
      return answer(lineToEarth < map.nominalVolt / (FELT_VOLT / 1e5), lineToEarth < 1e5 ? 'explains.shockLeak' : 'explains.shockNo', [], lineToEarth);
    }
    default: {
      const loose = suspect.kind === 'resistiveEnd' || suspect.kind === 'looseEnd' || suspect.kind === 'face' || suspect.kind === 'terminal';
      return answer(loose || dead.length > 0, loose || dead.length > 0 ? 'explains.loose' : 'explains.looseNo');
    }
  }
}

type Reader = (a: string, b: string, from?: string, to?: string) => number;

/** Ohms between terminals: board's by name, or `from`/`to` given as points. */
function reader(map: Installation, faults: ReturnType<Suspect['fault']>): Reader {
  const loads = map.points.flatMap((p) => p.elements.flatMap((e) => (e.kind === 'load' ? [`${p.id}.${e.id}`] : [])));
  const faulty = new Set(faults.flatMap((f) => (f.kind === 'loadFault' ? [`${f.point}.${f.load}`] : [])));
  const network = compileNetwork(map, { ...untouched, loadsOut: loads.filter((l) => !faulty.has(l)) }, faults, planPhysics);
  const board = boardOf(map)?.id ?? '';
  return (a, b, from = board, to = board) => {
    const i = network.index.get(terminalKey(from, a));
    const j = network.index.get(terminalKey(to, b));
    if (i === undefined || j === undefined) return Infinity;
    const ohm = resistanceBetween(network, i, j);
    return ohm === 'open' ? Infinity : ohm;
  };
}

function deadPoints(map: Installation, read: Reader): string[] {
  const board = boardOf(map)?.id ?? '';
  return map.points.filter((p) => p.kind !== 'board' && (read(landingOf(map, p.id).line, p.terminals.some((t) => t.id === 'L') ? 'L' : (p.terminals[0]?.id ?? ''), board, p.id) > DEAD_ABOVE_OHM || read(landingOf(map, p.id).neutral, 'N', board, p.id) > DEAD_ABOVE_OHM)).map((p) => p.id);
}

function unearthedPoints(map: Installation, read: Reader): string[] {
  const board = boardOf(map)?.id ?? '';
  return map.points.filter((p) => p.kind !== 'board' && p.terminals.some((t) => t.id === 'E') && read('E', 'E', board, p.id) > DEAD_ABOVE_OHM).map((p) => p.id);
}
