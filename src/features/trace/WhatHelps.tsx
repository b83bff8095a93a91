import { useRouter } from 'expo-router';
import { ScrollView, View } from 'react-native';
import { Button, Words } from '@/components';
import { useJob } from '@/features/job/JobProvider';
import type { Help } from '@core/advice';
import { helpWords } from '@core/wording';
import { circuitOfWay, waysOfBoard } from '@core/installation';

/** No reading in reach tells more: what would, each as a button that leads to where it is done. */
export function WhatHelps({ help }: { help: readonly Help[] }) {
  const { view, file, record } = useJob();
  const router = useRouter();
  const { map } = view;
  if (!map) return null;
  const wayOf = (point: string): string | undefined => waysOfBoard(map).find((w) => circuitOfWay(map, w.id).points.some((p) => p.id === point))?.id;
  const toMap = (point?: string): void => {
    const way = point === undefined ? undefined : wayOf(point);
    router.replace(`/job/${file.id}/map${way ? `?way=${way}` : ''}`);
  };
  const act = (h: Help): void => {
    if (h.help === 'turnedDown') record(...file.events.filter((e) => e.type === 'notNow').map((e) => ({ type: 'struck' as const, target: e.id, why: 'offered again' })));
    else if (h.help === 'reach') record({ type: 'cantReach', point: h.point, can: true });
    else if (h.help === 'wait' || h.help === 'safe') router.replace(`/job/${file.id}/right`);
    else toMap('point' in h ? h.point : undefined);
  };
  return (
    <ScrollView style={{ maxHeight: 300 }} contentContainerStyle={{ gap: 8 }} testID="what-helps">
      {help.map((h) => {
        const { label, why } = helpWords(map, h);
        return (
          <View key={`${h.help} ${'point' in h ? h.point : ''}`} style={{ gap: 2 }}>
            <Button label={label} onPress={() => act(h)} testID={`help-${h.help}`} />
            <Words at="small" colour="soft">{why}</Words>
          </View>
        );
      })}
    </ScrollView>
  );
}
