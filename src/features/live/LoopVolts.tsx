import { useState } from 'react';
import { View } from 'react-native';
import { Button, Field, Label, RowButton, Sheet, Words } from '@/components';
import { useJob } from '@/features/job/JobProvider';
import { useProfile } from '@/features/settings/useProfile';
import { useTheme } from '@/theme';
import { boardOf, boardPart, faceKey, findPoint, labelOfWay, terminalKey, type Installation, type Terminal } from '@core/installation';
import { furthestLeft, loopsOf } from '@core/live';
import type { LiveDo } from '@core/safety';
import { formatOhm } from '@core/units';
import { breakingWords, kiloamp, liveResultWords, liveTestWords, loopVerdictWords, pointName } from '@core/wording';
import { TestSheet } from './TestSheet';

/** Voltages and loops point by point: what was measured beside what it should be. */
export function LoopVolts({ closed }: { closed: boolean }) {
  const { view, record } = useJob();
  const { colour, wide } = useTheme();
  const [profile] = useProfile();
  const [point, setPoint] = useState<string | null>(null);
  const [unreached, setUnreached] = useState<string | null>(null);
  const [entering, setEntering] = useState<LiveDo | null>(null);
  const { map } = view;
  if (!map) return null;
  const standing = view.liveReadings.filter((r) => !r.struck && r.epoch === view.epoch);
  const loops = loopsOf(map, standing.map((r) => r.event.test), profile);
  const board = boardOf(map);
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
          <Words at="small" bold={l.verdict === 'over'} colour={l.verdict === 'over' ? 'danger' : 'ink'}>{loopVerdictWords(l)}</Words>
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
      {point ? <PairSheet map={map} point={point} board={board?.id ?? ''} onPick={(step) => { setPoint(null); setEntering(step); }} onClose={() => setPoint(null)} /> : null}
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

function PairSheet({ map, point, board, onPick, onClose }: { map: Installation; point: string; board: string; onPick: (s: LiveDo) => void; onClose: () => void }) {
  const p = findPoint(map, point);
  const [what, setWhat] = useState<'voltage' | 'loop'>('voltage');
  if (!p) return null;
  const face = p.faces[0];
  const key = (t: Terminal): string => (face ? faceKey(p.id, face.id, t.id) : terminalKey(p.id, t.id));
  const at = (role: string): string | null => {
    const t = p.terminals.find((x) => x.role === role);
    return t ? key(t) : null;
  };
  // At the board its incoming bars; elsewhere each line of the point.
  const lines = p.terminals.filter((t) => /^L[123]?$/.test(t.role) && (point !== board || boardPart(t) === 'line bar')).filter((t, i, all) => all.findIndex((x) => x.role === t.role) === i);
  const pairs: [string, string | null, string | null][] = [
    ...lines.flatMap((l): [string, string | null, string | null][] => [[`${l.role}–N`, key(l), at('N')], [`${l.role}–E`, key(l), at('E')]]),
  ];
  const volts: typeof pairs = [
    ...lines.flatMap((l, i): typeof pairs => lines.slice(0, i).map((m) => [`${m.role}–${l.role}`, key(m), key(l)])),
    ['N–E', at('N'), at('E')], ...lines.map((l): [string, string, string] => [`${l.role} to an independent earth`, key(l), 'ground']), ['N to an independent earth', at('N'), 'ground'], ['E to an independent earth', at('E'), 'ground'],
  ];
  return (
    <Sheet title={p.name} onClose={onClose} testID="pair-sheet">
      <View style={{ flexDirection: 'row', gap: 8 }}>
        <Button label="Voltage" grow kind={what === 'voltage' ? 'chosen' : 'plain'} onPress={() => setWhat('voltage')} testID="what-voltage" />
        <Button label="Loop impedance" grow kind={what === 'loop' ? 'chosen' : 'plain'} onPress={() => setWhat('loop')} testID="what-loop" />
      </View>
      {[...pairs, ...(what === 'loop' ? [] : volts)].flatMap(([label, from, to]) => (from && to ? [<Button key={label} label={label} onPress={() => onPick({ do: what, from, to })} testID={`pair-${label.replace(/[^A-Za-z0-9]+/g, '')}`} />] : []))}
    </Sheet>
  );
}
