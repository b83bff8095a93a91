import { useState } from 'react';
import { View } from 'react-native';
import { Button, Choice, Words } from '@/components';
import { useJob } from '@/features/job/JobProvider';
import { useTheme } from '@/theme';
import type { Probe } from '@core/probes';
import { laneLetter, leadWords, spotName } from '@core/wording';

/** The pair of leads in hand, while the strip scrolls: first lead, second lead, function, pad. */
export function Tray({ leads, onClear, onEnter }: { leads: readonly string[][]; onClear: () => void; onEnter: (p: Probe) => void }) {
  const { colour } = useTheme();
  const { view } = useJob();
  const [fn, setFn] = useState<Probe['fn'] | null>(null);
  const { map } = view;
  if (!map) return null;
  const words = (keys: readonly string[]): string => keys.map((k) => `${leadWords(map, k)} at ${spotName(map, k)}`).join(' and ');
  const [first = [], second] = leads;
  const crosses = second ? laneLetter(map, first[0] ?? '') !== laneLetter(map, second[0] ?? '') : false;
  const chosen = fn ?? (crosses ? 'insulation' : 'continuity');
  return (
    <View testID="tray" style={{ padding: 12, gap: 8, backgroundColor: colour.sheet, borderTopWidth: 1.5, borderTopColor: colour.edge }}>
      <Words>{`Lead 1: ${words(first)}`}</Words>
      <Words>{second ? `Lead 2: ${words(second)}` : 'Lead 2: tap the next place, or the same row again to tie a second conductor.'}</Words>
      {second ? <Choice label="Function" value={chosen} onChange={setFn} options={[{ value: 'continuity', label: 'Ohms' }, { value: 'insulation', label: 'Insulation' }]} /> : null}
      <View style={{ flexDirection: 'row', gap: 8 }}>
        <Button label="Lay aside" onPress={onClear} grow />
        <Button label="Enter reading" kind="chosen" disabled={!second} onPress={() => second && onEnter({ fn: chosen, from: [...first], to: [...second] })} grow testID="tray-enter" />
      </View>
    </View>
  );
}
