import { useRef, useState, type ReactNode } from 'react';
import { Button, Choice, Field, Label, Sheet, Words } from '@/components';
import { endsAtPoint, findPoint, loadsOf, type Installation, type Load, type MapEdit, type Point } from '@core/installation';
import { formatOhm } from '@core/units';
import { kinds } from './kinds';
import { typed, useLeaving } from './leaving';
import { SubBoardWays } from './SubBoardWays';

/** A point said better: its name, what it is, what hangs there, what branches off. */
export function PointSheet({ map, id, change, onClose, problems }: { map: Installation; id: string; change: (...edits: MapEdit[]) => boolean; onClose: () => void; problems: ReactNode }) {
  const point = findPoint(map, id);
  const [name, setName] = useState(point?.name ?? '');
  const [newName, setNewName] = useState('');
  const [subWay, setSubWay] = useState<string | null>(null);
  const [extra, setExtra] = useState(String(point?.extraMin ?? ''));
  // What its parts hold that is typed and not saved yet.
  const parts = useRef<{ load: MapEdit | null; metal: MapEdit | null }>({ load: null, metal: null });
  const { save, close } = useLeaving(
    () => [
      ...(point && name !== point.name ? [{ edit: 'renamePoint' as const, point: id, name }] : []),
      ...(point && extra !== String(point.extraMin ?? '') ? [{ edit: 'setExtra' as const, point: id, minutes: extra.trim() === '' ? 0 : typed(extra) }] : []),
      ...[parts.current.metal, parts.current.load].filter((e) => e !== null),
    ],
    change, onClose,
  );
  if (!point) return null;
  const board = point.kind === 'board';
  const neighbours = [...new Set(endsAtPoint(map, id).map((e) => e.section[e.side === 'a' ? 'b' : 'a']))].filter((p) => ![point.kind, findPoint(map, p)?.kind].some((k) => k === 'board' || k === 'subboard'));
  return (
    <Sheet title={point.name} onClose={close} testID="edit-point">
      {subWay === null ? problems : null}
      <Field label="Name" value={name} onChange={setName} onSubmit={() => save()} testID="point-name" />
      {name !== point.name ? <Button label="Save name" onPress={() => save()} /> : null}
      {board || point.kind === 'undrawn' || point.kind === 'subboard' ? null : (
        <>
          <Label>What it is</Label>
          <Choice label="Kind" value={point.kind} onChange={(kind) => change({ edit: 'setKind', point: id, kind })} options={kinds} />
          <Label>Can it be read</Label>
          <Choice label="Reach" value={point.reach} onChange={(reach) => change({ edit: 'setReach', point: id, reach })} options={[{ value: 'face', label: 'Cover on' }, { value: 'opened', label: 'Only opened' }, { value: 'never', label: 'Hidden' }]} />
        </>
      )}
      {point.kind === 'subboard' ? <SubBoardWays map={map} hub={id} open={subWay} onOpen={setSubWay} problems={problems} change={change} /> : null}
      {board ? null : (
        <>
          <Field label="More minutes than usual to get there: ladder, ceiling, furniture" unit="min" figure keyboard="decimal-pad" value={extra} onChange={setExtra} testID="extra-min" />
          {extra !== String(point.extraMin ?? '') ? <Button label="Save minutes" testID="save-extra" onPress={() => change({ edit: 'setExtra', point: id, minutes: extra.trim() === '' ? 0 : typed(extra) })} /> : null}
        </>
      )}
      {board || point.kind === 'joint' || point.kind === 'switch' || point.kind === 'subboard' ? null : <LoadEdit map={map} id={id} onHold={(e) => { parts.current.load = e; }} onSave={() => save()} />}
      {board || !point.terminals.some((t) => t.role === 'E') || point.kind === 'undrawn' ? null : <MetalEdit key={point.metalOhm === undefined ? 'none' : 'some'} point={point} change={change} onHold={(e) => { parts.current.metal = e; }} />}
      {point.kind === 'undrawn' ? <DrawLump id={id} draw={save} /> : null}
      <Label>{point.kind === 'subboard' ? 'One more way' : 'A spur or a branch from here'}</Label>
      <Field label={point.kind === 'subboard' ? 'What it feeds' : 'Name of the new point'} value={newName} onChange={setNewName} testID="branch-name" />
      <Button label={point.kind === 'subboard' ? 'Add way here' : 'Add branch here'} onPress={() => save({ edit: 'addBranch', point: id, kind: 'outlet', name: newName || (point.kind === 'subboard' ? '' : 'Branch') })} />
      {neighbours.map((n) => <Button key={n} label={`Change places with ${findPoint(map, n)?.name}`} onPress={() => save({ edit: 'swapPoints', first: id, second: n })} />)}
      {board ? null : <Button label="Remove point" kind="danger" onPress={() => { if (change({ edit: 'removePoint', point: id })) onClose(); }} />}
    </Sheet>
  );
}

const classes: readonly { value: Load['loadClass']; label: string }[] = [
  { value: 'resistive', label: 'Heats or lights' }, { value: 'electronic', label: 'Electronic' }, { value: 'winding', label: 'Motor, transformer' }, { value: 'neon', label: 'Neon' }, { value: 'arrester', label: 'Surge protection' },
];

/** By metal the earth of a point can lead back beside its CPC: readings of the CPC are then lower, and a broken one can look whole. */
function MetalEdit({ point, change, onHold }: { point: Point; change: (e: MapEdit) => boolean; onHold: (e: MapEdit | null) => void }) {
  const [ohm, setOhm] = useState(String(point.metalOhm ?? ''));
  const hold = (text: string): void => {
    setOhm(text);
    onHold(text.trim() === '' || text === String(point.metalOhm ?? '') ? null : { edit: 'setMetal', point: point.id, ohm: typed(text) });
  };
  const touches = point.metalOhm !== undefined;
  return (
    <>
      <Label>Does it touch earthed metal: pipe, frame, structure</Label>
      <Choice label="Touches earthed metal" value={touches ? 'yes' : 'no'} onChange={(v) => { onHold(null); change({ edit: 'setMetal', point: point.id, ohm: v === 'yes' ? USUAL_METAL_OHM : null }); }} options={[{ value: 'no', label: 'No' }, { value: 'yes', label: 'Yes' }]} />
      {touches ? (
        <>
          <Field label={`By that way to the board’s earth: ${USUAL_METAL_OHM} Ω is a guess until it is measured, with its CPC out`} unit="Ω" figure keyboard="decimal-pad" value={ohm} onChange={hold} testID="metal-ohm" />
          {ohm !== String(point.metalOhm ?? '') && ohm.trim() !== '' ? <Button label="Save ohms" testID="save-metal" onPress={() => { if (change({ edit: 'setMetal', point: point.id, ohm: typed(ohm) })) onHold(null); }} /> : null}
        </>
      ) : null}
    </>
  );
}

/** Taken until somebody measures it. */
const USUAL_METAL_OHM = 0.5;

/** A circuit behind a sub-board, drawn when it is wanted. */
function DrawLump({ id, draw }: { id: string; draw: (e: MapEdit) => void }) {
  const [phrase, setPhrase] = useState('');
  return (
    <>
      <Label>Its circuit</Label>
      <Field label="Draw it: “radial, 3”, “lights, 4”" value={phrase} onChange={setPhrase} testID="lump-phrase" />
      <Button label="Draw the circuit" disabled={!phrase.trim()} onPress={() => draw({ edit: 'drawLump', point: id, phrase })} testID="draw-lump" />
    </>
  );
}

/** What hangs there, by its plate: a low reading can then be named a load instead of a fault. */
function LoadEdit({ map, id, onHold, onSave }: { map: Installation; id: string; onHold: (e: MapEdit | null) => void; onSave: () => void }) {
  const loads = loadsOf(findPoint(map, id) ?? { elements: [] });
  const [first] = loads;
  const known = first && !first.guessed ? Math.round(loads.reduce((sum, l) => sum + (map.nominalVolt * map.nominalVolt) / l.ohm, 0)) : null;
  const [watt, setWatt] = useState(known === null ? '' : String(known));
  const [loadClass, setClass] = useState<Load['loadClass']>(first?.loadClass ?? 'resistive');
  const value = typed(watt);
  const hold = (text: string, of: Load['loadClass']): void => {
    setWatt(text);
    setClass(of);
    const asBefore = text === (known === null ? '' : String(known)) && of === (first?.loadClass ?? 'resistive');
    onHold(text.trim() === '' || asBefore ? null : { edit: 'setLoad', point: id, watt: typed(text), loadClass: of });
  };
  return (
    <>
      <Label>What it uses</Label>
      <Choice label="Class of load" value={loadClass} onChange={(of) => hold(watt, of)} options={classes} />
      <Field label="Power on its plate" unit="W" figure keyboard="decimal-pad" value={watt} onChange={(text) => hold(text, loadClass)} testID="load-watt" />
      {value > 0 ? <Words at="small" colour="soft">{`Cold, L to N: about ${formatOhm((map.nominalVolt * map.nominalVolt) / (value / Math.max(1, loads.length)))}${loads.length > 1 ? ' each' : ''}.`}</Words> : null}
      <Button label="Save load" disabled={watt.trim() === ''} onPress={onSave} testID="save-load" />
    </>
  );
}
