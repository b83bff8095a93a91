import { useState } from 'react';
import { View } from 'react-native';
import { Button, Field, Sheet, Words } from '@/components';
import { useJob } from '@/features/job/JobProvider';
import { useTheme } from '@/theme';
import type { ReadingView } from '@core/job';
import { stateLine } from '@core/report';
import { readingWords, probeWords } from '@core/wording';

/** Every reading, newest first, with its state. Struck out, never erased. */
export function Readings({ asSheet = false, onClose }: { asSheet?: boolean; onClose: () => void }) {
  const { view } = useJob();
  const list = view.readings.length ? [...view.readings].reverse().map((r) => <ReadingRow key={r.event.id} reading={r} />) : <Words colour="soft">No readings yet.</Words>;
  return asSheet ? <Sheet title="Readings" onClose={onClose} testID="readings">{list}</Sheet> : <View testID="readings">{list}</View>;
}

function ReadingRow({ reading }: { reading: ReadingView }) {
  const { view, advice, record } = useJob();
  const { colour } = useTheme();
  const [striking, setStriking] = useState(false);
  const [why, setWhy] = useState('');
  const { map } = view;
  const e = reading.event;
  const surprising = advice?.surprising.includes(e.id) ?? false;
  const remarks = [e.unsteady ? 'unsteady' : '', e.climbing ? 'climbing' : '', e.beforeProof ? 'before proof' : '', reading.parked ? `parked: ${reading.parked}` : '', reading.struck ? `struck out: ${reading.struck}` : '', reading.epoch < view.epoch ? 'before the repair' : ''].filter(Boolean);
  const strike = (): void => {
    record({ type: 'struck', target: e.id, why: why.trim() || 'misread' });
    setStriking(false);
  };
  return (
    <View style={{ borderBottomWidth: 1, borderBottomColor: colour.hairline, paddingVertical: 6, gap: 2 }}>
      <View style={{ flexDirection: 'row', alignItems: 'center', justifyContent: 'space-between', gap: 8 }}>
        <Words style={{ flex: 1, textDecorationLine: reading.struck ? 'line-through' : 'none' }}>{map ? probeWords(map, e.probe).line : e.probe.from.join()}</Words>
        <Words figure bold style={{ textDecorationLine: reading.struck ? 'line-through' : 'none' }}>{readingWords(e)}</Words>
      </View>
      <View style={{ flexDirection: 'row', alignItems: 'center', justifyContent: 'space-between', gap: 8 }}>
        <Words at="small" colour="soft" style={{ flex: 1 }}>{[...remarks, stateLine(map, reading)].join(' · ')}</Words>
        {reading.struck ? null : <Button label="Strike out" kind="quiet" small onPress={() => setStriking(true)} />}
      </View>
      {surprising ? <Words at="small" bold colour="suspect">Hardly any suspect foresaw this. Is the state really so? Then read it again.</Words> : null}
      {striking ? (
        <View style={{ gap: 6 }}>
          <Field label="Why" value={why} onChange={setWhy} placeholder="misread" onSubmit={strike} />
          <Button label="Strike it out" onPress={strike} />
        </View>
      ) : null}
    </View>
  );
}
