import { isFault, type Fault, type Suspect } from '../faults';
import { boardOf, circuitsOf, endsAtPoint, faceKey, loadsOf, protectionsOf, terminalKey, usedAt, type Installation, type Protection } from '../installation';
import type { JobView } from '../job';
import { chanceOfTrip, largest, lineParts, Energised, GROUND, indicatorOhm, magnitude, residualParts, usualService, wayOf, type Condition, type Service } from '../live';
import { elementKey, untouched, type WorkState } from '../workstate';
import type { Explanation } from './types';

/** A busy hour: twice the load, and the neighbours' current on the supply neutral. */
const busy: Service = { load: 2, neutralVolt: 2, leak: 1.5 };
const MAY_TRIP = 0.4;
const FELT_VOLT = 50;

/** What a suspect of one size does: how likely what was complained of follows, with everything idle and at the busiest, and what to say of it. */
interface Effect { readonly idle: number; readonly busy: number; readonly code: string; readonly points: readonly string[]; readonly figure: number | null }
type Answer = (yes: boolean | 'may', code: string, points?: readonly string[], figure?: number | null) => Effect;
/** Where something else has to come to it, which no reading tells: no chance is worked out, and none is said. */
const MAY_BE = 0.4;

/** Sizes that are told lie within this factor; below so many ohms no reading tells one from another. */
const SIZE_TOLD = 2;
const METER_OHM = 0.2;

/** Share of the sizes that a suspect may have from which it is said to explain, and from which it may. */
const EXPLAINS = 0.6;
const MAY = 0.15;

/**
 * Would this suspect alone, with everything in place and on, cause what was complained of? Computed on the energised network with the
 * fault, at each size that the readings leave it: what flows through each device and whether it opens, which points lose their supply,
 * which metal is live.
 */
export function explains(view: JobView, suspect: Suspect, thirds: readonly number[], fraction: number): Explanation {
  const { map, asked } = view;
  if (!map || !asked.complaint || asked.complaint === 'inspection') return { says: 'not asked' };
  if (!isFault(suspect)) return { says: 'not asked' };
  const now = atSizes(map, asked.complaint, suspect, thirds, fraction);
  const readDamp = view.readings.some((r) => !r.struck && r.event.conditions.includes('damp'));
  if (now.says !== 'no' || asked.answers.tripsWhen !== 'wet' || readDamp || !waterLowers(suspect)) return now;
  const wet = atSizes(map, asked.complaint, suspect, thirds.map((ohm) => ohm / DAMP), fraction);
  return wet.says === 'no' ? now : { ...now, says: 'perhaps', share: MAY_BE, code: 'explains.wet' };
}

/** Damp lowers insulation that is beaten through by so much or more, against what the same reads when dry: a round figure of our own, from no source. */
const DAMP = 10;
/** Insulation that water gets at. */
const waterLowers = (suspect: Suspect): boolean => (suspect.kind === 'contact' || suspect.kind === 'pointContact') && suspect.conductors.includes('E');

/** What a suspect does over the sizes that it may have. */
function atSizes(map: Installation, complaint: NonNullable<JobView['asked']['complaint']>, suspect: Suspect, thirds: readonly number[], fraction: number): Exclude<Explanation, { says: 'not asked' }> {
  const effects = thirds.map((ohm) => known(map, `${complaint} ${suspect.id} ${ohm.toPrecision(2)} ${fraction.toFixed(1)}`, () => effect(map, complaint, suspect, ohm, fraction)));
  const mean = (of: (e: Effect) => number): number => effects.reduce((sum, e) => sum + of(e), 0) / effects.length;
  const [idle, share] = [mean((e) => e.idle), mean((e) => Math.max(e.idle, e.busy))];
  const most = effects.reduce((a, b) => (Math.max(b.idle, b.busy) > Math.max(a.idle, a.busy) ? b : a));
  const middle = effects[Math.floor(effects.length / 2)] ?? most;
  const says = share >= EXPLAINS ? (idle >= EXPLAINS ? 'yes' : 'while') : share >= MAY ? 'perhaps' : 'no';
  const { code, points, figure } = says === 'no' ? middle : says === 'perhaps' ? most : Math.max(middle.idle, middle.busy) > 0.5 ? middle : most;
  // A current is said only where the size that it follows from is told; and what is told leaves nothing open by itself.
  const told = Math.max(...thirds) < SIZE_TOLD * Math.max(Math.min(...thirds), METER_OHM);
  return { says, share, code, points, figure: told || code === 'explains.live' ? figure : null, hangs: !told ? 'size' : map.supply?.arrangement ? 'running' : 'earthing' };
}

/** Installations never change in place: what one suspect of one size does to one is worked out once. */
const effectsOf = new WeakMap<Installation, Map<string, Effect>>();

function known(map: Installation, key: string, make: () => Effect): Effect {
  let own = effectsOf.get(map);
  if (!own) effectsOf.set(map, (own = new Map<string, Effect>()));
  let found = own.get(key);
  if (!found) own.set(key, (found = make()));
  return found;
}

function effect(map: Installation, complaint: NonNullable<JobView['asked']['complaint']>, suspect: Suspect, ohm: number, fraction: number): Effect {
  const faults = suspect.fault(ohm, fraction);
  const answer: Answer = (yes, code, points = [], figure = null) => {
    const chance = yes === 'may' ? MAY_BE : Number(yes);
    return { idle: chance, busy: chance, code, points, figure };
  };
  switch (complaint) {
    case 'rcd trips': return residualTrip(map, suspect, faults, answer);
    case 'mcb trips': return overcurrentTrip(map, suspect, faults, answer);
    case 'dead': return withoutPower(map, faults);
    case 'shock': return shock(map, suspect, faults, answer);
    default: {
      // A protective conductor carries nothing while all is well: it neither warms nor flickers.
      const carries = suspect.kind === 'overload' || suspect.conductors.some((c) => c !== 'E');
      const loose = (carries && ['resistiveEnd', 'looseEnd', 'face', 'terminal', 'overload', 'supplyLost'].includes(suspect.kind)) || deadPoints(map, faults, 1).length > 0;
      return answer(loose, loose ? 'explains.loose' : 'explains.looseNo');
    }
  }
}

function residualTrip(map: Installation, suspect: Suspect, faults: readonly Fault[], answer: Answer): Effect {
  if (suspect.kind === 'standingLeak') return answer(true, 'explains.adds');
  if (suspect.kind === 'rcdSensitive') return earlyTrip(map, suspect);
  const idle: WorkState = { ...untouched, loadsOut: allLoads(map, faults) };
  const ways = earthings(map);
  const over = (state: WorkState, service: Service): Trip => {
    const each = ways.map(([arrangement, share]) => ({ share, ...worst(map, (leak) => Energised.of(map, state, faults, { ...service, leak: leak * service.leak, arrangement })) }));
    const [least, most] = [Math.min(...each.map((x) => x.mA)), Math.max(...each.map((x) => x.mA))];
    return { chance: each.reduce((sum, x) => sum + x.share * x.chance, 0), mA: most < SIZE_TOLD * least ? most : null };
  };
  // What drives a neutral on earth is the neutral's own few volts, which nobody has told: no figure.
  const neutral = suspect.conductors.includes('N') && suspect.conductors.includes('E');
  const told = ({ mA }: Trip): number | null => (neutral ? null : mA);
  // A borrowed neutral is no path of its own: with its load off there is nothing.
  const quiet = suspect.kind === 'borrowed' ? { chance: 0, mA: null } : over(idle, usualService);
  if (quiet.chance > MAY_TRIP) return { idle: quiet.chance, busy: quiet.chance, code: 'explains.rcdLine', points: [], figure: told(quiet) };
  const [usual, full] = [over(untouched, usualService), over(untouched, busy)];
  const loaded = full.chance > usual.chance ? full : usual;
  const [yes, no] = WHILE_IT_RUNS[suspect.kind] ?? ['explains.rcdNeutral', neutral ? 'explains.rcdNeutralNo' : unseen(map, suspect) ? 'explains.rcdElsewhere' : 'explains.rcdNo'];
  return { idle: quiet.chance, busy: loaded.chance, code: loaded.chance > MAY_TRIP ? yes : no, points: [], figure: told(loaded) };
}

/** Of a line that goes to earth: where it would open none of the devices if it stood there hard, none is over the place, whatever its size. */
function unseen(map: Installation, suspect: Suspect): boolean {
  const lineToEarth = suspect.unknown?.of === 'shunt' && suspect.conductors.length === 2 && suspect.conductors.includes('E') && !suspect.conductors.includes('N');
  if (!lineToEarth) return false;
  const hard = suspect.fault(METER_OHM, 0.5);
  return protectionsOf(map).some((p) => p.residualMa !== null) && worst(map, (leak) => Energised.of(map, untouched, hard, { ...usualService, leak })).chance <= MAY_TRIP;
}

/** Parts of its rating at which a device that has failed opens, each as likely. */
const OPENS_AT = [0.25, 0.4, 0.55];
/** What starts may open it at odd times, whatever leaks for long. */
const AT_ODD_TIMES = 0.2;

/** A device that opens early does so only with what leaks behind it in use: over what may leak, and how early it opens. */
function earlyTrip(map: Installation, suspect: Suspect): Effect {
  const chance = (service: Service): number => earthings(map).reduce((sum, [arrangement, share]) => {
    const seen = (leak: number): ReturnType<typeof seenBy>[number] | undefined => seenBy(map, Energised.of(map, untouched, [], { ...service, leak, arrangement })).find(({ d }) => d.id === suspect.conductors[0]);
    const [usual, much] = [seen(service.leak), seen(MUCH * service.leak)];
    return usual && much ? sum + share * OPENS_AT.reduce((t, sensitivity) => t + overLeaks(usual.d, usual.amp, much.amp, { sensitivity, blind: false }) / OPENS_AT.length, 0) : sum;
  }, 0);
  const [idle, inUse] = [usualService, busy].map((s) => Math.max(AT_ODD_TIMES, chance(s))) as [number, number];
  return { idle, busy: inUse, code: 'explains.early', points: [], figure: null };
}

/** What is said where it trips, and where it does not, of what goes past the device and not to earth. */
const WHILE_IT_RUNS: Readonly<Partial<Record<Suspect['kind'], readonly [string, string]>>> = { borrowed: ['explains.borrowed', 'explains.astrayNo'], otherBar: ['explains.rcdNeutral', 'explains.astrayNo'] };

/** How likely the device opens, and the milliamperes that it sees; null where these hang on how earth comes in. */
interface Trip { readonly chance: number; readonly mA: number | null }

/** How earth comes in, and how likely: as it is drawn, or by how common each is where nobody said. */
const COMMON: readonly (readonly [NonNullable<Service['arrangement']>, number])[] = [['TN-C-S', 0.5], ['TN-S', 0.3], ['TT', 0.2]];
const earthings = (map: Installation): typeof COMMON => (map.supply?.arrangement ? [[map.supply.arrangement, 1]] : COMMON);

/** What leaks in a whole installation, as factors on the usual, and how likely: nobody measured it. */
const LEAKS: readonly (readonly [number, number])[] = [[0.4, 0.25], [1, 0.4], [2, 0.25], [4, 0.1]];
const MUCH = 3;

/**
 * The residual device likeliest to open, and its current in milliamperes where leakage is as usual. Where the map has none, one of 30 mA
 * stands at the board. `energised`: the installation with so many times that leakage; between two of them the current is taken to be straight.
 */
function worst(map: Installation, energised: (leak: number) => Energised): { chance: number; mA: number } {
  const [usual, much] = [seenBy(map, energised(1)), seenBy(map, energised(MUCH))];
  const rated = usual.map(({ d, amp }, i) => {
    return { chance: overLeaks(d, amp, much[i]?.amp ?? amp), mA: amp * 1000 };
  });
  return rated.sort((a, b) => b.chance - a.chance || b.mA - a.mA)[0] ?? { chance: 0, mA: 0 };
}

/** Chance that a residual device opens over what may leak, from the amperes that it sees with the usual leakage and with much. */
const overLeaks = (d: Protection, usual: number, much: number, condition?: Condition): number =>
  LEAKS.reduce((sum, [leak, share]) => sum + share * chanceOfTrip({ ...d, ratingA: null }, 0, Math.max(0, usual + ((leak - 1) * (much - usual)) / (MUCH - 1)), condition).atOnce, 0);

/** The residual devices, and the current that each sees, amperes. */
function seenBy(map: Installation, e: Energised): readonly { readonly d: Protection; readonly amp: number }[] {
  const devices = protectionsOf(map).filter((p) => p.residualMa !== null);
  const board = boardOf(map);
  const wires = board ? endsAtPoint(map, board.id).filter((x) => x.role !== 'E') : [];
  const circuit = (x: (typeof wires)[number], sign: 1 | -1): { re: number; im: number } => {
    const i = e.current(`core ${x.section.id}:${x.core}`);
    return { re: sign * i.re, im: sign * i.im };
  };
  return devices.length
    ? devices.map((d) => ({ d, amp: magnitude(e.clamp(residualParts(d))) }))
    : protectionsOf(map).slice(0, 1).map((d) => {
        const sum = wires.map((x) => circuit(x, x.side === 'a' ? 1 : -1)).reduce((a, b) => ({ re: a.re + b.re, im: a.im + b.im }), { re: 0, im: 0 });
        return { d: { ...d, kind: 'rcd' as const, residualMa: 30, ratingA: null }, amp: magnitude(sum) };
      });
}

/** An overcurrent device of a way where nobody said which: B 32. */
const USUAL_RATING_A = 32;

function overcurrentTrip(map: Installation, suspect: Suspect, faults: readonly Fault[], answer: Answer): Effect {
  if (suspect.kind === 'overload') return answer(true, 'explains.heavy');
  const e = Energised.of(map, untouched, faults);
  const all = protectionsOf(map).filter((p) => p.kind !== 'rcd' && p.kind !== 'main').map((d) => {
    const amp = magnitude(largest(lineParts(d).map((parts) => e.clamp(parts))));
    const p = chanceOfTrip({ ...d, ratingA: d.ratingA ?? USUAL_RATING_A, residualMa: null }, amp, 0);
    return { chance: p.atOnce + p.later, amp };
  });
  const top = all.sort((a, b) => b.chance - a.chance || b.amp - a.amp)[0] ?? { chance: 0, amp: 0 };
  return { idle: top.chance, busy: top.chance, code: top.chance > MAY_TRIP ? 'explains.mcb' : 'explains.mcbNo', points: [], figure: top.amp };
}

function shock(map: Installation, suspect: Suspect, faults: readonly Fault[], answer: Answer): Effect {
  if (suspect.kind === 'supplyLost') return answer(true, suspect.conductors.includes('N') ? 'explains.supplyNeutral' : 'explains.supplyEarth');
  const e = Energised.of(map, untouched, faults);
  // What is plugged in has its earth by the face: its metal is touched like any other.
  const earths = map.points.flatMap((p) => p.terminals.filter((t) => t.role === 'E').flatMap((t) => [terminalKey(p.id, t.id), ...p.faces.map((f) => faceKey(p.id, f.id, t.id))].map((place) => ({ point: p.id, place }))));
  const touched = earths.map((x) => ({ ...x, volt: magnitude(e.voltage(x.place, GROUND, indicatorOhm.low) ?? { re: 0, im: 0 }) })).filter((x) => x.volt > FELT_VOLT);
  const most = touched.reduce((top, x) => Math.max(top, x.volt), 0);
  const pointsOf = (list: readonly { readonly point: string }[]): string[] => [...new Set(list.map((x) => x.point))];
  if (touched.length) return answer(true, 'explains.live', pointsOf(touched), most);
  // Metal that has lost its earth waits for the first fault.
  const unearthed = earths.filter((x) => magnitude(e.loop(x.place, terminalKey(boardOf(map)?.id ?? '', 'E')) ?? { re: 0, im: 0 }) > 1e3);
  if (unearthed.length) return answer(true, 'explains.unearthed', pointsOf(unearthed));
  const sound = Energised.of(map, untouched, []);
  const board = terminalKey(boardOf(map)?.id ?? '', 'E');
  const ohmOf = (x: Energised, place: string): number => magnitude(x.loop(place, board) ?? { re: 0, im: 0 });
  const poor = suspect.conductors.includes('E') ? earths.filter((x) => (ohmOf(e, x.place) - ohmOf(sound, x.place)) * stays(map, x.point) > FELT_VOLT) : [];
  if (poor.length) return answer('may', 'explains.poorEarth', pointsOf(poor));
  if (!suspect.conductors.some((c) => c.startsWith('L'))) return answer(false, 'explains.shockNo');
  const leak = worst(map, () => e).mA - worst(map, () => sound).mA;
  return leak > LEAK_FELT_MA ? answer('may', 'explains.shockLeak', [], leak) : answer(false, 'explains.shockNo');
}

/** What an overcurrent device carries for ever, as a multiple of its rating; IEC 60898-1. */
const CARRIES = 1.13;

/** Amperes that may go to earth at a point for ever, before a device over it opens. */
function stays(map: Installation, point: string): number {
  const way = wayOf(map, point);
  const over = protectionsOf(map).filter((d) => way !== null && d.carries.includes(way));
  const residual = over.flatMap((d) => (d.residualMa === null ? [] : [d.residualMa / 1000]));
  const rated = over.flatMap((d) => (d.kind === 'rcd' || d.kind === 'main' ? [] : [d.ratingA ?? USUAL_RATING_A]));
  return Math.min(...residual, CARRIES * Math.min(...(rated.length ? rated : [USUAL_RATING_A])));
}

/** Line that leaks so much to metal may be felt where somebody is earthed better than it. */
const LEAK_FELT_MA = 2;

const allLoads = (map: Installation, faults: readonly Fault[]): string[] => {
  const faulty = new Set(faults.flatMap((f) => (f.kind === 'loadFault' ? [elementKey(f.point, f.load)] : [])));
  return map.points.flatMap((p) => loadsOf(p).map((l) => elementKey(p.id, l.id))).filter((l) => !faulty.has(l));
};

/** What runs, as factors on what is drawn, and how likely: an outlet is drawn with a hundred watts, and takes a kettle. */
const RUNS: readonly (readonly [number, number])[] = [[0.3, 0.25], [1, 0.3], [4, 0.25], [20, 0.2]];

/** Points that lose their supply: whatever runs, or only where enough of it runs through a poor joint. */
function withoutPower(map: Installation, faults: readonly Fault[]): Effect {
  const idle = deadPoints(map, faults, 0);
  if (idle.length) return { idle: 1, busy: 1, code: 'explains.dead', points: idle, figure: null };
  const each = RUNS.map(([load, share]) => ({ share, points: deadPoints(map, faults, load) }));
  const chance = each.reduce((sum, x) => sum + (x.points.length ? x.share : 0), 0);
  return { idle: 0, busy: chance, code: chance > 0 ? 'explains.deadLoaded' : 'explains.notDead', points: each[each.length - 1]?.points ?? [], figure: null };
}

/** Points that have less than half of the supply between line and neutral, all ways on and so many times what is drawn running. */
function deadPoints(map: Installation, faults: readonly Fault[], load: number): string[] {
  const e = Energised.of(map, load > 0 ? untouched : { ...untouched, loadsOut: allLoads(map, faults) }, faults, { ...usualService, load: Math.max(load, 0.1) });
  const circuits = circuitsOf(map);
  return map.points.filter((p) => {
    if (p.kind === 'board' || !circuits.has(p.id)) return false;
    const line = p.terminals.find((t) => t.role.startsWith('L'))?.id ?? p.terminals[0]?.id ?? '';
    const v = e.voltage(usedAt(p, line), usedAt(p, p.terminals.find((t) => t.role === 'N')?.id ?? 'N'), indicatorOhm.low);
    return v !== null && magnitude(v) < map.nominalVolt / 2;
  }).map((p) => p.id);
}
