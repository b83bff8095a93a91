import { Redirect, useLocalSearchParams } from 'expo-router';
import { AskScreen } from '@/features/ask/AskScreen';
import { DeadScreen } from '@/features/dead/DeadScreen';
import { isStage } from '@/features/job/stages';
import { MapScreen } from '@/features/map/MapScreen';
import { OverScreen } from '@/features/over/OverScreen';
import { RightScreen } from '@/features/right/RightScreen';
import { TraceScreen } from '@/features/trace/TraceScreen';

const screens = { ask: AskScreen, map: MapScreen, dead: DeadScreen, trace: TraceScreen, right: RightScreen, over: OverScreen } as const;

export default function Stage() {
  const { id, stage } = useLocalSearchParams<{ id: string; stage: string }>();
  if (!isStage(stage)) return <Redirect href={`/job/${id}/trace`} />;
  const Screen = screens[stage];
  return <Screen />;
}
