import { useMemo } from 'react';
import { Pressable, View } from 'react-native';
import { Button, Caution, Label, Words } from '@/components';
import { useJob } from '@/features/job/JobProvider';
import { TARGET, useTheme } from '@/theme';
import { upstreamOf, type Installation } from '@core/installation';
import { beforeLive, type EventBody } from '@core/job';
import type { LiveTest } from '@core/live';
import { formatShare } from '@core/units';
import { circuitOf, liveResultWords } from '@core/wording';
import { LiveNext } from './LiveNext';
import { deviceRows, type DeviceRow } from './rows';
import { useLiveTester } from './useLiveTester';

/** Share of suspicion from which a row is marked: below it everything would be. */
const STANDS_OUT = 0.2;

type Result = 'holds' | 'at once' | 'after';
const results: readonly { value: Result; label: string }[] = [{ value: 'holds', label: 'holds' }, { value: 'at once', label: 'trips' }, { value: 'after', label: 'later' }];

/** Reset routine: every device of the board as a row; what is off is closed and says in one tap what it did. */
export function Devices({ closed }: { closed: boolean }) {
  const { view, advice, record } = useJob();
  const { wide } = useTheme();
  const rows = useMemo(() => deviceRows(view, advice), [view, advice]);
  const { map } = view;
  if (!map) return null;
  if (map.shape !== 'board') return <Words>One circuit alone has no devices to work. Draft its board to reset way by way; voltages and loops can be entered here.</Words>;
  const overcurrent = view.asked.complaint === 'mcb trips';
  const switchOff = (row: DeviceRow): void => record(...offEvents(row));
  const onWays = rows.filter((r) => r.on && !r.group);
  const close = (row: DeviceRow, result: Result): void => {
    const residual = upstreamOf(rows.map((r) => r.device), row.device).find((d) => d.residualMa !== null && rows.some((r) => r.device === d && r.on))?.id;
    const tripped = result === 'holds' ? null : row.group || row.device.residualMa !== null || overcurrent || !residual ? row.device.id : residual;
    record({ type: 'liveRead', test: { kind: 'closed', device: row.device.id, result, tripped } satisfies LiveTest });
  };
  // Locked off there is no next card to stand beside the devices.
  const beside = wide && !closed;
  return (
    <View style={{ flexDirection: beside ? 'row' : 'column', gap: beside ? 28 : 14, alignItems: 'flex-start' }}>
      <View style={{ gap: 14, width: beside ? 380 : '100%' }}>
        <LiveNext closed={closed} />
        {rows.some((r) => r.held) ? <Caution>An MCB or fuse that trips on a suspected short is not closed “to see”: dead tests first.</Caution> : null}
      </View>
      <View style={{ flex: beside ? 1 : undefined, width: beside ? undefined : '100%' }}>
        <View style={{ flexDirection: 'row', justifyContent: 'space-between', alignItems: 'center', gap: 10 }}>
          <Label>Devices</Label>
          <Button label="All ways off" small disabled={closed || onWays.length === 0} onPress={() => record(...onWays.flatMap(offEvents))} testID="all-off" />
        </View>
        {rows.map((r) => <Row key={r.device.id} row={r} closed={closed} onOff={() => switchOff(r)} onClose={(result) => close(r, result)} />)}
        <Words at="small" colour="soft" style={{ paddingTop: 10 }}>All ways off, the device on, then one way after another, or half of them at a time. What trips it is off again by itself. Holding with every way back proves little: neutral on earth holds until enough load runs.</Words>
      </View>
    </View>
  );
}

const offEvents = (row: DeviceRow): EventBody[] => row.device.poles.map((part) => ({ type: 'switched', part, off: true }));

function Row({ row, closed, onOff, onClose }: { row: DeviceRow; closed: boolean; onOff: () => void; onClose: (r: Result) => void }) {
  const { view, record } = useJob();
  const { colour } = useTheme();
  const tester = useLiveTester();
  const { map } = view;
  if (!map) return null;
  const suspect = row.share !== null && row.share >= STANDS_OUT;
  const last = row.last ? lastWords(map, row) : '';
  return (
    <View testID={`device-${row.device.id}`} style={{ flexDirection: 'row', alignItems: 'center', gap: 6, minHeight: 62, borderTopWidth: row.group ? 1.5 : 1, borderTopColor: row.group ? colour.edge : colour.hairline, paddingLeft: (row.group ? 0 : 10) + (row.inSubBoard ? 18 : 0) }}>
      <View style={{ flex: 1, minWidth: 0, borderLeftWidth: suspect ? 6 : 0, borderLeftColor: colour.suspect, paddingLeft: suspect ? 6 : 0 }}>
        <Words bold lines={1}>{row.name}</Words>
        <View style={{ flexDirection: 'row', gap: 8, alignItems: 'baseline' }}>
          {suspect ? <Words figure bold colour="suspect">{formatShare(row.share ?? 0)}</Words> : null}
          <Words at="small" colour={last ? 'ink' : 'soft'} lines={1} style={{ flexShrink: 1 }}>{last ? row.on ? last : `off · ${last === 'holds' ? 'held' : last}` : row.plate}</Words>
        </View>
      </View>
      {row.on ? (
        <Toggle label="ON" full hint={`Switch ${row.name} off`} disabled={closed} onPress={onOff} testID={`off-${row.device.id}`} />
      ) : row.held ? <Words at="small" style={{ width: 150 }} align="right">dead tests first</Words> : !row.fed ? <Words at="small" colour="soft">not fed</Words> : tester ? (
        <Toggle label="Close" hint={`Close ${row.name} with the practice board`} disabled={closed} wide onPress={() => record({ type: 'liveRead', test: tester.ask({ kind: 'closed', device: row.device.id }, beforeLive(map, view.state, { do: 'close', device: row.device.id, first: [], out: [] }).state) })} testID={`practice-${row.device.id}`} />
      ) : (
        results.map((r) => <Toggle key={r.value} label={r.label} hint={`${row.name} closed: ${r.value === 'holds' ? 'holds' : r.value === 'at once' ? 'trips at once' : 'trips after a while'}`} disabled={closed} onPress={() => onClose(r.value)} testID={`${r.value.replace(' ', '-')}-${row.device.id}`} />)
      )}
    </View>
  );
}

/** "holds", "RCD 1 trips at once", or for a device that another made go: "tripped with Way 2". */
function lastWords(map: Installation, row: DeviceRow): string {
  const test = row.last?.event.test;
  if (test?.kind !== 'closed') return '';
  return test.device !== row.device.id ? `tripped with ${circuitOf(map, test.device)}` : liveResultWords(map, test);
}

function Toggle({ label, hint, onPress, disabled, full = false, wide = false, testID }: { label: string; hint: string; onPress: () => void; disabled: boolean; full?: boolean; wide?: boolean; testID: string }) {
  const { colour } = useTheme();
  return (
    <Pressable role="button" aria-label={hint} aria-disabled={disabled} disabled={disabled} onPress={onPress} testID={testID}
      style={({ pressed }) => ({ minHeight: TARGET, minWidth: wide ? 96 : 60, paddingHorizontal: 8, borderRadius: 10, alignItems: 'center', justifyContent: 'center', borderWidth: 1.5, borderColor: full ? colour.ink : colour.edge, backgroundColor: full ? colour.ink : colour.sheet, opacity: disabled ? 0.45 : pressed ? 0.75 : 1 })}>
      <Words bold colour={full ? 'paper' : 'ink'}>{label}</Words>
    </Pressable>
  );
}
