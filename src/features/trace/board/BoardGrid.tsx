import { Pressable, ScrollView, useWindowDimensions, View, type ViewStyle } from 'react-native';
import { Button, Words } from '@/components';
import { TARGET, useTheme } from '@/theme';
import type { Probe } from '@core/probes';
import { LEAST_INSULATION_OHM } from '@core/retest';
import { formatIn, formatShare } from '@core/units';
import { readingWords, plateWords } from '@core/wording';
import { pairs, sweepFrom, together, type Cell, type Pair, type Together, type WayRow } from './rows';

const pairWords: Readonly<Record<Pair, string>> = { LN: 'L–N', LE: 'L–E', NE: 'N–E' };
/** Width of a cell, px; on a page narrower than this the name of a way needs some of it. */
const CELL = { usual: 74, narrow: 66, narrowBelow: 350 } as const;

/** Large words: the cells of a way stand below its name and share the row. */
function useCellWidth(): ViewStyle {
  const { large } = useTheme();
  const { width } = useWindowDimensions();
  return large ? { flex: 1, minWidth: 0 } : { width: width < CELL.narrowBelow ? CELL.narrow : CELL.usual };
}

interface Props {
  ways: readonly WayRow[];
  bars: readonly { name: string; cell: Cell }[];
  onCell: (probe: Probe) => void;
  /** Lead parked, way after way: the probes still to read in a column. */
  onSweep: (probes: readonly Probe[]) => void;
  onWay: (row: WayRow) => void;
  /** The routine before a board change. */
  onChange: () => void;
  bottomSpace?: number;
}

/** The board as a grid of ways and pairs; a tap on a cell reads it, on a column head reads way after way. */
export function BoardGrid({ ways, bars, onCell, onSweep, onWay, onChange, bottomSpace = 24 }: Props) {
  const { colour, large } = useTheme();
  const cellWidth = useCellWidth();
  return (
    <ScrollView style={{ flex: 1 }} contentContainerStyle={{ paddingHorizontal: 12, paddingBottom: bottomSpace }} testID="board-grid">
      <View style={{ flexDirection: 'row', alignItems: 'center', gap: 4, minHeight: TARGET }}>
        {large ? null : <Words at="small" colour="soft" style={{ flex: 1 }}>Way</Words>}
        {pairs.map((p) => {
          const left = p === 'NE' ? [] : sweepFrom(ways, p);
          return (
            <Pressable key={p} role="button" aria-label={`${pairWords[p]}, ${left.length ? `sweep ${left.length}: read way after way` : 'all read'}`} disabled={left.length === 0} onPress={() => onSweep(left)} testID={`sweep-${p}`} style={{ ...cellWidth, minHeight: TARGET, alignItems: 'center', justifyContent: 'center' }}>
              <Words bold>{pairWords[p]}</Words>
              {left.length ? <Words at="small" colour="soft" style={{ fontSize: 13, lineHeight: 15 }}>{`sweep ${left.length}`}</Words> : null}
            </Pressable>
          );
        })}
      </View>
      {ways.map((w) => <Way key={w.way} row={w} onCell={onCell} onWay={() => onWay(w)} />)}
      {pairs.map((p) => together(ways, p)).map((t) => (t ? <Words key={t.pair} at="small" colour="soft" testID={`together-${t.pair}`} style={{ paddingVertical: 4 }}>{togetherWords(t)}</Words> : null))}
      {bars.map((b) => (
        <View key={b.name} style={{ flexDirection: 'row', alignItems: 'center', gap: 4, borderTopWidth: 1.5, borderTopColor: colour.edge, minHeight: 58 }}>
          <Words bold style={{ flex: 1 }}>{b.name}</Words>
          <GridCell cell={b.cell} loadsIn={false} label={`${b.name} to earth`} onPress={() => onCell(b.cell.probe)} testID={`bar-${b.name}`} />
        </View>
      ))}
      <Button label="Before a board change" small kind="quiet" onPress={onChange} testID="before-change" />
    </ScrollView>
  );
}

/** Many good ways make a poor sum: said beside it, with the way that carries most. */
function togetherWords(t: Together): string {
  // Below its last digit the meter gives no figure to reckon with.
  const figure = t.ohm < LAST_DIGIT_OHM ? `below ${formatIn(LAST_DIGIT_OHM, 'MΩ')}` : formatIn(t.ohm, 'MΩ');
  const sum = `${pairWords[t.pair]} of ${t.of} ways together: ${t.atLeast ? 'above ' : ''}${figure}`;
  if (t.atLeast) return `${sum}.`;
  if (t.most.share > MOST_OF_IT) return `${sum}, nearly all of it ${t.most.name}.`;
  return t.ohm < LEAST_INSULATION_OHM && t.each >= LEAST_INSULATION_OHM ? `${sum}: no single way is below 1 MΩ; they add up.` : `${sum}, ${formatShare(t.most.share)} of it ${t.most.name}.`;
}
const MOST_OF_IT = 0.9;
const LAST_DIGIT_OHM = 1e4;

function Way({ row, onCell, onWay }: { row: WayRow; onCell: (p: Probe) => void; onWay: () => void }) {
  const { colour, large } = useTheme();
  const notes = [row.neutralOut ? 'N out' : '', row.earthOut ? 'E out' : '', row.loadsIn ? 'loads in' : '', row.on ? 'way ON' : ''].filter(Boolean);
  const suspect = row.share !== null && row.share >= 0.1;
  // A guess is nothing to go by while reading.
  const said = notes.length ? notes.join(' · ') : row.device?.guessed ? '' : plateWords(row.device);
  return (
    <View style={{ flexDirection: 'row', flexWrap: large ? 'wrap' : 'nowrap', alignItems: 'center', gap: 4, borderTopWidth: 1, borderTopColor: colour.hairline, minHeight: 60, paddingBottom: large ? 8 : 0 }} testID={`way-row-${row.number}`}>
      <Pressable role="button" aria-label={[`Way ${row.number}: ${row.name}`, suspect ? formatShare(row.share ?? 0) : '', said].filter(Boolean).join(', ')} onPress={onWay} testID={`way-${row.number}`} style={{ ...(large ? { width: '100%' } : { flex: 1, minWidth: 0 }), minHeight: 56, justifyContent: 'center', borderLeftWidth: suspect ? 6 : 0, borderLeftColor: colour.suspect, paddingLeft: suspect ? 6 : 0 }}>
        {large ? null : <Words bold lines={2}>{row.name}</Words>}
        <View style={{ flexDirection: 'row', gap: 8, alignItems: 'baseline' }}>
          {large ? <Words bold lines={1} style={{ flexShrink: 0, maxWidth: '70%' }}>{row.name}</Words> : null}
          {suspect ? <Words figure bold colour="suspect" lines={1} style={{ flexShrink: 0 }}>{formatShare(row.share ?? 0)}</Words> : null}
          <Words at="small" colour={notes.length ? 'ink' : 'soft'} lines={1} style={{ flexShrink: 1 }}>{said}</Words>
        </View>
      </Pressable>
      {row.cells.map((c) => <GridCell key={c.pair} cell={c} loadsIn={row.loadsIn} label={`${row.name}, ${pairWords[c.pair]}`} onPress={() => onCell(c.probe)} testID={`cell-${row.number}-${c.pair}`} />)}
    </View>
  );
}

/** Ohms below which no load is: what reads so between line and neutral is a short. */
const SHORT_OHM = 2;
/** "> 999 MΩ" keeps clear of its frame. */
const sizeOf = (figure: string): number => (figure.length > 7 ? 12.5 : figure.length > 6 ? 13 : 14);

/** The reading short enough for a cell; what was read in another state of the work is struck through with its own frame. */
function GridCell({ cell, loadsIn, label, onPress, testID }: { cell: Cell; loadsIn: boolean; label: string; onPress: () => void; testID: string }) {
  const { colour } = useTheme();
  const cellWidth = useCellWidth();
  const r = cell.reading?.event;
  const ohms = cell.ohms?.reading.event;
  const text = r ? readingWords(r) : '';
  const text2 = ohms ? readingWords(ohms) : '';
  if (cell.shared)
    return (
      <Pressable role="button" aria-label={`${label}: its neutral is in the bar, read there`} onPress={onPress} testID={testID} style={{ ...cellWidth, minHeight: 52, alignItems: 'center', justifyContent: 'center' }}>
        <Words at="small" colour="soft">in bar</Words>
      </Pressable>
    );
  const fresh = (r !== undefined && !cell.stale) || cell.ohms?.stale === false;
  const first = r ?? ohms;
  // Between line and neutral loads read low, as they should; a short is lower, and shows in ohms.
  const acrossLoads = cell.pair === 'LN' && loadsIn;
  const told = acrossLoads ? ohms : first;
  const low = told !== undefined && 'ohm' in told.displayed && told.displayed.ohm < (acrossLoads ? SHORT_OHM : 1e6);
  return (
    <Pressable role="button" aria-label={`${label}: ${[text ? `${text}${cell.stale ? ', in another state' : ''}` : '', text2 ? `on ohms ${text2}${cell.ohms?.stale ? ', in another state' : ''}` : ''].filter(Boolean).join('; ') || (cell.next ? 'not read, next' : 'not read')}${cell.stale || (cell.ohms?.stale && !r) ? ', before' : ''}`} onPress={onPress} testID={testID}
      style={{ ...cellWidth, minHeight: 52, borderRadius: 9, alignItems: 'center', justifyContent: 'center', borderWidth: cell.next ? 3 : 1.5, borderStyle: fresh ? 'solid' : 'dashed', borderColor: cell.next ? colour.ink : low && !cell.stale ? colour.suspect : colour.edge, backgroundColor: fresh ? colour.sheet : 'transparent' }}>
      <Words at="small" figure={text !== ''} bold={low && told === r} colour={cell.stale ? 'soft' : low && told === r ? 'suspect' : 'ink'} align="center" style={{ fontSize: sizeOf(text), lineHeight: 17 }}>{text || (text2 ? '' : cell.next ? 'next' : '·')}</Words>
      {text2 ? <Words at="small" figure bold={low && told === ohms} colour={cell.ohms?.stale ? 'soft' : low && told === ohms ? 'suspect' : 'ink'} align="center" style={{ fontSize: sizeOf(text2), lineHeight: 17 }}>{text2}</Words> : null}
      {cell.stale || (cell.ohms?.stale && !r) ? <Words at="small" colour="soft" style={{ fontSize: 12, lineHeight: 13 }}>before</Words> : null}
    </Pressable>
  );
}
