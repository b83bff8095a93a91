import { useMemo, useState } from 'react';
import { ScrollView } from 'react-native';
import { Button, Field, Problem, Words } from '@/components';
import { useJob } from '@/features/job/JobProvider';
import { draftCircuit } from '@core/installation';
import { issueText } from '@core/wording';

/** A job that was begun without a map gets one: what was read before finds its way by number. */
export function DraftNow() {
  const { view, record } = useJob();
  const most = Math.max(0, ...view.early.map((e) => e.way));
  const [phrase, setPhrase] = useState('');
  const drafted = useMemo(() => (phrase.trim() ? draftCircuit(phrase) : null), [phrase]);
  const start = (): void => {
    if (drafted?.ok) record({ type: 'drafted', phrase: phrase.trim(), map: drafted.value });
  };
  return (
    <ScrollView contentContainerStyle={{ padding: 18, gap: 12, maxWidth: 640, width: '100%' }}>
      <Words at="title" bold role="heading">Nothing is drawn yet</Words>
      <Field label="Say it: “10 ways, RCD on 1 to 6, RCBOs on 7 to 10”, “ring, 9”" value={phrase} onChange={setPhrase} onSubmit={start} testID="draft-phrase" />
      {drafted && !drafted.ok ? drafted.issues.map((i) => <Problem key={i.code} text={issueText(i)} />) : null}
      {view.early.length ? <Words testID="early-waiting">{`${view.early.length} ${view.early.length === 1 ? 'reading waits' : 'readings wait'} for a board with at least ${most} ways.`}</Words> : null}
      <Button label="Draw" kind="main" disabled={!drafted?.ok} onPress={start} testID="draft-now" />
    </ScrollView>
  );
}
