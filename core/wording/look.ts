import type { SuspectKind } from '../faults';
import { boardOf, boardPart, deviceAt, findPoint, landingOf, type Installation } from '../installation';
import type { Complaint } from '../job';
import { counted, formatMinutes, formatShare } from '../units';
import type { Verdict } from '../advice';
import { deviceWords } from './devices';
import { beliefPlaceName, firstCapital, labelOfSection, pointName } from './places';

// Eyes before meter: what is looked for, and where.

/** What to look for: with the cover off, or from outside. */
export const lookWords = ({ outside }: { readonly outside: boolean }): string =>
  outside ? 'Scorch marks, water, a pinched cable, fresh screws in the wall nearby. Half a minute.' : 'Tug each conductor: does its end move? Melted or darkened insulation, a nick, water, copper that shows. Half a minute.';

/** A look, in a line that goes on from "Look first:". */
export function lookTitle(map: Installation, look: { readonly point: string; readonly outside: boolean; readonly plug: string | null; readonly bar: string | null }): string {
  if (look.plug) return findPoint(map, look.point)?.kind === 'lamp' ? `is a lamp still in at ${pointName(map, look.point)}?` : `is anything still plugged in at ${pointName(map, look.point)}?`;
  return look.bar ? `which bar is ${neutralName(map, look.bar)} in?` : `${pointName(map, look.point)}, ${look.outside ? 'from outside' : 'cover off'}`;
}

/** "N of Shop sockets", by its end at the board. */
export const neutralName = (map: Installation, end: string): string => `N of ${labelOfSection(map, end.split('@')[0] ?? end)}`;

/** The bars that a neutral may be in: where it is drawn first. */
export function neutralBars(map: Installation, end: string): { readonly terminal: string; readonly name: string; readonly drawn: boolean }[] {
  const own = landingOf(map, end.split('@')[0] ?? end).neutral;
  return (boardOf(map)?.terminals ?? []).filter((t) => boardPart(t) === 'neutral bar').map((t) => ({ terminal: t.id, name: t.name ?? t.id, drawn: t.id === own })).sort((x, y) => Number(y.drawn) - Number(x.drawn));
}

/** Where to go with a verdict, and what to do there. `plug`: something may still be plugged in at the place, against the record. */
export function verdictGuide(map: Installation, { place, onGuess, surely }: Pick<Verdict, 'place' | 'onGuess' | 'surely'>, plug: boolean, opened: readonly string[] = []): string {
  const name = beliefPlaceName(map, place);
  const guess = onGuess ? ' This hangs on lengths or an order that are guessed.' : '';
  if (surely?.kind === 'otherBar') return `At the board: move it to its own bar, ${neutralBars(map, place)[0]?.name ?? 'that of its device'}.${guess}`;
  const device = deviceAt(map, place);
  if (device) return ofDevice(deviceWords(map, device.id), surely?.kind ?? null);
  if (surely?.kind === 'supplyLost') return 'Nothing to mend here: keep it off, and call the network operator at once.';
  if (plug) return `Look first that ${findPoint(map, place)?.kind === 'lamp' ? 'no lamp is still in' : 'nothing is still plugged in'} at ${name}, against the record: it would read the same. If not, ${opened.includes(place.split('.')[0] ?? '') ? '' : 'open, '}look, and put right.${guess}`;
  if (map.sections.some((s) => s.id === place)) return `${firstCapital(name)}: look along it for what was fixed, dug or gnawed there, and put right.${guess}`;
  return `${firstCapital(name)}: ${toDo(map, place, opened)}.${guess}`;
}

/** What is done about a device, or about what runs and leaks behind it. */
function ofDevice(name: string, kind: SuspectKind | null): string {
  switch (kind) {
    case 'rcdSensitive': case 'rcdBlind': return `Replace ${name}, then ramp and time the new one.`;
    case 'standingLeak': return `Nothing single to mend: clamp each way behind ${name}, and give the one that leaks most a device of its own, or take off it what leaks.`;
    case 'overload': return `Nothing to mend in the wiring: take off ${name} what was added, or give that a circuit of its own.`;
    default: return `Ramp ${name} with its outgoing conductors out: that tells the device from what is behind it.`;
  }
}

/** What is done at once about something plugged in that is named: it stays out, and the circuit is proved without it. */
export const asideGuide = (map: Installation, place: string): string =>
  findPoint(map, place.split('.')[0] ?? '')?.kind === 'lamp' ? 'Leave that lamp out, look at its holder, and fit another. Then prove the circuit.' : 'Leave it unplugged and mark it: nobody uses it until it is repaired or replaced. Then prove the circuit without it.';

/** What is done about a place that is named: an appliance stays out, everything else is opened. */
function toDo(map: Installation, place: string, opened: readonly string[]): string {
  const [point = '', element] = place.split('.');
  const p = findPoint(map, point);
  const load = p?.elements.find((e) => e.kind === 'load' && e.id === element);
  if (!p || load?.kind !== 'load') return opened.includes(point) ? 'it is open: look, and put right' : 'open, look, and put right';
  if (!load.unplugs) return 'disconnect it, look inside, and put right or replace';
  return p.kind === 'lamp' ? 'leave the lamp out, look at its holder, and fit another' : 'leave it unplugged, and have it repaired or replaced; its lead and plug belong to it';
}

const isFelt = (complaint: Complaint | null): boolean => complaint !== null && complaint !== 'inspection';

/** `leaks`: more leaks in use behind a device than it should carry, and that may be what trips it; `mended`: something was found before and put right. */
export function nothingFoundTitle(complaint: Complaint | null, { leaks, mended }: { readonly leaks: boolean; readonly mended: boolean }): string {
  if (leaks) return `No ${mended ? 'other ' : ''}fault found: leakage may explain it`;
  if (mended) return 'Nothing more found';
  return isFelt(complaint) ? 'Nothing found that explains it' : 'Nothing wrong found here';
}

/** What a customer is told where nothing was found: that is likely, not proved. */
export const nothingFoundPlain = (complaint: Complaint | null, leaks = false): string => leaks
  ? 'No fault was found. What is plugged in and wired in loses a little to earth, each for itself, and together more than one safety switch should carry: that may be what trips it. It is not proved.'
  : isFelt(complaint)
  ? 'Nothing was found here that explains it. That is likely so, but not proved: it may come back. If it does, note when, and what was running.'
  : 'Nothing wrong was found. What was not tested is not proved.';

/** The same for the record. `fine`: how likely it is that nothing here explains it; `mended`: something was found before and put right. */
export const leftItLine = (complaint: Complaint | null, { fine, mended, readings, live }: { readonly fine: number; readonly mended: boolean; readonly readings: number; readonly live: number }): string =>
  `Left with nothing ${mended ? 'more ' : ''}found, after ${counted(readings, 'reading', 'readings')} and ${counted(live, 'test', 'tests')} with the supply on: ${chanceLeft(complaint, fine, mended)}`;

const chanceLeft = (complaint: Complaint | null, fine: number, mended = false): string => `a chance of ${formatShare(1 - fine)} is left that ${isFelt(complaint) ? `${mended ? 'another' : 'a'} fault here causes it` : `something ${mended ? 'else ' : ''}here is wrong`}.`;

/** What is left where leaving it is offered, and what surer would take. `on`: ways that nobody has drawn with all their switches on; `mended`: something was found before and put right. */
export function enoughGuide(map: Installation, complaint: Complaint | null, { share, minutes, mended }: Pick<Verdict, 'share' | 'minutes'> & { readonly mended: boolean }, on: readonly string[] = []): string {
  const left = firstCapital(chanceLeft(complaint, share, mended));
  const more = typeof minutes === 'number' ? `To be surer takes some ${formatMinutes(minutes)} more.` : 'No reading in reach tells more.';
  return `${left} ${more}${hidden(map, on) ? ` ${behindSwitches(complaint)}.` : ''} ${isFelt(complaint) ? 'It may come back: note when it does and what ran then, and read it while it is there.' : 'What was not read is not proved.'}`;
}

/** What hangs behind switches is read between the conductors that the complaint is about. */
const behindSwitches = (complaint: Complaint | null): string => `What hangs behind a switch that was off was not reached: switch everything on, two-way switches once each way, and read ${complaint === 'mcb trips' ? 'L–N and L–E' : 'L–E'} again`;
/** May a switch that stood off have kept something from the leads? */
const hidden = (map: Installation, on: readonly string[]): boolean => map.points.some((p) => (p.kind === 'undrawn' && !on.includes(p.id)) || (p.kind !== 'board' && p.kind !== 'subboard' && p.elements.some((e) => e.kind === 'switch')));

/** What "nothing wrong" rests on, and what it does not reach: behind a switch that was off no reading of the line goes on. */
export function soundGuide(map: Installation, complaint: Complaint | null, on: readonly string[] = []): string {
  const reach = hidden(map, on)
    ? `. ${behindSwitches(complaint)}`
    : isFelt(complaint) ? ', and what was not read would hardly cause what was complained of' : '; what was not read is not proved';
  return `With everything joined as recorded, every reading is as it should be${reach}. It may come back: what comes and goes is read while it is there. The board’s own terminals are only proved when all is rejoined.`;
}
