import type { LiveOutcome } from '../advice';
import { boardOf, metalName, loadOfPart, protectionsOf, terminalKey, type Installation } from '../installation';
import type { Budget, BudgetFinding, LiveTest, LoopView, Move, Stray } from '../live';
import type { LiveCaution, LiveDo } from '../safety';
import { elementKey } from '../workstate';
import { beliefPlaceName, firstCapital, laneLetter, pointName, spotName } from './places';
import { circuitOf, deviceWords, figuresWords } from './devices';
import { plugInWords, turnOnWords, unplugWords } from './suspects';

export const liveCautionWords: Readonly<Record<LiveCaution, string>> = {
  coversOn: 'Covers on.',
  rightProbes: 'Fused, shrouded probes; clips rather than fingers.',
  nobodyNear: 'Tell the people there; nobody at the far ends.',
  holdOff: 'Hold off where a short is suspected.',
  coversOff: 'The board is open and live: the incoming tails too. Only if nothing else answers; keep clear of everything but the conductor.',
  independentEarth: 'The other lead goes to a rod or real ground, not to the installation’s own earth.',
  clampOnly: 'The clamp goes round insulation only; never part a conductor that is live.',
  pushOnce: 'Close once. If it trips, leave it off.',
  byThePlug: 'Hand on the plug alone: keep off the appliance and its metal.',
  lampsOff: 'Lamps out and in with their way off.',
};

const place = (map: Installation, key: string): string => (key === 'ground' ? 'an independent earth' : metalName(key) ?? `${laneLetter(map, key)} at ${spotName(map, key)}`);
const pair = (map: Installation, from: string, to: string): string => {
  if (to === 'ground' && from === terminalKey(boardOf(map)?.id ?? '', 'E')) return 'earthed metal to an independent earth';
  const here = to !== 'ground' && spotName(map, from) === spotName(map, to);
  return here ? `${laneLetter(map, from)} to ${laneLetter(map, to)} at ${spotName(map, from)}` : `${place(map, from)} to ${place(map, to)}`;
};
export function aroundWords(map: Installation, around: string): string {
  const load = loadOfPart(map, around.replace(/\/L$/, ''));
  if (load) return `${around.endsWith('/L') ? 'line' : 'line and neutral'} of ${beliefPlaceName(map, elementKey(load.point.id, load.load.id))}`;
  return around === 'earth' ? 'the main earthing conductor' : around.endsWith('/L') ? `line of ${deviceWords(map, around.slice(0, -2))}` : around === 'main' ? 'both supply tails' : `all live conductors of ${deviceWords(map, around)}`;
}

/** "All ways of RCD 1 off, then RCD 1 on". */
export function liveStepTitle(map: Installation, s: LiveDo): string {
  switch (s.do) {
    case 'close':
      if (s.out.length) return `${unplugWords(map, s.out)}, then close ${deviceWords(map, s.device)}`;
      // As found it may be on already.
      return s.first.length ? closeTitle(map, s.device, s.first) : `${firstCapital(deviceWords(map, s.device))} on, and see if it holds`;
    case 'plugIn': return `${plugInWords(map, s.parts)}, ${deviceWords(map, s.device)} on, and see`;
    case 'turnOn': return `${turnOnWords(map, s.parts)}, ${deviceWords(map, s.device)} on, and see`;
    case 'ramp': return s.first.length ? `Ways of ${deviceWords(map, s.device)} off, then ramp it` : `Ramp ${deviceWords(map, s.device)} with all that is on it`;
    case 'clamp': return `${s.all ? 'Everything back in and on, then clamp' : 'Clamp'} ${aroundWords(map, s.around)}`;
    case 'works': return `Does ${pointName(map, s.point)} work?`;
    case 'voltage': return `Volts from ${pair(map, s.from, s.to)}`;
    case 'loop': return `Loop from ${pair(map, s.from, s.to)}`;
  }
}

/** Why it comes before any dead reading, and what that takes where the work is locked off. */
export function liveWhy(s: LiveDo, secured: boolean): string {
  const why = s.do === 'clamp' && s.all === true ? `It tripped and reads sound: ${s.around.endsWith('/L') ? 'how much runs on it together' : 'what leaks in use'} shows only with everything on.` : secured ? 'Dead readings tell little more.' : 'It tells more for its minutes than making dead and reading would.';
  return secured ? `${why} What is out goes back first, covers on, lock off: the list is in Put right.` : why;
}

/** Every one of some ways: those that stand side by side as from one to another. */
function waysWords(map: Installation, ways: readonly string[]): string {
  const order = protectionsOf(map).map((d) => d.id);
  const runs = ways.reduce<string[][]>((all, w) => {
    const last = all.at(-1);
    if (last && order.indexOf(w) === order.indexOf(last.at(-1) ?? '') + 1) last.push(w);
    else all.push([w]);
    return all;
  }, []);
  const names = runs.flatMap((r) => (r.length > 3 ? [`${circuitOf(map, r[0] ?? '')} to ${circuitOf(map, r.at(-1) ?? '')}`] : r.map((w) => circuitOf(map, w))));
  return names.length > 1 ? `${names.slice(0, -1).join(', ')} and ${names.at(-1)}` : (names[0] ?? '');
}

/** Which ways go off first: all of a device, all but one that stays, all but the one that is then closed, or some. */
function closeTitle(map: Installation, device: string, first: readonly string[]): string {
  const devices = protectionsOf(map);
  const closed = deviceWords(map, device);
  const group = devices.find((d) => d.ways.length > 1 && d.ways.includes(device));
  if (group && first.length === group.ways.length - 1 && first.every((w) => w !== device && group.ways.includes(w))) return `All other ways of ${deviceWords(map, group.id)} off, then close ${closed}`;
  const stay = (devices.find((d) => d.id === device)?.ways ?? []).filter((w) => !first.includes(w) && w !== device);
  if (group || stay.length > 1) return `${waysWords(map, first)} off, then close ${closed}`;
  return stay.length ? `${circuitOf(map, stay[0] ?? '')} alone on ${closed}` : `All ways of ${closed} off, then close it`;
}

const milli = (mA: number): string => (mA >= 1000 ? `${(mA / 1000).toFixed(mA < 10_000 ? 2 : 1)} A` : `${mA < 10 ? mA.toFixed(1) : Math.round(mA)} mA`);
export const formatMilliamp = milli;

/** What a live test showed, in a few words. */
export function liveResultWords(map: Installation, t: LiveTest): string {
  switch (t.kind) {
    case 'closed': return t.result === 'holds' ? 'holds' : `${t.tripped && t.tripped !== t.device ? `${deviceWords(map, t.tripped)} ` : ''}trips ${t.result === 'at once' ? 'at once' : 'later'}`;
    case 'voltage': return `${t.volt < 10 ? t.volt.toFixed(1) : Math.round(t.volt)} V${t.meter === 'high' ? ', high impedance' : ''}`;
    case 'clamp': return `${milli(t.mA)}${t.filtered ? ', 50 Hz' : ''}${t.peak ? ', peak' : ''}`;
    case 'ramp': return t.mA === null ? 'did not trip' : `trips at ${milli(t.mA)}`;
    case 'times': return t.ms === null ? `${t.multiple}×: did not trip` : `${t.multiple}×: ${Math.round(t.ms)} ms`;
    case 'loop': return `${t.ohm.toFixed(2)} Ω${t.noTrip ? ', no-trip range' : ''}`;
    case 'works': return t.works ? 'works' : 'is dead';
  }
}

/** What was tested. */
export function liveTestWords(map: Installation, t: LiveTest): string {
  switch (t.kind) {
    case 'closed': return t.turnedOn ? `${turnOnWords(map, t.turnedOn).replace(/^Turn on/, 'Turned on')}, ${deviceWords(map, t.device)} on` : t.plugged ? `${plugInWords(map, t.plugged).replace(/^Plug in/, 'Plugged in')}, ${deviceWords(map, t.device)} on` : `${deviceWords(map, t.device)} closed`;
    case 'voltage': return `Volts, ${pair(map, t.from, t.to)}`;
    case 'clamp': return `Clamp, ${aroundWords(map, t.around)}`;
    case 'ramp': return `Ramp, ${deviceWords(map, t.device)}, ${t.outgoing === 'out' ? 'its ways off' : 'with loads on'}`;
    case 'times': return `Time, ${deviceWords(map, t.device)}`;
    case 'loop': return `Loop, ${pair(map, t.from, t.to)}`;
    case 'works': return pointName(map, t.point);
  }
}

export const liveOutcomeWords = (map: Installation, o: LiveOutcome): string => firstCapital((o.of ?? 1) > 1 ? 'another device trips, or later' : o.test.kind === 'clamp' || o.test.kind === 'voltage' || o.test.kind === 'loop' || (o.test.kind === 'ramp' && o.test.mA !== null) ? `about ${liveResultWords(map, o.test).replace(/, 50 Hz/, '').replace(/^trips at /, '')}` : liveResultWords(map, o.test));

/** What a device's budget shows, and what to do about it. */
export function budgetFindingWords(map: Installation, b: Budget, f: BudgetFinding, share: number): string {
  const allowed = milli(share * b.ratedMa);
  switch (f) {
    case 'deviceFailed': return `Trips below half of ${b.ratedMa} mA: the device has failed, however fast it is. Ramp it again with its outgoing conductors out, then replace it.`;
    case 'tripsAtHalf': return 'Trips at half its rating: it has failed, or leakage stands behind it. Test again with its ways off.';
    case 'doesNotTrip': return 'Does not trip when it should: failed, of the wrong type, or blinded by d.c. from electronics. Test with loads off; no protection until then.';
    case 'tooSlow': return 'Slower than the limit.';
    case 'rampAboveRated': return `Trips above ${b.ratedMa} mA: taken as found. Check the setting of the instrument, then the device.`;
    case 'standingHigh': return `${b.standingMa === null ? '' : milli(b.standingMa)} of standing leakage; ${allowed} is what one device should carry.${b.most ? ` Most of it on ${circuitOf(map, b.most.way)}.` : ''}`;
    case 'littleHeadroom': return `${milli(Math.min(b.headroomWorstMa ?? Infinity, b.headroomMeasuredMa ?? Infinity))} is left before it trips: the next thing that starts may be enough.`;
    case 'harmonics': return `${milli(b.harmonicMa ?? 0)} of harmonics on top: drives, LED drivers, power supplies. Some devices trip earlier with them; ramp it with these loads on.`;
    case 'typeAc': return 'Type AC, with electronics behind it: their direct current may blind it. Type A sees pulsating current, F and B see more.';
    case 'fine': return 'Within its limits, as far as it was measured.';
    case 'nothingMeasured': return 'Nothing measured yet.';
  }
}

/** What the earthing conductor carries beside what this installation loses. */
export function strayWords(s: Stray): string {
  if (s.leastMa > 0) return `At least ${milli(s.leastMa)} of it comes from elsewhere: a neighbour’s earth path, over metalwork. What this installation loses is the tails’ ${milli(s.tailsMa)}.`;
  if (s.leastMa < 0) return `At least ${milli(-s.leastMa)} of what is lost leaves by other metal: bonding, pipes, the building. The tails’ ${milli(s.tailsMa)} count.`;
  return 'The two agree: nothing foreign shows in the earthing conductor.';
}

export const moveWords = (map: Installation, m: Move): string =>
  m.says === 'move'
    ? `Moved to ${deviceWords(map, m.to)}, ${circuitOf(map, m.way)} leaves ${milli(m.leavesMa)} here and makes ${milli(m.makesMa)} there.`
    : `No move of one way helps: give ${circuitOf(map, m.way)} a device of its own.`;

/** Prospective current at the origin beside what the devices can break. */
export const breakingWords = (amp: number, breakingKa: number): string =>
  amp <= breakingKa * 1000 ? `${kiloamp(amp)} prospective: the devices can break it (${breakingKa} kA).` : `${kiloamp(amp)} prospective, above the ${breakingKa} kA that the devices can break: a finding; they may burst on a short.`;
export const kiloamp = (amp: number): string => (amp < 1000 ? `${Math.round(amp)} A` : `${(amp / 1000).toFixed(amp < 10_000 ? 2 : 1)} kA`);

export function loopVerdictWords(map: Installation, l: LoopView): string {
  const far = l.expectedOhm !== null && l.test.ohm > l.expectedOhm * 1.4 + 0.3 ? ' Well above what cable and supply give: a poor joint on this loop.' : '';
  const guess = l.onGuess === null ? '' : `, if ${deviceWords(map, l.onGuess)} is ${figuresWords(map, l.onGuess)}`;
  switch (l.verdict) {
    case 'over': return `Over the limit${guess}: ${l.limit?.because === 'residual' ? 'touch voltage is not held by the residual device' : 'the device does not open in time'}.${far}`;
    case 'over, cold': return `Within the limit${guess}, but over it once the conductors are warm.${far}`;
    case 'within': return `Within the limit${guess}.${far}`;
    case 'no limit': return far.trim() || (l.against === 'neutral' ? 'No limit for L–N; compare it with L–E.' : 'No device known to hold it against.');
  }
}
