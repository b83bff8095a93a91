import { useState } from 'react';
import { Choice, Field, Label, Tick } from '@/components';
import type { Device } from '@core/installation';
import { typed } from './leaving';
import { typeOptions } from './ResidualDevices';

const kinds: readonly { value: Device['kind']; label: string }[] = [{ value: 'mcb', label: 'MCB' }, { value: 'fuse', label: 'Fuse' }, { value: 'rcbo', label: 'RCBO' }];
const curves = ['B', 'C', 'D'] as const;

/** A device while it is being said: what is typed, and the device that it makes. A figure that is missing is NaN, and refused by the map. */
export function useDevice(first: Device) {
  const [device, setDevice] = useState(first);
  const [rating, setRating] = useState(String(first.ratingA));
  const [residual, setResidual] = useState(first.residualMa === null ? '' : String(first.residualMa));
  const [read, setRead] = useState(first.guessed !== true);
  const figures = (d: Pick<Device, 'kind' | 'curve' | 'residualType'>): string => [d.kind, d.curve, d.residualType, rating, residual].join();
  const [before] = useState(() => figures(first));
  // Who says another figure has looked.
  const guessed = !read && figures(device) === before;
  const said = (): Device => ({ ...device, guessed: guessed || undefined, curve: device.kind === 'fuse' ? null : (device.curve ?? 'B'), ratingA: typed(rating), residualMa: device.kind === 'rcbo' ? (residual.trim() === '' ? null : typed(residual)) : null });
  const [held] = useState(() => JSON.stringify(said()));
  const touched = (): boolean => JSON.stringify(said()) !== held;
  return { device, setDevice, rating, setRating, residual, setResidual, wasGuessed: first.guessed === true, guessed, setRead, said, touched };
}

/** Kind, curve and figures of the device of a way. */
export function DeviceFields({ device: { device, setDevice, rating, setRating, residual, setResidual, wasGuessed, guessed, setRead }, residualToo }: { device: ReturnType<typeof useDevice>; residualToo: boolean }) {
  return (
    <>
      <Label>Device</Label>
      <Choice label="Device" value={device.kind} onChange={(kind) => setDevice({ ...device, kind })} options={residualToo ? kinds : kinds.filter((k) => k.value !== 'rcbo')} />
      {device.kind === 'fuse' ? null : <Choice label="Curve" value={device.curve} onChange={(curve) => setDevice({ ...device, curve })} options={curves.map((c) => ({ value: c, label: c }))} />}
      <Field label="Rating" unit="A" figure keyboard="decimal-pad" value={rating} onChange={setRating} testID="way-rating" />
      {device.kind === 'rcbo' ? (
        <>
          <Field label="Residual current" unit="mA" figure keyboard="decimal-pad" value={residual} onChange={setResidual} testID="way-residual" />
          <Label>Residual type, as on its front</Label>
          <Choice label="Residual type" value={device.residualType ?? 'unsaid'} onChange={(t) => setDevice({ ...device, residualType: t === 'unsaid' ? undefined : t })} options={typeOptions} />
        </>
      ) : null}
      {wasGuessed ? <Tick label="Read on the device, not guessed" value={!guessed} onChange={setRead} testID="way-read" /> : null}
    </>
  );
}
