import { useLocalSearchParams, useRouter } from 'expo-router';
import { useState } from 'react';
import { ScrollView, View } from 'react-native';
import { Button, Choice, Label, Words } from '@/components';
import { JobFrame } from '@/features/job/JobFrame';
import { useJob } from '@/features/job/JobProvider';
import { safetyOf } from '@core/advice';
import { boardOf } from '@core/installation';
import { isProved, provesAsOne } from '@core/safety';
import { pointName } from '@core/wording';
import { ProvePoint } from './ProvePoint';
import { SecureForm } from './SecureForm';

/** Two records: the circuit is secured; the point is proved. Nothing is filled in beforehand. */
export function DeadScreen() {
  const { view, advice, file } = useJob();
  const router = useRouter();
  const params = useLocalSearchParams<{ point?: string; points?: string; back?: string }>();
  const { map } = view;
  const wanted = (params.points ?? '').split(',').filter(Boolean);
  const board = map ? (boardOf(map)?.id ?? '') : '';
  const toProve = wanted.filter((p) => !isProved(safetyOf(view), p, advice?.earthDoubt ?? true));
  const next = toProve[0] ?? (view.proofs.has(board) ? null : board);
  const [picked, setPicked] = useState<string | null>(null);
  const point = picked ?? next;
  if (!map)
    return (
      <JobFrame stage="dead">
        <ScrollView contentContainerStyle={{ padding: 18, gap: 14, maxWidth: 720, width: '100%', paddingBottom: 40 }}>
          {view.secured === null ? <SecureForm /> : <Words>Secured. Prove every pair dead before anything is touched; where and what can be recorded once the board or the circuit is drawn.</Words>}
          {view.secured === null ? null : <Button label="Draw it now" onPress={() => router.replace(`/job/${file.id}/map`)} />}
        </ScrollView>
      </JobFrame>
    );
  const proving = view.secured !== null && point !== null;
  return (
    <JobFrame stage="dead">
      {proving ? (
        <ProvePoint key={`${point} ${view.everyProof.length}`} map={map} point={point} mayJoin={provesAsOne(map, point, advice?.fedElsewhere ?? 1, view.asked.seen, view.secured?.second ?? null)} toEarth={advice?.earthDoubt ?? true} onDone={() => {
          setPicked(null);
          if (!toProve.some((p) => p !== point)) router.replace(`/job/${file.id}/${params.back === 'right' ? 'right' : 'trace'}`);
        }} others={map.points.filter((p) => p.reach !== 'never').map((p) => ({ value: p.id, label: `${p.name}${view.proofs.has(p.id) ? ' ✓' : ''}` }))} onPick={setPicked} />
      ) : (
        <ScrollView contentContainerStyle={{ padding: 18, gap: 14, maxWidth: 720, width: '100%', paddingBottom: 40 }}>
          {view.secured === null ? <SecureForm /> : <SecuredSummary onProve={setPicked} />}
        </ScrollView>
      )}
    </JobFrame>
  );

  function SecuredSummary({ onProve }: { onProve: (p: string) => void }) {
    return (
      <>
        <Words at="title" bold role="heading">Secured and proved</Words>
        {view.secured?.people ? <Words testID="two-people">{`${view.secured.people.hands} has hands on. ${view.secured.people.board} is at the board and alone switches.`}</Words> : null}
        {[...view.proofs.keys()].map((p) => <Words key={p}>{`✓ ${map ? pointName(map, p) : p}`}</Words>)}
        <Label>Prove another point</Label>
        <Choice label="Point" value={null} onChange={onProve} options={(map?.points ?? []).filter((p) => p.reach !== 'never').map((p) => ({ value: p.id, label: p.name }))} />
        <LapseButtons />
        <Button label="Trace" kind="main" onPress={() => router.replace(`/job/${file.id}/trace`)} />
      </>
    );
  }
}

function LapseButtons() {
  const { record } = useJob();
  return (
    <View style={{ gap: 8 }}>
      <Label>If it is no longer so</Label>
      <Button label="I left the place" onPress={() => record({ type: 'lapsed', why: 'left' })} testID="i-left" />
      <Button label="The lock is off" kind="danger" onPress={() => record({ type: 'lapsed', why: 'lock off' })} />
    </View>
  );
}
