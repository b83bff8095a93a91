import { findPoint, protectionsOf, usedAt, type Protection } from '../installation';
import { clampAmp, Energised, indicatorOhm, magnitude, residualParts, rampOutgoing, soundView, largest, lineParts, watching, type LiveTest, type Service } from '../live';
import { seededRandom, type Random } from '../numeric';
import type { LiveDo } from '../safety';
import type { WorkState } from '../workstate';
import type { Truth } from './truth';

/** A live test without its result: what is asked of the instrument, or of the device that is closed. */
export type LiveAsk =
  | { readonly kind: 'closed'; readonly device: string }
  | { readonly kind: 'voltage'; readonly from: string; readonly to: string; readonly meter: 'low' | 'high' }
  | { readonly kind: 'clamp'; readonly around: string; readonly filtered: boolean; readonly peak: boolean }
  | { readonly kind: 'ramp'; readonly device: string; readonly outgoing: 'out' | 'in' }
  | { readonly kind: 'times'; readonly device: string; readonly multiple: 0.5 | 1 | 5 }
  | { readonly kind: 'loop'; readonly from: string; readonly to: string; readonly noTrip: boolean }
  | { readonly kind: 'works'; readonly point: string };

/** What a live step asks of the instrument, or of the device that is closed. `named`: the places and devices of the step by other names. */
export function askOf(step: LiveDo, named: (key: string) => string = (key) => key): LiveAsk {
  switch (step.do) {
    case 'close': case 'plugIn': case 'turnOn': return { kind: 'closed', device: named(step.device) };
    case 'ramp': return { kind: 'ramp', device: step.device, outgoing: rampOutgoing(step.first) };
    case 'clamp': return { kind: 'clamp', around: step.around, filtered: true, peak: false };
    case 'works': return { kind: 'works', point: named(step.point) };
    case 'voltage': return { kind: 'voltage', from: named(step.from), to: named(step.to), meter: 'low' };
    case 'loop': return { kind: 'loop', from: named(step.from), to: named(step.to), noTrip: false };
  }
}

const MAGNETIC = { B: 4, C: 7.5, D: 15 } as const;

/** Answers live tests from a hidden truth: its own loads, leakage and device thresholds, seeded. */
export class SimulatedLive {
  private readonly service: Service;
  private readonly at = new Map<string, number>();
  private readonly gain: number;

  constructor(private readonly truth: Truth, private readonly random: Random) {
    this.service = { load: random.uniform(0.7, 1.5), neutralVolt: random.uniform(0.4, 1.4), leak: random.uniform(0.7, 1.4) };
    for (const d of protectionsOf(truth.installation)) this.at.set(d.id, random.uniform(0.65, 0.86));
    this.gain = 1 + random.uniform(-0.03, 0.03);
  }

  answer(state: WorkState, ask: LiveAsk): LiveTest {
    const { installation, faults } = this.truth;
    const e = Energised.of(installation, state, faults, this.service, this.truth.physics);
    const shown = (x: number, digit: number): number => Math.round((x * this.gain * (1 + 0.01 * this.random.normal())) / digit) * digit;
    const device = (id: string): Protection | undefined => protectionsOf(installation).find((d) => d.id === id);
    switch (ask.kind) {
      case 'closed': return this.close(e, state, ask.device);
      case 'voltage': {
        const v = e.voltage(ask.from, ask.to, indicatorOhm[ask.meter]);
        return { ...ask, volt: v ? Math.max(0, shown(magnitude(v), 0.1)) : 0 };
      }
      case 'clamp': return { ...ask, mA: Math.max(0, shown(1000 * clampAmp(installation, soundView(e), null, state, ask), 0.1)) };
      case 'ramp': {
        const d = device(ask.device);
        const at = d ? this.threshold(d) : null;
        if (!d || at === null) return { ...ask, mA: null };
        const standing = ask.outgoing === 'out' ? 0 : 1000 * magnitude(e.clamp(residualParts(d)));
        return { ...ask, mA: Math.max(0, shown(Math.sqrt(Math.max(0, at * at - standing * standing)), 0.5)) };
      }
      case 'times': {
        const d = device(ask.device);
        const at = d ? this.threshold(d) : null;
        const goes = d !== undefined && at !== null && ask.multiple * (d.residualMa ?? 30) > at;
        return { ...ask, ms: goes ? Math.round(ask.multiple === 5 ? this.random.uniform(12, 30) : this.random.uniform(22, 140)) : null };
      }
      case 'loop': {
        const z = e.loop(ask.from, ask.to);
        return { ...ask, ohm: z ? Math.max(0, shown(magnitude(z) + (ask.noTrip ? 0.05 * this.random.normal() : 0), 0.01)) : 1999 };
      }
      case 'works': {
        const point = findPoint(installation, ask.point);
        const v = point ? e.voltage(usedAt(point, 'L'), usedAt(point, 'N'), indicatorOhm.low) : null;
        return { ...ask, works: v !== null && magnitude(v) > installation.nominalVolt * 0.6 };
      }
    }
  }

  /** Milliamperes at which a residual device goes; null: it never does. */
  private threshold(d: Protection): number | null {
    if (d.residualMa === null) return null;
    const wrong = this.truth.faults.find((f) => f.kind === 'device' && f.device === d.id);
    if (wrong?.kind === 'device' && wrong.blind) return null;
    return d.residualMa * (this.at.get(d.id) ?? 0.75) * (wrong?.kind === 'device' ? wrong.sensitivity : 1);
  }

  private close(e: Energised, state: WorkState, id: string): LiveTest {
    const { installation } = this.truth;
    const trips = watching(installation, state, id).flatMap((d): { d: Protection; result: 'at once' | 'after' }[] => {
      const at = this.threshold(d);
      if (at !== null && 1000 * magnitude(e.clamp(residualParts(d))) > at) return [{ d, result: 'at once' }];
      if (d.ratingA === null || d.kind === 'rcd' || d.kind === 'main') return [];
      const multiple = magnitude(largest(lineParts(d).map((parts) => e.clamp(parts)))) / d.ratingA;
      if (multiple > (d.kind === 'fuse' ? 10 : MAGNETIC[d.curve ?? 'B'])) return [{ d, result: 'at once' }];
      return multiple > 1.4 ? [{ d, result: 'after' }] : [];
    });
    const first = trips.sort((a, b) => (a.result === b.result ? a.d.ways.length - b.d.ways.length : a.result === 'at once' ? -1 : 1))[0];
    return { kind: 'closed', device: id, result: first?.result ?? 'holds', tripped: first?.d.id ?? null };
  }
}

export const liveTesterOf = (truth: Truth, seed: number): SimulatedLive => new SimulatedLive(truth, seededRandom(seed * 7 + 3));
