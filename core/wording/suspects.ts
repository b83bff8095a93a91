import type { Explanation, Outcome, StepView, SuspectView } from '../advice/types';
import type { Surely } from '../advice/surely';
import { boardOf, circuitsOf, deviceAt, findPoint, findSection, isTwoWay, parsePlace, sectionOfEnd, type Installation, type Point } from '../installation';
import { deviceWords } from './devices';
import { meter } from '../tester';
import { formatAmp, formatIn, formatMetres, formatOhm, formatShare } from '../units';
import type { Action } from '../planning';
import { coreWords, isTwoWayPart, laneLetter, beliefPlaceName, firstCapital, labelOfSection, pointName, sectionName, spotName } from './places';
import { probeWords } from './probes';
import { isElementKey } from '../workstate';

const list = (names: readonly string[], most = 3): string =>
  names.length <= most ? names.join(names.length === 2 ? ' and ' : ', ') : `${names.slice(0, most).join(', ')} and ${names.length - most} more`;

type Named = Pick<SuspectView, 'id' | 'kind' | 'place' | 'conductors'>;

/** "N end loose in Bench, towards Sink wall". */
export function suspectTitle(map: Installation, s: Named): string {
  const [c = '', d = ''] = s.conductors.map(coreWords);
  const section = findSection(map, s.place);
  const along = section ? sectionName(map, section) : '';
  const here = beliefPlaceName(map, s.place);
  const towards = endTowards(map, s.id);
  switch (s.kind) {
    case 'sound': return 'Nothing wrong here';
    case 'unknown': return 'Something this map does not show';
    case 'openCore': return `${c} broken, ${along}`;
    case 'openBridged': return `${section ? `${c} broken, ${along}` : `${c} end loose in ${here}${towards}`}, and metal leads to earth in its stead`;
    case 'looseEnd': return `${c} end loose in ${here}${towards}`;
    case 'resistiveEnd': return `${c} end poor in ${here}${towards}`;
    case 'contact': return `${c} touches ${d}, ${along}`;
    case 'pointContact': {
      const [x = c, y = d] = s.conductors.map((t) => terminalWords(map, s.place, t));
      return `${firstCapital(x)} touches ${y} in ${here}`;
    }
    case 'loadFault': return `${here} faulty, ${c}–${d}`;
    case 'loadLeft': return `${firstCapital(here)} still in, and faulty, ${c}–${d}`;
    case 'loadOpen': return `${firstCapital(here)} is open inside`;
    case 'crossed': return `${c} and ${d} crossed, ${along}`;
    case 'terminal': return `All ${c} ends off in ${here}`;
    case 'face': return `${c} contact of the face at ${here} failed`;
    case 'notLanded': return `${c} twisted through, not in its terminal at ${here}`;
    case 'missingSection': return `No cable between ${along.replace(' to ', ' and ')}`;
    case 'switchOpen': return `${switchWords(map, s.id, here)} ${d ? `does not close on ${d}` : 'does not close, or is off'}`;
    case 'endNotOut': return `Record: ${c} at ${spotName(map, s.place.slice(6))} not really out`;
    case 'loadIn': {
      const at = s.place.slice(6).split('.')[0] ?? '';
      return `A load is in ${findPoint(map, at)?.kind === 'undrawn' ? 'on' : 'at'} ${pointName(map, at)}`;
    }
    case 'switchOn': return `Record: switch at ${pointName(map, s.place.slice(6).split('.')[0] ?? '')} is on`;
    case 'thrown': return `${twoWayNames(map, s.place.slice(6).split('.')[0] ?? '')} stands the other way`;
    case 'linkLeft': return `Record: the link at ${spotName(map, s.place.slice(6))} is still in`;
    case 'metalPath': return `Metalwork at ${here} leads to earth beside the CPC`;
    case 'otherBar': return `N of ${labelOfSection(map, s.place)} sits in the ${barName(map, d)}`;
    case 'borrowed': return `A load of ${here} returns by the N of ${pointName(map, d)}`;
    case 'rcdSensitive': return `${firstCapital(deviceWords(map, c))} trips too early`;
    case 'rcdBlind': return `${firstCapital(deviceWords(map, c))} does not trip when it should`;
    case 'standingLeak': return `Leakage behind ${deviceWords(map, c)} adds up, nothing single is faulty`;
    case 'overload': return `${firstCapital(deviceWords(map, c))} is overloaded`;
    case 'supplyLost': return `Supply ${c === 'N' ? 'neutral' : 'earth'} lost`;
  }
}

/** "Switch 1 or Switch 2": the two-way switches of a circuit, of which nothing that is read tells which one it is that stands otherwise. */
function twoWayNames(map: Installation, point: string): string {
  const circuits = circuitsOf(map);
  const all = map.points.filter((p) => circuits.get(p.id) === circuits.get(point) && p.elements.some((e) => isTwoWay(p, e))).map((p) => p.name);
  return all.length < 2 ? `The switch at ${pointName(map, point)}` : `${all.slice(0, -1).join(', ')} or ${all.at(-1) ?? ''}`;
}

/** A terminal by its own name where it has one ("way 3", "N bar"), else by its letter. */
const terminalWords = (map: Installation, point: string, terminal: string): string => findPoint(map, point)?.terminals.find((t) => t.id === terminal)?.name ?? coreWords(terminal);

/** "Switch at Stair", "Way 2 in Clay shed sub-board". */
function switchWords(map: Installation, suspect: string, here: string): string {
  const [point = '', element] = (suspect.split(' ')[1] ?? '').split('.');
  const p = findPoint(map, point);
  return p?.kind === 'subboard' ? `${firstCapital(p.elements.find((e) => e.id === element)?.name ?? 'switch')} in ${here}` : `Switch at ${here}`;
}

/** Share of the leader's from which another end at its place is not told apart. */
const AS_LIKELY = 0.2;

/** The leader's title, without an end that the readings do not tell from another one there: "N end poor in Bench, either cable". */
export function verdictTitle(map: Installation, suspects: readonly (Named & Pick<SuspectView, 'share'>)[], surely: Surely | null = null): string {
  const [best, ...others] = suspects;
  if (!best) return 'Nothing on this map explains it';
  if (surely && (surely.kind === null || surely.conductors === null)) return partlyKnown(map, best.place, surely);
  const title = suspectTitle(map, best);
  const towards = endTowards(map, best.id);
  const alike = others.some((s) => s.place === best.place && s.kind === best.kind && s.conductors.join() === best.conductors.join() && s.share > AS_LIKELY * best.share);
  return alike && towards !== '' && title.endsWith(towards) ? `${title.slice(0, -towards.length)}, either cable` : title;
}

/** A place whose conductors, or what is wrong with them, are not as sure as it is: no more is said than is so. */
function partlyKnown(map: Installation, place: string, { kind, conductors }: Surely): string {
  const section = findSection(map, place);
  const here = section ? sectionName(map, section) : beliefPlaceName(map, place);
  if (deviceAt(map, place)) return `${firstCapital(here)}, or what leaks or runs behind it`;
  if (place.includes('.')) return `${firstCapital(here)} is faulty`;
  if (kind === 'borrowed') return `A load of ${here} returns by the N of another circuit`;
  if (kind === 'otherBar') return `N of ${labelOfSection(map, place)} sits in another bar`;
  const on = conductors?.map(coreWords).join(' and ');
  if (on) return `${on}: ${here}`;
  return `${firstCapital(here)}: ${kind === 'contact' || kind === 'pointContact' ? 'two conductors touch' : kind === null ? 'something is wrong' : 'a conductor does not join'}`;
}

/** Short, for the strip: "N broken along here", "L touches E". */
export function suspectMark(s: Named): string {
  const [c = '', d = ''] = s.conductors.map(coreWords);
  switch (s.kind) {
    case 'openCore': return `${c} broken along here`;
    case 'openBridged': return `${c} open, bridged`;
    case 'contact': case 'pointContact': case 'loadFault': case 'loadLeft': return `${c} touches ${d}`;
    case 'loadOpen': return `${c} open`;
    case 'looseEnd': return `${c} end loose`;
    case 'resistiveEnd': return `${c} end poor`;
    case 'crossed': return `${c} and ${d} crossed`;
    case 'face': return `${c} face contact`;
    case 'terminal': return `${c} ends off`;
    case 'notLanded': return `${c} not landed`;
    case 'missingSection': return 'no cable here';
    case 'switchOpen': return 'switch open';
    case 'metalPath': return 'earth by metalwork';
    default: return '';
  }
}

const barName = (map: Installation, terminal: string): string => boardOf(map)?.terminals.find((t) => t.id === terminal)?.name ?? terminal;

function endTowards(map: Installation, id: string): string {
  const key = id.split(' ')[1] ?? '';
  const place = parsePlace(key);
  if (place?.at !== 'end') return '';
  const end = sectionOfEnd(map, place);
  if (!end) return '';
  const here = end.section[end.side];
  const sections = map.sections.filter((s) => s.a === here || s.b === here);
  return sections.length > 1 ? `, towards ${pointName(map, end.section[end.side === 'a' ? 'b' : 'a'])}` : '';
}

/** Does it lie between line and neutral, as a load does? */
const acrossSupply = (map: Installation, s: Named): boolean =>
  (s.kind === 'loadIn' || s.kind === 'contact' || s.kind === 'pointContact') && s.conductors.includes('N') && s.conductors.some((c) => c !== 'N' && c !== 'E') && map.nominalVolt > 0;

/** Powers that one appliance has, watts. */
const APPLIANCE_W: readonly [number, number] = [25, 12_000];

/** What a load of these ohms uses, cold: "a load of 2.0 kW"; nothing where no appliance has it. */
function loadOfOhm(volt: number, ohm: number, isLoad: boolean): string {
  const watt = (volt * volt) / ohm;
  if (!(watt >= APPLIANCE_W[0] && watt <= APPLIANCE_W[1])) return '';
  const power = formatWatt(watt);
  return isLoad ? `a load of ${power} if it heats` : `as a load of ${power} left in would read`;
}

/** Ohms are told where the most is at most so many times the least, with what a meter cannot tell from nothing. */
const TOLD = 1.8;
const METER_OHM = 0.05;
/** Above it nothing is known but that it is high: the top of what is suspected, ohms. */
const HIGH_OHM = 1.2e6;
/** A current that ends usually carry, for what heat a poor one makes. */
const HEAT_AMP = 10;

/** "about 0.4 Ω"; where the readings leave it wider, between what; an end of the span that no reading told is left open. */
function spanWords([low, high]: readonly [number, number], ohm: number | 'open' | null): string {
  if (low === Infinity || (ohm === 'open' && high === Infinity && low > HIGH_OHM)) return '';
  if (high < TOLD * (low + METER_OHM)) return typeof ohm === 'number' ? `about ${formatOhm(ohm)}` : '';
  if (low < 1 && high > HIGH_OHM / 2) return 'size not told yet';
  if (low < 1) return `under ${formatOhm(high)}`;
  if (high > HIGH_OHM / 2) return `over ${formatOhm(low)}`;
  return `between ${formatOhm(low)} and ${formatOhm(high)}`;
}

/** "120 W", "1.4 kW". */
const formatWatt = (watt: number): string => (watt < 1000 ? `${Number(watt.toPrecision(2))} W` : `${(watt / 1000).toFixed(1)} kW`);

/** Size and position: "about 0.4 Ω, 3.2 m from Roof joint (± 1.1 m)". */
export function suspectSize(map: Installation, s: Named & Pick<SuspectView, 'ohm' | 'span' | 'metres'>): string {
  const parts: string[] = [];
  const told = s.span !== null && s.span[1] < TOLD * (s.span[0] + METER_OHM);
  if (s.span && s.kind !== 'endNotOut') parts.push(spanWords(s.span, s.ohm));
  if (s.kind === 'resistiveEnd' && typeof s.ohm === 'number' && told) parts.push(`${formatWatt(s.ohm * HEAT_AMP ** 2)} of heat at ${HEAT_AMP} A`);
  if (typeof s.ohm === 'number' && told && acrossSupply(map, s)) parts.push(loadOfOhm(map.nominalVolt, s.ohm, s.kind === 'loadIn'));
  if (s.metres) parts.push(`${formatMetres(s.metres.at)} from ${pointName(map, s.metres.from)} (± ${formatMetres(s.metres.plusMinus)}${s.metres.guessed ? ', lengths guessed' : ''})`);
  return parts.filter(Boolean).join(', ');
}

/** What hangs on more than the suspect's own size says so itself. */
const HANGS_ELSEWHERE = new Set(['explains.wet', 'explains.poorEarth', 'explains.shockLeak', 'explains.deadLoaded']);

const HANGS_ON: Readonly<Record<Extract<Explanation, { hangs: unknown }>['hangs'], string>> = {
  size: 'its size, which no reading has told yet', running: 'what runs at that moment', earthing: 'what runs at that moment, and how earth comes in, which nobody has said',
};

export function explainsText(map: Installation, e: Explanation): string {
  if (e.says === 'not asked') return '';
  const names = list(e.points.map((p) => pointName(map, p)));
  const amp = formatAmp((e.figure ?? 0) / 1000);
  const hangs = e.code === 'explains.early' ? 'what leaks behind it in use, which nobody has measured yet' : HANGS_ON[e.hangs];
  if (e.says === 'perhaps' && !HANGS_ELSEWHERE.has(e.code)) return `May explain it (${formatShare(e.share)}): that hangs on ${hangs}.`;
  switch (e.code) {
    case 'explains.dead': return `Explains it: ${names} would be dead.`;
    case 'explains.deadLoaded': return `${e.says === 'perhaps' ? 'May explain it' : 'Explains it'}, but only while enough runs: then ${names} ${e.points.length > 1 ? 'have' : 'has'} less than half of the supply’s volts.`;
    case 'explains.notDead': return 'Does not explain it: nothing would be dead.';
    case 'explains.rcdLine': return e.figure === null ? 'Explains it: enough goes to earth, whatever runs.' : `Explains it: ${amp} to earth at once.`;
    case 'explains.rcdNeutral': return `Explains it, but only while something runs: then ${e.figure === null ? 'part of its current' : amp} goes astray past the device.`;
    case 'explains.borrowed': return `Explains it, but only while that load runs: then ${e.figure === null ? 'its current' : amp} returns past the device.`;
    case 'explains.astrayNo': return `Does not explain the trip: ${e.figure === null ? 'too little' : `only ${amp}`} goes astray.`;
    case 'explains.early': return 'Explains it: the device trips far below its rating, with what leaks behind it in use.';
    case 'explains.adds': return 'Explains it: the sum is near what the device stands.';
    case 'explains.heavy': return 'Explains it: more runs than the device carries for long.';
    case 'explains.live': return `Explains it: ${Math.round(e.figure ?? 0)} V on the metal of ${names}.`;
    case 'explains.rcdNeutralNo': return 'Hardly explains the trip by itself: the neutral’s few volts drive too little through it.';
    case 'explains.rcdNo': return `Does not explain the trip: ${e.figure === null ? 'too little goes' : `only ${amp}`} to earth.`;
    case 'explains.rcdElsewhere': return 'Does not explain the trip: no RCD on this map is over it.';
    case 'explains.wet': return `May explain it when wet: dry, ${e.figure === null ? 'too little' : `only ${amp}`} goes to earth.`;
    case 'explains.mcb': return e.figure === null ? 'Explains it: enough would flow to open the device.' : `Explains it: ${formatAmp(e.figure)} would flow.`;
    case 'explains.mcbNo': return 'Does not explain the trip: too little would flow.';
    case 'explains.supplyEarth': return 'Explains it: no earth comes in, so what leaks anywhere stands on all earthed metal.';
    case 'explains.supplyNeutral': return 'Explains it: without the supply’s neutral, volts drift, and earthed metal that is joined to it may stand at them.';
    case 'explains.unearthed': return `Explains it: no earth at ${names}, so what leaks there stands on its metal and nothing trips.`;
    case 'explains.poorEarth': return `May explain it, if line leaks to earth behind it: what the device lets pass could lift the metal of ${names} above 50 V.`;
    case 'explains.shockLeak': return 'May explain it: line leaks to earthed metal.';
    case 'explains.shockNo': return 'Does not explain the shock.';
    case 'explains.loose': return 'Explains it: a poor joint heats and flickers.';
    default: return 'Does not explain it.';
  }
}

/** Left column of an outcome, in figures as the meter shows them: "below 0.10 Ω", "0.02 to 0.09 MΩ", "no path". */
export function outcomeRange(fn: 'continuity' | 'insulation', o: Outcome): string {
  if (o.count === 0) return 'else';
  if (o.above) return fn === 'continuity' ? 'no path' : '> 999 MΩ';
  const top = fn === 'continuity' ? 1e5 : 999e6;
  const floor = fn === 'continuity' ? 0.02 : 0.01e6;
  if (o.low <= floor && o.high >= top) return 'any figure';
  // The figures that fall into the row: where two meet within a digit, it is the upper one's.
  const { digitOhm } = meter[fn];
  const [from, to] = [Math.ceil(o.low / digitOhm(o.low) - 1e-6) * digitOhm(o.low), Math.floor(o.high / digitOhm(o.high) + 1e-6) * digitOhm(o.high)];
  const words = (ohm: number): string => (fn === 'insulation' ? formatIn(ohm, 'MΩ') : formatOhm(ohm));
  if (o.high >= top) return `above ${words(from)}`;
  if (o.low <= digitOhm(0) / 2) return `below ${words(Math.max(Math.ceil(o.high / digitOhm(o.high) - 1e-6) * digitOhm(o.high), digitOhm(0)))}`;
  const [low, high] = [words(from), words(Math.max(from, to))];
  if (low === high) return low;
  const [a = '', unitA = ''] = low.split(' ');
  const unitB = high.split(' ')[1] ?? '';
  return unitA === unitB ? `${a} to ${high}` : `${low} to ${high}`;
}

export function outcomeMeaning(map: Installation, o: Pick<Outcome, 'count' | 'suspects' | 'places'>, titles: ReadonlyMap<string, string>): string {
  if (o.count === 0) return 'not on this map';
  // What is wrong at the place is said where one thing alone has nearly all of the row.
  const [only = '', other] = o.suspects;
  if (o.count === 1 && other === undefined && titles.has(only)) return titles.get(only) as string;
  const names = [...new Set(o.places.map((p) => beliefPlaceName(map, p)))];
  if (!names.length) return `one of ${o.count} places`;
  const named = o.count <= 3 ? names : names.slice(0, 1);
  const left = o.count - named.length;
  return left > 0 ? `${named.join(', ')} or ${left} ${left === 1 ? 'other' : 'others'}` : named.join(', ');
}

export function actionWords(map: Installation, a: Action): string {
  const name = pointName(map, a.point);
  switch (a.do) {
    case 'open': return `Open ${name}`;
    case 'takeOut': return atBoard(map, a.point) ? `Pull ${tailsWords(map, a.ends)}` : `Split at ${name}: ${endsWords(map, a.ends)} out`;
    case 'putBack': return atBoard(map, a.point) ? `Put ${tailsWords(map, a.ends)} back` : `Put ${endsWords(map, a.ends)} back at ${name}`;
    case 'switch': return isTwoWayPart(map, a.part) ? `Move the switch at ${name}` : `Switch at ${name} ${a.off ? 'off' : 'on'}`;
    case 'switchesOn': if (a.ways.some(isElementKey)) return `Plug in and switch on what was in ${wherePlugs(map, pointsOf(a.ways))}`;
      return a.ways.length > 1 ? `Every switch on, on ${a.ways.length} circuits` : `Every switch on, on ${name}`;
    case 'unplug': return unplugWords(map, a.parts);
    case 'plugIn': return plugInWords(map, a.parts);
    case 'link': return `Link ${laneLetter(map, a.a)} and ${laneLetter(map, a.b)} at ${name}`;
    case 'unlink': return `Take the link off at ${name}`;
  }
}

/** "Plug in again at Bench", "Plug in again everything on Kitchen", "Plug in again at Bench and Sink wall". */
export function plugInWords(map: Installation, parts: readonly string[]): string {
  const points = pointsOf(parts);
  const [only = ''] = points;
  if (points.length === 1) return findPoint(map, only)?.kind === 'lamp' ? `Lamp in again at ${pointName(map, only)}` : `Plug in again ${findPoint(map, only)?.kind === 'undrawn' ? 'everything on' : 'at'} ${pointName(map, only)}`;
  const lamps = points.some((p) => ['lamp', 'undrawn'].includes(findPoint(map, p)?.kind ?? ''));
  return `Plug in again${lamps ? ', lamps in,' : ''} ${wherePlugs(map, points)}`;
}

/** "Turn on every switch on Way 2 and Way 3", "Turn on the switch at Hall". */
export function turnOnWords(map: Installation, parts: readonly string[]): string {
  const drawn = parts.filter(isElementKey);
  const whole = parts.filter((k) => !isElementKey(k)).map((p) => labelOfSection(map, map.sections.find((s) => s.b === p || s.a === p)?.id ?? ''));
  const single = shortened(pointsOf(drawn).map((p) => pointName(map, p)));
  return `Turn on ${[whole.length ? `every switch on ${andList(whole)}` : '', single.length ? `${single.length > 1 ? 'the switches' : 'the switch'} at ${andList(single)}` : ''].filter(Boolean).join(' and ')}`;
}

/** "Unplug what is plugged in at Bench", "Take all lamps out on Shop lights", "Unplug everything at Bench 1, 2 and 4", "Unplug everything, lamps out, on Kitchen and Office". */
export function unplugWords(map: Installation, parts: readonly string[]): string {
  const points = pointsOf(parts);
  const kinds = new Set(points.map((p) => findPoint(map, p)?.kind));
  const [only = ''] = points;
  if (points.length === 1) {
    if (kinds.has('lamp')) return `Take the lamp out at ${pointName(map, only)}`;
    if (kinds.has('fixed')) return `Take the conductors of ${pointName(map, only)} off its terminals`;
    return kinds.has('undrawn') ? `Unplug everything on ${pointName(map, only)}, lamps out` : `Unplug what is plugged in at ${pointName(map, only)}`;
  }
  const what = kinds.size === 1 && kinds.has('lamp') ? 'Take the lamps out' : kinds.has('outlet') && kinds.size === 1 ? 'Unplug everything' : 'Unplug everything, lamps out,';
  return `${what} ${wherePlugs(map, points)}`;
}

const pointsOf = (parts: readonly string[]): string[] => [...new Set(parts.map((k) => k.split('.')[0] ?? ''))];

/** Where some plugs are, every one: a circuit by its label where all of it is meant, else point by point. "on Kitchen and Office", "at Bench 1, 2 and 4". */
function wherePlugs(map: Installation, points: readonly string[]): string {
  const circuits = circuitsOf(map);
  const hasPlug = (p: Point): boolean => p.elements.some((e) => e.kind === 'load' && e.unplugs);
  const whole: string[] = [];
  const single: string[] = [];
  for (const c of new Set(points.map((p) => circuits.get(p)))) {
    const meant = points.filter((p) => circuits.get(p) === c);
    const all = map.points.every((p) => circuits.get(p.id) !== c || !hasPlug(p) || meant.includes(p.id));
    if (all && map.shape === 'board') whole.push(labelOfSection(map, map.sections.find((s) => meant.includes(s.a) || meant.includes(s.b))?.id ?? ''));
    else if (all) return 'everywhere';
    else single.push(...meant.map((p) => pointName(map, p)));
  }
  return [whole.length ? `on ${andList(whole)}` : '', single.length ? `at ${andList(shortened(single))}` : ''].filter(Boolean).join(' and ');
}

/** "A, B and C". */
export const andList = (names: readonly string[]): string => (names.length > 1 ? `${names.slice(0, -1).join(', ')} and ${names.at(-1) ?? ''}` : (names[0] ?? ''));

/** Names that differ in their last word alone, the rest of them said once: "Bench 1", "2", "4". */
function shortened(names: readonly string[]): string[] {
  const head = (name: string): string => name.slice(0, name.lastIndexOf(' ') + 1);
  const [first = ''] = names;
  return head(first) !== '' && names.every((n) => head(n) === head(first)) ? names.map((n, i) => (i ? n.slice(head(first).length) : n)) : [...names];
}

const atBoard = (map: Installation, point: string): boolean => map.shape === 'board' && findPoint(map, point)?.kind === 'board';

/** "N of Way 2", "N and E of Way 2": conductors that come out of the bars of a board. */
function tailsWords(map: Installation, keys: readonly string[]): string {
  const byWay = new Map<string, string[]>();
  for (const key of keys) {
    const place = parsePlace(key);
    const end = place?.at === 'end' ? sectionOfEnd(map, place) : undefined;
    if (!end || place?.at !== 'end') continue;
    const way = labelOfSection(map, end.section.id);
    byWay.set(way, [...(byWay.get(way) ?? []), place.core]);
  }
  return [...byWay].map(([way, cores]) => `${[...new Set(cores)].map((c) => times(c, cores.filter((x) => x === c).length)).join(' and ')} of ${way}`).join(', ');
}

/** A ring has two ends of each conductor: "both N". */
const times = (core: string, n: number): string => (n === 1 ? core : n === 2 ? `both ${core}` : `${n} ${core}`);

/** "L, N and E to Sink wall". */
export function endsWords(map: Installation, keys: readonly string[]): string {
  const byTarget = new Map<string, string[]>();
  for (const key of keys) {
    const place = parsePlace(key);
    const end = place?.at === 'end' ? sectionOfEnd(map, place) : undefined;
    const target = end ? pointName(map, end.section[end.side === 'a' ? 'b' : 'a']) : '';
    const core = place?.at === 'end' ? place.core : '';
    byTarget.set(target, [...(byTarget.get(target) ?? []), core]);
  }
  return [...byTarget].map(([target, cores]) => `${cores.length > 2 ? `${cores.slice(0, -1).join(', ')} and ${cores.at(-1)}` : cores.join(' and ')}${target ? ` to ${target}` : ''}`).join('; ');
}

/** The step's headline. */
export function stepTitle(map: Installation, step: Pick<StepView, 'actions' | 'probes' | 'why'>): string {
  const probe = step.probes[0];
  const reading = probe ? `${probe.fn === 'insulation' ? 'test' : 'read'} ${probeWords(map, probe).line}` : '';
  if (step.why.code === 'repeat') return `Read again: ${probe ? probeWords(map, probe).line : ''}`;
  const text = [...shortActions(map, step.actions), reading].filter(Boolean).join(', ');
  return text.charAt(0).toUpperCase() + text.slice(1);
}

/** Opening and splitting at one point are one thing to say: "Open Roof joint, split off Hood light 1". */
function shortActions(map: Installation, actions: readonly Action[]): string[] {
  return actions.map((a, i) => {
    if (a.do !== 'takeOut' || a.ends.length < 2 || atBoard(map, a.point)) return actionWords(map, a);
    const targets = [...new Set(a.ends.map((k) => endsWords(map, [k]).replace(/^\S+( to )?/, '')))].filter(Boolean);
    const opened = actions.slice(0, i).some((b) => b.do === 'open' && b.point === a.point);
    return `${opened ? 'split' : `at ${pointName(map, a.point)} split`} off ${targets.join(' and ')}`;
  });
}

const pullsNeutral = (actions: readonly Action[]): boolean => actions.some((a) => a.do === 'takeOut' && a.ends.some((k) => { const place = parsePlace(k); return place?.at === 'end' && place.core === 'N'; }));

export function whyText(step: Pick<StepView, 'why' | 'minutes' | 'bits' | 'actions'>): string {
  switch (step.why.code) {
    case 'compare': return 'A cable that is longer than drawn reads high in all its conductors, a poor end in one. Read another over the same stretch.';
    case 'confirm': return 'The appliance carries the verdict. Out of the circuit it proves itself: the reading must come right, or it is something else.';
    case 'check': return 'One reading carries the verdict. A slip would name the wrong place: this reading tells it too, by itself.';
    case 'repeat': return 'One reading carries the verdict. A slip would name the wrong place, so it is read once more.';
    case 'splits': return 'Readings with this joined tell less for their minutes. Split here, the two sides part the suspects most evenly for the minutes.';
    case 'pulls': return `${pullsNeutral(step.actions) ? 'A breaker leaves its neutral through: only out of the bar it shows whose fault this is.' : 'In its terminal it is joined to all others: only out of it this one shows alone.'} A pull gives two reads, the bar and the tail.`;
    case 'links': return 'Without a long lead, a link at the far end lets one pair at the near end read both cores out and back. It goes on the put-back list.';
    case 'opens': return 'With covers on, a cable cannot be told from the ends it lands in. One cover off can.';
    case 'halves': return 'Parts the suspects about evenly and costs little.';
    default: return 'Tells most for the minutes; nothing has to be taken apart.';
  }
}
