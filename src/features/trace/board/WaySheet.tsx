import { View } from 'react-native';
import { Button, HoldButton, Label, RowButton, Sheet, Words } from '@/components';
import { useJob } from '@/features/job/JobProvider';
import { boardOf, circuitOfWay, endsAtPoint, terminalKey } from '@core/installation';
import type { EventBody } from '@core/job';
import { plateWords } from '@core/wording';
import { elementKey } from '@core/workstate';
import type { WayRow } from './rows';

interface Props { row: WayRow; leads: readonly string[][]; onLead: (place: string, tie: boolean) => void; onClose: () => void; onInside: () => void; onDraw: () => void }

/** What can be done at one way: neutral and earth in and out of their bars, loads, leads on its terminals. */
export function WaySheet({ row, leads, onLead, onClose, onInside, onDraw }: Props) {
  const { view, record } = useJob();
  const { map, state } = view;
  const board = map && boardOf(map);
  if (!map || !board) return null;
  const circuit = circuitOfWay(map, row.way);
  const ends = endsAtPoint(map, board.id).filter((e) => circuit.leaves.includes(e.section));
  const legs = circuit.leaves.length > 1;
  const act = (...events: EventBody[]): void => {
    record(...events);
    onClose();
  };
  const cover: EventBody[] = state.opened.includes(board.id) ? [] : [{ type: 'opened', point: board.id }];
  const undrawn = circuit.points.find((p) => p.kind === 'undrawn');
  const loads = circuit.points.flatMap((p) => p.elements.flatMap((e) => (e.kind === 'load' ? [elementKey(p.id, e.id)] : [])));
  const places = ends.flatMap((e) => {
    const out = state.out.includes(e.key);
    return [{ key: out ? e.key : terminalKey(board.id, e.terminal), words: `${e.role} ${out ? 'tail' : 'terminal'}${legs && out ? ` ${ends.filter((x) => x.role === e.role).indexOf(e) + 1}` : ''}` }, ...(out ? [{ key: terminalKey(board.id, e.terminal), words: `${e.role} bar` }] : [])];
  });
  const spots = places.filter((p, i) => places.findIndex((q) => q.key === p.key) === i);
  const part = elementKey(board.id, row.way);
  return (
    <Sheet title={`${row.name}${row.device ? `, ${plateWords(row.device)}` : ''}`} onClose={onClose} testID="way-sheet">
      {row.drawn ? <Button label="Into the circuit" kind="main" onPress={onInside} testID="go-inside" /> : <Button label="Draw its circuit to go into it" onPress={onDraw} testID="draw-circuit" />}
      <Label>Done here</Label>
      {['N', 'E'].map((role) => {
        const mine = ends.filter((e) => e.role === role).map((e) => e.key);
        const out = mine.filter((k) => state.out.includes(k));
        const back = out.length > 0;
        if (!mine.length) return null;
        return <HoldButton key={role} testID={`pull-${role}`} label={back ? `${role} back in its bar` : `${role} out of its bar${legs ? ', both legs' : ''}`} onHeld={() => act(...cover, back ? { type: 'putBack', point: board.id, ends: out } : { type: 'tookOut', point: board.id, ends: mine })} />;
      })}
      {loads.length ? <HoldButton testID="way-loads" label={row.loadsIn ? 'All its loads are out' : 'A load is in'} onHeld={() => act({ type: 'loadsMoved', parts: loads, out: row.loadsIn })} /> : null}
      {undrawn ? <HoldButton testID="switches-on" label={state.on?.includes(undrawn.id) ? 'Its switches may be off again' : 'Every switch on it is on'} onHeld={() => act({ type: 'switchesOn', ways: [undrawn.id], on: !state.on?.includes(undrawn.id) })} /> : null}
      <HoldButton label={row.on ? 'Way is switched off' : 'Way is switched on'} disabled={!row.on} onHeld={() => act({ type: 'switched', part, off: row.on })} />
      {row.on ? null : <Words at="small" colour="soft">The way stays off while dead tests are made.</Words>}
      <Label>{leads.length === 1 ? 'Second lead on' : 'Lead on'}</Label>
      {spots.map((p) => (
        <View key={p.key} style={{ flexDirection: 'row', gap: 8 }}>
          <RowButton label={`Lead on ${p.words}`} testID={`lead-${p.key}`} onPress={() => onLead(p.key, false)} style={{ flex: 1 }}><Words>{p.words}</Words></RowButton>
          {leads.length ? <Button label="and" kind="quiet" accessibilityLabel={`Tie ${p.words} to the last lead`} onPress={() => onLead(p.key, true)} /> : null}
        </View>
      ))}
    </Sheet>
  );
}
