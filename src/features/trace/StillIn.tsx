import { View } from 'react-native';
import { Button } from '@/components';
import { useJob } from '@/features/job/JobProvider';
import type { FactView } from '@core/advice';

/** What the record has as out, or off, and the readings do not: corrected from where it was said. */
export function StillIn({ fact }: { fact: Pick<FactView, 'kind' | 'place'> }) {
  const { view, record } = useJob();
  const part = fact.place.replace(/^state /, '');
  if (fact.kind === 'thrown') return <Button label="Record it so" small onPress={() => record({ type: 'stoodOther', part })} testID={`stood-other ${part}`} />;
  const { out, loadsOut, off } = view.state;
  if (![out, loadsOut, off].some((list) => list.includes(part))) return null;
  const isSwitch = fact.kind === 'switchOn';
  return (
    <View style={{ flexDirection: 'row', gap: 8 }}>
      <Button label={isSwitch ? 'It was on: off now' : 'It was in: out now'} small onPress={() => record({ type: 'wasStill', part, now: 'out' })} testID={`was-still ${part}`} />
      <Button label={isSwitch ? 'It stays on' : 'It stays in'} small onPress={() => record({ type: 'wasStill', part, now: 'in' })} testID={`stays-in ${part}`} />
    </View>
  );
}
