import { Pressable, View } from 'react-native';
import { Button, HoldButton, Label, Sheet, Tick, Words } from '@/components';
import { useJob } from '@/features/job/JobProvider';
import { useTheme } from '@/theme';
import { boardOf, endsAtPoint } from '@core/installation';
import type { JobEvent, JobView } from '@core/job';
import { putBackList, type PutBackItem } from '@core/safety';
import { endsWords, partName, pointName, spotName, switchedWords } from '@core/wording';
import { isElementKey } from '@core/workstate';

const clock = (at: number): string => new Date(at).toTimeString().slice(0, 5);

/** What is taken apart and how, always in sight; one tap to the put-back list. */
export function StateBar({ onPress }: { onPress: () => void }) {
  const { colour, large } = useTheme();
  const { view } = useJob();
  const proofs = [...view.proofs.values()];
  const last = proofs.at(-1);
  const made = view.secured ? `✓ secured${view.secured.people ? ` · ${view.secured.people.board} at board` : ''}${last ? ` · proved ${clock(last.at)}` : ''}` : 'not made dead';
  return (
    <Pressable testID="state-bar" role="button" aria-label={`State: ${made}, ${stateWords(view)}`} onPress={onPress} style={{ minHeight: 48, flexDirection: 'row', flexWrap: 'wrap', justifyContent: 'space-between', alignItems: 'center', alignContent: 'center', columnGap: 12, borderWidth: 1.5, borderColor: view.secured ? colour.edge : colour.danger, borderRadius: 11, paddingHorizontal: 12, paddingVertical: 6 }}>
      <Words bold colour={view.secured ? 'ink' : 'danger'} lines={1} at={large ? 'small' : 'body'} style={{ flexShrink: 0 }}>{made}</Words>
      <Words style={{ flexShrink: 1 }} align={large ? 'left' : 'right'} lines={large ? 1 : 2} at="small">{stateWords(view)}</Words>
    </Pressable>
  );
}

export function stateWords(view: JobView): string {
  const { map, state } = view;
  if (!map) return '';
  const board = boardOf(map)?.id ?? '';
  const boardEnds = endsAtPoint(map, board);
  const outAtBoard = boardEnds.filter((e) => state.out.includes(e.key)).length;
  const splits = [...new Set(state.out.map((k) => spotName(map, k).split(',')[0] ?? ''))].filter((n) => n !== pointName(map, board));
  const covers = state.opened.filter((p) => p !== board).length;
  return [
    outAtBoard ? `${outAtBoard === boardEnds.length ? 'all' : outAtBoard} out at board` : '',
    splits.length ? (splits.length === 1 ? `split at ${splits[0]}` : `${splits.length} splits`) : '',
    state.links.length ? `${state.links.length} ${state.links.length === 1 ? 'link' : 'links'} in` : '',
    state.loadsOut.length ? `${state.loadsOut.length} ${state.loadsOut.length === 1 ? 'load' : 'loads'} out` : '',
    covers ? `${covers} ${covers === 1 ? 'cover' : 'covers'} off` : '',
    // A figure stays with its word where the line breaks.
  ].filter(Boolean).map((part) => part.replace(' ', '\u00a0')).join(' · ') || 'all joined';
}

/** Gives the put-back list, and takes back what never was. */
export function StateSheet({ onClose }: { onClose: () => void }) {
  const { view, file, record } = useJob();
  const { map, state } = view;
  if (!map) return null;
  const board = boardOf(map);
  const boardEnds = endsAtPoint(map, board?.id ?? '').map((e) => e.key);
  const allOut = boardEnds.every((k) => state.out.includes(k));
  const loads = map.points.flatMap((p) => p.elements.flatMap((e) => (e.kind === 'load' ? [`${p.id}.${e.id}`] : [])));
  const loadsIn = loads.filter((l) => !state.loadsOut.includes(l));
  const struck = new Set(file.events.flatMap((e) => (e.type === 'struck' ? [e.target] : [])));
  const changes = file.events.filter((e) => stateTypes.has(e.type) && !struck.has(e.id)).slice(-6).reverse();
  return (
    <Sheet title="State and put-back list" onClose={onClose} testID="state-sheet">
      {putBackList(map, state, view.secured !== null).map((i) => <PutBackRow key={i.item} item={i} />)}
      {state.out.length + state.links.length + state.opened.length + state.loadsOut.length === 0 ? <Words>Nothing is taken apart.</Words> : null}
      <Label>Change</Label>
      {!allOut && board && map.shape !== 'board' ? <HoldButton testID="board-out" label="All ends out at the board" onHeld={() => record({ type: 'opened', point: board.id }, { type: 'tookOut', point: board.id, ends: boardEnds.filter((k) => !state.out.includes(k)) })} /> : null}
      {loadsIn.length ? <HoldButton testID="loads-out" label={`All loads out (${loadsIn.length})`} onHeld={() => record({ type: 'loadsMoved', parts: loadsIn, out: true })} /> : null}
      <Words at="small" colour="soft">Everything else is changed at its row on the strip.</Words>
      <Label>At hand</Label>
      <Tick label="A long lead that reaches from point to point" value={view.longLead} onChange={(have) => record({ type: 'longLead', have })} />
      {changes.length ? <Label>It never was</Label> : null}
      {changes.map((e) => (
        <View key={e.id} style={{ flexDirection: 'row', alignItems: 'center', justifyContent: 'space-between', gap: 8 }}>
          <Words style={{ flex: 1 }}>{changeWords(view, e)}</Words>
          <Button label="It never was" accessibilityLabel={`It never was: ${changeWords(view, e)}`} onPress={() => record({ type: 'struck', target: e.id, why: 'it never was' })} />
        </View>
      ))}
    </Sheet>
  );
}

const stateTypes = new Set<string>(['opened', 'coverOn', 'tookOut', 'putBack', 'linked', 'unlinked', 'switched', 'switchesOn', 'loadsMoved', 'wasStill', 'stoodOther']);

function changeWords(view: JobView, e: JobEvent): string {
  const { map } = view;
  if (!map) return '';
  switch (e.type) {
    case 'opened': return `${pointName(map, e.point)} opened`;
    case 'coverOn': return `${pointName(map, e.point)} cover on`;
    case 'tookOut': return `out at ${pointName(map, e.point)}: ${endsWords(map, e.ends)}`;
    case 'putBack': return `back at ${pointName(map, e.point)}: ${endsWords(map, e.ends)}`;
    case 'linked': return `link at ${spotName(map, e.link.a)}`;
    case 'unlinked': return 'link off';
    case 'switched': return `${pointName(map, e.part.split('.')[0] ?? '')} ${switchedWords(map, e.part, e.off)}`;
    case 'switchesOn': return e.ways.some(isElementKey) ? `${e.on ? 'plugged in and on' : 'plugs as they may be'} at ${e.ways.map((w) => pointName(map, w.split('.')[0] ?? '')).join(', ')}` : `every switch ${e.on ? 'on' : 'as it may be'} on ${e.ways.map((w) => pointName(map, w)).join(', ')}`;
    case 'loadsMoved': return `${e.parts.length} ${e.parts.length === 1 ? 'load' : 'loads'} ${e.out ? 'out' : 'in'}`;
    case 'wasStill': return `record put right: ${partName(map, e.part)} was still in`;
    case 'stoodOther': return `record put right: the switch at ${pointName(map, e.part.split('.')[0] ?? '')} stood the other way`;
    default: return e.type;
  }
}

/** One thing to put back, and the hold that says it was. */
export function PutBackRow({ item }: { item: PutBackItem }) {
  const { view, record } = useJob();
  const { map, state } = view;
  if (!map) return null;
  switch (item.kind) {
    case 'link': return <HoldButton label={`Link at ${spotName(map, state.links.find((l) => l.id === item.parts[0])?.a ?? '')} is off`} onHeld={() => record({ type: 'unlinked', link: item.parts[0] ?? '' })} />;
    case 'ends': return <HoldButton testID={`back-${item.point}`} label={`Back at ${pointName(map, item.point)}: ${item.parts.length > 3 ? `${item.parts.length} ends` : endsWords(map, item.parts)}`} onHeld={() => record({ type: 'putBack', point: item.point, ends: [...item.parts] })} />;
    case 'cover': return <HoldButton testID={`cover-${item.point}`} label={`Cover on: ${pointName(map, item.point)}`} onHeld={() => record({ type: 'coverOn', point: item.point })} />;
    case 'load': return <HoldButton testID="loads-in" label={`Loads back in (${item.parts.length})`} onHeld={() => record({ type: 'loadsMoved', parts: [...item.parts], out: false })} />;
    case 'lock': return <Words>{`Lock on the way; key ${view.secured?.key ?? ''}.`}</Words>;
  }
}
