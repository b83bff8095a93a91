import { useState } from 'react';
import { View } from 'react-native';
import { Button, Field, Sheet, Words } from '@/components';
import { useJob } from '@/features/job/JobProvider';
import { metalKey, metalName } from '@core/installation';
import type { LiveDo } from '@core/safety';

/** Metal that is no point of any circuit, by the name it has there, against an independent earth. */
export function MetalSheet({ onPick, onClose }: { onPick: (s: LiveDo) => void; onClose: () => void }) {
  const { view } = useJob();
  const [name, setName] = useState('');
  const known = [...new Set(view.liveReadings.flatMap((r) => (r.event.test.kind === 'voltage' ? [metalName(r.event.test.from)] : [])).filter((x) => x !== null))];
  return (
    <Sheet title="Other metal" onClose={onClose} testID="metal-sheet"
      footer={<Button label="Volts to an independent earth" kind="main" disabled={!name.trim()} onPress={() => onPick({ do: 'voltage', from: metalKey(name), to: 'ground' })} testID="metal-volts" />}>
      <Words at="small" colour="soft">Metal that can be touched and is on no circuit: a handrail, a seat, a tap, a gutter. Above 50 V it is an alarm.</Words>
      <Field label="What is it, and where" value={name} onChange={setName} autoFocus testID="metal-name" />
      {known.length ? <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: 8 }}>{known.map((k) => <Button key={k} label={k} small kind={k === name ? 'chosen' : 'plain'} onPress={() => setName(k)} />)}</View> : null}
    </Sheet>
  );
}
