import { useLocalSearchParams } from 'expo-router';
import { useState } from 'react';
import { View } from 'react-native';
import { Button, Problem, Tick, Words } from '@/components';
import { JobFrame } from '@/features/job/JobFrame';
import { THROUGH_ARRESTER, UNKNOWN_SWITCH } from '@core/job';
import { useJob } from '@/features/job/JobProvider';
import { BoardMap } from './BoardMap';
import { DraftNow } from './DraftNow';
import { PointSheet } from './PointSheet';
import { SectionSheet } from './SectionSheet';
import { describeStrip, Strip, StripAcross, type StripRow } from '@/features/trace/strip';
import { useTheme } from '@/theme';
import { circuitMap, editMap, findSection, labelOfWay, waysOfBoard, type Installation, type MapEdit } from '@core/installation';
import type { Issue } from '@core/issue';
import { formatMetres } from '@core/units';
import { issueText } from '@core/wording';

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
  const parked = view.readings.filter((r) => r.parked && r.parked !== THROUGH_ARRESTER && r.parked !== UNKNOWN_SWITCH && !r.struck).length;
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

interface EditProps { map: Installation; row: StripRow; issues: readonly Issue[]; change: (...edits: MapEdit[]) => boolean; onClose: () => void }

function EditSheet({ map, row, issues, change, onClose }: EditProps) {
  const problems = issues.map((i) => <Problem key={i.code} text={issueText(i)} />);
  if (row.kind === 'section') return <SectionSheet map={map} id={row.id} change={change} onClose={onClose} problems={problems} />;
  return <PointSheet map={map} id={row.id.split('#')[0] ?? row.id} change={change} onClose={onClose} problems={problems} />;
}
