import { useState } from 'react';
import { ScrollView, View } from 'react-native';
import { Button, Caution, Field, Label, Problem, Words } from '@/components';
import { useJob } from '@/features/job/JobProvider';
import { useTheme } from '@/theme';
import { parseEarly } from '@core/job';
import type { Issue } from '@core/issue';
import { earlyWords, issueText } from '@core/wording';

/** Readings before any map: typed as they are said, kept as they are, placed when the board is drawn. */
export function Early({ onDraw }: { onDraw: () => void }) {
  const { view, record } = useJob();
  const { colour } = useTheme();
  const [text, setText] = useState('');
  const [issues, setIssues] = useState<readonly Issue[]>([]);
  const keep = (): void => {
    const parsed = parseEarly(text);
    setIssues(parsed.ok ? [] : parsed.issues);
    if (!parsed.ok) return;
    record({ ...parsed.value });
    setText('');
  };
  return (
    <ScrollView contentContainerStyle={{ padding: 18, gap: 12, maxWidth: 640, width: '100%', paddingBottom: 40 }} testID="early">
      <Words at="title" bold role="heading">Readings before the map</Words>
      {view.secured ? null : <Caution>Not made dead: insulation and continuity are read on dead conductors only. What was read already can be kept; the report says that no proof was recorded.</Caution>}
      <Field label="Way, pair, figure: “way 3, L–E, 0.3 MΩ”, “5 NE >999 MΩ”" value={text} onChange={setText} onSubmit={keep} testID="early-text" />
      {issues.map((i) => <Problem key={i.code} text={issueText(i)} />)}
      <Button label="Keep reading" kind="main" disabled={!text.trim()} onPress={keep} testID="early-keep" />
      {view.early.length ? <Label>Waiting for the board</Label> : null}
      {view.early.map((e) => (
        <View key={e.id} style={{ flexDirection: 'row', alignItems: 'center', justifyContent: 'space-between', borderBottomWidth: 1, borderBottomColor: colour.hairline, minHeight: 48 }}>
          <Words figure>{earlyWords(e)}</Words>
          <Button label="Strike out" small kind="quiet" accessibilityLabel={`Strike out ${earlyWords(e)}`} onPress={() => record({ type: 'struck', target: e.id, why: 'wrong entry' })} />
        </View>
      ))}
      <Button label="Draw the board or the circuit" onPress={onDraw} testID="early-draw" />
    </ScrollView>
  );
}
