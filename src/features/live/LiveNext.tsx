import { useMemo, useState } from 'react';
import { View } from 'react-native';
import { Button, Label, OutcomeRow, Words } from '@/components';
import { useJob } from '@/features/job/JobProvider';
import { useTheme } from '@/theme';
import type { LiveStepView } from '@core/advice';
import { suspectsOf } from '@core/faults';
import { circuitOfWay, deviceAt, loadOfPart, waysOfBoard } from '@core/installation';
import { beforeLive, type EventBody } from '@core/job';
import { formatMinutes, formatShare } from '@core/units';
import { asideGuide, beliefPlaceName, liveCautionWords, liveOutcomeWords, liveStepTitle, outcomeMeaning, suspectTitle, verdictGuide, verdictTitle } from '@core/wording';
import { useRouter } from 'expo-router';
import { TestSheet } from './TestSheet';

/** The best step with the supply on, what each result would mean, and its cautions; or the way on to dead tests where these tell more. */
export function LiveNext({ closed }: { closed: boolean }) {
  const [entering, setEntering] = useState<LiveStepView | null>(null);
  // What is done before it changes the record, and so the advice: the step in hand stays.
  return (
    <>
      <NextCard closed={closed} onStart={setEntering} />
      {entering ? <TestSheet step={entering.step} onClose={() => setEntering(null)} /> : null}
    </>
  );
}

function NextCard({ closed, onStart }: { closed: boolean; onStart: (step: LiveStepView) => void }) {
  const { view, advice, thinking, file, record } = useJob();
  const { colour } = useTheme();
  const router = useRouter();
  const [choice, setChoice] = useState(0);
  const { map } = view;
  const titles = useMemo(() => new Map((map ? suspectsOf(map) : []).map((s) => [s.id, map ? suspectTitle(map, s) : s.id])), [map]);
  if (!map || closed) return null;
  const steps = advice?.liveSteps ?? [];
  const step = steps[choice % Math.max(1, steps.length)];
  const card = { borderWidth: 1.5, borderColor: colour.edge, borderRadius: 14, padding: 14, gap: 8, backgroundColor: colour.sheet, alignSelf: 'stretch' } as const;
  const verdict = advice?.verdict;
  if (verdict?.says === 'draw') {
    const way = waysOfBoard(map).find((w) => circuitOfWay(map, w.id).points.some((p) => p.id === verdict.place))?.id;
    return (
      <View style={card} testID="live-next">
        <View style={{ flexDirection: 'row', justifyContent: 'space-between', alignItems: 'baseline' }}>
          <Label>Which circuit</Label>
          <Words figure colour="suspect" bold>{formatShare(verdict.share)}</Words>
        </View>
        <Words at="lead" bold testID="live-known">{`It is on ${beliefPlaceName(map, verdict.place)}`}</Words>
        <Words>Draw what can be seen of it: then its points can be told apart, with the supply on or off.</Words>
        <Button label="Draw this circuit" kind="main" onPress={() => router.replace(`/job/${file.id}/map${way ? `?way=${way}` : ''}`)} testID="live-draw" />
        <Button label="Make dead" onPress={() => router.replace(`/job/${file.id}/dead`)} />
      </View>
    );
  }
  const known = verdict && (verdict.says === 'place' || verdict.says === 'repeat' || verdict.says === 'confirm');
  const aside = verdict?.says === 'place' && loadOfPart(map, verdict.place)?.load.unplugs === true;
  const atDevice = verdict?.says === 'place' && (deviceAt(map, verdict.place) !== undefined || verdict.surely?.kind === 'supplyLost');
  if (known && advice?.suspects[0])
    return (
      <View style={card} testID="live-next">
        <Label>{verdict.says === 'place' ? 'Known well enough' : 'Likeliest, and one reading settles it'}</Label>
        <Words at="lead" bold testID="live-known">{verdictTitle(map, advice.suspects, verdict.surely)}</Words>
        {aside ? <Words testID="live-aside">{asideGuide(map, verdict.place)}</Words> : <Words testID="live-guide">{atDevice ? verdictGuide(map, verdict, false, view.state.opened) : 'Every reading goes with you into the circuit.'}</Words>}
        {aside ? <Button label="Put right" kind="main" onPress={() => router.replace(`/job/${file.id}/right`)} testID="live-right" /> : <Button label={view.secured ? 'Trace' : 'Make dead'} kind="main" onPress={() => router.replace(`/job/${file.id}/${view.secured ? 'trace' : 'dead'}`)} testID="live-on" />}
      </View>
    );
  if (!step || !advice)
    return (
      <View style={card} testID="live-next">
        <Label>Next here</Label>
        <Words bold at="lead" role="status">{thinking ? 'Working out the next step' : 'No step with the supply on is worth its minutes now'}</Words>
        {thinking ? null : <Button label="Make dead" kind="main" onPress={() => router.replace(`/job/${file.id}/dead`)} testID="live-on" />}
      </View>
    );
  const first = beforeLive(map, view.state, step.step).before;
  const start = (): void => {
    record(...first);
    onStart(step);
  };
  return (
    <View style={card} testID="live-next">
      <View style={{ flexDirection: 'row', justifyContent: 'space-between', alignItems: 'baseline', gap: 8 }}>
        <Label>{step.again ? 'Once more: one figure carries it' : choice % steps.length === 0 ? 'Next here' : 'Another way'}</Label>
        <Words figure colour="soft">{thinking ? 'checking' : formatMinutes(step.minutes)}</Words>
      </View>
      <Words at="lead" bold testID="live-title">{liveStepTitle(map, step.step)}</Words>
      {step.outcomes.map((o, i) => <OutcomeRow key={i} range={liveOutcomeWords(map, o)} meaning={o.count > 0 ? outcomeMeaning(map, o, titles) : 'open still'} share={formatShare(o.share)} />)}
      <Words at="small" colour="danger" bold testID="live-cautions">{step.cautions.map((c) => liveCautionWords[c]).join(' ')}</Words>
      {advice.liveFirst ? null : <Words at="small" colour="soft">Dead tests promise more for the minutes now.</Words>}
      <View style={{ flexDirection: 'row', gap: 8 }}>
        <Button label="Not now" grow onPress={() => record({ type: 'notNow', step: step.key })} testID="live-not-now" />
        {steps.length > 1 ? <Button label={`${steps.length - 1} ${steps.length === 2 ? 'other' : 'others'}`} grow onPress={() => setChoice(choice + 1)} /> : null}
      </View>
      <Button label={doneFirst(step, first)} kind={advice.liveFirst ? 'main' : 'plain'} onPress={start} testID="live-do" />
      {advice.liveFirst ? null : <Button label="Make dead" kind="main" onPress={() => router.replace(`/job/${file.id}/dead`)} />}
    </View>
  );
}

/** What the person confirms to have done before the test. */
function doneFirst({ step }: LiveStepView, first: readonly EventBody[]): string {
  if (!first.length) return 'Do this step';
  if (step.do === 'clamp') return 'Everything is in and on';
  return first.some((e) => e.type === 'loadsMoved') ? 'These are out' : 'These ways are off';
}
