import { useMemo } from 'react';
import { useJob } from '@/features/job/JobProvider';
import { testerFor, type LiveAsk } from '@/tester';
import type { LiveTest } from '@core/live';
import type { WorkState } from '@core/workstate';

export interface LiveTester {
  /** What the practice board does in a state. */
  ask(ask: LiveAsk, state: WorkState): LiveTest;
  /** What it does as things stand, recorded. */
  make(ask: LiveAsk): void;
}

/** The practice board of a demo job; null where results are told by hand. */
export function useLiveTester(): LiveTester | null {
  const { file, view, record } = useJob();
  const tester = useMemo(() => testerFor(file), [file]);
  if (!tester || !view.map) return null;
  const ask = (what: LiveAsk, state: WorkState): LiveTest => tester.live(state, what);
  return { ask, make: (what) => record({ type: 'liveRead', test: ask(what, view.state) }) };
}
