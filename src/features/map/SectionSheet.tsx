import { useState, type ReactNode } from 'react';
import { Button, Choice, Field, Label, Sheet, Tick } from '@/components';
import { findSection, type Installation, type MapEdit, type PointKind } from '@core/installation';
import { sectionName } from '@core/wording';
import { kindNames, kinds } from './kinds';
import { typed, useLeaving } from './leaving';

const sizes= ['1', '1.5', '2.5', '4', '6', '10'] as const;

/** A cable said better: its length, its size, a point in between. */
export function SectionSheet({ map, id, change, onClose, problems }: { map: Installation; id: string; change: (...edits: MapEdit[]) => boolean; onClose: () => void; problems: ReactNode }) {
  const section = findSection(map, id);
  const [length, setLength] = useState(section ? String(section.lengthM) : '');
  const [known, setKnown] = useState(section?.lengthKnown ?? false);
  const [kind, setKind] = useState<PointKind>('joint');
  const [name, setName] = useState('');
  const changed = section && (length !== String(section.lengthM) || known !== section.lengthKnown);
  const { save, close } = useLeaving(() => (changed ? [{ edit: 'setLength', section: id, lengthM: typed(length), known }] : []), change, onClose);
  if (!section) return null;
  return (
    <Sheet title={sectionName(map, section)} onClose={close} testID="edit-section">
      {problems}
      <Field label="Length" unit="m" figure keyboard="decimal-pad" value={length} onChange={(v) => { setLength(v); setKnown(true); }} testID="length" />
      <Tick label="Measured or known, not guessed" value={known} onChange={setKnown} />
      <Button label="Save length" onPress={() => save()} testID="save-length" />
      <Label>Conductor size</Label>
      <Choice label="Size in mm²" value={sizes.find((x) => Number(x) === section.cores[0]?.csaMm2) ?? null} onChange={(v) => change({ edit: 'setCsa', section: id, csaMm2: Number(v) })} options={sizes.map((s) => ({ value: s, label: `${s} mm²` }))} />
      <Label>A point in between</Label>
      <Choice label="Kind of the new point" value={kind} onChange={setKind} options={kinds} />
      <Field label="Its name" value={name} onChange={setName} testID="between-name" />
      <Button label="Put it in" onPress={() => save({ edit: 'insertPoint', section: id, kind: kind === 'board' || kind === 'undrawn' || kind === 'subboard' ? 'joint' : kind, name: name || kindNames[kind] })} />
    </Sheet>
  );
}
