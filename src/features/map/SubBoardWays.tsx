import type { ReactNode } from 'react';
import { View } from 'react-native';
import { Button, Label, RowButton, Sheet, Words } from '@/components';
import { defaultDevice, findPoint, labelOfWay, type Device, type Installation, type MapEdit } from '@core/installation';
import { plateWords } from '@core/wording';
import { DeviceFields, useDevice } from './DeviceFields';
import { useLeaving } from './leaving';

interface SubWay { readonly id: string; readonly name: string; readonly device: Device | null }

/** Ways of a sub-board with what they feed and what protects them. A tap says it better. */
export function SubBoardWays({ map, hub, open, onOpen, problems, change }: { map: Installation; hub: string; open: string | null; onOpen: (way: string | null) => void; problems: ReactNode; change: (...edits: MapEdit[]) => boolean }) {
  const elements = findPoint(map, hub)?.elements ?? [];
  const ways = elements.flatMap((e): SubWay[] => (e.kind === 'switch' && e.id !== 'main' ? [{ id: `${hub}.${e.id}`, name: e.name, device: e.device ?? null }] : []));
  const edited = ways.find((w) => w.id === open);
  const residualMa = elements.flatMap((e) => (e.kind === 'pole' && e.residualMa ? [e.residualMa] : []))[0];
  return (
    <View>
      <Label>Its ways</Label>
      {residualMa === undefined ? null : <Words at="small" colour="soft">{`All behind its RCD, ${residualMa} mA.`}</Words>}
      {ways.map((w) => {
        const plate = plateWords(w.device) || 'device not said yet';
        return (
          <RowButton key={w.id} label={`${w.name}: ${labelOfWay(map, w.id)}, ${plate}`} onPress={() => onOpen(w.id)} testID={`sub-way-${w.id}`}>
            <View style={{ flex: 1, minWidth: 0 }}>
              <Words bold lines={1}>{labelOfWay(map, w.id)}</Words>
              <Words at="small" colour="soft" lines={1}>{plate}</Words>
            </View>
          </RowButton>
        );
      })}
      {edited ? <SubWayEdit way={edited} title={`${findPoint(map, hub)?.name ?? ''}, ${edited.name}`} problems={problems} change={change} onClose={() => onOpen(null)} /> : null}
    </View>
  );
}

function SubWayEdit({ way, title, problems, change, onClose }: { way: SubWay; title: string; problems: ReactNode; change: (...edits: MapEdit[]) => boolean; onClose: () => void }) {
  const device = useDevice(way.device ?? { ...defaultDevice('mcb'), ratingA: 16 });
  const set: MapEdit = { edit: 'setDevice', way: way.id, device: device.said() };
  const { close } = useLeaving(() => (device.touched() ? [set] : []), change, onClose);
  return (
    <Sheet title={title} onClose={close} testID="edit-sub-way" footer={<Button label="Save" kind="main" onPress={() => { if (change(set)) onClose(); }} testID="save-sub-way" />}>
      {problems}
      <DeviceFields device={device} residualToo={false} />
    </Sheet>
  );
}
