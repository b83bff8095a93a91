import { View } from 'react-native';
import { Label, Sheet, Words } from '@/components';
import { useJob } from '@/features/job/JobProvider';
import { useTheme } from '@/theme';
import type { SuspectView } from '@core/advice';
import { formatShare } from '@core/units';
import { beliefPlaceName, readingWords, explainsText, liveResultWords, liveTestWords, factWords, othersWords, probeWords, suspectSize, suspectTitle, clearedWords } from '@core/wording';
import { StillIn } from './StillIn';

/** The shortlist with shares, what speaks for and against, what is cleared and by what, and what is in doubt. */
export function Suspects({ asSheet = false, onClose }: { asSheet?: boolean; onClose: () => void }) {
  const body = <SuspectList />;
  return asSheet ? <Sheet title="What can still be wrong" onClose={onClose} testID="suspects">{body}</Sheet> : <View testID="suspects" style={{ gap: 8 }}>{body}</View>;
}

function SuspectList() {
  const { view, advice } = useJob();
  const { colour, large } = useTheme();
  const { map } = view;
  if (!map || !advice) return <Words colour="soft">Working it out.</Words>;
  if (!advice.hasReadings) return <Words testID="places-open">{`${advice.placesOpen} places open. Shares come with the first reading.`}</Words>;
  const reading = (id: string): string => {
    const r = view.readings.find((x) => x.event.id === id);
    if (r) return `${probeWords(map, r.event.probe).line}: ${readingWords(r.event)}`;
    const live = view.liveReadings.find((x) => x.event.id === id)?.event.test;
    return live ? `${liveTestWords(map, live)}: ${liveResultWords(map, live)}` : '';
  };
  const change = advice.lastChange;
  return (
    <>
      {change && Math.abs(change.to - change.from) > 0.005 && formatShare(change.from) !== formatShare(change.to) ? <Words>{`The last reading: ${beliefPlaceName(map, change.place)} from ${formatShare(change.from)} to ${formatShare(change.to)}.`}</Words> : null}
      {advice.two ? <Words bold testID="two-faults">{`Two faults, not one (${formatShare(advice.two.share)}): the first below, and beside it the second. Each explains what the other does not.`}</Words> : null}
      {advice.facts.length ? (
        <View style={{ borderBottomWidth: 1, borderBottomColor: colour.hairline, paddingBottom: 8, gap: 4 }} testID="facts">
          <Label>No fault, but plain from the readings</Label>
          {advice.facts.map((f) => (
            <View key={f.id} style={{ gap: 4 }}>
              <Words>{`${suspectTitle(map, f)}. ${factWords(f.kind)}`}</Words>
              <StillIn fact={f} />
            </View>
          ))}
        </View>
      ) : null}
      {advice.suspects.map((s) => <SuspectRow key={s.id} s={s} reading={reading} />)}
      <View style={{ flexDirection: large ? 'column' : 'row', columnGap: 12, alignItems: large ? 'flex-start' : 'baseline' }}>
        <Words figure bold style={{ width: 78 }}>{formatShare(advice.others.share)}</Words>
        <Words style={large ? null : { flex: 1 }} testID="others-by-place">{othersWords(map, advice)}</Words>
      </View>
      <View style={{ flexDirection: large ? 'column' : 'row', columnGap: 12, alignItems: large ? 'flex-start' : 'baseline' }}>
        <Words figure bold style={{ width: 78 }}>{formatShare(advice.unknownShare)}</Words>
        <Words style={large ? null : { flex: 1 }}>Something this map does not show</Words>
      </View>
      {advice.fit.poor && !advice.two ? <Words bold>Nothing on this map explains the readings well. Doubt the last reading, then the recorded state, then the map: two points changed over, a joint not drawn, a second fault.</Words> : null}
      {advice.fit.worstReading ? <Words>{`Fits worst: ${reading(advice.fit.worstReading)}.`}</Words> : null}
      {advice.fit.doubts.map((d) => (
        <View key={d.id} style={{ gap: 4 }}>
          <Words>{`${suspectTitle(map, d)}? ${formatShare(d.share)}. Look, and correct the record if it is so.`}</Words>
          <StillIn fact={d} />
        </View>
      ))}
      {advice.cleared.length ? (
        <View style={{ borderTopWidth: 1, borderTopColor: colour.hairline, paddingTop: 8, gap: 4 }}>
          <Label>Cleared</Label>
          {advice.cleared.slice(0, 12).map((c) => <Words key={`${c.place} ${c.conductors}`} at="small">{`✓ ${clearedWords(map, c)}, by ${reading(c.reading)}`}</Words>)}
          {advice.cleared.length > 12 ? <Words at="small" colour="soft">{`and ${advice.cleared.length - 12} more`}</Words> : null}
        </View>
      ) : null}
    </>
  );
}

function SuspectRow({ s, reading }: { s: SuspectView; reading: (id: string) => string }) {
  const { view } = useJob();
  const { colour, large } = useTheme();
  const { map } = view;
  if (!map) return null;
  const plain = s.kind === 'sound';
  const size = suspectSize(map, s);
  const explained = explainsText(map, s.explains);
  return (
    <View style={{ flexDirection: large ? 'column' : 'row', columnGap: 12, rowGap: 3, borderBottomWidth: 1, borderBottomColor: colour.hairline, paddingBottom: 8 }}>
      <Words at="lead" bold figure colour={plain ? 'ink' : 'suspect'} style={{ width: 78 }}>{formatShare(s.share)}</Words>
      <View style={large ? { gap: 3 } : { flex: 1, gap: 3 }}>
        <Words bold>{suspectTitle(map, s)}</Words>
        <View style={{ height: 5, borderRadius: 3, backgroundColor: colour.hairline }}>
          <View style={{ height: 5, borderRadius: 3, width: `${Math.max(1, s.share * 100)}%`, backgroundColor: plain ? colour.ink : colour.suspect }} />
        </View>
        {size ? <Words at="small">{size}</Words> : null}
        {s.kind === 'loadLeft' ? <StillIn fact={{ kind: 'loadIn', place: `state ${s.place}` }} /> : null}
        {s.speakFor.length ? <Words at="small"><Words at="small" colour="soft">for </Words>{s.speakFor.map(reading).join('; ')}</Words> : null}
        {s.speakAgainst.length ? <Words at="small"><Words at="small" colour="soft">against </Words>{s.speakAgainst.map(reading).join('; ')}</Words> : null}
        {explained ? <Words at="small" bold={s.explains.says === 'yes'}>{explained}</Words> : null}
      </View>
    </View>
  );
}
