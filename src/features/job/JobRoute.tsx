import { Redirect, Slot, useLocalSearchParams, useRouter } from 'expo-router';
import { View } from 'react-native';
import { Button, Problem, Words } from '@/components';
import { AskScreen } from '@/features/ask/AskScreen';
import { DeadScreen } from '@/features/dead/DeadScreen';
import { LiveScreen } from '@/features/live/LiveScreen';
import { MapScreen } from '@/features/map/MapScreen';
import { OverScreen } from '@/features/over/OverScreen';
import { RightScreen } from '@/features/right/RightScreen';
import { TraceScreen } from '@/features/trace/TraceScreen';
import { useTheme } from '@/theme';
import { issueText } from '@core/wording';
import { JobProvider } from './JobProvider';
import { JobBoundary } from './JobBoundary';
import { isStage } from './stages';

const screens = { ask: AskScreen, map: MapScreen, live: LiveScreen, dead: DeadScreen, trace: TraceScreen, right: RightScreen, over: OverScreen } as const;

/** One stage of the job that the layout holds. */
export function StageRoute() {
  const { id = '', stage } = useLocalSearchParams<{ id: string; stage: string }>();
  if (!isStage(stage)) return <Redirect href={`/job/${id}/trace`} />;
  const Screen = screens[stage];
  return <JobBoundary key={stage} id={id}><Screen /></JobBoundary>;
}

/** Holds one job open while its stages change. */
export function JobLayout() {
  const { id = '' } = useLocalSearchParams<{ id: string }>();
  const router = useRouter();
  const { colour } = useTheme();
  const page = { flex: 1, backgroundColor: colour.paper, padding: 20, gap: 14 } as const;
  return (
    <JobBoundary key={id} id={id}>
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
    </JobBoundary>
  );
}
