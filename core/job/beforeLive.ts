import { protectionsOf, type Installation } from '../installation';
import type { LiveDo } from '../safety';
import { isElementKey, setLoadOut, setOff, setSwitchesOn, type WorkState } from '../workstate';
import type { EventBody } from './events';

/** What comes with a live step besides what it showed. */
export interface BeforeLive {
  /** For the log, what is done first: ways off and loads out. What the record has already is left out. */
  readonly before: readonly EventBody[];
  /** What the step itself does: a load in again, switches turned on, a device closed to be ramped. */
  readonly along: readonly EventBody[];
  /** In which it is made; a device that is closed to see is closed. */
  readonly state: WorkState;
}

export function beforeLive(map: Installation, state: WorkState, step: LiveDo): BeforeLive {
  const poles = (ids: readonly string[]): readonly string[] => protectionsOf(map).filter((d) => ids.includes(d.id)).flatMap((d) => d.poles);
  const first = step.do === 'close' || step.do === 'ramp' ? poles(step.first).filter((p) => !state.off.includes(p)) : [];
  const out = step.do === 'close' ? step.out.filter((k) => !state.loadsOut.includes(k)) : [];
  if (step.do === 'clamp' && step.all) return asUsed(map, state);
  const back = step.do === 'plugIn' ? step.parts.filter((k) => state.loadsOut.includes(k)) : [];
  const [turned, ways] = step.do === 'turnOn' ? [step.parts.filter((k) => isElementKey(k) && state.off.includes(k)), step.parts.filter((k) => !isElementKey(k))] : [[], []];
  const on = step.do === 'close' || step.do === 'ramp' ? poles([step.device]).filter((p) => state.off.includes(p)) : [];
  const switched = (off: boolean) => (part: string): EventBody => ({ type: 'switched', part, off });
  const moved = (parts: string[], isOut: boolean): EventBody[] => (parts.length ? [{ type: 'loadsMoved', parts, out: isOut }] : []);
  let then = first.reduce((s, p) => setOff(s, p, true), state);
  then = on.reduce((s, p) => setOff(s, p, false), then);
  then = out.reduce((s, k) => setLoadOut(s, k, true), then);
  return {
    before: [...first.map(switched(true)), ...moved(out, true)],
    along: [...(step.do === 'ramp' ? on.map(switched(false)) : []), ...moved(back, false), ...turned.map(switched(false)), ...(ways.length ? [{ type: 'switchesOn' as const, ways: [...ways], on: true }] : [])],
    state: turnedOn(back.reduce((s, k) => setLoadOut(s, k, false), then), [...turned, ...ways]),
  };
}

/** Everything back in and every device on, as the place is used. */
function asUsed(map: Installation, state: WorkState): BeforeLive {
  const off = protectionsOf(map).flatMap((d) => d.poles).filter((p) => state.off.includes(p));
  const before: EventBody[] = [...(state.loadsOut.length ? [{ type: 'loadsMoved' as const, parts: [...state.loadsOut], out: false }] : []), ...off.map((part) => ({ type: 'switched' as const, part, off: false }))];
  return { before, along: [], state: off.reduce((s, p) => setOff(s, p, false), state.loadsOut.reduce((s, k) => setLoadOut(s, k, false), state)) };
}


export const turnedOn = (state: WorkState, parts: readonly string[]): WorkState => setSwitchesOn(parts.filter(isElementKey).reduce((s, k) => setOff(s, k, false), state), parts.filter((k) => !isElementKey(k)), true);

/** What a result of a step that put something on a device keeps of it; of any other, nothing. */
export const putOn = (step: LiveDo): { readonly plugged?: string[]; readonly turnedOn?: string[] } => (step.do === 'plugIn' ? { plugged: [...step.parts] } : step.do === 'turnOn' ? { turnedOn: [...step.parts] } : {});
