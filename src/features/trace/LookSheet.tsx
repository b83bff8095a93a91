import { View } from 'react-native';
import { Button, Caution, Label, Sheet, Words } from '@/components';
import { useJob } from '@/features/job/JobProvider';
import type { LookView } from '@core/advice';
import { sights, type Sight } from '@core/asking';
import { lookWords, pointName, sightWords } from '@core/wording';

/** What a look under a cover finds most. */
const underCover: readonly Sight[] = ['loose', 'scorch', 'water'];

/** What eyes find at one point, in a tap: a sign there, or nothing, which tells too. */
export function LookSheet({ look, onClose }: { look: Pick<LookView, 'point' | 'outside' | 'plug'>; onClose: () => void }) {
  const { view, record } = useJob();
  const { map } = view;
  if (!map) return null;
  const name = pointName(map, look.point);
  const say = (...what: string[]): void => {
    for (const x of what) record({ type: 'seen', what: x, place: look.point, gone: false });
    onClose();
  };
  const { plug } = look;
  if (plug)
    return (
      <Sheet title={`Look at ${name}`} onClose={onClose} testID="look-sheet" footer={<Button label="Nothing is in" kind="main" onPress={() => say('nothingIn')} testID="nothing-in" />}>
        <Words>{`By the record everything is unplugged at ${name}. One that stayed in would read as a fault in the point itself. Follow the lead of whatever stands there: behind, below, through the wall.`}</Words>
        <Button label="It was in: out now" onPress={() => { record({ type: 'wasStill', part: plug, now: 'out' }); onClose(); }} testID="was-in" />
      </Sheet>
    );
  return (
    <Sheet title={`Look at ${name}`} onClose={onClose} testID="look-sheet" footer={<Button label="Nothing to see" kind="main" onPress={() => say(look.outside ? 'cleanOutside' : 'clean')} testID="nothing-to-see" />}>
      {look.outside ? <Caution>Eyes only: nothing is opened, nothing touched.</Caution> : null}
      <Words>{lookWords(look)}</Words>
      <Label>Seen here</Label>
      <View style={{ gap: 8 }}>
        {[...(look.outside ? [] : underCover), ...sights.filter((s) => look.outside ? s !== 'loose' : !underCover.includes(s))].map((s) => <Button key={s} label={sightWords[s]} onPress={() => say(s)} testID={`look-${s}`} />)}
      </View>
    </Sheet>
  );
}
