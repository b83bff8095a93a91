import { View } from 'react-native';
import { Button, Caution, Label, Sheet, Words } from '@/components';
import { useJob } from '@/features/job/JobProvider';
import type { LookView } from '@core/advice';
import { sights, type Sight } from '@core/asking';
import { lookWords, neutralBars, neutralName, pointName, sightWords } from '@core/wording';

/** What a look under a cover finds most. */
const underCover: readonly Sight[] = ['loose', 'scorch', 'water'];

/** What eyes find at one point, in a tap: a sign there, or nothing, which tells too. */
export function LookSheet({ look, onClose }: { look: Pick<LookView, 'point' | 'outside' | 'plug' | 'bar'>; onClose: () => void }) {
  const { view, record } = useJob();
  const { map } = view;
  if (!map) return null;
  const name = pointName(map, look.point);
  const say = (...what: string[]): void => {
    for (const x of what) record({ type: 'seen', what: x, place: look.point, gone: false });
    onClose();
  };
  const { plug, bar } = look;
  if (bar) {
    const into = (terminal: string): void => { record({ type: 'seen', what: 'inBar', place: `${bar}>${terminal}`, gone: false }); onClose(); };
    return (
      <Sheet title={`${neutralName(map, bar)}: which bar?`} onClose={onClose} testID="look-sheet" footer={<Button label="Cannot tell" onPress={() => into('')} testID="bar-unknown" />}>
        <Words>{`Follow the neutral from its cable to its screw. If it is out already: the bar that it came out of. In another bar it reads as broken against its own; behind an RCD it trips as soon as the load runs.`}</Words>
        <Label>It sits in</Label>
        <View style={{ gap: 8 }}>
          {neutralBars(map, bar).map((b) => <Button key={b.terminal} label={b.drawn ? `${b.name}, as drawn` : b.name} onPress={() => into(b.terminal)} testID={`bar-${b.terminal}`} />)}
        </View>
      </Sheet>
    );
  }
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
