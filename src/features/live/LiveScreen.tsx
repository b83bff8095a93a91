import { useState } from 'react';
import { ScrollView, View } from 'react-native';
import { Button, Caution, Choice, Words } from '@/components';
import { JobFrame } from '@/features/job/JobFrame';
import { useJob } from '@/features/job/JobProvider';
import { useTheme } from '@/theme';
import { safetyOf } from '@core/advice';
import { liveNeeds } from '@core/safety';
import { useRouter } from 'expo-router';
import { Devices } from './Devices';
import { Feeds } from './Feeds';
import { Leakage } from './Leakage';
import { LoopVolts } from './LoopVolts';

const views = [{ value: 'devices', label: 'Reset' }, { value: 'feeds', label: 'Walk' }, { value: 'leakage', label: 'Leakage' }, { value: 'loops', label: 'Measure' }] as const;
type LiveView = (typeof views)[number]['value'];

/** Work with the supply on: resets, leakage and residual devices, voltages and loops. Closed while the circuit is locked off or taken apart. */
export function LiveScreen() {
  const { view } = useJob();
  const { wide } = useTheme();
  const { map } = view;
  const [shown, setShown] = useState<LiveView>('devices');
  // A clamp is the one live step that needs the board open.
  const needs = map ? liveNeeds(map, safetyOf(view), shown === 'leakage' ? { do: 'clamp', around: 'main' } : null) : [];
  const closed = needs.length > 0;
  return (
    <JobFrame stage="live">
      <ScrollView contentContainerStyle={{ padding: 18, paddingTop: 12, gap: 14, maxWidth: wide ? 1100 : 720, width: '100%', paddingBottom: 40 }}>
        <Choice label="Live tests" value={shown} onChange={setShown} options={views} />
        {!map ? <Words>Draft a board or a circuit first.</Words> : null}
        {closed ? <Locked putBack={needs.some((n) => n.need === 'putBack')} /> : null}
        {map && shown === 'devices' ? <Devices closed={closed} /> : null}
        {map && shown === 'feeds' ? <Feeds closed={closed} /> : null}
        {map && shown === 'leakage' ? <Leakage closed={closed} /> : null}
        {map && shown === 'loops' ? <LoopVolts closed={closed} /> : null}
      </ScrollView>
    </JobFrame>
  );
}

/** Nothing is energised while it is locked off, linked, bare or open; the way out is said. */
function Locked({ putBack }: { putBack: boolean }) {
  const { file, record } = useJob();
  const router = useRouter();
  return (
    <View style={{ gap: 8 }}>
      <Caution testID="live-locked">{putBack ? 'Live tests are closed: something is still out, linked or open. Put it back first.' : 'Live tests are closed: the circuit is locked off. Taking the lock off ends the isolation; dead tests then ask for it again.'}</Caution>
      {putBack ? <Button label="To the put-back list" onPress={() => router.replace(`/job/${file.id}/right`)} /> : <Button label="The lock is off" kind="danger" onPress={() => record({ type: 'lapsed', why: 're-energised' })} testID="lock-off" />}
    </View>
  );
}
