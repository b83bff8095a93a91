import { useState } from 'react';
import { View } from 'react-native';
import { Button, Field, Sheet, Words } from '@/components';
import { useJob } from '@/features/job/JobProvider';
import { useTheme } from '@/theme';
import { boardOf, circuitOfWay, labelOfWay, protectionsOf, waysOfBoard } from '@core/installation';
import { wayOf } from '@core/live';

/** The walk with one way off: what is dead then is what it feeds. Labels that are wrong come out; a point that still works hangs elsewhere. */
export function Feeds({ closed }: { closed: boolean }) {
  const { view, record } = useJob();
  const { colour, wide } = useTheme();
  const [other, setOther] = useState<string | null>(null);
  const { map, state, feeds } = view;
  if (!map) return null;
  if (map.shape !== 'board') return <Words>One circuit alone: say at the map which points are dead.</Words>;
  const board = boardOf(map)?.id ?? '';
  const off = waysOfBoard(map).filter((w) => state.off.includes(`${board}.${w.id}`));
  const astray = view.liveReadings.flatMap((r) => {
    const t = r.event.test;
    if (r.struck || t.kind !== 'works' || !t.works) return [];
    const way = wayOf(map, t.point);
    return way && r.state.off.includes(`${board}.${way}`) ? [{ id: r.event.id, point: map.points.find((p) => p.id === t.point)?.name ?? t.point, way }] : [];
  });
  return (
    <View style={{ gap: 10, maxWidth: wide ? 760 : undefined }}>
      <Words>Switch one way off, walk round, and say what went dead. Dead to the eye is not proved dead to the hand.</Words>
      {astray.map((a) => <Words key={a.id} bold testID="astray">{`${a.point} works with ${labelOfWay(map, a.way)} off: it hangs on another way, or a second supply feeds it.`}</Words>)}
      {waysOfBoard(map).map((w) => {
        const found = feeds.get(w.id);
        const isOff = off.some((x) => x.id === w.id);
        const label = labelOfWay(map, w.id);
        const drawn = isOff ? circuitOfWay(map, w.id).points.filter((p) => p.kind !== 'undrawn' && p.kind !== 'joint' && p.kind !== 'subboard') : [];
        return (
          <View key={w.id} testID={`feeds-${w.id}`} style={{ borderTopWidth: 1, borderTopColor: colour.hairline, paddingVertical: 8, gap: 8 }}>
            <View style={{ flexDirection: 'row', alignItems: 'center', gap: 10 }}>
              <View style={{ flex: 1, minWidth: 0 }}>
                <Words bold lines={1}>{label}</Words>
                <Words at="small" bold={found !== undefined && !found.asLabelled} colour={found ? 'ink' : 'soft'}>{found ? (found.asLabelled ? '✓ feeds what the label says' : `wrong label: feeds ${found.what}`) : isOff ? 'off: what is dead now?' : 'not tried'}</Words>
              </View>
              <Button label={isOff ? 'Switch on' : 'Switch off'} small disabled={closed} accessibilityLabel={`${isOff ? 'Switch on' : 'Switch off'} ${label}`} testID={`flick-${w.id}`}
                onPress={() => record(...(protectionsOf(map).find((p) => p.id === w.id)?.poles ?? []).map((part) => ({ type: 'switched' as const, part, off: !isOff })))} />
            </View>
            {isOff ? (
              <View style={{ flexDirection: 'row', gap: 8 }}>
                <Button label="As labelled" grow onPress={() => record({ type: 'feeds', way: w.id, what: label, asLabelled: true })} testID={`labelled-${w.id}`} />
                <Button label="Something else" grow onPress={() => setOther(w.id)} testID={`other-${w.id}`} />
              </View>
            ) : null}
            {drawn.map((p) => {
              const last = [...view.liveReadings].reverse().find((r) => !r.struck && r.event.test.kind === 'works' && r.event.test.point === p.id)?.event.test;
              const says = last?.kind === 'works' ? last.works : null;
              return (
                <View key={p.id} style={{ flexDirection: 'row', alignItems: 'center', gap: 8, paddingLeft: 10 }}>
                  <Words style={{ flex: 1 }} lines={1}>{p.name}</Words>
                  <Button label="dead" small kind={says === false ? 'chosen' : 'plain'} accessibilityLabel={`${p.name} is dead`} onPress={() => record({ type: 'liveRead', test: { kind: 'works', point: p.id, works: false } })} />
                  <Button label="works" small kind={says === true ? 'chosen' : 'plain'} accessibilityLabel={`${p.name} works`} onPress={() => record({ type: 'liveRead', test: { kind: 'works', point: p.id, works: true } })} />
                </View>
              );
            })}
          </View>
        );
      })}
      {other ? <OtherSheet label={labelOfWay(map, other)} onClose={() => setOther(null)} onKeep={(what) => { record({ type: 'feeds', way: other, what, asLabelled: false }); setOther(null); }} /> : null}
    </View>
  );
}

function OtherSheet({ label, onKeep, onClose }: { label: string; onKeep: (what: string) => void; onClose: () => void }) {
  const [text, setText] = useState('');
  return (
    <Sheet title={`${label}: what went dead?`} onClose={onClose} footer={<Button label="Keep" kind="main" disabled={!text.trim()} onPress={() => onKeep(text.trim())} testID="keep-feeds" />}>
      <Field label="What it really feeds; “nothing found” counts too" value={text} onChange={setText} autoFocus testID="feeds-what" />
    </Sheet>
  );
}
