import { useState } from 'react';
import { Pressable, View } from 'react-native';
import { Button, Label, RowButton, Sheet, Words } from '@/components';
import { useJob } from '@/features/job/JobProvider';
import { TARGET, useTheme } from '@/theme';
import { shiftOf, sights, type Sight } from '@core/asking';
import { pointName, shiftText, sightWords } from '@core/wording';

/** What eyes find, one tap each; the place is asked for, since it says most. */
export function Sights() {
  const { view, record } = useJob();
  const { colour } = useTheme();
  const { asked, map } = view;
  const [placing, setPlacing] = useState<Sight | null>(null);
  if (!map) return null;
  const seenAt = (s: Sight): readonly (string | null)[] => asked.seen.filter((x) => x.what === s).map((x) => x.place);
  const toggle = (s: Sight): void => {
    const there = seenAt(s).length > 0;
    record({ type: 'seen', what: s, place: null, gone: there });
    setPlacing(there ? null : s);
  };
  return (
    <View style={{ gap: 8 }}>
      <Label>Seen</Label>
      <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: 8 }}>
        {sights.map((s) => {
          const chosen = seenAt(s).length > 0;
          return (
            <Pressable key={s} role="checkbox" aria-checked={chosen} aria-label={sightWords[s]} onPress={() => toggle(s)} testID={`seen-${s}`}
              style={{ minHeight: TARGET, paddingHorizontal: 14, borderRadius: 11, borderWidth: 1.5, borderColor: chosen ? colour.ink : colour.edge, backgroundColor: chosen ? colour.ink : colour.sheet, justifyContent: 'center' }}>
              <Words bold={chosen} colour={chosen ? 'paper' : 'ink'}>{sightWords[s]}</Words>
            </Pressable>
          );
        })}
      </View>
      {sights.filter((s) => seenAt(s).length > 0).map((s) => {
        const places = seenAt(s).flatMap((p) => (p === null ? [] : [pointName(map, p)]));
        const shift = shiftOf(map, { ...asked, seen: asked.seen.filter((x) => x.what !== s) }, asked);
        const where = places.length ? ` at ${places.join(', ')}` : '';
        return (
          <RowButton key={s} label={`Where: ${sightWords[s]}`} onPress={() => setPlacing(s)} testID={`where-${s}`}>
            <View style={{ flex: 1, gap: 2 }}>
              <Words><Words bold>{sightWords[s]}</Words>{where || ', place not said'}</Words>
              <Words at="small" colour="soft">{`${shiftText(shift, 'it was seen')}${where ? ` Most of all${where}.` : ''}`}</Words>
            </View>
            <Words at="small" bold>{where ? 'Change' : 'Where'}</Words>
          </RowButton>
        );
      })}
      {placing ? (
        <Sheet title={`${sightWords[placing]}: where?`} onClose={() => setPlacing(null)} testID="where-sheet">
          {map.points.map((p) => {
            const here = seenAt(placing).includes(p.id);
            return <Button key={p.id} label={p.name} kind={here ? 'chosen' : 'plain'} onPress={() => { record({ type: 'seen', what: placing, place: p.id, gone: here }); setPlacing(null); }} />;
          })}
          <Button label="Somewhere else, or not sure" kind="quiet" onPress={() => setPlacing(null)} />
        </Sheet>
      ) : null}
    </View>
  );
}
