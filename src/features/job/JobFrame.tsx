import { useRouter } from 'expo-router';
import ChevronLeft from 'lucide-react-native/icons/chevron-left';
import { useRef, useState, type ReactNode } from 'react';
import { Pressable, ScrollView, useWindowDimensions, View } from 'react-native';
import { Button, Field, Problem, Sheet, usePageTitle, Words } from '@/components';
import { useTheme } from '@/theme';
import { exportJob } from '@/features/over/exportJob';
import { proofOf } from '@core/retest';
import { liveMetalWords } from '@core/wording';
import type { JobView } from '@core/job';
import { useJob } from './JobProvider';
import { WorkFailed } from './Working';
import { stageNames, stages, type Stage } from './stages';

const stageDone = (view: JobView): Readonly<Record<Stage, boolean>> => ({
  ask: view.asked.complaint !== null,
  map: view.map !== null,
  live: view.liveReadings.some((r) => !r.struck),
  dead: view.secured !== null && view.proofs.size > 0,
  trace: view.mends.length > 0,
  right: proofOf(view) === 'proved',
  over: view.status !== 'open',
});

/** What surrounds every stage: name, time, the rail of stages (a column on wide screens), and what storage says. */
export function JobFrame({ stage, children, aside }: { stage: Stage; children: ReactNode; aside?: ReactNode }) {
  const { wide, flat } = useTheme();
  const { view } = useJob();
  usePageTitle(`${stageNames[stage]}: ${view.name || 'Unnamed job'}`);
  if (wide) return <WideFrame stage={stage} aside={aside}>{children}</WideFrame>;
  return flat ? <FlatFrame stage={stage}>{children}</FlatFrame> : <PhoneFrame stage={stage}>{children}</PhoneFrame>;
}

/** The stages as tabs: what each is called, whether it is done or here, and what its press does. */
function useStageTabs(current: Stage) {
  const router = useRouter();
  const { file, view } = useJob();
  const done = stageDone(view);
  return stages.map((s) => ({
    stage: s, name: stageNames[s], here: s === current, done: done[s],
    tab: { role: 'tab' as const, 'aria-selected': s === current, 'aria-label': `${stageNames[s]}${done[s] ? ', done' : ''}`, testID: `stage-${s}`, onPress: () => router.replace(`/job/${file.id}/${s}`) },
  }));
}

function PhoneFrame({ stage, children }: { stage: Stage; children: ReactNode }) {
  const { colour, large } = useTheme();
  return (
    <View style={{ flex: 1, backgroundColor: colour.paper }}>
      <Head>
        <View style={{ flexDirection: 'row', alignItems: 'center', paddingRight: 14, minHeight: 52 }}>
          <ToAllJobs />
          <JobName />
          <Clock room={large ? 'least' : 'plenty'} />
        </View>
        <View style={{ paddingHorizontal: 8 }}><Tabs stage={stage} /></View>
      </Head>
      <Main>{children}</Main>
    </View>
  );
}

/** A phone on its side: one row for all that surrounds. */
function FlatFrame({ stage, children }: { stage: Stage; children: ReactNode }) {
  const { colour, text, large } = useTheme();
  const { width } = useWindowDimensions();
  return (
    <View style={{ flex: 1, backgroundColor: colour.paper }}>
      <Head>
        <View style={{ flexDirection: 'row', alignItems: 'center', paddingRight: 14, minHeight: 52, gap: 8 }}>
          <ToAllJobs />
          {width >= NAME_FROM * text ? <View style={{ flex: 1, minWidth: 0 }}><JobName /></View> : null}
          <View style={{ flexGrow: 1, flexShrink: 1, minWidth: 0 }}><Tabs stage={stage} /></View>
          <Clock room={large ? 'least' : 'little'} />
        </View>
      </Head>
      <Main>{children}</Main>
    </View>
  );
}

/** Narrower than this the row has no room for the name of the job. */
const NAME_FROM = 760;

/** What stands above every stage, and what is to be said first. */
function Head({ children }: { children: ReactNode }) {
  return (
    <View role="banner">
      {children}
      <Banners />
    </View>
  );
}

/** What the stage itself is, apart from all that surrounds it. */
function Main({ children }: { children: ReactNode }) {
  return <View role="main" style={{ flex: 1, minHeight: 0 }}>{children}</View>;
}

function ToAllJobs() {
  const { colour } = useTheme();
  const router = useRouter();
  return (
    <Pressable role="button" aria-label="All jobs" onPress={() => router.navigate('/')} style={{ width: 48, height: 48, alignItems: 'center', justifyContent: 'center' }}>
      <ChevronLeft color={colour.ink} size={28} strokeWidth={2.5} />
    </Pressable>
  );
}

/** All stages side by side; of large words, as many as there is room for, the stage in hand in sight. */
function Tabs({ stage }: { stage: Stage }) {
  const { colour, large } = useTheme();
  const tabs = useStageTabs(stage);
  const scroll = useRef<ScrollView>(null);
  const show = (s: Stage, x: number): void => {
    if (s === stage) scroll.current?.scrollTo({ x: Math.max(0, x - BEFORE_IT), animated: false });
  };
  const row = (
    <View role="tablist" style={{ flexDirection: 'row', gap: large ? 16 : 3 }}>
      {tabs.map(({ stage: s, name, here, done, tab }) => (
        <Pressable key={s} {...tab} onLayout={large ? (e) => show(s, e.nativeEvent.layout.x) : undefined} style={{ flexGrow: name.length + 2, minHeight: 46, justifyContent: 'flex-end', alignItems: 'stretch', gap: 5 }}>
          <Words at="small" bold={here} colour={here ? 'ink' : 'soft'} align="center" lines={1} style={{ fontSize: 13.5 }}>{name}</Words>
          <View style={{ height: here ? 5 : 3, borderRadius: 3, backgroundColor: here ? colour.ink : done ? colour.settled : colour.hairline }} />
        </Pressable>
      ))}
    </View>
  );
  return large ? <ScrollView ref={scroll} horizontal showsHorizontalScrollIndicator={false} style={{ flexGrow: 0 }}>{row}</ScrollView> : row;
}

/** Of the stage before the one in hand so much stays in sight, px: there is more to that side. */
const BEFORE_IT = 60;

function WideFrame({ stage, children, aside }: { stage: Stage; children: ReactNode; aside?: ReactNode }) {
  const { colour } = useTheme();
  const router = useRouter();
  const tabs = useStageTabs(stage);
  return (
    <View style={{ flex: 1, flexDirection: 'row', backgroundColor: colour.paper }}>
      <View role="navigation" style={{ width: 176, borderRightWidth: 1, borderRightColor: colour.hairline, padding: 12, gap: 2 }}>
        <Words at="lead" bold style={{ padding: 8, marginBottom: 12 }}>Gutter</Words>
        <View role="tablist" aria-orientation="vertical" style={{ gap: 2 }}>
          {tabs.map(({ stage: s, name, here, done, tab }, i) => (
            <Pressable key={s} {...tab} style={{ minHeight: 48, flexDirection: 'row', alignItems: 'center', gap: 12, paddingHorizontal: 10, borderRadius: 10, backgroundColor: here ? colour.ink : 'transparent' }}>
              <View aria-hidden style={{ width: 16 }}><Words bold={here} colour={here ? 'paper' : done ? 'ink' : 'soft'}>{done && !here ? '✓' : String(i + 1)}</Words></View>
              <Words bold={here} colour={here ? 'paper' : 'ink'}>{name}</Words>
            </Pressable>
          ))}
        </View>
        <View style={{ flex: 1 }} />
        <Button label="All jobs" kind="quiet" onPress={() => router.navigate('/')} style={{ justifyContent: 'flex-start' }} />
        <Button label="Settings" kind="quiet" onPress={() => router.navigate('/settings')} style={{ justifyContent: 'flex-start' }} />
      </View>
      <View style={{ flex: 1, minWidth: 0 }}>
        <Head>
          <View style={{ flexDirection: 'row', alignItems: 'center', gap: 16, paddingHorizontal: 20, minHeight: 56 }}>
            <JobName />
            {aside}
            <Clock />
          </View>
        </Head>
        <Main>{children}</Main>
      </View>
    </View>
  );
}

function JobName() {
  const { view, record } = useJob();
  const [name, setName] = useState<string | null>(null);
  const save = (): void => {
    if (name !== null && name.trim()) record({ type: 'renamed', name: name.trim() });
    setName(null);
  };
  return (
    <>
      <Pressable role="button" aria-label={`Rename ${view.name || 'job'}`} onPress={() => setName(view.name)} style={{ flex: 1, minWidth: 0, minHeight: 48, justifyContent: 'center' }}>
        <Words at="lead" bold role="heading" level={1} lines={1} style={{ fontSize: 20 }}>{view.name || 'Unnamed job'}</Words>
      </Pressable>
      {name !== null ? (
        <Sheet title="Name of the job" onClose={() => setName(null)} footer={<Button label="Save name" kind="main" onPress={save} />}>
          <Field label="Name" value={name} onChange={setName} onSubmit={save} autoFocus testID="job-name" />
        </Sheet>
      ) : null}
    </>
  );
}

/** Minutes used of those agreed; a tap starts or pauses. With the least room those used alone. */
function Clock({ room = 'plenty' }: { room?: 'plenty' | 'little' | 'least' }) {
  const { view, record } = useJob();
  const running = view.clockSince !== null;
  return (
    <Pressable role="button" aria-label={`${Math.round(view.minutesUsed)} of ${view.agreedMin} min, ${running ? 'running: pause the clock' : 'paused, tap to start the clock'}`} onPress={() => record({ type: 'clock', run: !running })} style={{ minHeight: 48, marginLeft: 10, justifyContent: 'center', alignItems: 'flex-end' }}>
      <View style={{ flexDirection: 'row', alignItems: 'baseline', gap: 6 }}>
        <Words figure bold>{String(Math.round(view.minutesUsed))}</Words>
        <Words figure colour="soft">{room === 'least' ? 'min' : room === 'little' ? `/ ${view.agreedMin} min` : `of ${view.agreedMin} min`}</Words>
      </View>
      <Words at="small" colour="soft" style={{ fontSize: 13.5, lineHeight: 15 }}>{running ? 'running' : room === 'plenty' ? 'paused, tap to start' : 'paused'}</Words>
    </Pressable>
  );
}

function Banners() {
  const { keeping, refusedEntry, dropRefused, lock, deleted, file, takeOver, waiting, dropWaiting, saveAgain, failed, view } = useJob();
  return (
    <View style={{ paddingHorizontal: 14, gap: 6, paddingTop: keeping === 'kept' && !refusedEntry && lock === 'writing' && !failed && !view.flags.length && !view.liveMetal ? 0 : 8 }}>
      {view.liveMetal && view.map ? <Problem testID="live-metal" text={liveMetalWords(view.map, view.liveMetal, view.secured !== null)} /> : null}
      {deleted ? <Problem testID="deleted-elsewhere" text="This job was deleted in another tab. It stays for 30 days: All jobs, Deleted jobs, Bring back." /> : null}
      {lock === 'reading' ? <Problem testID="reading-only" text="Another tab is writing this job. Here it can only be read." action={waiting ? undefined : 'Take over here'} onAction={takeOver} /> : null}
      {lock === 'reading' && waiting ? (
        <View style={{ gap: 6 }}>
          <Problem testID="waiting" text={`${waiting === 1 ? 'One entry' : `${waiting} entries`} made here ${waiting === 1 ? 'is' : 'are'} not in the job yet.`} action={`Take over here and enter ${waiting === 1 ? 'it' : 'them'}`} onAction={takeOver} />
          <Button label={waiting === 1 ? 'Drop it' : 'Drop them'} small onPress={dropWaiting} testID="drop-waiting" />
        </View>
      ) : null}
      {keeping === 'refused' ? (
        <View style={{ gap: 6 }}>
          <Problem testID="refused" text="The browser would not keep the last entry. It is still here, and stays while this page is open. Export the job now, then free some space." action="Export now" onAction={() => void exportJob(file)} />
          <Button label="Try to keep it again" onPress={saveAgain} />
        </View>
      ) : null}
      {refusedEntry ? <Problem testID="refused-entry" text="That entry was not taken: it holds a figure that cannot be. Nothing else was changed. Enter it once more." action="Understood" onAction={dropRefused} /> : null}
      <WorkFailed />
      {keeping === 'saving' ? <Words at="small" colour="soft" role="status" testID="saving">saving</Words> : null}
      {view.flags.slice(0, 1).map((f) => (
        <Problem key={f.event.id} text={flagWords[f.code] ?? 'An entry no longer fits what comes before it. It is kept, and left out.'} />
      ))}
    </View>
  );
}

const flagWords: Readonly<Record<string, string>> = {
  'flag.notOut': 'The record puts an end back that was not out. Look at the state and correct it.',
  'flag.noLink': 'The record removes a link that was not there. Look at the state and correct it.',
  'flag.edit': 'A change of the map no longer fits. It is kept in the record, and left out.',
  'flag.noMap': 'A change of the map came before the map. It is kept in the record, and left out.',
};
