import { useRouter } from 'expo-router';
import { useState } from 'react';
import { FlatList, View } from 'react-native';
import { Button, Field, Label, Problem, RowButton, Sheet, usePageTitle, Words } from '@/components';
import { pickFile } from '@/files';
import { PURGE_AFTER_MS, type JobMeta } from '@/storage/meta';
import { useTheme } from '@/theme';
import { issueText } from '@core/wording/issues';
import { Refused } from './refused';
import { useJobActions, useJobList, useUnkept } from './useJobs';
import { useWorkAhead } from './useWorkAhead';

const problemOf = (error: unknown): string => (error instanceof Refused ? issueText(error.issue) : 'That did not work. Try it once more; nothing was changed.');

/** So many rows fill any screen; the rest follow as they are scrolled to. */
const FIRST_ROWS = 14;

/** All call-outs, the one in hand on top. */
export function JobsScreen() {
  const { colour, wide } = useTheme();
  const router = useRouter();
  const list = useJobList();
  const actions = useJobActions();
  const [menu, setMenu] = useState<JobMeta | null>(null);
  const [undo, setUndo] = useState<JobMeta | null>(null);
  const jobs = (list.data ?? []).filter((j) => j.deletedAt === null);
  const deleted = (list.data ?? []).filter((j) => j.deletedAt !== null);
  const [showDeleted, setShowDeleted] = useState(false);
  const unkept = useUnkept();
  usePageTitle('Gutter');
  useWorkAhead(list.isSuccess);
  const error = actions.open.error ?? actions.demo.error ?? actions.remove.error ?? actions.rename.error ?? actions.restore.error ?? list.error;
  const openFile = async (): Promise<void> => {
    const file = await pickFile('.json,application/json');
    if (file) actions.open.mutate(file.text, { onSuccess: (job) => router.push(`/job/${job.id}/trace`) });
  };
  const head = (
    <>
      <View style={{ flexDirection: 'row', alignItems: 'center', justifyContent: 'space-between' }}>
        <Words at="big" bold role="heading" level={1}>Gutter</Words>
        <Button label="Settings" kind="quiet" onPress={() => router.push('/settings')} />
      </View>
      {error ? <Problem text={problemOf(error)} /> : null}
      {unkept.map((id) => <Problem key={id} testID="unkept" text={`Entries of “${list.data?.find((j) => j.id === id)?.name || 'Unnamed job'}” are not kept: the browser refused them. They are lost when this page is closed.`} action="Open it and export" onAction={() => router.push(`/job/${id}/over`)} />)}
      {undo ? <Problem testID="undo" text={`“${undo.name || 'Unnamed job'}” is deleted. It stays for 30 days.`} action="Undo" onAction={() => actions.restore.mutate(undo.id, { onSuccess: () => setUndo(null) })} /> : null}
      {list.isSuccess && jobs.length === 0 ? (
        <View style={{ gap: 12, paddingVertical: 24 }}>
          <Words at="title" bold>No jobs yet</Words>
          <Words>Draft the circuit, make it dead, and say what the meter says. Gutter shows what can still be wrong, where, and which reading to take next.</Words>
          <Words>To try it on a sofa, walk the pottery: a made-up place with hidden faults and a practice tester.</Words>
          <Button label="Walk the pottery" onPress={() => actions.demo.mutate()} testID="walk-pottery" />
        </View>
      ) : null}
      {jobs.length ? <Label>Jobs</Label> : null}
    </>
  );
  const foot = (
    <>
      <View style={{ flexDirection: 'row', flexWrap: 'wrap', gap: 8 }}>
        <Button label="Open a job file" onPress={() => void openFile()} testID="open-file" />
        {jobs.length && !jobs.some((j) => j.demo) ? <Button label="Walk the pottery" onPress={() => actions.demo.mutate()} /> : null}
        {deleted.length ? <Button label={showDeleted ? 'Hide deleted jobs' : `Deleted jobs: ${deleted.length}`} onPress={() => setShowDeleted(!showDeleted)} testID="show-deleted" /> : null}
      </View>
      {showDeleted && deleted.length ? <Deleted jobs={deleted} onRestore={(id) => actions.restore.mutate(id, { onSuccess: () => setUndo(null) })} /> : null}
    </>
  );
  return (
    <View role="main" style={{ flex: 1, backgroundColor: colour.paper }}>
      <FlatList
        data={jobs} keyExtractor={(j) => j.id} initialNumToRender={FIRST_ROWS}
        renderItem={({ item: j }) => <JobRow job={j} onOpen={() => router.push(`/job/${j.id}/${j.stage ?? (j.readings ? 'trace' : 'map')}`)} onMenu={() => setMenu(j)} />}
        contentContainerStyle={{ padding: 18, width: '100%', maxWidth: 760, alignSelf: wide ? 'center' : 'auto', paddingBottom: 120 }}
        ListHeaderComponentStyle={{ gap: 14 }} ListHeaderComponent={head}
        ListFooterComponentStyle={{ gap: 14, marginTop: 22 }} ListFooterComponent={foot}
      />
      <View style={{ position: 'absolute', left: 0, right: 0, bottom: 0, padding: 14, backgroundColor: colour.paper, borderTopWidth: 1, borderTopColor: colour.hairline, alignItems: 'center' }}>
        <Button label="New job" kind="main" onPress={() => router.push('/new')} testID="new-job" style={{ width: '100%', maxWidth: 724 }} />
      </View>
      {menu ? <JobMenu job={menu} onClose={() => setMenu(null)} onRename={(name) => actions.rename.mutate({ id: menu.id, name }, { onSuccess: () => setMenu(null) })} onDelete={() => actions.remove.mutate(menu.id, { onSuccess: () => {
        setUndo(menu);
        setMenu(null);
      } })} /> : null}
    </View>
  );
}

/** Minutes as the job itself shows them: a clock that runs goes on while nobody looks. */
const minutesNow = (j: JobMeta): number => j.minutes + (typeof j.runningSince === 'number' ? Math.max(0, Date.now() - j.runningSince) / 60000 : 0);

function JobRow({ job, onOpen, onMenu }: { job: JobMeta; onOpen: () => void; onMenu: () => void }) {
  const { colour, large } = useTheme();
  const stands = job.stands ?? (job.readings ? `${job.readings} ${job.readings === 1 ? 'reading' : 'readings'}` : 'no readings yet');
  return (
    <View style={{ flexDirection: 'row', alignItems: 'center', borderBottomWidth: 1, borderBottomColor: colour.hairline }}>
      <RowButton testID={`job-${job.name}`} onPress={onOpen} style={{ flex: 1, borderBottomWidth: 0, paddingVertical: 12, ...(large ? { flexDirection: 'column', alignItems: 'flex-start', gap: 4 } : {}) }}>
        <View style={large ? { minWidth: 0, width: '100%' } : { flex: 1, minWidth: 0 }}>
          <Words at="lead" bold lines={1}>{job.name || 'Unnamed job'}</Words>
          {job.wrong ? <Words at="small" lines={2}>{job.wrong}</Words> : null}
          <Words at="small" colour="soft" lines={2} testID={`stands-${job.name}`}>{stands}</Words>
        </View>
        <View style={large ? { flexDirection: 'row', flexWrap: 'wrap', columnGap: 12 } : { alignItems: 'flex-end' }}>
          <Words figure at="small">{`${Math.round(minutesNow(job))} of ${job.agreedMin} min`}</Words>
          <Words at="small" colour={job.status === 'open' ? 'ink' : 'soft'}>{job.status === 'open' ? 'open' : job.status}</Words>
        </View>
      </RowButton>
      <Button label="More" kind="quiet" accessibilityLabel={`More about ${job.name}`} onPress={onMenu} />
    </View>
  );
}

/** Days that a deleted job is still kept, today counted. */
const daysLeft = (j: JobMeta): number => Math.max(1, Math.ceil(((j.deletedAt ?? 0) + PURGE_AFTER_MS - Date.now()) / DAY_MS));
const DAY_MS = 24 * 3600 * 1000;

/** What was deleted, until it goes for good. */
function Deleted({ jobs, onRestore }: { jobs: readonly JobMeta[]; onRestore: (id: string) => void }) {
  const { colour } = useTheme();
  return (
    <View testID="deleted">
      <Label>Deleted, kept for 30 days</Label>
      {jobs.map((j) => (
        <View key={j.id} style={{ flexDirection: 'row', alignItems: 'center', gap: 10, borderBottomWidth: 1, borderBottomColor: colour.hairline, paddingVertical: 8 }}>
          <View style={{ flex: 1, minWidth: 0 }}>
            <Words bold lines={1}>{j.name || 'Unnamed job'}</Words>
            <Words at="small" colour="soft">{`${j.readings} ${j.readings === 1 ? 'reading' : 'readings'}; ${daysLeft(j)} ${daysLeft(j) === 1 ? 'day' : 'days'} left`}</Words>
          </View>
          <Button label="Bring back" small accessibilityLabel={`Bring back ${j.name || 'unnamed job'}`} onPress={() => onRestore(j.id)} />
        </View>
      ))}
    </View>
  );
}

function JobMenu({ job, onClose, onRename, onDelete }: { job: JobMeta; onClose: () => void; onRename: (name: string) => void; onDelete: () => void }) {
  const [name, setName] = useState(job.name);
  return (
    <Sheet title={job.name || 'Unnamed job'} onClose={onClose}>
      <Field label="Name" value={name} onChange={setName} onSubmit={() => onRename(name)} />
      <Button label="Save name" onPress={() => onRename(name)} disabled={!name.trim()} />
      <Button label="Delete" kind="danger" onPress={onDelete} />
    </Sheet>
  );
}
