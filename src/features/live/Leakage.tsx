import { useState } from 'react';
import { View } from 'react-native';
import { Button, Label, RowButton, Words } from '@/components';
import { useJob } from '@/features/job/JobProvider';
import { useProfile } from '@/features/settings/useProfile';
import { useTheme } from '@/theme';
import { budgetsOf, equivalentInsulation, strayOf, type Budget } from '@core/live';
import type { Installation } from '@core/installation';
import type { LiveDo } from '@core/safety';
import { formatOhm } from '@core/units';
import { budgetFindingWords, circuitOf, deviceWords, formatMilliamp, moveWords, strayWords } from '@core/wording';
import { RcdSheet } from './RcdSheet';
import { AtAppliances } from './AtAppliances';
import { TestSheet } from './TestSheet';

/** Each residual current device with what leaks behind it, what it goes at, and what is left. */
export function Leakage({ closed }: { closed: boolean }) {
  const { view } = useJob();
  const { colour, wide } = useTheme();
  const [profile] = useProfile();
  const [entering, setEntering] = useState<LiveDo | null>(null);
  const [device, setDevice] = useState<string | null>(null);
  const { map } = view;
  if (!map) return null;
  const tests = view.liveReadings.filter((r) => !r.struck && r.epoch === view.epoch).map((r) => r.event.test);
  const stray = strayOf(tests);
  const budgets = budgetsOf(map, tests, profile);
  return (
    <View style={{ flexDirection: wide ? 'row' : 'column', flexWrap: 'wrap', gap: 18 }}>
      {budgets.length ? null : <Words>No residual current device on this map. Draft the board with its RCDs and RCBOs, or say on the map that the main switch is one.</Words>}
      {budgets.map((b) => <BudgetCard key={b.device.id} map={map} budget={b} share={profile.standingShare} closed={closed} onClamp={(around) => setEntering({ do: 'clamp', around })} onFigures={() => setDevice(b.device.id)} />)}
      <View testID="earthing" style={{ borderWidth: 1.5, borderColor: colour.edge, borderRadius: 14, padding: 14, gap: 8, backgroundColor: colour.sheet, width: wide ? 480 : '100%' }}>
        <Words at="lead" bold>Tails and earthing conductor</Words>
        {stray ? <Words bold={stray.leastMa !== 0} testID="stray">{strayWords(stray)}</Words> : <Words at="small" colour="soft">A clamp round both tails reads what the whole installation loses; round the earthing conductor also what comes in from elsewhere.</Words>}
        <View style={{ flexDirection: 'row', gap: 8 }}>
          <Button label={stray ? `Tails ${formatMilliamp(stray.tailsMa)}` : 'Clamp both tails'} grow disabled={closed} onPress={() => setEntering({ do: 'clamp', around: 'main' })} testID="clamp-main" />
          <Button label={stray ? `Earth ${formatMilliamp(stray.earthMa)}` : 'Clamp the earth'} grow disabled={closed} onPress={() => setEntering({ do: 'clamp', around: 'earth' })} testID="clamp-earth" />
        </View>
      </View>
      <AtAppliances closed={closed} onClamp={(around) => setEntering({ do: 'clamp', around })} />
      {entering ? <TestSheet step={entering} onClose={() => setEntering(null)} /> : null}
      {device ? <RcdSheet device={device} onClose={() => setDevice(null)} /> : null}
    </View>
  );
}

function BudgetCard({ map, budget, share, closed, onClamp, onFigures }: { map: Installation; budget: Budget; share: number; closed: boolean; onClamp: (around: string) => void; onFigures: () => void }) {
  const { colour, wide } = useTheme();
  const { device, ratedMa, rampMa, standingMa, peakMa } = budget;
  const row = { flexDirection: 'row', justifyContent: 'space-between', gap: 10 } as const;
  return (
    <View testID={`budget-${device.id}`} style={{ borderWidth: 1.5, borderColor: colour.edge, borderRadius: 14, padding: 14, gap: 8, backgroundColor: colour.sheet, width: wide ? 480 : '100%' }}>
      <View style={row}>
        <Words at="lead" bold style={{ flexShrink: 1 }}>{deviceWords(map, device.id)}</Words>
        <Words figure>{`IΔn ${ratedMa} mA`}</Words>
      </View>
      <Bar budget={budget} share={share} />
      {budget.findings.map((f) => <Words key={f} bold={f !== 'fine' && f !== 'nothingMeasured'} colour={f === 'deviceFailed' || f === 'doesNotTrip' || f === 'tripsAtHalf' || f === 'tooSlow' ? 'danger' : 'ink'} testID={`finding-${device.id}-${f}`}>{budgetFindingWords(map, budget, f, share)}</Words>)}
      {budget.move ? <Words testID={`move-${device.id}`}>{moveWords(map, budget.move)}</Words> : null}
      {[
        ['Trips at (ramp)', rampMa], ['Standing leakage', standingMa], ['Harmonics, beside 50 Hz', budget.harmonicMa], ['Peak while starting', peakMa], ['Headroom, worst case', budget.headroomWorstMa], ['Headroom, in quadrature', budget.headroomQuadratureMa], ['Headroom, measured with loads on', budget.headroomMeasuredMa],
      ].map(([what, x]) => (x === null ? null : (
        <View key={String(what)} style={row}>
          <Words at="small" colour="soft">{`${String(what)}${what === 'Standing leakage' && budget.standingFrom === 'sum of ways' ? ', at most' : ''}`}</Words>
          <Words figure bold>{formatMilliamp(Number(x))}</Words>
        </View>
      )))}
      {(['0.5', '1', '5'] as const).flatMap((multiple) => (budget.times[multiple] === undefined ? [] : [{ multiple, ms: budget.times[multiple] }])).map(({ multiple, ms }) => (
        <View key={multiple} style={row}>
          <Words at="small" colour="soft">{`Time at ${multiple === '0.5' ? '½' : multiple}×, slower half-cycle`}</Words>
          <Words figure bold>{ms === null ? 'did not trip' : `${Math.round(ms)} ms`}</Words>
        </View>
      ))}
      <View style={{ flexDirection: 'row', gap: 8 }}>
        <Button label="RCD figures" grow disabled={closed} onPress={onFigures} testID={`figures-${device.id}`} />
        {device.kind === 'rcbo' ? null : <Button label="Clamp it" grow disabled={closed} onPress={() => onClamp(device.id)} testID={`clamp-${device.id}`} />}
      </View>
      {budget.parts.length > 1 || device.kind === 'rcbo' ? <Label>Leakage by way</Label> : null}
      {budget.parts.map((p) => {
        const most = budget.most?.way === p.way && budget.parts.length > 1;
        const floor = p.mA !== null && p.mA > 0 ? equivalentInsulation(map, p.way, p.mA) : null;
        return (
          <RowButton key={p.way} label={`Clamp ${deviceWords(map, p.way)}`} disabled={closed} onPress={() => onClamp(p.way)} testID={`clamp-${p.way}`}>
            <View style={{ flex: 1, minWidth: 0 }}>
              <Words lines={1} bold={most}>{circuitOf(map, p.way)}</Words>
              {floor ? <Words at="small" colour="soft" lines={1}>{`${formatOhm(floor.floorOhm)} or more · cable ${formatMilliamp(floor.capacitiveMa)}`}</Words> : null}
            </View>
            <View style={{ alignItems: 'flex-end' }}>
              <Words figure bold={p.mA !== null} colour={p.mA === null ? 'soft' : 'ink'}>{p.mA === null ? 'clamp' : formatMilliamp(p.mA)}</Words>
              {most ? <Words at="small" bold>follow this one</Words> : null}
            </View>
          </RowButton>
        );
      })}
    </View>
  );
}

/** Milliamperes from nothing to the rated current: the ways' parts, the share allowed, and where it goes. */
function Bar({ budget, share }: { budget: Budget; share: number }) {
  const { colour } = useTheme();
  const { ratedMa, rampMa, standingMa, parts } = budget;
  const at = (mA: number): `${number}%` => `${Math.min(100, (100 * mA) / ratedMa)}%`;
  const known = parts.filter((p) => p.mA !== null);
  const sum = known.reduce((s, p) => s + (p.mA ?? 0), 0);
  // The parts add up as phasors: drawn to the length of what was measured over all.
  const scale = standingMa !== null && sum > standingMa ? standingMa / sum : 1;
  const starts = known.map((_, i) => known.slice(0, i).reduce((t, p) => t + (p.mA ?? 0) * scale, 0));
  const mark = (mA: number, label: string, below: boolean) => (
    <View key={label} style={{ position: 'absolute', left: at(mA), top: 0, height: 46 }}>
      <View style={{ width: 2, height: 46, backgroundColor: colour.ink }} />
      <Words at="small" figure style={{ position: 'absolute', left: 5, top: below ? 28 : -1, fontSize: 13, width: 90 }}>{label}</Words>
    </View>
  );
  return (
    <View role="img" aria-label={`Standing ${standingMa === null ? 'not measured' : formatMilliamp(standingMa)}, allowed ${formatMilliamp(share * ratedMa)}, trips at ${rampMa === null ? 'not measured' : formatMilliamp(rampMa)}, rated ${ratedMa} mA`} style={{ height: 48 }}>
      <View style={{ position: 'absolute', top: 17, left: 0, right: 0, height: 12, borderRadius: 6, borderWidth: 1.5, borderColor: colour.edge }} />
      {known.length === 0 && standingMa !== null ? <View style={{ position: 'absolute', top: 17, left: 0, width: at(standingMa), height: 12, borderRadius: 6, backgroundColor: colour.ink }} /> : null}
      {known.map((p, i) => <View key={p.way} style={{ position: 'absolute', top: 17, left: at(starts[i] ?? 0), width: at((p.mA ?? 0) * scale), height: 12, backgroundColor: i % 2 ? colour.soft : colour.ink, borderRightWidth: 2, borderRightColor: colour.sheet }} />)}
      {mark(share * ratedMa, `${Math.round(share * 100)} %`, true)}
      {rampMa === null ? null : mark(rampMa, 'trips', false)}
    </View>
  );
}

