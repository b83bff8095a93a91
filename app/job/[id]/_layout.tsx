import { Slot, useLocalSearchParams, useRouter } from 'expo-router';
import { View } from 'react-native';
import { Button, Problem, Words } from '@/components';
import { JobProvider } from '@/features/job/JobProvider';
import { useTheme } from '@/theme';
import { issueText } from '@core/wording';

export default function JobLayout() {
  const { id } = useLocalSearchParams<{ id: string }>();
  const router = useRouter();
  const { colour } = useTheme();
  const page = { flex: 1, backgroundColor: colour.paper, padding: 20, gap: 14 } as const;
  return (
    <JobProvider
      id={id}
      whileLoading={<View style={page}><Words colour="soft">Opening the job</Words></View>}
      onMissing={(issue) => (
        <View style={page}>
          <Problem text={issueText(issue)} />
          <Button label="All jobs" kind="main" onPress={() => router.replace('/')} />
        </View>
      )}
    >
      <Slot />
    </JobProvider>
  );
}
