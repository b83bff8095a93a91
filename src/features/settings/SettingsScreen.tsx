import { useRouter } from 'expo-router';
import { Linking, ScrollView } from 'react-native';
import { Button, Choice, Label, Tick, usePageTitle, Words } from '@/components';
import { textPercents, useTheme } from '@/theme';
import { profileIds, profiles } from '@core/profiles';
import { KeptHere } from './KeptHere';
import { OwnWay } from './OwnWay';
import { useProfile } from './useProfile';

export function SettingsScreen() {
  const theme = useTheme();
  const router = useRouter();
  const [profile, setProfile] = useProfile();
  usePageTitle('Settings');
  return (
    <ScrollView role="main" style={{ flex: 1, backgroundColor: theme.colour.paper }} contentContainerStyle={{ padding: 20, gap: 16, maxWidth: 640 }}>
      <Words at="title" bold role="heading" level={1}>Settings</Words>
      <Label>Light</Label>
      <Choice label="Theme" value={theme.name} onChange={theme.setName} options={[{ value: 'daylight', label: 'Daylight' }, { value: 'loft', label: 'Loft (dark)' }]} />
      <Label>Size of words</Label>
      <Choice label="Size of words" value={theme.textPercent} onChange={theme.setText} options={textPercents.map((p) => ({ value: p, label: `${p} %` }))} />
      <Label>Hand</Label>
      <Tick label="Left hand: main action at the bottom left" value={theme.leftHand} onChange={theme.setLeftHand} />
      <Label>Limits</Label>
      <Choice label="Region" value={profile.id} onChange={setProfile} options={profileIds.map((id) => ({ value: id, label: profiles[id].name }))} />
      <Words at="small" colour="soft">{`Loop limits, RCD times and the share of standing leakage (${Math.round(profile.standingShare * 100)} % of the device) follow it. Local codes and the licensed person on site decide.`}</Words>
      <KeptHere />
      <OwnWay />
      <Words colour="soft">Gutter advises. It does not certify. National codes, licences and the person on site come first.</Words>
      <Button label="Licences of what is inside" kind="quiet" onPress={() => void Linking.openURL('/licences.txt')} testID="licences" style={{ alignSelf: 'flex-start' }} />
      <Button label="All jobs" onPress={() => router.replace('/')} />
    </ScrollView>
  );
}
