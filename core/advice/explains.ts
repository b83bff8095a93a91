import { isFault, type Fault, type Suspect } from '../faults';
import { boardOf, circuitsOf, endsAtPoint, loadsOf, protectionsOf, terminalKey, type Installation, type Protection } from '../installation';
import type { JobView } from '../job';
import { chanceOfTrip, largest, lineParts, Energised, GROUND, indicatorOhm, magnitude, residualParts, usualService, type Service } from '../live';
import { elementKey, untouched, type WorkState } from '../workstate';
import type { Explanation } from './types';

/** A busy hour: twice the load, and the neighbours' current on the supply neutral. */
const busy: Service = { load: 2, neutralVolt: 2, leak: 1.5 };
const MAY_TRIP = 0.4;
const FELT_VOLT = 50;

type Answer = (yes: boolean, code: string, points?: readonly string[], figure?: number | null) => Explanation;

/**
 * Would this suspect alone, with everything in place and on, cause what was complained of? Computed on the energised network
 * with the fault: what flows through each device and whether it opens, which points lose their supply, which metal is live.
 */
export function explains(view: JobView, suspect: Suspect, ohm: number, fraction: number): Explanation {
  const { map, asked } = view;
  if (!map || !asked.complaint || asked.complaint === 'inspection') return { says: 'not asked' };
  if (!isFault(suspect)) return { says: 'not asked' };
  const faults = suspect.fault(ohm, fraction);
  const answer: Answer = (yes, code, points = [], figure = null) => ({ says: yes ? 'yes' : 'no', code, points, figure });
  switch (asked.complaint) {
    case 'rcd trips': return residualTrip(map, suspect, faults, answer);
    case 'mcb trips': return overcurrentTrip(map, suspect, faults, answer);
    case 'dead': {
      const dead = deadPoints(map, faults);
      return answer(dead.length > 0, dead.length ? 'explains.dead' : 'explains.notDead', dead);
    }
    case 'shock': return shock(map, suspect, faults, answer);
    default: {
      const loose = ['resistiveEnd', 'looseEnd', 'face', 'terminal', 'overload', 'supplyLost'].includes(suspect.kind) || deadPoints(map, faults).length > 0;
      return answer(loose, loose ? 'explains.loose' : 'explains.looseNo');
    }
  }
}

const ofDevice: Readonly<Partial<Record<Suspect['kind'], string>>> = { rcdSensitive: 'explains.early', standingLeak: 'explains.adds' };

function residualTrip(map: Installation, suspect: Suspect, faults: readonly Fault[], answer: Answer): Explanation {
  const own = ofDevice[suspect.kind];
  if (own) return answer(true, own);
  const idle: WorkState = { ...untouched, loadsOut: allLoads(map, faults) };
  const quiet = worst(map, Energised.of(map, idle, faults));
  if (quiet.chance > MAY_TRIP) return answer(true, 'explains.rcdLine', [], quiet.mA);
  const loaded = [usualService, busy].map((s) => worst(map, Energised.of(map, untouched, faults, s))).sort((a, b) => b.chance - a.chance)[0];
  return loaded && loaded.chance > MAY_TRIP ? answer(true, 'explains.rcdNeutral', [], loaded.mA) : answer(false, 'explains.rcdNo', [], loaded?.mA ?? quiet.mA);
}

/** The residual device likeliest to open, and its current in milliamperes. Where the map has none, one of 30 mA stands at the board. */
function worst(map: Installation, e: Energised): { chance: number; mA: number } {
  const devices = protectionsOf(map).filter((p) => p.residualMa !== null);
  const board = boardOf(map);
  const wires = board ? endsAtPoint(map, board.id).filter((x) => x.role !== 'E') : [];
  const circuit = (x: (typeof wires)[number], sign: 1 | -1): { re: number; im: number } => {
    const i = e.current(`core ${x.section.id}:${x.core}`);
    return { re: sign * i.re, im: sign * i.im };
  };
  const seen: { d: Protection; amp: number }[] = devices.length
    ? devices.map((d) => ({ d, amp: magnitude(e.clamp(residualParts(d))) }))
    : protectionsOf(map).slice(0, 1).map((d) => {
        const sum = wires.map((x) => circuit(x, x.side === 'a' ? 1 : -1)).reduce((a, b) => ({ re: a.re + b.re, im: a.im + b.im }), { re: 0, im: 0 });
        return { d: { ...d, kind: 'rcd' as const, residualMa: 30, ratingA: null }, amp: magnitude(sum) };
      });
  const rated = seen.map(({ d, amp }) => ({ chance: chanceOfTrip({ ...d, ratingA: null }, 0, amp).atOnce, mA: amp * 1000 }));
  return rated.sort((a, b) => b.chance - a.chance || b.mA - a.mA)[0] ?? { chance: 0, mA: 0 };
}

/** An overcurrent device of a way where nobody said which: B 32. */
const USUAL_RATING_A = 32;

function overcurrentTrip(map: Installation, suspect: Suspect, faults: readonly Fault[], answer: Answer): Explanation {
  if (suspect.kind === 'overload') return answer(true, 'explains.heavy');
  const e = Energised.of(map, untouched, faults);
  const all = protectionsOf(map).filter((p) => p.kind !== 'rcd' && p.kind !== 'main').map((d) => {
    const amp = magnitude(largest(lineParts(d).map((parts) => e.clamp(parts))));
    const p = chanceOfTrip({ ...d, ratingA: d.ratingA ?? USUAL_RATING_A, residualMa: null }, amp, 0);
    return { chance: p.atOnce + p.later, amp };
  });
  const top = all.sort((a, b) => b.chance - a.chance || b.amp - a.amp)[0] ?? { chance: 0, amp: 0 };
  return top.chance > MAY_TRIP ? answer(true, 'explains.mcb', [], top.amp) : answer(false, 'explains.mcbNo', [], top.amp);
}

function shock(map: Installation, suspect: Suspect, faults: readonly Fault[], answer: Answer): Explanation {
  if (suspect.kind === 'supplyLost') return answer(true, 'explains.unearthed', []);
  const e = Energised.of(map, untouched, faults);
  const earths = map.points.flatMap((p) => p.terminals.filter((t) => t.role === 'E').map((t) => ({ point: p.id, place: terminalKey(p.id, t.id) })));
  const touched = earths.map((x) => ({ ...x, volt: magnitude(e.voltage(x.place, GROUND, indicatorOhm.low) ?? { re: 0, im: 0 }) })).filter((x) => x.volt > FELT_VOLT);
  const most = touched.reduce((top, x) => Math.max(top, x.volt), 0);
  if (touched.length) return answer(true, 'explains.live', touched.map((x) => x.point), most);
  // Metal that has lost its earth waits for the first fault.
  const unearthed = earths.filter((x) => (e.loop(x.place, terminalKey(boardOf(map)?.id ?? '', 'E'))?.re ?? 0) > 1e3).map((x) => x.point);
  if (unearthed.length) return answer(true, 'explains.unearthed', unearthed);
  const leak = worst(map, e).mA;
  return leak > 2 ? answer(true, 'explains.shockLeak', [], leak) : answer(false, 'explains.shockNo');
}

const allLoads = (map: Installation, faults: readonly Fault[]): string[] => {
  const faulty = new Set(faults.flatMap((f) => (f.kind === 'loadFault' ? [elementKey(f.point, f.load)] : [])));
  return map.points.flatMap((p) => loadsOf(p).map((l) => elementKey(p.id, l.id))).filter((l) => !faulty.has(l));
};

/** Points that have less than half of the supply between line and neutral, all ways on. */
function deadPoints(map: Installation, faults: readonly Fault[]): string[] {
  const e = Energised.of(map, untouched, faults);
  const circuits = circuitsOf(map);
  return map.points.filter((p) => {
    if (p.kind === 'board' || !circuits.has(p.id)) return false;
    const line = p.terminals.find((t) => t.role.startsWith('L'))?.id ?? p.terminals[0]?.id ?? '';
    const v = e.voltage(terminalKey(p.id, line), terminalKey(p.id, p.terminals.find((t) => t.role === 'N')?.id ?? 'N'), indicatorOhm.low);
    return v !== null && magnitude(v) < map.nominalVolt / 2;
  }).map((p) => p.id);
}
