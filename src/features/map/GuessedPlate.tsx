import { useRouter } from 'expo-router';
import { View } from 'react-native';
import { Button, Words } from '@/components';
import { useJob } from '@/features/job/JobProvider';
import { asGuessed } from '@core/installation';
import { figuresWords, onGuessWords } from '@core/wording';

/** A limit depends on a device that nobody has read: it is what was guessed, or another is said on the map. */
export function GuessedPlate({ device }: { device: string }) {
  const { view, file, record } = useJob();
  const router = useRouter();
  const { map } = view;
  const edit = map && asGuessed(map, device);
  if (!map || !edit) return null;
  return (
    <View style={{ gap: 6 }} testID={`guessed-${device}`}>
      <Words bold>{onGuessWords(map, device)}</Words>
      <View style={{ flexDirection: 'row', gap: 8 }}>
        <Button label={figuresWords(map, device)} accessibilityLabel={`It is ${figuresWords(map, device)}`} grow onPress={() => record({ type: 'mapEdited', edit })} testID={`is-so-${device}`} />
        <Button label="Another" grow onPress={() => router.replace(`/job/${file.id}/map?way=${device}`)} testID={`another-${device}`} />
      </View>
    </View>
  );
}
