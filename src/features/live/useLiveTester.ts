import { useMemo } from 'react';
import { useJob } from '@/features/job/JobProvider';
import { testerFor, type LiveAsk } from '@/tester';
import { protectionsOf } from '@core/installation';
import { setOff } from '@core/workstate';

export interface LiveTester {
  /** Closes a device of the practice board and records what it does. */
  close(device: string): void;
  /** Makes a test with the practice instrument and records it. */
  make(ask: LiveAsk): void;
}

/** The practice board of a demo job; null where results are told by hand. */
export function useLiveTester(): LiveTester | null {
  const { file, view, record } = useJob();
  const tester = useMemo(() => testerFor(file), [file]);
  const { map } = view;
  if (!tester || !map) return null;
  return {
    close: (device) => {
      const poles = protectionsOf(map).find((d) => d.id === device)?.poles ?? [];
      record({ type: 'liveRead', test: tester.live(poles.reduce((s, p) => setOff(s, p, false), view.state), { kind: 'closed', device }) });
    },
    make: (ask) => record({ type: 'liveRead', test: tester.live(view.state, ask) }),
  };
}
