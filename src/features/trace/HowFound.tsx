import { View } from 'react-native';
import { Button, Words } from '@/components';
import { useJob } from '@/features/job/JobProvider';
import { pointName } from '@core/wording';

/** A switch that was drawn after something had been read there: beyond one that was off nothing was read. Asked once; whoever moves it has no answer to give any more. */
export function HowFound() {
  const { view, record } = useJob();
  const [part] = view.howFound;
  if (!view.map || part === undefined) return null;
  const say = (off: boolean) => () => record({ type: 'switched', part, off, found: true });
  return (
    <View style={{ gap: 6 }} testID="how-found">
      <Words bold>{`How did the switch at ${pointName(view.map, part.split('.')[0] ?? '')} stand when the readings so far were taken?`}</Words>
      <View style={{ flexDirection: 'row', gap: 8 }}>
        <Button label="It was on" small grow onPress={say(false)} testID="found-on" />
        <Button label="It was off" small grow onPress={say(true)} testID="found-off" />
      </View>
    </View>
  );
}
