import { useRouter } from 'expo-router';
import { View } from 'react-native';
import { Button, HoldButton, Words } from '@/components';
import { useJob } from '@/features/job/JobProvider';
import { safetyOf } from '@core/advice';
import type { Installation } from '@core/installation';
import type { JobView } from '@core/job';
import type { Probe } from '@core/probes';
import { unmetNeeds, type Need } from '@core/safety';
import { pointName } from '@core/wording';

/** What a dead retest asks for before hands touch anything, but for loads, which the retest itself asks for. */
export const retestNeeds = (map: Installation, view: JobView, probe: Probe, earthDoubt: boolean): Need[] => unmetNeeds(map, safetyOf(view), { actions: [], probes: [probe], earthDoubt }).filter((n) => n.need !== 'loadsOut');

/** Points whose covers a dead retest is read behind. */
export const behindCovers = (map: Installation, view: JobView, probe: Probe): string[] => unmetNeeds(map, { ...safetyOf(view), state: { ...view.state, opened: [] } }, { actions: [], probes: [probe], earthDoubt: false }).flatMap((n) => (n.need === 'opened' ? [n.point] : []));

/** What a retest that is not safe to read yet waits for: secured, covers off, proved dead; with `leads` the way there. */
export function RetestNeeds({ map, needs, id, leads }: { map: Installation; needs: readonly Need[]; id: string; leads: boolean }) {
  const { file, record } = useJob();
  const router = useRouter();
  const secured = !needs.some((n) => n.need === 'secured');
  const covers = needs.flatMap((n) => (n.need === 'opened' ? [n.point] : []));
  const toProve = needs.flatMap((n) => (n.need === 'proved' ? [n.point] : []));
  const toEarth = needs.some((n) => n.need === 'proved' && n.toEarth);
  const [cover] = secured ? covers : [];
  return (
    <View style={{ gap: 8 }} testID={`needs-${id}`}>
      <Words at="small">{!secured ? 'Not secured: make it dead first.' : cover !== undefined ? `It is read with the cover off: ${pointName(map, cover)}.` : `Prove dead first${toEarth ? ', to an earth of its own too' : ''}: ${toProve.map((p) => pointName(map, p)).join(', ')}.`}</Words>
      {!leads ? null : cover !== undefined
        ? <HoldButton label={`Cover off: ${pointName(map, cover)}`} onHeld={() => record({ type: 'opened', point: cover })} testID={`uncover-${id}`} />
        : <Button label="Make dead" onPress={() => router.push(`/job/${file.id}/dead?points=${toProve.join(',')}&back=right`)} testID={`make-dead-${id}`} />}
    </View>
  );
}
