import { useState } from 'react';
import { View } from 'react-native';
import { Button, Field, Label, RowButton, Sheet, Words } from '@/components';
import { useJob } from '@/features/job/JobProvider';
import { GuessedPlate } from '@/features/map/GuessedPlate';
import { useProfile } from '@/features/settings/useProfile';
import { useTheme } from '@/theme';
import { labelOfWay } from '@core/installation';
import { furthestLeft, loopsOf } from '@core/live';
import type { LiveDo } from '@core/safety';
import { formatOhm } from '@core/units';
import { breakingWords, kiloamp, liveResultWords, liveTestWords, loopVerdictWords, pointName } from '@core/wording';
import { MetalSheet } from './MetalSheet';
import { PairSheet } from './PairSheet';
import { TestSheet } from './TestSheet';

/** Voltages and loops point by point: what was measured beside what it should be. */
export function LoopVolts({ closed }: { closed: boolean }) {
  const { view, record } = useJob();
  const { colour, wide } = useTheme();
  const [profile] = useProfile();
  const [point, setPoint] = useState<string | null>(null);
  const [unreached, setUnreached] = useState<string | null>(null);
  const [onMetal, setOnMetal] = useState(false);
  const [entering, setEntering] = useState<LiveDo | null>(null);
  const { map } = view;
  if (!map) return null;
  const standing = view.liveReadings.filter((r) => !r.struck && r.epoch === view.epoch);
  const loops = loopsOf(map, standing.map((r) => r.event.test), profile);
  return (
    <View style={{ gap: 14, maxWidth: wide ? 760 : undefined }}>
      <Label>Measure at</Label>
      <View>
        {map.points.filter((p) => p.reach !== 'never').map((p) => (
          <RowButton key={p.id} label={`Measure at ${p.name}`} disabled={closed} onPress={() => setPoint(p.id)} testID={`measure-${p.id}`}>
            <Words bold>{p.name}</Words>
            <Words at="small" colour="soft">{p.kind === 'board' ? 'origin, cover off' : p.reach === 'face' ? 'cover on' : 'cover off'}</Words>
          </RowButton>
        ))}
        <RowButton label="Measure on metal that is no point" disabled={closed} onPress={() => setOnMetal(true)} testID="measure-metal">
          <Words bold>Other metal</Words>
          <Words at="small" colour="soft">a rail, a seat, a tap</Words>
        </RowButton>
      </View>
      {loops.length ? <Label>Loops</Label> : null}
      {loops.map((l, i) => (
        <View key={i} testID={`loop-${l.point}-${l.against}`} style={{ borderBottomWidth: 1, borderBottomColor: colour.hairline, paddingVertical: 8, gap: 2 }}>
          <View style={{ flexDirection: 'row', justifyContent: 'space-between', gap: 10 }}>
            <Words bold style={{ flexShrink: 1 }}>{`${pointName(map, l.point)}, L–${l.against === 'earth' ? 'E' : 'N'}`}</Words>
            <Words figure bold colour={l.verdict === 'over' ? 'danger' : 'ink'}>{liveResultWords(map, l.test)}</Words>
          </View>
          <Words at="small" colour="soft">{[l.expectedOhm === null ? '' : `expected ${formatOhm(l.expectedOhm)}`, l.limit ? `limit ${formatOhm(l.limit.ohm)}` : '', Number.isFinite(l.prospectiveA) ? `${kiloamp(l.prospectiveA)} prospective` : ''].filter(Boolean).join(' · ')}</Words>
          {l.breaks === null || !map.supply?.breakingKa ? null : <Words at="small" bold={!l.breaks} colour={l.breaks ? 'ink' : 'danger'} testID="breaking">{breakingWords(l.prospectiveA, map.supply.breakingKa)}</Words>}
          <Words at="small" bold={l.verdict === 'over'} colour={l.verdict === 'over' ? 'danger' : 'ink'}>{loopVerdictWords(map, l)}</Words>
          {l.onGuess === null ? null : <GuessedPlate device={l.onGuess} />}
        </View>
      ))}
      {furthestLeft(map, standing.map((r) => r.event.test)).map((f) => {
        const why = view.unreachable.includes(f.furthest) ? (view.whyUnreached.get(f.furthest) ?? 'no reason given') : null;
        return (
          <View key={f.way} testID={`furthest-${f.way}`} style={{ gap: 6 }}>
            <Words>{`${labelOfWay(map, f.way)}: the furthest point, ${pointName(map, f.furthest)}, is not read yet.${why ? ` It could not be reached: ${why}. The report says so as a limitation.` : ''}`}</Words>
            {why ? null : <Button label="It cannot be reached" small onPress={() => setUnreached(f.furthest)} testID={`unreached-${f.way}`} />}
          </View>
        );
      })}
      {standing.length ? <Label>All live tests</Label> : null}
      {[...standing].reverse().map((r) => (
        <View key={r.event.id} style={{ flexDirection: 'row', gap: 10, alignItems: 'center', justifyContent: 'space-between', borderBottomWidth: 1, borderBottomColor: colour.hairline, minHeight: 48 }}>
          <Words style={{ flex: 1 }}>{liveTestWords(map, r.event.test)}</Words>
          <Words figure bold>{liveResultWords(map, r.event.test)}</Words>
          <Button label="Strike out" small kind="quiet" accessibilityLabel={`Strike out ${liveTestWords(map, r.event.test)}`} onPress={() => record({ type: 'struck', target: r.event.id, why: 'wrong entry' })} />
        </View>
      ))}
      {unreached ? <WhySheet name={pointName(map, unreached)} onClose={() => setUnreached(null)} onKeep={(why) => { record({ type: 'cantReach', point: unreached, can: false, why }); setUnreached(null); }} /> : null}
      {onMetal ? <MetalSheet onPick={(step) => { setOnMetal(false); setEntering(step); }} onClose={() => setOnMetal(false)} /> : null}
      {point ? <PairSheet map={map} point={point} onPick={(step) => { setPoint(null); setEntering(step); }} onClose={() => setPoint(null)} /> : null}
      {entering ? <TestSheet step={entering} onClose={() => setEntering(null)} /> : null}
    </View>
  );
}

function WhySheet({ name, onKeep, onClose }: { name: string; onKeep: (why: string) => void; onClose: () => void }) {
  const [why, setWhy] = useState('');
  return (
    <Sheet title={`${name}: why not?`} onClose={onClose} footer={<Button label="Keep" kind="main" disabled={!why.trim()} onPress={() => onKeep(why.trim())} testID="keep-why" />}>
      <Field label="The reason goes into the report" value={why} onChange={setWhy} autoFocus testID="why" />
    </Sheet>
  );
}
