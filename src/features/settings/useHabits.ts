import { parseHabits, usualHabits, type Habits } from '@core/planning';
import { keptSetting } from './keptSetting';

/** Own minutes and what to begin with, and how to change them. */
export const useHabits = keptSetting<Habits>('habits', usualHabits, parseHabits, JSON.stringify);
