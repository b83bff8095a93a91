import { useState } from 'react';
import { ScrollView, View } from 'react-native';
import { Button, Field, Label, Problem, RowButton, Sheet, Words } from '@/components';
import { boardOf, loadsOf, boardPart, circuitOfWay, defaultDevice, isDrawn, labelOfWay, linePoles, waysOfBoard, type Installation, type MapEdit } from '@core/installation';
import type { Issue } from '@core/issue';
import { issueText, plateWords } from '@core/wording';
import { DeviceFields, useDevice } from './DeviceFields';
import { useLeaving } from './leaving';
import { ResidualDevices } from './ResidualDevices';
import { SupplySheet, supplyWords } from './SupplySheet';

type Way = Extract<NonNullable<ReturnType<typeof boardOf>>['elements'][number], { kind: 'way' }>;

/** The board way by way: label as found, device, group. A tap says it better. */
export function BoardMap({ map, issues, change, first, onInside }: { map: Installation; issues: readonly Issue[]; change: (...edits: MapEdit[]) => boolean; first: string | null; onInside: (way: string) => void }) {
  const [open, setOpen] = useState<Way | null>(() => waysOfBoard(map).find((w) => w.id === first) ?? null);
  const [supply, setSupply] = useState(false);
  const board = boardOf(map);
  if (!board) return null;
  const ways = waysOfBoard(map);
  const groups = board.terminals.filter((t) => boardPart(t) === 'neutral bar');
  return (
    <ScrollView style={{ flex: 1 }} contentContainerStyle={{ paddingHorizontal: 18, paddingTop: 10, paddingBottom: 24, gap: 8, maxWidth: 760, width: '100%' }} testID="board-map">
      <Label>Supply</Label>
      <RowButton label={`Supply and main switch: ${supplyWords(map.supply)}`} onPress={() => setSupply(true)} testID="map-supply">
        <View style={{ flex: 1, minWidth: 0 }}>
          <Words bold>{map.supply?.arrangement ?? 'Earthing not said yet'}</Words>
          <Words at="small" colour="soft">{supplyWords(map.supply)}</Words>
        </View>
      </RowButton>
      <ResidualDevices map={map} issues={issues} change={change} first={first} />
      <Label>Ways</Label>
      <View>
        {ways.map((w) => {
          const name = labelOfWay(map, w.id);
          const group = w.group ? groups.find((g) => g.id === `N${w.group}`) : undefined;
          const phases = map.supply?.phases === 3 ? [...new Set(linePoles(board.elements, w).map((e) => e.a.slice(0, 2)))].join(' ') : '';
          return (
            <RowButton key={w.id} label={`${w.name}: ${name}`} onPress={() => setOpen(w)} testID={`map-way-${w.id}`}>
              <Words figure colour="soft" style={{ width: 30 }}>{w.id.replace(/\D/g, '')}</Words>
              <View style={{ flex: 1, minWidth: 0 }}>
                <Words bold lines={1}>{name}</Words>
                <Words at="small" colour="soft" lines={1}>{[plateWords(w.device ?? null), phases, group ? `behind ${(group.name ?? '').replace('N bar of ', '')}` : ''].filter(Boolean).join(', ')}</Words>
              </View>
              <Words at="small" colour="soft">{w.drawn ? `${w.drawn.shape}, ${circuitOfWay(map, w.id).points.length}` : 'not drawn'}</Words>
            </RowButton>
          );
        })}
      </View>
      {supply ? <SupplySheet supply={map.supply} surge={loadsOf(boardOf(map) ?? { elements: [] }).some((l) => l.loadClass === 'arrester')} nominalVolt={map.nominalVolt} issues={issues} change={change} onClose={() => setSupply(false)} /> : null}
      {open ? <WayEdit way={open} name={labelOfWay(map, open.id)} drawn={isDrawn(map, open.id)} issues={issues} change={change} onClose={() => setOpen(null)} onInside={() => onInside(open.id)} /> : null}
    </ScrollView>
  );
}

function WayEdit({ way, name, drawn, issues, change, onClose, onInside }: { way: Way; name: string; drawn: boolean; issues: readonly Issue[]; change: (...edits: MapEdit[]) => boolean; onClose: () => void; onInside: () => void }) {
  const [phrase, setPhrase] = useState('');
  const [label, setLabel] = useState(name);
  const device = useDevice(way.device ?? defaultDevice('mcb'));
  // All or nothing: what is refused leaves nothing half said.
  const { save, close } = useLeaving(
    () => [...(label.trim() === name ? [] : [{ edit: 'setLabel' as const, way: way.id, label }]), ...(device.touched() ? [{ edit: 'setDevice' as const, way: way.id, device: device.said() }] : []), ...(phrase.trim() ? [{ edit: 'drawCircuit' as const, way: way.id, phrase }] : [])],
    change, onClose,
  );
  return (
    <Sheet title={way.name} onClose={close} testID="edit-way" footer={<Button label="Save" kind="main" onPress={() => save()} testID="save-way" />}>
      {issues.map((i) => <Problem key={i.code} text={issueText(i)} />)}
      <Field label="What it feeds, as the label says" value={label} onChange={setLabel} testID="way-label" />
      <DeviceFields device={device} residualToo={way.device?.opens === 'line and neutral'} />
      <Label>Its circuit</Label>
      {drawn ? <Button label="Points and cables" onPress={() => { if (save()) onInside(); }} testID="edit-circuit" /> : (
        <>
          <Field label="Draw it: “ring, 8”, “radial: sink, oven, hob”, “lights, 6, one switch”, “sub-board, 4, RCD”" value={phrase} onChange={setPhrase} testID="circuit-phrase" />
          <Button label="Draw the circuit" disabled={!phrase.trim()} onPress={() => save()} testID="draw-it" />
          <Words at="small" colour="soft">Every reading taken so far stays where it was taken.</Words>
        </>
      )}
    </Sheet>
  );
}
