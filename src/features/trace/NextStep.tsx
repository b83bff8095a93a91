import { Pressable, ScrollView, useWindowDimensions, View } from 'react-native';
import { Button, Caution, Label, OutcomeRow, Words } from '@/components';
import { useJob } from '@/features/job/JobProvider';
import { WorkingOn } from '@/features/job/Working';
import { useProfile } from '@/features/settings/useProfile';
import { useTheme } from '@/theme';
import { drawKey, ENOUGH, leaksBeyond, type LiveStepView, type LookView, type StepView } from '@core/advice';
import { isFault, suspectsOf } from '@core/faults';
import type { JobView } from '@core/job';
import { probeKey, type Probe } from '@core/probes';
import { formatMinutes, formatShare } from '@core/units';
import { beliefPlaceName, devicesFound, devicesFoundWords, enoughGuide, leakageMayTrip, nothingFoundTitle, explainsText, liveStepTitle, liveWhy, lookTitle, outcomeMeaning, outcomeRange, pointName, probeWords, questionWords, stepTitle, soundGuide, suspectTitle, verdictGuide, verdictTitle, whyText } from '@core/wording';
import { useMemo, type ReactNode } from 'react';
import { HowFound } from './HowFound';
import { StillIn } from './StillIn';
import { WhatHelps } from './WhatHelps';

interface Props {
  step: StepView | null; /** The step with the supply on that goes before it. */ live: LiveStepView | null; held: boolean; choice: number; lifted: boolean;
  onStart: () => void; onLater: () => void; onOther: () => void; onReading: () => void; onWhy: () => void; onStage: (stage: 'ask' | 'live' | 'dead' | 'right') => void; onDraw: () => void; onLift: () => void; onLook: (look: Pick<LookView, 'point' | 'outside' | 'plug' | 'bar'>) => void; onRepeat: (p: Probe) => void;
}


/** The point opened last, if it is proved and nobody has looked into it: eyes come free there. */
function openHere(view: JobView): string | null {
  const last = view.state.opened.filter((p) => view.map?.points.find((x) => x.id === p)?.kind !== 'board').at(-1);
  return last !== undefined && view.proofs.has(last) && !view.asked.seen.some((x) => x.place === last && x.what !== 'nothingIn') ? last : null;
}

/** A plug at the place that is out by the record alone: one that stayed in reads as the place itself would. */
function plugByRecord(view: JobView, place: string): string | null {
  const load = view.map?.points.find((p) => p.id === place)?.elements.find((e) => e.kind === 'load' && e.unplugs && view.state.loadsOut.includes(`${place}.${e.id}`));
  return load ? `${place}.${load.id}` : null;
}

/** One card: what to do, what each outcome would mean, what it costs; or the verdict. */
export function NextStep(props: Props) {
  const { colour, wide, flat, low } = useTheme();
  const { height } = useWindowDimensions();
  const body = <StepBody {...props} above={<>{props.lifted ? null : <HowFound />}<WorkingOn /></>} />;
  if (wide) return <View style={{ gap: 8 }} testID="next-step">{body}</View>;
  return (
    <View testID="next-step" style={{ backgroundColor: colour.sheet, borderTopLeftRadius: 18, borderTopRightRadius: 18, borderWidth: 1.5, borderBottomWidth: 0, borderColor: colour.edge, paddingHorizontal: 14, paddingBottom: 14, paddingTop: 6, gap: 8, ...(flat ? { flexShrink: 1, minHeight: 0 } : low ? { maxHeight: height - LOW_ABOVE } : {}) }}>
      <Pressable role="button" aria-label={props.lifted ? 'Show the step' : 'Lift the card away'} onPress={props.onLift} style={{ height: 22, alignItems: 'center', justifyContent: 'center', marginBottom: -4 }} hitSlop={14}>
        <View style={{ width: 44, height: 5, borderRadius: 3, backgroundColor: colour.edge }} />
      </Pressable>
      {body}
    </View>
  );
}

/** What stands above the card at the least, px: head, state, and of the picture two rows. On its side the picture stands beside it, and the card has what the state leaves. */
const LOW_ABOVE = 280;

/** What the card says, and the main thing to do: on a low screen the one scrolls, the other stays in reach. */
function Card({ children, main }: { children: ReactNode; main?: ReactNode }) {
  const { low, wide } = useTheme();
  if (wide || !low) return <>{children}{main}</>;
  return <><ScrollView style={{ flexShrink: 1 }} contentContainerStyle={{ gap: 8 }}>{children}</ScrollView>{main}</>;
}

function StepBody({ above, step, live, held, choice, lifted, onStart, onLater, onOther, onReading, onWhy, onStage, onDraw, onLook }: Props & { /** What goes before all that. */ above: ReactNode }) {
  const { view, advice, thinking, record } = useJob();
  const [profile] = useProfile();
  const { wide, flat, low, large, leftHand } = useTheme();
  const { map } = view;
  const titles = useMemo(() => new Map((map ? suspectsOf(map) : []).map((s) => [s.id, map ? suspectTitle(map, s) : s.id])), [map]);
  if (!map) return null;
  const row = { flexDirection: leftHand ? 'row-reverse' : 'row', flexWrap: large ? 'wrap' : 'nowrap', gap: 8 } as const;
  const titleSize = large ? { fontSize: 17, lineHeight: 21 } : { fontSize: 20, lineHeight: 25 };
  const inside = held ? null : openHere(view);
  const lookInside = inside === null ? null : <Button label={wide ? `Look inside ${pointName(map, inside)}` : 'Look inside'} small onPress={() => onLook({ point: inside, outside: false, plug: null, bar: null })} testID="look-inside" />;
  const lists = wide ? lookInside : (
    <>
      {lookInside}
      <Button label="What it means" small onPress={onWhy} testID="open-suspects" />
      <Button label={['Readings', view.readings.length || ''].join(' ').trim()} small onPress={onReading} testID="open-readings" />
    </>
  );
  const verdict = advice?.verdict;
  const look = held ? null : (advice?.look ?? null);
  const lookFirst = look && !lifted ? <Button label={`Look first: ${lookTitle(map, look)}`} small onPress={() => onLook(look)} testID="look-first" /> : null;
  const likeliest = advice?.suspects[0];
  const devices = devicesFound(view, profile);
  // What leaks in use is said by its figures.
  const leaks = leakageMayTrip(view, devices);
  const mended = view.mends.length > 0;
  const besides = devicesFoundWords(view, devices, profile).map((line) => <Caution key={line} testID="device-found">{line}</Caution>);
  const leaveIt = (): void => {
    if (verdict) record({ type: 'leftIt', fine: verdict.share });
    onStage('right');
  };
  if (verdict?.says === 'draw' || verdict?.says === 'drawNext') {
    const known = verdict.says === 'draw';
    const fresh = !known && !advice?.hasReadings;
    const way = beliefPlaceName(map, verdict.place);
    return (
      <Card main={<Button label={fresh ? `Draw ${way}` : 'Draw this circuit'} kind="main" onPress={onDraw} testID="to-draw" />}>
        {above}
        {fresh ? <Label>Next step</Label> : <Head label={known ? 'Which circuit' : 'Next step'} figure={formatShare(verdict.share)} belief />}
        <Words at="title" bold testID="verdict">{known ? `It is on ${way}` : fresh ? 'Draw the circuit where it is felt' : `Draw ${way}, and go into it`}</Words>
        {lookFirst}
        {known && likeliest ? <Words testID="likeliest">{`Likeliest: ${suspectTitle(map, likeliest)}, ${formatShare(likeliest.share)}.`}</Words> : null}
        {lifted ? null : <Words>{known ? 'Its points are not drawn, so the board tells no more. Draw what can be seen of it and go into it, or leave the way off and labelled.' : fresh ? `Little of it can be read at the board. Choose its way in the list, or begin with ${way}.` : `Going into it promises more than anything that can still be read without. The chance that something is wrong on this circuit is ${formatShare(verdict.share)}, and no smaller than on any other that is not drawn; drawn, it can be read at its points.`}</Words>}
        <View style={row}>{lists}{known ? <Button label="Put right" small onPress={() => onStage('right')} testID="to-right" /> : <Button label="Not now" small onPress={() => record({ type: 'notNow', step: drawKey(verdict.place) })} testID="draw-later" />}</View>
      </Card>
    );
  }
  if (verdict && (verdict.says === 'place' || verdict.says === 'sound' || verdict.says === 'unknown' || verdict.says === 'two')) {
    const title = verdict.says === 'two' ? 'Two faults, not one' : verdict.says === 'sound' ? nothingFoundTitle(view.asked.complaint, { leaks, mended }) : verdict.says === 'unknown' ? 'Nothing on this map explains it' : advice.suspects.length ? verdictTitle(map, advice.suspects, verdict.surely) : beliefPlaceName(map, verdict.place);
    const plug = verdict.says === 'place' ? plugByRecord(view, verdict.place) : null;
    const open = verdict.says === 'place' && verdict.surely && (verdict.surely.kind === null || verdict.surely.conductors === null) ? verdict.surely.open : [];
    return (
      <Card main={verdict.says === 'sound' ? <Button label="Leave it here" kind="main" onPress={leaveIt} testID="to-right" /> : <Button label="Put right" kind="main" onPress={() => onStage('right')} testID="to-right" />}>
        {above}
        <Head label="Verdict" figure={formatShare(verdict.share)} belief />
        <Words at="title" bold testID="verdict">{title}</Words>
        {verdict.says === 'two' ? advice.suspects.slice(0, 2).map((s, i) => <Words key={s.id} testID={`fault-${i + 1}`}>{`${i + 1}. ${suspectTitle(map, s)}`}</Words>) : null}
        {verdict.says === 'two' && !lifted ? <Words>Mending the one alone leaves the other, and it may be silent then. Put both right, then test.</Words> : null}
        {lifted || open.length < 2 ? null : <Words testID="still-open">{`Which it is, is open: ${open.map((o) => `${titles.get(o.id) ?? o.id} ${formatShare(o.share)}`).join(', ')}.`}</Words>}
        {lifted || verdict.says === 'two' ? null : verdict.says === 'place' ? (
          <Words testID="verdict-guide">{verdictGuide(map, verdict, plug !== null, view.state.opened)}</Words>
        ) : verdict.says === 'sound' ? <Words testID="sound-guide">{soundGuide(map, view.asked.complaint, view.state.on)}</Words> : <Words>Doubt the last reading, then the recorded state, then the map: a second fault, or a cable that is not drawn.</Words>}
        {!lifted && verdict.says === 'sound' ? besides : null}
        {plug && !lifted ? <StillIn fact={{ kind: 'loadIn', place: `state ${plug}` }} /> : null}
        {verdict.says === 'place' && likeliest && leaksBeyond(view, likeliest) ? <Caution testID="leak-beyond">An earth that is out has no volts by itself: something leaks beyond it. Mending the one alone leaves the other. Before power, read L–E and N–E there with the loads in.</Caution> : null}
        {verdict.says === 'place' && likeliest?.explains.says === 'no' ? <Caution testID="not-it">{`${explainsText(map, likeliest.explains)} Put it right, note it, and look on for what does.`}</Caution> : null}
        {!lifted && verdict.says === 'place' && step && open.length > 1 ? <Button label={`To tell which: ${stepTitle(map, step)}`} small onPress={onStart} testID="do-step" /> : null}
        <View style={row}>{lists}</View>
      </Card>
    );
  }
  if (verdict?.says === 'enough' && advice && !held) {
    const more = verdict.minutes === null ? advice.help : [];
    const mostSuspected = advice.suspects.find(isFault);
    return (
      <Card main={<Button label="Leave it here" kind="main" onPress={leaveIt} testID="to-right" />}>
        {above}
        <Head label="So far" figure={formatShare(verdict.share)} belief />
        <Words at="title" bold testID="verdict">{nothingFoundTitle(view.asked.complaint, { leaks, mended })}</Words>
        {lookFirst}
        {lifted || !mostSuspected || (leaks && mostSuspected.kind === 'standingLeak') ? null : <Words testID="likeliest">{`Still most suspected: ${suspectTitle(map, mostSuspected)}, ${formatShare(mostSuspected.share)}.`}</Words>}
        {lifted ? null : <Words testID="enough-guide">{enoughGuide(map, view.asked.complaint, { ...verdict, mended }, view.state.on)}</Words>}
        {lifted ? null : besides}
        {lifted ? null : <WhatHelps help={more} />}
        <View style={row}>{lists}{verdict.minutes === null ? null : <Button label="Read on" small onPress={() => record({ type: 'notNow', step: ENOUGH })} testID="read-on" />}</View>
      </Card>
    );
  }
  const asks = advice?.ask ? questionWords[advice.ask.question]?.ask : undefined;
  if (live)
    return (
      <Card main={view.secured ? <Button label="Put back, then power on" kind="main" onPress={() => onStage('right')} testID="to-live" /> : (
          <View style={row}>
            <Button label="Make dead" small={large} grow onPress={() => onStage('dead')} testID="to-dead" />
            <Button label="Go to Live" kind="main" small={large} grow onPress={() => onStage('live')} testID="to-live" />
          </View>
        )}>
        {above}
        <Head label="Next step, with the supply on" figure={thinking ? 'checking' : formatMinutes(live.minutes)} />
        <Words at="lead" bold style={titleSize} testID="live-next-title">{liveStepTitle(map, live.step)}</Words>
        {asks && !lifted ? <Button label={`Ask first: ${asks}`} small onPress={() => onStage('ask')} testID="ask-first" /> : null}
        {lifted ? null : <Words>{liveWhy(live.step, view.secured !== null)}</Words>}
        <View style={row}>{large && lifted ? null : lists}<Button label="Not now" small onPress={() => record({ type: 'notNow', step: live.key })} testID="live-later" /></View>
      </Card>
    );
  if (!step && advice && look && !thinking) {
    // A plug that is found, or is not, settles more than anything else that might help; so does a bar.
    const others = look.plug || look.bar ? [] : advice.help;
    return (
      <Card main={<Button label="Look" kind="main" onPress={() => onLook(look)} testID="look-first" />}>
        {above}
        <Head label="Next step" figure={formatMinutes(look.minutes)} />
        <Words at="lead" bold style={titleSize} testID="look-title">{look.plug || look.bar ? `Look: ${lookTitle(map, look)}` : `Look at ${lookTitle(map, look)}`}</Words>
        {lifted ? null : <Words>{`No reading in reach tells more; eyes do.${others.length ? ' What else would help:' : ''}`}</Words>}
        {lifted ? null : <WhatHelps help={others} />}
        <View style={row}>{lists}</View>
      </Card>
    );
  }
  const read = view.readings.at(-1)?.event.probe;
  // What was just read is no next step, though the plan still works.
  const justRead = thinking && !held && read !== undefined && step?.probes[0] !== undefined && probeKey(step.probes[0]) === probeKey(read);
  if (!step || !advice || justRead) {
    return (
      <Card>
        {above}
        <Label>Next step</Label>
        <Words at="lead" bold role="status">{thinking ? 'Working out the next step' : 'No reading in reach tells more'}</Words>
        {thinking || !advice ? null : <Words>{advice.help.length ? 'What would help:' : 'Say what can be reached, split somewhere, or take the readings that you would.'}</Words>}
        {thinking || !advice || lifted ? null : <WhatHelps help={advice.help} />}
        <View style={row}>{lists}</View>
      </Card>
    );
  }
  const probe = step.probes[0];
  const ready = step.needs.length === 0 && step.actions.length === 0;
  const total = advice.steps.length;
  const turnDown = (
    <>
      <Button label="Not now" hint={wide ? 'X' : undefined} onPress={onLater} grow={wide} testID="not-now" />
      {total > 1 ? <Button label={`${total - 1} ${total === 2 ? 'other' : 'others'}`} hint={wide ? 'O' : undefined} onPress={onOther} grow={wide} testID="others" /> : null}
    </>
  );
  return (
    <Card main={wide ? null : (
      <View style={[row, flat ? { flexWrap: 'wrap' } : null]}>
        {large ? null : turnDown}
        <Button label={ready ? 'Enter reading' : 'Do this step'} kind="main" grow onPress={onStart} testID="do-step" style={flat ? { minWidth: 160 } : undefined} />
      </View>
    )}>
      {above}
      <Head label={held ? 'Step in hand' : choice === 0 ? 'Next step' : `Another way, ${choice + 1} of ${total}`} figure={thinking ? 'checking' : formatMinutes(step.minutes)} />
      <Words at="lead" bold style={titleSize} testID="step-title">{stepTitle(map, step)}</Words>
      {asks && !held && !lifted ? <Button label={`Ask first: ${asks}`} small onPress={() => onStage('ask')} testID="ask-first" /> : null}
      {asks ? null : lookFirst}
      {wide ? <Button label={ready ? 'Enter reading' : 'Do this step'} hint="R" kind="main" onPress={onStart} testID="do-step" /> : null}
      {wide ? <View style={row}>{turnDown}</View> : null}
      {lifted ? null : (
        <ScrollView style={{ maxHeight: wide || low ? undefined : 216 }} contentContainerStyle={{ gap: 6 }}>
          {step.needs.some((n) => n.need === 'secured') ? <Caution>Make the circuit dead first. Nothing is touched before it is secured and proved.</Caution> : null}
          {probe ? step.outcomes.map((o, i) => (
            <OutcomeRow key={i} figure range={outcomeRange(probe.fn, o)} meaning={outcomeMeaning(map, o, titles)} share={formatShare(o.share)} />
          )) : null}
          {step.probes.length > 1 ? <Words at="small" colour="soft">{`Then ${step.probes.slice(1).map((p) => probeWords(map, p).line).join('; ')}.`}</Words> : null}
          {wide ? <Words at="small" colour="soft">{whyText(step)}</Words> : null}
        </ScrollView>
      )}
      {lifted ? null : <View style={row}>{lists}</View>}
      {large && !wide ? <View style={row}>{turnDown}</View> : null}
    </Card>
  );
}

/** Head of the card: what it is, and how sure or how long. */
function Head({ label, figure, belief = false }: { label: string; figure: string; belief?: boolean }) {
  return (
    <View style={{ flexDirection: 'row', justifyContent: 'space-between', alignItems: 'baseline', gap: 8 }}>
      <View style={{ flexShrink: 1 }}><Label>{label}</Label></View>
      <Words figure bold={belief} colour={belief ? 'suspect' : 'soft'} lines={1} style={{ flexShrink: 0 }}>{figure}</Words>
    </View>
  );
}
