import { useLocalSearchParams } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import { Button, Choice, Field, Label, Problem, Sheet, Tick, Words } from '@/components';
import { JobFrame } from '@/features/job/JobFrame';
import { THROUGH_ARRESTER } from '@core/job';
import { useJob } from '@/features/job/JobProvider';
import { BoardMap } from './BoardMap';
import { DraftNow } from './DraftNow';
import { SubBoardWays } from './SubBoardWays';
import { describeStrip, Strip, StripAcross, type StripRow } from '@/features/trace/strip';
import { useTheme } from '@/theme';
import { circuitMap, editMap, endsAtPoint, findPoint, findSection, labelOfWay, loadsOf, waysOfBoard, type Installation, type Load, type MapEdit, type Point, type PointKind } from '@core/installation';
import type { Issue } from '@core/issue';
import { formatMetres, formatOhm } from '@core/units';
import { issueText, sectionName } from '@core/wording';

const kinds: readonly { value: PointKind; label: string }[] = [
  { value: 'outlet', label: 'Outlet' }, { value: 'lamp', label: 'Light' }, { value: 'switch', label: 'Switch' }, { value: 'joint', label: 'Joint' }, { value: 'fixed', label: 'Appliance' },
];
const kindNames: Readonly<Record<PointKind, string>> = { board: 'Board', outlet: 'Outlet', lamp: 'Light', switch: 'Switch', joint: 'Joint', fixed: 'Appliance', undrawn: 'Circuit, not drawn', subboard: 'Sub-board' };
const sizes = ['1', '1.5', '2.5', '4', '6', '10'] as const;

/** The map as it is believed: tap a point or a cable to say it better. Readings stay where they were taken. */
export function MapScreen() {
  const { view, record } = useJob();
  const { wide } = useTheme();
  const [row, setRow] = useState<StripRow | null>(null);
  const [inside, setInside] = useState<string | null>(null);
  const { way } = useLocalSearchParams<{ way?: string }>();
  const [issues, setIssues] = useState<readonly Issue[]>([]);
  const { map } = view;
  if (!map) return <JobFrame stage="map"><DraftNow /></JobFrame>;
  const change = (...edits: MapEdit[]): boolean => {
    let edited = map;
    for (const edit of edits) {
      const result = editMap(edited, edit);
      if (!result.ok) {
        setIssues(result.issues);
        return false;
      }
      edited = result.value;
    }
    setIssues([]);
    record(...edits.map((edit) => ({ type: 'mapEdited' as const, edit })));
    return true;
  };
  const parked = view.readings.filter((r) => r.parked && r.parked !== THROUGH_ARRESTER && !r.struck).length;
  if (map.shape === 'board' && inside === null)
    return (
      <JobFrame stage="map">
        <Words at="small" colour="soft" style={{ paddingHorizontal: 18, paddingTop: 10 }}>{`${waysOfBoard(map).length} ways. Tap one to say what it feeds and what protects it, or to draw its circuit.`}</Words>
        <BoardMap map={map} issues={issues} change={change} first={typeof way === 'string' ? way : null} onInside={setInside} />
      </JobFrame>
    );
  const shown = inside === null ? map : circuitMap(map, inside);
  const rows = describeStrip({ ...view, map: shown }, null, null, []).map((r) => ({ ...r, note: r.kind === 'section' ? lengthWords(map, r.id) : r.note }));
  const known = shown.sections.filter((s) => s.lengthKnown).length;
  const close = (): void => {
    setRow(null);
    setIssues([]);
  };
  return (
    <JobFrame stage="map">
      <View style={{ paddingHorizontal: 18, paddingTop: 10, gap: 4 }}>
        {inside === null ? null : <Button label={`${labelOfWay(map, inside)}: back to the board`} small onPress={() => setInside(null)} testID="to-board" />}
        <Words at="small" colour="soft">{`${shown.points.length - 1} points, ${shown.sections.length} cables, ${known} lengths known. Tap a point, or the cable between two.`}</Words>
        {parked ? <Words at="small" bold>{`${parked} ${parked === 1 ? 'reading is' : 'readings are'} parked: the place is no longer on the map.`}</Words> : null}
      </View>
      {wide ? <View style={{ paddingHorizontal: 20 }}><StripAcross rows={rows} onRow={setRow} /></View> : <Strip rows={rows} onRow={setRow} asMap bottomSpace={24} />}
      <View style={{ padding: 14, gap: 8 }}>
        <Tick label="The order of the points is known" value={map.orderKnown} onChange={(known) => change({ edit: 'orderKnown', known })} />
      </View>
      {row ? <EditSheet map={map} row={row} issues={issues} change={change} onClose={close} /> : null}
    </JobFrame>
  );
}

function lengthWords(map: Installation, id: string): string {
  const s = findSection(map, id);
  return s ? `${formatMetres(s.lengthM)}${s.lengthKnown ? '' : ' guessed'}, ${s.cores[0]?.csaMm2 ?? '?'} mm²` : '';
}

interface EditProps { map: Installation; row: StripRow; issues: readonly Issue[]; change: (e: MapEdit) => boolean; onClose: () => void }

function EditSheet({ map, row, issues, change, onClose }: EditProps) {
  const problems = issues.map((i) => <Problem key={i.code} text={issueText(i)} />);
  if (row.kind === 'section') return <SectionSheet map={map} id={row.id} change={change} onClose={onClose} problems={problems} />;
  return <PointSheet map={map} id={row.id.split('#')[0] ?? row.id} change={change} onClose={onClose} problems={problems} />;
}

function PointSheet({ map, id, change, onClose, problems }: Omit<EditProps, 'row' | 'issues'> & { id: string; problems: React.ReactNode }) {
  const point = findPoint(map, id);
  const [name, setName] = useState(point?.name ?? '');
  const [newName, setNewName] = useState('');
  const [subWay, setSubWay] = useState<string | null>(null);
  const [extra, setExtra] = useState(String(point?.extraMin ?? ''));
  if (!point) return null;
  const board = point.kind === 'board';
  const neighbours = [...new Set(endsAtPoint(map, id).map((e) => e.section[e.side === 'a' ? 'b' : 'a']))].filter((p) => ![point.kind, findPoint(map, p)?.kind].some((k) => k === 'board' || k === 'subboard'));
  const finish = (edit: MapEdit): void => {
    if (change(edit)) onClose();
  };
  return (
    <Sheet title={point.name} onClose={onClose} testID="edit-point">
      {subWay === null ? problems : null}
      <Field label="Name" value={name} onChange={setName} onSubmit={() => finish({ edit: 'renamePoint', point: id, name })} testID="point-name" />
      {name !== point.name ? <Button label="Save name" onPress={() => finish({ edit: 'renamePoint', point: id, name })} /> : null}
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
          {extra !== String(point.extraMin ?? '') ? <Button label="Save minutes" testID="save-extra" onPress={() => change({ edit: 'setExtra', point: id, minutes: extra.trim() === '' ? 0 : Number(extra.replace(',', '.')) })} /> : null}
        </>
      )}
      {board || point.kind === 'joint' || point.kind === 'switch' || point.kind === 'subboard' ? null : <LoadEdit map={map} id={id} change={finish} />}
      {board || !point.terminals.some((t) => t.role === 'E') || point.kind === 'undrawn' ? null : <MetalEdit key={point.metalOhm === undefined ? 'none' : 'some'} point={point} change={change} />}
      {point.kind === 'undrawn' ? <DrawLump id={id} draw={finish} /> : null}
      <Label>{point.kind === 'subboard' ? 'One more way' : 'A spur or a branch from here'}</Label>
      <Field label={point.kind === 'subboard' ? 'What it feeds' : 'Name of the new point'} value={newName} onChange={setNewName} testID="branch-name" />
      <Button label={point.kind === 'subboard' ? 'Add way here' : 'Add branch here'} onPress={() => finish({ edit: 'addBranch', point: id, kind: 'outlet', name: newName || (point.kind === 'subboard' ? '' : 'Branch') })} />
      {neighbours.map((n) => <Button key={n} label={`Change places with ${findPoint(map, n)?.name}`} onPress={() => finish({ edit: 'swapPoints', first: id, second: n })} />)}
      {board ? null : <Button label="Remove point" kind="danger" onPress={() => finish({ edit: 'removePoint', point: id })} />}
    </Sheet>
  );
}

const classes: readonly { value: Load['loadClass']; label: string }[] = [
  { value: 'resistive', label: 'Heats or lights' }, { value: 'electronic', label: 'Electronic' }, { value: 'winding', label: 'Motor, transformer' }, { value: 'neon', label: 'Neon' }, { value: 'arrester', label: 'Surge protection' },
];

/** By metal the earth of a point can lead back beside its CPC: readings of the CPC are then lower, and a broken one can look whole. */
function MetalEdit({ point, change }: { point: Point; change: (e: MapEdit) => boolean }) {
  const [ohm, setOhm] = useState(String(point.metalOhm ?? ''));
  const touches = point.metalOhm !== undefined;
  return (
    <>
      <Label>Does it touch earthed metal: pipe, frame, structure</Label>
      <Choice label="Touches earthed metal" value={touches ? 'yes' : 'no'} onChange={(v) => change({ edit: 'setMetal', point: point.id, ohm: v === 'yes' ? USUAL_METAL_OHM : null })} options={[{ value: 'no', label: 'No' }, { value: 'yes', label: 'Yes' }]} />
      {touches ? (
        <>
          <Field label={`By that way to the board’s earth: ${USUAL_METAL_OHM} Ω is a guess until it is measured, with its CPC out`} unit="Ω" figure keyboard="decimal-pad" value={ohm} onChange={setOhm} testID="metal-ohm" />
          {ohm !== String(point.metalOhm ?? '') && ohm.trim() !== '' ? <Button label="Save ohms" testID="save-metal" onPress={() => change({ edit: 'setMetal', point: point.id, ohm: Number(ohm.replace(',', '.')) })} /> : null}
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
function LoadEdit({ map, id, change }: { map: Installation; id: string; change: (e: MapEdit) => void }) {
  const loads = loadsOf(findPoint(map, id) ?? { elements: [] });
  const [first] = loads;
  const known = first && !first.guessed ? Math.round(loads.reduce((sum, l) => sum + (map.nominalVolt * map.nominalVolt) / l.ohm, 0)) : null;
  const [watt, setWatt] = useState(known === null ? '' : String(known));
  const [loadClass, setClass] = useState<Load['loadClass']>(first?.loadClass ?? 'resistive');
  const value = watt.trim() === '' ? NaN : Number(watt.replace(',', '.'));
  return (
    <>
      <Label>What it uses</Label>
      <Choice label="Class of load" value={loadClass} onChange={setClass} options={classes} />
      <Field label="Power on its plate" unit="W" figure keyboard="decimal-pad" value={watt} onChange={setWatt} testID="load-watt" />
      {value > 0 ? <Words at="small" colour="soft">{`Cold, L to N: about ${formatOhm((map.nominalVolt * map.nominalVolt) / (value / Math.max(1, loads.length)))}${loads.length > 1 ? ' each' : ''}.`}</Words> : null}
      <Button label="Save load" disabled={watt.trim() === ''} onPress={() => change({ edit: 'setLoad', point: id, watt: value, loadClass })} testID="save-load" />
    </>
  );
}

function SectionSheet({ map, id, change, onClose, problems }: { map: Installation; id: string; change: (e: MapEdit) => boolean; onClose: () => void; problems: React.ReactNode }) {
  const section = findSection(map, id);
  const [length, setLength] = useState(section ? String(section.lengthM) : '');
  const [known, setKnown] = useState(section?.lengthKnown ?? false);
  const [kind, setKind] = useState<PointKind>('joint');
  const [name, setName] = useState('');
  if (!section) return null;
  const finish = (edit: MapEdit): void => {
    if (change(edit)) onClose();
  };
  return (
    <Sheet title={sectionName(map, section)} onClose={onClose} testID="edit-section">
      {problems}
      <Field label="Length" unit="m" figure keyboard="decimal-pad" value={length} onChange={(v) => { setLength(v); setKnown(true); }} testID="length" />
      <Tick label="Measured or known, not guessed" value={known} onChange={setKnown} />
      <Button label="Save length" onPress={() => finish({ edit: 'setLength', section: id, lengthM: length.trim() === '' ? NaN : Number(length.replace(',', '.')), known })} testID="save-length" />
      <Label>Conductor size</Label>
      <Choice label="Size in mm²" value={sizes.find((x) => Number(x) === section.cores[0]?.csaMm2) ?? null} onChange={(v) => change({ edit: 'setCsa', section: id, csaMm2: Number(v) })} options={sizes.map((s) => ({ value: s, label: `${s} mm²` }))} />
      <Label>A point in between</Label>
      <Choice label="Kind of the new point" value={kind} onChange={setKind} options={kinds} />
      <Field label="Its name" value={name} onChange={setName} testID="between-name" />
      <Button label="Put it in" onPress={() => finish({ edit: 'insertPoint', section: id, kind: kind === 'board' || kind === 'undrawn' || kind === 'subboard' ? 'joint' : kind, name: name || kindNames[kind] })} />
    </Sheet>
  );
}
