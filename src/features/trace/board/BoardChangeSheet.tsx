import { Pressable, View } from 'react-native';
import { Caution, HoldButton, Label, Sheet, Words } from '@/components';
import { useJob } from '@/features/job/JobProvider';
import { useProfile } from '@/features/settings/useProfile';
import { TARGET, useTheme } from '@/theme';
import { boardChange, type Check } from '@core/boardchange';
import { boardOf } from '@core/installation';
import type { Probe } from '@core/probes';
import { changeFindingWords, readingWords } from '@core/wording';

/** Of the devices that usually come. */
const NEW_DEVICE_MA = 30;

/** Everything that would trip the new devices, found while the old board still hangs. */
export function BoardChangeSheet({ onRead, onClose }: { onRead: (probe: Probe) => void; onClose: () => void }) {
  const { view, record } = useJob();
  const [profile] = useProfile();
  const { colour } = useTheme();
  const change = boardChange(view, NEW_DEVICE_MA, profile.standingShare);
  const board = view.map && boardOf(view.map);
  if (!change || !board) return null;
  const loadsOut = view.state.loadsOut;
  const ready = change.neutralsIn.length === 0;
  const cell = (label: string, c: Check, id: string) => {
    const d = c.reading?.event;
    const bad = c.finding !== null && c.finding !== 'good';
    return (
      <Pressable role="button" aria-label={`${label}: ${d ? readingWords({ ...d, probe: { fn: 'insulation' } }) : 'not read'}`} aria-disabled={!ready} disabled={!ready} onPress={() => onRead(c.probe)} testID={id}
        style={{ flex: 1, minHeight: TARGET + 4, borderRadius: 9, borderWidth: 1.5, borderStyle: d ? 'solid' : 'dashed', borderColor: bad ? colour.suspect : colour.edge, paddingHorizontal: 8, justifyContent: 'center', opacity: ready ? 1 : 0.5 }}>
        <Words at="small" colour="soft">{label}</Words>
        <Words at="small" bold figure={d !== undefined} colour={bad ? 'suspect' : 'ink'}>{d ? readingWords({ ...d, probe: { fn: 'insulation' } }) : 'read'}</Words>
      </Pressable>
    );
  };
  return (
    <Sheet title="Before a board change" onClose={onClose} testID="board-change">
      <Words>What would trip new {NEW_DEVICE_MA} mA devices, found while the old board still hangs. Line and neutral of a way are tied: nothing that is plugged in is harmed.</Words>
      {ready ? null : <HoldButton testID="all-neutrals-out" label={`All neutrals out of their bars, in connectors (${change.neutralsIn.length})`} onHeld={() => record(...(view.state.opened.includes(board.id) ? [] : [{ type: 'opened' as const, point: board.id }]), { type: 'tookOut', point: board.id, ends: [...change.neutralsIn] })} />}
      {loadsOut.length ? <HoldButton testID="loads-in-change" label={`Loads back in, switches closed (${loadsOut.length})`} onHeld={() => record({ type: 'loadsMoved', parts: [...loadsOut], out: false })} /> : null}
      {ready && loadsOut.length ? <Words at="small" colour="soft">A borrowed neutral shows only through its load: put the loads in for this.</Words> : null}
      <Label>{change.left ? `${change.left} readings to go` : change.found ? `${change.found} to put right first` : 'Nothing found that would trip them'}</Label>
      {change.rows.map((r) => (
        <View key={r.way} style={{ gap: 4, borderTopWidth: 1, borderTopColor: colour.hairline, paddingVertical: 6 }} testID={`change-${r.way}`}>
          <Words bold>{r.name}</Words>
          <View style={{ flexDirection: 'row', gap: 8 }}>
            {cell('L and N to E', r.toEarth, `earth-${r.way}`)}
            {r.toOthers ? cell('to the other neutrals', r.toOthers, `others-${r.way}`) : null}
          </View>
          {[r.toEarth, r.toOthers].map((c, i) => {
            const d = c?.reading?.event.displayed;
            return c?.finding && c.finding !== 'good' && d && 'ohm' in d ? <Words key={i} at="small" bold colour="suspect">{changeFindingWords(c.finding, d.ohm, view.map?.nominalVolt ?? 230, NEW_DEVICE_MA)}</Words> : null;
          })}
        </View>
      ))}
      <Caution>Neutrals back in their bars before power: they are on the put-back list.</Caution>
    </Sheet>
  );
}
