import { useRouter } from 'expo-router';
import { useState } from 'react';
import { ScrollView, View } from 'react-native';
import { Button, Caution, Choice, Field, Label, Tick, Words } from '@/components';
import { JobFrame } from '@/features/job/JobFrame';
import { useJob } from '@/features/job/JobProvider';
import type { Complaint } from '@core/job';

const complaints: readonly { value: Complaint; label: string }[] = [
  { value: 'rcd trips', label: 'RCD trips' }, { value: 'mcb trips', label: 'MCB trips or fuse blows' }, { value: 'dead', label: 'All or part is dead' },
  { value: 'shock', label: 'Shock or tingle' }, { value: 'flicker or heat', label: 'Flicker or heat' }, { value: 'inspection', label: 'Inspection' },
];

const firstAdvice: Readonly<Record<Complaint, string>> = {
  'rcd trips': 'Unplug what can be unplugged first: appliances are the commonest cause. If it still trips, make the circuit dead and test insulation.',
  'mcb trips': 'No closing to see. Loads out, make it dead, then L–N and L–E.',
  dead: 'Note which points are dead and which still work. Then make it dead and read from the board.',
  shock: 'Stop use now. The installation’s own earth may be the live part: prove to an independent earth.',
  'flicker or heat': 'A joint that heats is replaced, not tightened. Read continuity point by point; rock and wiggle.',
  inspection: 'Begin with insulation at the board, then continuity end to end.',
};

/** What is complained of, in a few taps. The answer says what a suspect has to explain. */
export function AskScreen() {
  const { view, record } = useJob();
  const router = useRouter();
  const { file } = useJob();
  const { asked } = view;
  const [notes, setNotes] = useState(asked.notes);
  const change = (part: Partial<typeof asked>): void => record({ type: 'asked', ...asked, notes, ...part });
  return (
    <JobFrame stage="ask">
      <ScrollView contentContainerStyle={{ padding: 18, gap: 14, maxWidth: 720, width: '100%', paddingBottom: 40 }}>
        <Words at="title" bold role="heading">What is wrong?</Words>
        <Choice label="Complaint" testID="complaint" value={asked.complaint} onChange={(c) => change({ complaint: c, shock: c === 'shock' ? true : asked.shock })} options={complaints} />
        {asked.shock ? <Caution testID="shock">Someone had a shock: stop use, switch off at the origin, tell everyone there. Line may stand on metalwork. If the supply neutral or the service is in doubt, call the network operator.</Caution> : null}
        {asked.complaint ? (
          <View style={{ gap: 4 }}>
            <Label>First advice</Label>
            <Words at="lead">{firstAdvice[asked.complaint]}</Words>
          </View>
        ) : null}
        <Label>And</Label>
        <Tick label="Anyone had a shock or a tingle" value={asked.shock} onChange={(shock) => change({ shock })} />
        <Tick label="Water, steam or rain about" value={asked.wet} onChange={(wet) => change({ wet })} />
        <Tick label="Work was done lately: screws, shelves, a new board" value={asked.works} onChange={(works) => change({ works })} />
        <Field label="In their words: when, since when, with what on" value={notes} onChange={setNotes} onSubmit={() => change({})} />
        {notes !== asked.notes ? <Button label="Keep the words" onPress={() => change({})} /> : null}
        <Button label="Make dead" kind="main" onPress={() => router.replace(`/job/${file.id}/dead`)} testID="to-dead" />
      </ScrollView>
    </JobFrame>
  );
}
