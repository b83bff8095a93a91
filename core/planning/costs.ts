import { z } from 'zod';

z.config({ jitless: true });

/** Minutes of hands and feet; every figure is the person's own to change. */
export interface Costs {
  /** To each place of a reading or an action where neither lead is yet. */
  readonly walk: number;
  readonly open: number;
  readonly split: number;
  readonly rejoin: number;
  readonly reading: number;
  readonly flick: number;
  readonly unplug: number;
  /** A neutral or earth in or out of its bar. */
  readonly bar: number;
  /** A test link on, or off again. */
  readonly link: number;
  /** Proving dead before a first reading at a closed face, at an opened point. */
  readonly proveClosed: number;
  readonly proveOpened: number;
}

export const benchCosts: Costs = { walk: 0.5, open: 2.5, split: 2, rejoin: 2, reading: 0.3, flick: 0.1, unplug: 0.3, bar: 2, link: 0.3, proveClosed: 0, proveOpened: 0 };
export const tradeCosts: Costs = { ...benchCosts, proveClosed: 0.5, proveOpened: 1.5 };

/** What to begin with where two ways promise about the same: it shifts ties, never more. */
export const startings = ['no preference', 'resetting', 'insulation', 'clamp'] as const;
export type Starting = (typeof startings)[number];

/** How one person works: minutes of their own for the actions that differ most between people, and what they like to begin with. */
export interface Habits { readonly minutes: Readonly<Partial<Record<OwnMinutes, number>>>; readonly startWith: Starting }
export const ownMinutes = ['walk', 'open', 'split', 'bar', 'reading', 'proveOpened'] as const;
export type OwnMinutes = (typeof ownMinutes)[number];

export const usualHabits: Habits = { minutes: {}, startWith: 'no preference' };
export const MOST_MINUTES = 60;

const minutes = z.number().min(0).max(MOST_MINUTES).optional();
const HabitsShape = z.object({ minutes: z.object({ walk: minutes, open: minutes, split: minutes, bar: minutes, reading: minutes, proveOpened: minutes }), startWith: z.enum(startings) });

/** Habits as they were kept; the usual ones where the text is not what was kept. */
export function parseHabits(text: string | null): Habits {
  try {
    const found = HabitsShape.safeParse(JSON.parse(text ?? ''));
    if (!found.success) return usualHabits;
    const own = ownMinutes.flatMap((k) => (found.data.minutes[k] === undefined ? [] : [[k, found.data.minutes[k]] as const]));
    return { minutes: Object.fromEntries(own), startWith: found.data.startWith };
  } catch {
    return usualHabits;
  }
}

/** Minutes as this person works. Putting back costs what splitting does. */
export function costsOf({ minutes: own }: Habits): Costs {
  return { ...tradeCosts, ...own, ...(own.split === undefined ? {} : { rejoin: own.split }) };
}

/** Within this share of each other two ways are a tie. */
export const TIE = 0.12;
