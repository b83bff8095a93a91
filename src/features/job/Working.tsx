import { useEffect, useState } from 'react';
import { View } from 'react-native';
import { Button, Problem, Words } from '@/components';
import { exportJob } from '@/features/over/exportJob';
import { useJob } from './JobProvider';

/** From here on one may want to begin it anew, ms. */
const LONG_MS = 20_000;

/** Says, where it takes longer than a moment, which readings the shown advice knows. */
export function WorkingOn() {
  const { working, workAgain } = useJob();
  const [long, setLong] = useState(false);
  const since = working?.since ?? null;
  useEffect(() => {
    const timer = since === null ? null : setTimeout(() => setLong(true), Math.max(0, since + LONG_MS - Date.now()));
    return () => {
      if (timer !== null) clearTimeout(timer);
      setLong(false);
    };
  }, [since]);
  if (!working) return null;
  const { knows, of } = working;
  return (
    <View style={{ gap: 6 }} role="status" testID="working">
      <Words at="small">{knows < of ? `Working. What is shown knows ${knows} of ${of} readings; go on reading.` : 'Working. Every reading counts already; a better step may come.'}</Words>
      {long ? <Button label="Begin the calculation anew" small onPress={workAgain} testID="work-again" /> : null}
    </View>
  );
}

/** What is said where the calculation threw: the record is untouched by it. */
export function WorkFailed() {
  const { failed, workAgain, file } = useJob();
  if (!failed) return null;
  return (
    <View style={{ gap: 6 }}>
      <Problem testID="work-failed" text="The calculation stopped with an error. The job is kept and readings go on being kept; what is shown may be older than they are." action="Calculate again" onAction={workAgain} />
      <Button label="Export the job file" small onPress={() => void exportJob(file)} testID="work-failed-export" />
    </View>
  );
}
