import { useRouter } from 'expo-router';
import { useMemo, useState } from 'react';
import { ScrollView, View } from 'react-native';
import { Button, Label, Words } from '@/components';
import { JobFrame } from '@/features/job/JobFrame';
import { useJob } from '@/features/job/JobProvider';
import { useTheme } from '@/theme';
import type { LookView, StepView } from '@core/advice';
import { liveBefore } from '@/features/live/liveBefore';
import { circuitOfWay, circuitMap, labelOfWay, waysOfBoard } from '@core/installation';
import type { Probe } from '@core/probes';
import { BoardChangeSheet, BoardGrid, describeBoard, WaySheet, type WayRow } from './board';
import { ChoosePlace } from './ChoosePlace';
import { Early } from './Early';
import { NextStep } from './NextStep';
import { ReadingPad } from './ReadingPad';
import { Readings } from './Readings';
import { StateBar, StateSheet } from './StateSheet';
import { StepSheet } from './StepSheet';
import { Spoken } from './Spoken';
import { describeStrip, Strip, StripAcross, type StripRow } from './strip';
import { Suspects } from './Suspects';
import { Tray } from './Tray';
import { useKeepAwake, useShortcuts } from './useShortcuts';
import { LookSheet } from './LookSheet';

type Open = 'nothing' | 'state' | 'suspects' | 'readings' | 'step' | 'change' | 'look';

/** The heart: strip, next step, pad, what it means. One thumb on a phone, side by side on a wide screen. */
export function TraceScreen() {
  const job = useJob();
  const { view, advice, file } = job;
  const { wide, flat, low, leftHand } = useTheme();
  const router = useRouter();
  const [open, setOpen] = useState<Open>('nothing');
  const [look, setLook] = useState<Pick<LookView, 'point' | 'outside' | 'plug' | 'bar'> | null>(null);
  const [row, setRow] = useState<StripRow | null>(null);
  const [way, setWay] = useState<WayRow | null>(null);
  /** The way whose circuit is gone into; null: the board itself. */
  const [inside, setInside] = useState<string | null>(null);
  /** Lead parked, way after way: what is still to read. */
  const [sweep, setSweep] = useState<readonly Probe[]>([]);
  const [leads, setLeads] = useState<readonly string[][]>([]);
  const [pad, setPad] = useState<Probe | null>(null);
  /** The pad was opened by the routine before a board change, and leads back to it. */
  const [fromChange, setFromChange] = useState(false);
  /** The step in hand: it stays until it is done or laid aside, though the plan moves on with every entry. */
  const [held, setHeld] = useState<StepView | null>(null);
  /** Which of the offered steps is shown; counts only for the advice it was chosen in. */
  const [chosen, setChosen] = useState({ events: 0, index: 0 });
  const [lifted, setLifted] = useState(low);
  useKeepAwake();
  const choice = chosen.events === file.events.length ? chosen.index : 0;
  const nextChoice = (): void => setChosen({ events: file.events.length, index: (choice + 1) % Math.max(1, advice?.steps.length ?? 1) });
  const live = held ? null : liveBefore(view, advice);
  const step = held ?? (live ? null : (advice?.steps[choice] ?? null));
  const drawn = useMemo(() => (view.map && inside ? { ...view, map: circuitMap(view.map, inside) } : view), [view, inside]);
  const rows = useMemo(() => describeStrip(drawn, advice, pad ?? (leads.length ? null : (step?.probes[0] ?? null)), leads.flat()), [drawn, advice, pad, leads, step]);
  const isBoard = view.map?.shape === 'board' && inside === null;
  const grid = useMemo(() => (isBoard ? describeBoard(view, advice, pad ?? step?.probes[0] ?? null) : null), [isBoard, view, advice, pad, step]);
  const start = (): void => {
    if (!step) return;
    setHeld(step);
    setOpen('step');
  };
  const enter = (probe: Probe): void => {
    setOpen('nothing');
    setRow(null);
    setWay(null);
    setPad(probe);
  };
  useShortcuts(pad || row || way || open !== 'nothing' ? {} : { r: start, x: () => step && laterFor(step), o: nextChoice, s: () => setOpen('state'), w: () => setOpen('suspects'), l: () => setOpen('readings') });
  const laterFor = (s: StepView): void => {
    job.record({ type: 'notNow', step: s.key });
    setHeld(null);
  };
  const closePad = (kept: boolean): void => {
    setPad(null);
    if (fromChange) {
      setFromChange(false);
      return setOpen('change');
    }
    setLeads([]);
    const [next, ...later] = kept ? sweep : [];
    setSweep(later);
    if (next) return setPad(next);
    if (!kept || !held) return;
    const after = held.probes.slice(held.probes.findIndex((p) => p === pad) + 1);
    if (after.length && pad && held.probes.includes(pad)) setPad(after[0] as Probe);
    else setHeld(null);
  };
  const summary = view.map ? (inside ? labelOfWay(view.map, inside) : `${isBoard ? waysOfBoard(view.map).length : view.map.points.length - 1} ${isBoard ? 'ways' : 'points'} · ${view.phrase}`) : '';
  const { map } = view;
  const undrawn = map && waysOfBoard(map).find((w) => circuitOfWay(map, w.id).points.some((p) => p.id === advice?.verdict.place))?.id;
  const back = inside && view.map ? <Button label={`${labelOfWay(view.map, inside)}: back to the board`} small onPress={() => setInside(null)} testID="to-board" /> : null;
  const nextStep = <NextStep step={step} live={live} held={held !== null} choice={choice} onStart={start} onLater={() => step && laterFor(step)} onOther={nextChoice} onReading={() => setOpen('readings')} onWhy={() => setOpen('suspects')} onLook={(look) => { setLook(look); setOpen('look'); }} onStage={(stage) => router.replace(`/job/${file.id}/${stage}`)} onDraw={() => router.replace(`/job/${file.id}/map${undrawn ? `?way=${undrawn}` : ''}`)} lifted={lifted} onLift={() => setLifted(!lifted)} onRepeat={enter} />;
  const tray = leads.length ? <Tray leads={leads} onClear={() => setLeads([])} onEnter={enter} /> : null;
  const lead = (place: string, tie: boolean): void => {
    setLeads((now) => (tie && now.length ? [...now.slice(0, -1), [...(now.at(-1) ?? []), place]] : now.length >= 2 ? [[place]] : [...now, [place]]));
    setRow(null);
    setWay(null);
  };
  const sheets = (
    <>
      <Spoken />
      {way ? <WaySheet row={way} leads={leads} onLead={lead} onClose={() => setWay(null)} onInside={() => { setInside(way.way); setWay(null); }} onDraw={() => router.replace(`/job/${file.id}/map?way=${way.way}`)} /> : null}
      {row ? <ChoosePlace row={row} leads={leads} onLead={lead} onClose={() => setRow(null)} /> : null}
      {open === 'change' ? <BoardChangeSheet onClose={() => setOpen('nothing')} onRead={(probe) => { enter(probe); setFromChange(true); }} /> : null}
      {open === 'look' && look ? <LookSheet look={look} onClose={() => setOpen('nothing')} /> : null}
      {open === 'state' ? <StateSheet onClose={() => setOpen('nothing')} /> : null}
      {open === 'step' && held ? <StepSheet step={held} onClose={() => { setOpen('nothing'); setHeld(null); }} onEnter={enter} onProve={(points) => router.push(`/job/${file.id}/dead?points=${points.join(',')}`)} /> : null}
      {!wide && open === 'suspects' ? <Suspects asSheet onClose={() => setOpen('nothing')} /> : null}
      {!wide && open === 'readings' ? <Readings asSheet onClose={() => setOpen('nothing')} /> : null}
      {pad ? <ReadingPad key={JSON.stringify(pad)} probe={pad} onDone={closePad} onState={() => setOpen('state')} /> : null}
    </>
  );
  const picture = grid ? <BoardGrid ways={grid.ways} bars={grid.bars} onCell={enter} onSweep={(probes) => {
    const [first, ...later] = probes;
    if (!first) return;
    setSweep(later);
    enter(first);
  }} onWay={setWay} onChange={() => setOpen('change')} /> : null;
  if (!view.map) return <JobFrame stage="trace"><Early onDraw={() => router.replace(`/job/${file.id}/map`)} /></JobFrame>;
  const meaning = (
    <>
      <Panel grow={1.3}><Label>What can still be wrong</Label><Suspects onClose={() => undefined} /></Panel>
      <Panel grow={1}><Label>Readings</Label><Readings onClose={() => undefined} /></Panel>
    </>
  );
  if (wide)
    return (
      <JobFrame stage="trace" aside={<Words at="small" colour="soft">{summary}</Words>}>
        <ScrollView contentContainerStyle={{ paddingHorizontal: 20, paddingBottom: 20, gap: 12 }}>
          <StateBar onPress={() => setOpen('state')} />
          {back}
          {picture ? null : <Panel><StripAcross rows={rows} onRow={setRow} /></Panel>}
          {tray}
          <View style={{ flexDirection: 'row', gap: 12, alignItems: 'flex-start' }}>
            {picture ? <Panel grow={1.6}>{picture}</Panel> : null}
            <Panel grow={1.15}>{nextStep}</Panel>
            {picture ? null : meaning}
          </View>
          {picture ? <View style={{ flexDirection: 'row', gap: 12, alignItems: 'flex-start' }}>{meaning}</View> : null}
        </ScrollView>
        {sheets}
      </JobFrame>
    );
  if (flat)
    return (
      <JobFrame stage="trace">
        <View style={{ flex: 1, flexDirection: leftHand ? 'row-reverse' : 'row', minHeight: 0 }}>
          <View style={{ flex: picture ? 1.3 : 1, minWidth: 0 }}>
            {back ? <View style={{ paddingHorizontal: 12, paddingTop: 6 }}>{back}</View> : null}
            {picture ?? <Strip rows={rows} onRow={setRow} bottomSpace={24} />}
          </View>
          <View style={{ flex: picture ? 1 : 1.1, minWidth: 0, minHeight: 0 }}>
            <View style={{ paddingHorizontal: 12, paddingVertical: 6 }}><StateBar onPress={() => setOpen('state')} /></View>
            <View style={{ flex: 1 }} />
            {tray ?? nextStep}
          </View>
        </View>
        {sheets}
      </JobFrame>
    );
  return (
    <JobFrame stage="trace">
      <View style={{ paddingHorizontal: 12, paddingTop: 10 }}><StateBar onPress={() => setOpen('state')} /></View>
      {back ? <View style={{ paddingHorizontal: 12, paddingTop: 6 }}>{back}</View> : null}
      {picture ?? <Strip rows={rows} onRow={setRow} bottomSpace={24} />}
      {/* With a lead in hand the picture is what is worked on: the card makes room for it. */}
      {tray ?? nextStep}
      {sheets}
    </JobFrame>
  );
}

function Panel({ children, grow }: { children: React.ReactNode; grow?: number }) {
  const { colour } = useTheme();
  return <View style={{ backgroundColor: colour.sheet, borderWidth: 1, borderColor: colour.hairline, borderRadius: 12, padding: 14, gap: 8, flex: grow, minWidth: 0 }}>{children}</View>;
}
