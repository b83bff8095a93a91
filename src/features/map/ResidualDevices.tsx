import { useState } from 'react';
import { View } from 'react-native';
import { Button, Choice, Field, Label, Problem, RowButton, Sheet, Tick, Words } from '@/components';
import { protectionsOf, residualTypes, type Installation, type MapEdit, type Protection, type ResidualType } from '@core/installation';
import type { Issue } from '@core/issue';
import { devicePlate, deviceWords, issueText } from '@core/wording';
import { typed, useLeaving } from './leaving';

/** Words for a choice of type; nobody has to know it. */
export const typeOptions: readonly { value: ResidualType | 'unsaid'; label: string }[] = [{ value: 'unsaid', label: 'Not said' }, ...residualTypes.map((t) => ({ value: t, label: t }))];

/** The residual current devices over several ways, with what they go at and what they can see. */
export function ResidualDevices({ map, issues, change, first }: { map: Installation; issues: readonly Issue[]; change: (...edits: MapEdit[]) => boolean; first: string | null }) {
  const devices = protectionsOf(map).filter((d) => d.residualMa !== null && (d.kind === 'rcd' || d.kind === 'main'));
  const [open, setOpen] = useState<Protection | null>(() => devices.find((d) => d.id === first) ?? null);
  if (!devices.length) return null;
  return (
    <View>
      <Label>RCDs</Label>
      {devices.map((d) => (
        <RowButton key={d.id} label={`${deviceWords(map, d.id)}: ${devicePlate(map, d.id)}`} onPress={() => setOpen(d)} testID={`map-rcd-${d.id}`}>
          <View style={{ flex: 1, minWidth: 0 }}>
            <Words bold lines={1}>{deviceWords(map, d.id)}</Words>
            <Words at="small" colour="soft" lines={1}>{`${devicePlate(map, d.id)}${d.residualType ? '' : ', type not said'}`}</Words>
          </View>
        </RowButton>
      ))}
      {open ? <ResidualEdit device={open} title={deviceWords(map, open.id)} issues={issues} change={change} onClose={() => setOpen(null)} /> : null}
    </View>
  );
}

function ResidualEdit({ device, title, issues, change, onClose }: { device: Protection; title: string; issues: readonly Issue[]; change: (...edits: MapEdit[]) => boolean; onClose: () => void }) {
  const [mA, setMa] = useState(String(device.residualMa ?? ''));
  const [type, setType] = useState<ResidualType | 'unsaid'>(device.residualType ?? 'unsaid');
  const [read, setRead] = useState(!device.guessed);
  const another = mA !== String(device.residualMa ?? '') || type !== (device.residualType ?? 'unsaid');
  const changed = another || (device.guessed && read);
  const { save, close } = useLeaving(() => (changed ? [{ edit: 'setResidual', device: device.id, residualMa: typed(mA), type: type === 'unsaid' ? null : type }] : []), change, onClose);
  return (
    <Sheet title={title} onClose={close} testID="edit-rcd" footer={<Button label="Save" kind="main" onPress={() => save()} testID="save-rcd" />}>
      {issues.map((i) => <Problem key={i.code} text={issueText(i)} />)}
      <Field label="Residual current, IΔn" unit="mA" figure keyboard="decimal-pad" value={mA} onChange={setMa} testID="rcd-ma" />
      <Label>Type, as on its front</Label>
      <Choice label="Type" value={type} onChange={setType} options={typeOptions} />
      {device.guessed ? <Tick label="Read on the device, not guessed" value={read || another} onChange={setRead} testID="rcd-read" /> : null}
      <Words at="small" colour="soft">AC sees alternating current alone; A pulsating too; F and B more. Behind electronics AC may be blind.</Words>
    </Sheet>
  );
}
