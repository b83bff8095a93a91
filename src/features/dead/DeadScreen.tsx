import { useLocalSearchParams, useRouter } from 'expo-router';
import { useState } from 'react';
import { ScrollView, View } from 'react-native';
import { Button, Caution, Choice, Field, Label, Problem, Tick, Words } from '@/components';
import { JobFrame } from '@/features/job/JobFrame';
import { useJob } from '@/features/job/JobProvider';
import { useTheme } from '@/theme';
import { boardOf } from '@core/installation';
import { colourCaution, notDeadReasons, pointName } from '@core/wording';
import { ProvePoint } from './ProvePoint';

/** Two records: the circuit is secured; the point is proved. Nothing is filled in beforehand. */
export function DeadScreen() {
  const { view, advice, file } = useJob();
  const router = useRouter();
  const params = useLocalSearchParams<{ point?: string; points?: string }>();
  const { map } = view;
  const wanted = (params.points ?? '').split(',').filter(Boolean);
  const board = map ? (boardOf(map)?.id ?? '') : '';
  const next = wanted.find((p) => !view.proofs.has(p)) ?? (view.proofs.has(board) ? null : board);
  const [picked, setPicked] = useState<string | null>(null);
  const point = picked ?? next;
  if (!map) return <JobFrame stage="dead"><Words style={{ padding: 18 }}>Draft the circuit first, so that it can be said what is made dead.</Words></JobFrame>;
  const proving = view.secured !== null && point !== null;
  return (
    <JobFrame stage="dead">
      {proving ? (
        <ProvePoint key={`${point} ${view.everyProof.length}`} map={map} point={point} toEarth={advice?.earthDoubt ?? true} onDone={() => {
          setPicked(null);
          if (!wanted.some((p) => p !== point && !view.proofs.has(p))) router.replace(`/job/${file.id}/trace`);
        }} onOther={() => setPicked(null)} others={map.points.filter((p) => p.reach !== 'never').map((p) => ({ value: p.id, label: `${p.name}${view.proofs.has(p.id) ? ' ✓' : ''}` }))} onPick={setPicked} />
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

function SecureForm() {
  const { view, record } = useJob();
  const { colour } = useTheme();
  const [permission, setPermission] = useState(false);
  const [off, setOff] = useState(false);
  const [locked, setLocked] = useState(false);
  const [key, setKey] = useState('');
  const [tried, setTried] = useState(false);
  const missing = [permission ? '' : 'permission', off ? '' : 'switched off', locked ? '' : 'locked and tagged', key.trim() ? '' : 'who has the key'].filter(Boolean);
  const keep = (): void => {
    setTried(true);
    if (missing.length === 0) record({ type: 'secured', permission, off, locked, key: key.trim() });
  };
  return (
    <>
      <Words at="title" bold role="heading">Secure the circuit</Words>
      {view.notDead ? <Problem text={`${view.map ? pointName(view.map, view.notDead.point) : ''} was not dead: ${view.notDead.volt} V. Find what feeds it before anything is touched.`} /> : null}
      {view.notDead && view.map ? (
        <View testID="not-dead-reasons" style={{ gap: 4 }}>
          <Label>Likely, first to last</Label>
          {notDeadReasons(view.map, view.notDead.point, view.notDead.from, view.notDead.to).map((r, i) => <Words key={r}>{`${i + 1}. ${r}`}</Words>)}
        </View>
      ) : null}
      <Tick label="The customer has agreed to switching off" value={permission} onChange={setPermission} testID="permission" />
      <Tick label="Loads are off, then the way is off" value={off} onChange={setOff} testID="off" />
      <Tick label="Locked and tagged" value={locked} onChange={setLocked} testID="locked" />
      <Field label="Who has the key" value={key} onChange={setKey} onSubmit={keep} testID="key" />
      <Choice label="Key" value={key === 'with me' ? 'with me' : null} onChange={setKey} options={[{ value: 'with me', label: 'With me' }]} />
      <Caution>The incoming tails at the board stay live. Shroud them, or isolate upstream where that can be done. A lamp that went out proves nothing. {colourCaution}</Caution>
      {tried && missing.length ? <Words bold colour="danger" role="alert" testID="secure-missing">{`Not yet secured: ${missing.join(', ')}.`}</Words> : null}
      <Button label="Record: secured" onPress={keep} testID="secure" style={{ borderColor: colour.ink }} />
    </>
  );
}
