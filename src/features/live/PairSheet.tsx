import { useState } from 'react';
import { View } from 'react-native';
import { Button, Label, RowButton, Sheet, Words } from '@/components';
import { labelOfWay, type Installation } from '@core/installation';
import type { LiveDo } from '@core/safety';
import { deviceWords, pointName } from '@core/wording';
import { pairsAt, pairsBehind, waysWithOutSide } from './pairs';

/** What is measured at a point, and between which conductors; at a board on its in side, or on the out side of one of its devices. */
export function PairSheet({ map, point, onPick, onClose }: { map: Installation; point: string; onPick: (s: LiveDo) => void; onClose: () => void }) {
  const [what, setWhat] = useState<'voltage' | 'loop'>('voltage');
  const [way, setWay] = useState<string | null>(null);
  const ways = waysWithOutSide(map, point);
  const pairs = (way === null ? pairsAt(map, point) : pairsBehind(map, way)).filter((p) => what === 'voltage' || p.loop);
  return (
    <Sheet title={way === null ? pointName(map, point) : `${deviceWords(map, way)}, out side`} onClose={onClose} testID="pair-sheet">
      <View style={{ flexDirection: 'row', gap: 8 }}>
        <Button label="Voltage" grow kind={what === 'voltage' ? 'chosen' : 'plain'} onPress={() => setWhat('voltage')} testID="what-voltage" />
        <Button label="Loop impedance" grow kind={what === 'loop' ? 'chosen' : 'plain'} onPress={() => setWhat('loop')} testID="what-loop" />
      </View>
      {ways.length && way === null ? <Label>In side: the bars</Label> : null}
      {pairs.map(({ label, from, to }) => <Button key={label} label={label} onPress={() => onPick({ do: what, from, to })} testID={`pair-${label.replace(/[^A-Za-z0-9]+/g, '')}`} />)}
      {way === null ? null : <Button label="Back to the in side" kind="quiet" onPress={() => setWay(null)} testID="in-side" />}
      {ways.length && way === null ? <Label>Out side of a device</Label> : null}
      {way === null ? ways.map((w) => (
        <RowButton key={w} label={`Out side of ${deviceWords(map, w)}`} onPress={() => setWay(w)} testID={`out-${w}`}>
          <Words bold lines={1} style={{ flexShrink: 1 }}>{labelOfWay(map, w)}</Words>
        </RowButton>
      )) : null}
    </Sheet>
  );
}
