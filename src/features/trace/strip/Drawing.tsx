import { Fragment } from 'react';
import Svg, { Circle, G, Line, Path, Rect } from 'react-native-svg';
import { useTheme, type Tokens } from '@/theme';
import type { Geometry, Measures } from './geometry';
import type { Mark, StripRow } from './rows';

interface Props { rows: readonly StripRow[]; geometry: Geometry; measures: Measures; across: boolean }

type At = (along: number, crosswise: number) => { x: number; y: number };

const laneColour = (c: Tokens, role: string): string => (role === 'N' ? c.coreNeutral : role === 'E' ? c.coreEarth : c.coreLine);

/** The circuit as parallel lanes, with the state of the work and the suspicion drawn on the conductor concerned. */
export function Drawing({ rows, geometry, measures, across }: Props) {
  const { colour } = useTheme();
  const at: At = (along, crosswise) => (across ? { x: along, y: crosswise } : { x: crosswise, y: along });
  const size = at(geometry.total, geometry.depth);
  return (
    <Svg width={size.x} height={size.y} aria-hidden>
      {rows.map((row, i) => (
        <Row key={row.id} row={row} i={i} rows={rows} geometry={geometry} measures={measures} at={at} colour={colour} />
      ))}
    </Svg>
  );
}

interface RowProps { row: StripRow; i: number; rows: readonly StripRow[]; geometry: Geometry; measures: Measures; at: At; colour: Tokens }

function Row({ row, i, rows, geometry, measures, at, colour }: RowProps) {
  const start = (geometry.starts[i] ?? 0) + (row.block ? measures.title : 0);
  const end = (geometry.starts[i] ?? 0) + (geometry.lengths[i] ?? 0);
  return (
    <G>
      {row.passing.map((indent) => (
        <Fragment key={indent}>
          {(trunkOf(rows, i, indent)?.lanes ?? row.lanes).map((role) => <Lane key={role} at={at} from={geometry.starts[i] ?? 0} to={end} x={geometry.lane({ ...row, indent }, role)} role={role} colour={colour} thick={trunkOf(rows, i, indent)?.cleared ? 1.5 : 3} />)}
        </Fragment>
      ))}
      {row.kind === 'section' ? <SectionRow row={row} i={i} rows={rows} geometry={geometry} measures={measures} at={at} colour={colour} start={start} end={end} /> : <Capsule row={row} geometry={geometry} measures={measures} at={at} colour={colour} start={start} end={end} rows={rows} i={i} />}
    </G>
  );
}

function Lane({ at, from, to, x, role, colour, thick }: { at: At; from: number; to: number; x: number; role: string; colour: Tokens; thick: number }) {
  const a = at(from, x);
  const b = at(to, x);
  return (
    <>
      <Line x1={a.x} y1={a.y} x2={b.x} y2={b.y} stroke={laneColour(colour, role)} strokeWidth={thick} />
      {role === 'E' ? <Line x1={a.x} y1={a.y} x2={b.x} y2={b.y} stroke={colour.coreEarthStripe} strokeWidth={thick} strokeDasharray="6 6" /> : null}
    </>
  );
}

/** A trunk that runs past a branch looks as it does where it goes on. */
const trunkOf = (rows: readonly StripRow[], i: number, indent: number): StripRow | undefined => rows.slice(i).find((r) => r.indent === indent && r.kind === 'section');

/** Half of a capsule along the strip, px. */
const HALF = 12;
/** Lanes that leave sideways do so one beside the other, so that none hides the next and none crosses. */
const SIDE_STEP = 5;

interface BodyProps extends RowProps { start: number; end: number }

function SectionRow({ row, i, rows, geometry, at, colour, start, end }: BodyProps) {
  const before = rows[i - 1];
  const leavesFrom = row.leaves && before ? parentOf(rows, i) : null;
  const parent = leavesFrom ? rows.indexOf(leavesFrom) : -1;
  const fromCapsule = (geometry.starts[parent] ?? 0) + (geometry.lengths[parent] ?? 0) / 2 + HALF;
  const trunk = leavesFrom ? trunkOf(rows, i, leavesFrom.indent) : undefined;
  const middle = (start + end) / 2;
  const suspected = new Set(row.marks.flatMap((m) => m.lanes));
  return (
    <G>
      {row.lanes.map((role) => {
        const x = geometry.lane(row, role);
        const gap = row.marks.find((m) => m.kind === 'gap' && m.lanes.includes(role));
        const thick = suspected.has(role) ? 4 : row.cleared ? 1.5 : 3;
        const begin = leavesFrom ? start + (row.lanes.length - 1 - row.lanes.indexOf(role)) * SIDE_STEP : start;
        const joint = leavesFrom ? at(begin, geometry.lane(leavesFrom, role)) : null;
        const near = at(begin, x);
        return (
          <Fragment key={role}>
            {leavesFrom && !trunk?.lanes.includes(role) ? <Lane at={at} from={fromCapsule} to={begin} x={geometry.lane(leavesFrom, role)} role={role} colour={colour} thick={thick} /> : null}
            {joint ? <Line x1={joint.x} y1={joint.y} x2={near.x} y2={near.y} stroke={laneColour(colour, role)} strokeWidth={thick} /> : null}
            {gap ? (
              <>
                <Lane at={at} from={begin} to={middle - 8} x={x} role={role} colour={colour} thick={thick} />
                <Lane at={at} from={middle + 8} to={end} x={x} role={role} colour={colour} thick={thick} />
                <Opening at={at} along={middle} x={x} colour={colour} solid={gap.share >= 0.1} />
              </>
            ) : (
              <Lane at={at} from={begin} to={end} x={x} role={role} colour={colour} thick={thick} />
            )}
          </Fragment>
        );
      })}
      {row.marks.filter((m) => m.kind === 'rung' || m.kind === 'cross').map((m) => <Rung key={m.suspect} mark={m} row={row} geometry={geometry} at={at} along={middle} colour={colour} />)}
    </G>
  );
}

/** The row of the point that a branch leaves: the last point above with a smaller indent. */
function parentOf(rows: readonly StripRow[], i: number): StripRow | null {
  const mine = rows[i]?.indent ?? 0;
  for (let k = i - 1; k >= 0; k--) {
    const r = rows[k];
    if (r && r.kind !== 'section' && r.indent < mine) return r;
  }
  return null;
}

/** A break: two arrowheads that face the gap. */
function Opening({ at, along, x, colour, solid }: { at: At; along: number; x: number; colour: Tokens; solid: boolean }) {
  const p = (da: number, dx: number): string => {
    const q = at(along + da, x + dx);
    return `${q.x} ${q.y}`;
  };
  return (
    <>
      <Path d={`M ${p(-12, -9)} L ${p(12, -9)} L ${p(12, 9)} L ${p(-12, 9)} Z`} fill={colour.suspectWash} />
      <Path d={`M ${p(-11, -8)} L ${p(-3, 0)} L ${p(-11, 8)} M ${p(11, -8)} L ${p(3, 0)} L ${p(11, 8)}`} stroke={colour.suspect} strokeWidth={3} fill="none" strokeDasharray={solid ? undefined : '3 3'} />
    </>
  );
}

/** A contact: a rung from lane to lane; a crossing: two strokes that change lanes. */
function Rung({ mark, row, geometry, at, along, colour }: { mark: Mark; row: StripRow; geometry: Geometry; at: At; along: number; colour: Tokens }) {
  const xs = mark.lanes.map((l) => geometry.lane(row, l));
  const [low, high] = [Math.min(...xs), Math.max(...xs)];
  const solid = mark.share >= 0.1;
  if (mark.kind === 'cross') {
    const [a, b, c, d] = [at(along - 9, low), at(along + 9, high), at(along - 9, high), at(along + 9, low)];
    return <Path d={`M ${a.x} ${a.y} L ${b.x} ${b.y} M ${c.x} ${c.y} L ${d.x} ${d.y}`} stroke={colour.suspect} strokeWidth={4} strokeDasharray={solid ? undefined : '3 4'} />;
  }
  const a = at(along, low);
  const b = at(along, high);
  return (
    <>
      <Line x1={a.x} y1={a.y} x2={b.x} y2={b.y} stroke={colour.suspect} strokeWidth={5} strokeDasharray={solid ? undefined : '4 4'} />
      <Circle cx={a.x} cy={a.y} r={6} fill={colour.suspect} />
      <Circle cx={b.x} cy={b.y} r={6} fill={colour.suspect} />
    </>
  );
}

function Capsule({ row, geometry, at, colour, start, end, rows, i }: BodyProps) {
  const xs = row.lanes.map((r) => geometry.lane(row, r));
  const [low, high] = [Math.min(...xs), Math.max(...xs)];
  const middle = (start + end) / 2;
  const board = row.kind === 'board';
  const half = HALF;
  const a = at(middle - half, low - 17);
  const size = at(2 * half, high - low + 34);
  const fill = board ? colour.ink : colour.sheet;
  const dot = board ? colour.paper : colour.ink;
  const above = rows[i - 1];
  const below = rows[i + 1];
  const ringEnd = board && i > 0;
  const onward = onwardFrom(rows, i);
  return (
    <G>
      {row.lanes.map((role) => {
        const x = geometry.lane(row, role);
        const nearCut = row.splitNear.includes(role);
        const farCut = row.splitFar.includes(role);
        const goesOn = below !== undefined && !ringEnd && below.kind === 'section' && onward?.lanes.includes(role);
        return (
          <Fragment key={role}>
            {above && i > 0 && above.kind === 'section' && above.lanes.includes(role) ? <Lane at={at} from={start} to={nearCut ? middle - half - 9 : middle - half} x={x} role={role} colour={colour} thick={row.cleared ? 1.5 : 3} /> : null}
            {goesOn ? <Lane at={at} from={farCut ? middle + half + 9 : middle + half} to={end} x={x} role={role} colour={colour} thick={row.cleared ? 1.5 : 3} /> : null}
            {nearCut ? <Gap at={at} along={middle - half - 5} x={x} colour={colour} /> : null}
            {farCut ? <Gap at={at} along={middle + half + 5} x={x} colour={colour} /> : null}
          </Fragment>
        );
      })}
      <Rect x={a.x} y={a.y} width={size.x} height={size.y} rx={board ? 4 : half} fill={fill} stroke={colour.ink} strokeWidth={2} />
      {row.lanes.map((role) => {
        const p = at(middle, geometry.lane(row, role));
        const out = row.splitNear.includes(role) || row.splitFar.includes(role);
        return board && out ? (
          <Path key={role} d={`M ${p.x - 6} ${p.y - 6} L ${p.x + 6} ${p.y + 6} M ${p.x + 6} ${p.y - 6} L ${p.x - 6} ${p.y + 6}`} stroke={dot} strokeWidth={3} />
        ) : (
          <Circle key={role} cx={p.x} cy={p.y} r={5} fill={dot} />
        );
      })}
      {row.links.map(([x, y]) => {
        const p = at(middle, geometry.lane(row, x));
        const q = at(middle, geometry.lane(row, y));
        return <Line key={`${x}${y}`} x1={p.x} y1={p.y} x2={q.x} y2={q.y} stroke={dot} strokeWidth={5} />;
      })}
      {row.marks.map((m) => <PointMark key={m.suspect} mark={m} row={row} geometry={geometry} at={at} middle={middle} half={half} colour={colour} />)}
    </G>
  );
}

/** The cable that goes on in the same column below this point. */
function onwardFrom(rows: readonly StripRow[], i: number): StripRow | null {
  const indent = rows[i]?.indent ?? 0;
  for (let k = i + 1; k < rows.length; k++) {
    const r = rows[k];
    if (!r || r.block) return null;
    if (r.indent === indent) return r.kind === 'section' && !r.leaves ? r : null;
    if (r.indent < indent) return null;
  }
  return null;
}

/** A split: the lane ends in a bar. */
function Gap({ at, along, x, colour }: { at: At; along: number; x: number; colour: Tokens }) {
  const a = at(along, x - 9);
  const b = at(along, x + 9);
  return <Line x1={a.x} y1={a.y} x2={b.x} y2={b.y} stroke={colour.ink} strokeWidth={3} />;
}

function PointMark({ mark, row, geometry, at, middle, half, colour }: { mark: Mark; row: StripRow; geometry: Geometry; at: At; middle: number; half: number; colour: Tokens }) {
  if (mark.kind === 'rung') return <Rung mark={mark} row={row} geometry={geometry} at={at} along={middle} colour={colour} />;
  const dash = mark.share >= 0.1 ? undefined : '3 3';
  return (
    <>
      {mark.lanes.map((role) => {
        const x = geometry.lane(row, role);
        const c = at(middle, x);
        if (mark.kind === 'ring') return <Circle key={role} cx={c.x} cy={c.y} r={10} stroke={colour.suspect} strokeWidth={3} fill="none" strokeDasharray={dash} />;
        // A half-ring where the lane enters the capsule.
        const sign = mark.side === 'far' ? 1 : -1;
        const edge = middle + sign * half;
        const [p, q, s, r] = [at(edge, x - 9), at(edge + sign * 13, x - 9), at(edge + sign * 13, x + 9), at(edge, x + 9)];
        return <Path key={role} d={`M ${p.x} ${p.y} C ${q.x} ${q.y} ${s.x} ${s.y} ${r.x} ${r.y}`} stroke={colour.suspect} strokeWidth={3} fill={colour.suspectWash} strokeDasharray={dash} />;
      })}
    </>
  );
}
