import { useState } from 'react';
import { View } from 'react-native';
import { Button, Caution, Choice, Field, Label, Problem, Sheet, Words } from '@/components';
import { useJob } from '@/features/job/JobProvider';
import { useProfile } from '@/features/settings/useProfile';
import type { LiveTest } from '@core/live';
import { cautionsOf } from '@core/safety';
import { deviceWords, liveCautionWords } from '@core/wording';
import { readRcdFigures } from './rcdFigures';
import { rampWays } from './TestSheet';
import { useLiveTester } from './useLiveTester';

/** Ramp and times of one device in one entry, both half-cycles; the slower time and the lower ramp are kept. */
export function RcdSheet({ device, onClose }: { device: string; onClose: () => void }) {
  const { view, record } = useJob();
  const [profile] = useProfile();
  const tester = useLiveTester();
  const [figures, setFigures] = useState<Readonly<Record<string, string>>>({});
  const [outgoing, setOutgoing] = useState<'out' | 'in'>('out');
  const [problem, setProblem] = useState<string | null>(null);
  const { map } = view;
  if (!map) return null;
  const set = (key: string) => (text: string): void => setFigures({ ...figures, [key]: text });
  const keep = (): void => {
    const read = readRcdFigures(device, figures, outgoing, profile.rcdTimes);
    if (!read.ok) return setProblem(read.problem);
    record(...read.tests.map((test: LiveTest) => ({ type: 'liveRead' as const, test })));
    onClose();
  };
  const pair = (id: string, label: string, unit: string) => (
    <View key={id} style={{ flexDirection: 'row', gap: 10 }}>
      {(['0', '180'] as const).map((half) => <View key={half} style={{ flex: 1 }}><Field label={`${label}, ${half}°`} unit={unit} figure keyboard="decimal-pad" value={figures[`${id} ${half}`] ?? ''} onChange={set(`${id} ${half}`)} testID={`rcd-${id}-${half}`} /></View>)}
    </View>
  );
  return (
    <Sheet title={deviceWords(map, device)} onClose={onClose} testID="rcd-sheet" footer={<Button label="Keep" kind="main" onPress={keep} testID="rcd-keep" />}>
      <Caution>{cautionsOf(map, { do: 'ramp', device, first: [] }).map((c) => liveCautionWords[c]).join(' ')}</Caution>
      {problem ? <Problem text={problem} /> : null}
      <Label>Times</Label>
      {profile.rcdTimes.map((m) => pair(String(m), m === 0.5 ? 'At ½×' : `At ${m}×`, 'ms'))}
      <Words at="small" colour="soft">“x” where it did not trip. Leave empty what was not tested. At ½× it must not trip.</Words>
      <Label>Ramp</Label>
      {pair('ramp', 'Trips at', 'mA')}
      <Choice label="What hangs on it" value={outgoing} onChange={setOutgoing} options={rampWays} />
      <Words at="small" colour="soft">Ways off shows the device itself. With loads on shows what is left before it trips.</Words>
      {tester ? <Button label="Ask the practice tester" onPress={() => { for (const multiple of profile.rcdTimes) tester.make({ kind: 'times', device, multiple }); tester.make({ kind: 'ramp', device, outgoing }); onClose(); }} testID="rcd-practice" /> : null}
    </Sheet>
  );
}
