import { useEffect, useState } from 'react';
import { recall, remember } from '@/storage/meta';
import { parseHabits, usualHabits, type Habits } from '@core/planning';

let current: Habits = usualHabits;
let asked = false;
const listeners = new Set<(h: Habits) => void>();

/** Own minutes and what to begin with, and how to change them; remembered for the next start. */
export function useHabits(): readonly [Habits, (h: Habits) => void] {
  const [habits, setHabits] = useState(current);
  useEffect(() => {
    listeners.add(setHabits);
    if (!asked) {
      asked = true;
      void recall('habits').then((kept) => {
        if (kept !== null) tell(parseHabits(kept));
      });
    }
    return () => void listeners.delete(setHabits);
  }, []);
  const choose = (next: Habits): void => {
    tell(next);
    void remember('habits', JSON.stringify(next));
  };
  return [habits, choose];
}

function tell(habits: Habits): void {
  current = habits;
  for (const l of listeners) l(habits);
}
