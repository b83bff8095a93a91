import { useEffect, useRef, useState } from 'react';
import { Pressable, ScrollView, useWindowDimensions, View } from 'react-native';
import { Words } from '@/components';
import { useTheme } from '@/theme';
import { formatShare } from '@core/units';
import { Drawing } from './Drawing';
import { geometryOf, laneOrder, phoneMeasures, wideMeasures } from './geometry';
import type { StripRow } from './rows';

interface Props { rows: readonly StripRow[]; onRow: (row: StripRow) => void; bottomSpace?: number; asMap?: boolean }

const letters = (rows: readonly StripRow[]): string[] => laneOrder.filter((r) => rows.some((row) => row.lanes.includes(r)));

/** Phone: the circuit runs downwards; every row is one target. */
export function Strip({ rows, onRow, bottomSpace = 0, asMap = false }: Props) {
  const { colour, text, large } = useTheme();
  const measures = phoneMeasures(text, asMap);
  const geometry = geometryOf(rows, measures);
  const scroll = useRef<ScrollView>(null);
  const focus = focusOf(rows);
  const [room, setRoom] = useState(Infinity);
  const top = focus < 0 ? 0 : (geometry.starts[focus] ?? 0);
  useEffect(() => scroll.current?.scrollTo({ y: Math.max(0, top - 70), animated: false }), [top]);
  return (
    <ScrollView ref={scroll} testID="strip" onLayout={(e) => setRoom(e.nativeEvent.layout.width)} style={{ flex: 1 }} contentContainerStyle={{ paddingBottom: bottomSpace }}>
      <View style={{ height: 24 * text }}>
        {rows[0] ? letters(rows).map((r) => (
          <Words key={r} at="small" bold style={{ position: 'absolute', left: geometry.lane(rows[0] as StripRow, r) - 6, top: 4 }}>{r}</Words>
        )) : null}
      </View>
      <View style={{ height: geometry.total }}>
        <View style={{ position: 'absolute', left: 0, top: 0, pointerEvents: 'none' }}>
          <Drawing rows={rows} geometry={geometry} measures={measures} across={false} />
        </View>
        {rows.map((row, i) => (
          <Pressable key={row.id} testID={`row-${row.id}`} role="button" aria-label={rowLabel(row)} onPress={() => onRow(row)}
            style={({ pressed }) => ({ position: 'absolute', left: 0, right: 0, top: geometry.starts[i], height: geometry.lengths[i], paddingLeft: geometry.lane(row, 'E') + 32, paddingRight: 14, justifyContent: 'center', backgroundColor: pressed ? colour.hairline : 'transparent', opacity: pressed ? 0.6 : 1, zIndex: row.kind === 'section' ? 0 : 1 })}>
            {row.block ? <Words at="small" bold colour="soft">{row.block}</Words> : null}
            <View style={{ flexDirection: 'row', alignItems: 'center', gap: 8 }}>
              <RowWords row={row} tight={large || room < TIGHT_BELOW} />
            </View>
          </Pressable>
        ))}
      </View>
    </ScrollView>
  );
}

/** The row to keep in sight: the strongest suspicion from 30 % up, else the far lead of the step. */
function focusOf(rows: readonly StripRow[]): number {
  const best = rows.reduce((top, r, i) => ((r.share ?? 0) > (rows[top]?.share ?? 0) ? i : top), 0);
  if ((rows[best]?.share ?? 0) >= 0.3) return best;
  return rows.findLastIndex((r) => r.flag !== null);
}

/** Where there is room for one note, that nobody gets there comes first. */
const unreached = (row: StripRow): string => (row.note.includes('can’t reach') ? 'can’t reach' : '');

/** Narrower than this, px, a name and its figures find no room side by side. */
const TIGHT_BELOW = 340;

function RowWords({ row, tight }: { row: StripRow; tight: boolean }) {
  const { colour } = useTheme();
  const best = row.marks[0];
  if (row.kind === 'section')
    return best ? (
      <>
        <Words bold colour="suspect" style={{ flex: 1 }} lines={1}>{best.words}</Words>
        {row.share !== null ? <Words at="lead" bold figure colour="suspect">{formatShare(row.share)}</Words> : null}
      </>
    ) : row.note ? <Words at="small" colour="soft" lines={tight ? 2 : 1}>{row.note}</Words> : null;
  // Beside a lead's flag the name needs the room: the share goes under it; where it is tight the reading does too.
  const share = row.share === null ? '' : formatShare(row.share);
  const beneath = tight ? [share, row.flag ? '' : row.reading] : [row.flag ? share : ''];
  const under = best ? [...beneath, best.words, unreached(row)] : [...beneath, row.note];
  const words = under.filter(Boolean).join(' · ');
  return (
    <>
      <View style={{ flex: 1, minWidth: 0 }}>
        <Words at="lead" bold={row.kind === 'board' || row.share !== null} lines={1}>{row.name}</Words>
        {words ? <Words at="small" colour={best || ((row.flag || tight) && share) ? 'suspect' : 'soft'} bold={Boolean(best)} lines={1} style={{ marginTop: -2 }}>{words}</Words> : null}
      </View>
      {row.flag ? (
        <View style={{ backgroundColor: colour.ink, paddingHorizontal: 10, paddingVertical: 5, borderRadius: 6 }}>
          <Words bold colour="paper">{`← ${row.flag}`}</Words>
        </View>
      ) : null}
      {row.reading && !row.flag && !tight ? <Words bold figure align="right" lines={1}>{row.reading}</Words> : null}
      {share && !row.flag && !tight ? <Words at="lead" bold figure colour="suspect">{share}</Words> : null}
    </>
  );
}

/** From the last lane to the words under a capsule, px, and the room that they need. */
const LABEL_TOP = 26;
const LINE = 20;
const labelHeight = (r: StripRow, text: number): number => text * (r.kind === 'section' ? 0 : LINE * (1 + (r.reading || r.note ? 1 : 0) + (r.share !== null ? 1 : 0)));

/** Wide: the same strip across the page. */
export function StripAcross({ rows, onRow }: Props) {
  const { colour, text } = useTheme();
  const { width } = useWindowDimensions();
  const measures = wideMeasures(rows, width - 176 - 40 - 110, text);
  const geometry = geometryOf(rows, measures);
  const depth = Math.max(...rows.map((r) => geometry.lane(r, 'E') + LABEL_TOP + labelHeight(r, text)));
  return (
    <ScrollView horizontal testID="strip" style={{ flexGrow: 0, height: depth + 26 }}>
      <View style={{ width: geometry.total + 110, height: depth + 24, paddingLeft: 44, paddingTop: 24 }}>
        {rows[0] ? letters(rows).map((r) => (
          <Words key={r} bold at="small" style={{ position: 'absolute', left: 14, top: 24 + geometry.lane(rows[0] as StripRow, r) - 10 }}>{r}</Words>
        )) : null}
        <View style={{ position: 'absolute', left: 44, top: 24 }}>
          <Drawing rows={rows} geometry={geometry} measures={measures} across />
        </View>
        {rows.map((row, i) => {
          const start = geometry.starts[i] ?? 0;
          const length = geometry.lengths[i] ?? 0;
          const point = row.kind !== 'section';
          const span = point ? measures.section + 26 : length;
          const top = geometry.lane(row, 'L') - 24;
          // A branch goes down between its point's words and the next point's: it passes behind them.
          const clear = rows[i + 1]?.leaves ? { backgroundColor: colour.sheet, paddingHorizontal: 4 } : undefined;
          return (
            <Pressable key={row.id} testID={`row-${row.id}`} role="button" aria-label={rowLabel(row)} onPress={() => onRow(row)}
              style={({ pressed }) => ({ position: 'absolute', left: 44 + start + (point ? length / 2 - span / 2 : 0), top: 24 + top, width: span, height: geometry.lane(row, 'E') - geometry.lane(row, 'L') + 24 + LABEL_TOP + 64 * text, opacity: pressed ? 0.6 : 1, alignItems: 'center', justifyContent: 'flex-end', zIndex: point ? 1 : 2, pointerEvents: point || row.marks.length ? 'auto' : 'none' })}>
              {row.flag ? (
                <View style={{ position: 'absolute', top: -20, backgroundColor: colour.ink, borderRadius: 5, paddingHorizontal: 8, paddingVertical: 1 }}>
                  <Words at="small" bold colour="paper">{row.flag}</Words>
                </View>
              ) : null}
              <View style={{ height: 64 * text, alignItems: 'center' }}>
                {point ? (
                  <>
                    <Words at="small" bold={row.kind === 'board' || row.share !== null} align="center" lines={1} style={clear}>{row.name}</Words>
                    {row.reading ? <Words at="small" figure bold align="center" style={clear}>{row.reading}</Words> : row.note ? <Words at="small" colour="soft" align="center" lines={1} style={clear}>{unreached(row) || row.note}</Words> : null}
                    {row.share !== null ? <Words bold figure colour="suspect" align="center" style={clear}>{formatShare(row.share)}</Words> : null}
                  </>
                ) : null}
              </View>
              {!point && row.share !== null ? <Words bold figure colour="suspect" align="center" style={{ position: 'absolute', top: -6 }}>{formatShare(row.share)}</Words> : null}
            </Pressable>
          );
        })}
      </View>
    </ScrollView>
  );
}

/** The row for someone who cannot see it: same facts, in words. */
function rowLabel(row: StripRow): string {
  const parts = [row.kind === 'section' ? 'cable' : row.name, row.note, row.reading ?? '', row.cleared ? 'reads sound' : '', ...row.marks.map((m) => m.words), row.share !== null ? formatShare(row.share) : '', row.flag ? `lead on ${row.flag}` : ''];
  return parts.filter(Boolean).join(', ');
}
