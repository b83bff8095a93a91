import { fail, issue, ok, type Issue, type Result } from '../issue';
import { draftBoard, isBoardPhrase } from './draftBoard';
import { cpcBesideMm2, loopIn, makeBoard, makeCable, makeDropSwitch, makePoint, makeSection, makeSubBoard, makeTwoWay, type ResidualPlate } from './make';
import { Metres } from '../units';
import { splitNames, withNames } from './names';
import type { CircuitShape, Installation, Point, PointKind, Section } from './schema';

export const MOST_POINTS = 60;
export const MOST_SUB_WAYS = 12;
const FEEDER_MM2 = 6;
const FIRST_LENGTH_M = 10;
const NEXT_LENGTH_M = 7;

/** What a phrase asks for, before it becomes points and sections. */
interface Wish {
  shape: CircuitShape;
  points: number;
  switchAt: number | null;
  /** The switch is one of two that work the light from two places. */
  twoWay: boolean;
  /** The line loops through the lights; each has its switch at the end of a drop. */
  loopIn: boolean;
  /** Line and protective conductor, mm², where they were said. */
  csaMm2: { readonly line: number; readonly earth: number | null } | null;
  /** Metres of the cables along the trunk, from the board on, where they were said. */
  lengthsM: readonly number[] | null;
  /** Branches: points off trunk point `at`. */
  branches: { at: number; points: number }[];
}

/**
 * Drafts a circuit from a phrase: "ring, 9" · "radial, 5" · "lights, 6, one switch" · "lights, 6, two-way switch at 3" · "lights, 6, loop-in" · "tree, 4, branch 2 at 3" · "ring, 8, spur at 4".
 * or a cable to a board of its own: "sub-board, 4", "sub-board, 4, RCD"; or a board: "10 ways, RCD on 1 to 6, RCBOs on 7 to 10". Names may follow a colon: "radial: sink, oven, hob".
 * Lengths and order are guesses until marked known.
 */
export function draftCircuit(phrase: string): Result<Installation> {
  const drafted = draftNamed(phrase);
  return drafted.ok ? ok(drafted.value.map) : drafted;
}

/** The same, with the points whose names were said. */
export function draftNamed(phrase: string): ReturnType<typeof withNames> {
  const { said, names } = splitNames(phrase);
  const plain = draftPlain(said);
  const uncounted = !plain.ok && names.length > 0 && plain.issues.some((i) => i.code === 'draft.count' || i.code === 'board.count' || i.code === 'draft.subBoardCount');
  // Names are a count too.
  const drafted = uncounted ? draftPlain(`${said.trim()} ${names.length}`) : plain;
  return drafted.ok ? withNames(drafted.value, names) : drafted;
}

function draftPlain(phrase: string): Result<Installation> {
  if (isBoardPhrase(phrase)) return draftBoard(phrase);
  const subBoard = /^\s*sub-?board\b[\s,]*(\d+)?(?:\s*ways?)?\s*(?:,\s*(RCD)\s*(?:(\d+)\s*(?:mA)?)?)?\s*$/i.exec(phrase);
  if (subBoard) return draftSubBoard(subBoard[1] === undefined ? NaN : Number(subBoard[1]), subBoard[2] ? { residualMa: Number(subBoard[3] ?? USUAL_RCD_MA), ...(subBoard[3] === undefined ? { guessed: true } : {}) } : null);
  const wish = parsePhrase(phrase);
  return wish.ok ? ok(build(wish.value)) : wish;
}

const USUAL_RCD_MA = 30;

/** A cable to a board of its own: its main switch or RCD, its ways, and a lump on each. */
function draftSubBoard(ways: number, rcd: ResidualPlate | null): Result<Installation> {
  if (Number.isNaN(ways)) return fail(issue('draft.subBoardCount'));
  if (ways < 1 || ways > MOST_SUB_WAYS) return fail(issue('draft.subBoardSize', [], { ways, most: MOST_SUB_WAYS }));
  const board = makeBoard('p0');
  if (rcd?.residualMa === 0) return fail(issue('board.noResidual', ['points', 'p1']));
  const hub = makeSubBoard('p1', ways, rcd);
  const lumps = Array.from({ length: ways }, (_, i) => makePoint(`p${i + 2}`, `Way ${i + 1}`, 'undrawn'));
  const cable = makeSection('s1', board, hub, FIRST_LENGTH_M, FEEDER_MM2);
  const feeder = rcd === null ? cable : { ...cable, cores: cable.cores.map((c) => (c.role === 'N' ? { ...c, b: 'NI' } : c)) };
  const legs = lumps.map((p, i): Section => {
    const s = makeSection(`s${i + 2}`, hub, p, NEXT_LENGTH_M, 2.5);
    return { ...s, cores: s.cores.map((c) => (c.role === 'L' ? { ...c, a: `W${i + 1}` } : c)) };
  });
  return ok({ name: '', shape: 'tree', orderKnown: true, nominalVolt: 230, points: [board, hub, ...lumps], sections: [feeder, ...legs], nextId: 2 * ways + 4 });
}

function parsePhrase(phrase: string): Result<Wish> {
  const parts = phrase.toLowerCase().split(/[,;]+|\band\b/).map((p) => p.trim()).filter(Boolean);
  const head = /^(?:an? )?(ring|radial|lights?|lighting|tree)\b(?: final)?(?: circuits?)?(?: of| with)?\s*(\d+)?(?: (?:sockets?|outlets?|points?|lights?|lamps?))?$/.exec(parts[0] ?? '');
  if (!head) return fail(issue('draft.shape', [], { phrase }));
  const word = head[1] ?? '';
  const shape: CircuitShape = word.startsWith('light') ? 'lights' : (word as CircuitShape);
  let rest = parts.slice(1);
  let points = head[2] === undefined ? NaN : Number(head[2]);
  if (Number.isNaN(points) && /^\d+$/.test(rest[0] ?? '')) {
    points = Number(rest[0]);
    rest = rest.slice(1);
  }
  if (Number.isNaN(points)) return fail(issue('draft.count', [], { phrase }));
  const wish: Wish = { shape, points, switchAt: null, twoWay: false, loopIn: false, csaMm2: null, lengthsM: null, branches: [] };
  const issues: Issue[] = [];
  for (const p of rest) {
    const sw = /^(?:one |a )?switch(?: at (\d+))?$/.exec(p);
    const spur = /^(?:one |a )?spur at (\d+)$/.exec(p);
    const branch = /^branch (?:of )?(\d+)(?: (?:at|from) (\d+))?$/.exec(p);
    const two = /^(?:one |a )?two[ -]?way(?: switch(?:es)?)?(?: at (\d+))?$/.exec(p);
    const csa = /^(\d+(?:\.\d+)?)(?: ?\/ ?(\d+(?:\.\d+)?))?(?: ?mm2| ?mm²)?$/.exec(p);
    const lengths = /^\d+(?:\.\d+)?(?: +\d+(?:\.\d+)?)* ?m$/.test(p) ? p.replace(/ ?m$/, '').split(/ +/).map(Number) : null;
    if (lengths) wish.lengthsM = lengths;
    else if (csa && (csa[2] !== undefined || p.includes('mm'))) wish.csaMm2 = { line: Number(csa[1]), earth: csa[2] === undefined ? null : Number(csa[2]) };
    else if (sw) wish.switchAt = sw[1] === undefined ? 1 : Number(sw[1]);
    else if (two) {
      wish.switchAt = two[1] === undefined ? 1 : Number(two[1]);
      wish.twoWay = true;
    } else if (/^loop[ -]?in$/.test(p)) wish.loopIn = true;
    else if (spur) wish.branches.push({ at: Number(spur[1]), points: 1 });
    else if (branch) wish.branches.push({ at: Number(branch[2] ?? 1), points: Number(branch[1]) });
    else issues.push(issue('draft.part', [], { part: p }));
  }
  return issues.length ? fail(...issues) : checkWish(wish);
}

function checkWish(wish: Wish): Result<Wish> {
  const least = wish.shape === 'ring' ? 2 : 1;
  if (wish.points < least) return fail(issue(wish.shape === 'ring' ? 'draft.ringTooSmall' : 'draft.tooSmall', [], { points: wish.points }));
  if (wish.loopIn && wish.shape !== 'lights') return fail(issue('draft.loopInLights'));
  const lights = wish.points + wish.branches.reduce((sum, b) => sum + b.points, 0);
  const all = lights * (wish.loopIn ? 2 : 1);
  if (all > MOST_POINTS) return fail(issue('draft.tooMany', [], { points: all, most: MOST_POINTS }));
  const cables = wish.points + (wish.shape === 'ring' ? 1 : 0) + (wish.switchAt === null ? 0 : wish.twoWay ? 2 : 1);
  if (wish.lengthsM && (wish.loopIn || wish.lengthsM.length !== cables)) return fail(issue('draft.lengths', [], { points: wish.lengthsM.length, sections: cables }));
  if (wish.lengthsM?.some((m) => !Metres.safeParse(m).success)) return fail(issue('draft.lengthRange'));
  if (wish.csaMm2 && [wish.csaMm2.line, wish.csaMm2.earth ?? 1].some((a) => !(a >= 0.5 && a <= 400))) return fail(issue('draft.csaRange'));
  for (const b of wish.branches) if (b.at < 1 || b.at > wish.points) return fail(issue('draft.noSuchPoint', [], { at: b.at, points: wish.points }));
  if (wish.switchAt !== null && (wish.switchAt < 1 || wish.switchAt > wish.points)) return fail(issue('draft.noSuchPoint', [], { at: wish.switchAt, points: wish.points }));
  return ok(wish);
}

const titles: Readonly<Record<PointKind, string>> = { board: 'Board', outlet: 'Outlet', lamp: 'Light', switch: 'Switch', joint: 'Joint', fixed: 'Appliance', undrawn: 'Circuit', subboard: 'Sub-board' };

/** What was said of the cables, put on what was drafted. */
function build(wish: Wish): Installation {
  const map = wish.loopIn ? buildLoopIn(wish) : buildRun(wish);
  const { csaMm2, lengthsM } = wish;
  if (!csaMm2 && !lengthsM) return map;
  const earth = csaMm2 && (csaMm2.earth ?? cpcBesideMm2(csaMm2.line));
  return { ...map, sections: map.sections.map((s, i) => ({ ...s, ...(lengthsM?.[i] === undefined ? {} : { lengthM: lengthsM[i], lengthKnown: true }), ...(csaMm2?.earth ? { cpcKnown: true } : {}), cores: csaMm2 ? s.cores.map((c) => ({ ...c, csaMm2: c.role === 'E' ? (earth ?? c.csaMm2) : csaMm2.line })) : s.cores })) };
}

function buildRun(wish: Wish): Installation {
  const csaMm2 = wish.shape === 'lights' ? 1.5 : 2.5;
  const points: Point[] = [makeBoard('p0')];
  const sections: Section[] = [];
  const counts = new Map<PointKind, number>();
  const add = (kind: PointKind): Point => {
    const n = (counts.get(kind) ?? 0) + 1;
    counts.set(kind, n);
    const point = makePoint(`p${points.length}`, kind === 'switch' && n === 1 ? 'Switch' : `${titles[kind]} ${n}`, kind);
    points.push(point);
    return point;
  };
  const join = (a: Point, b: Point): void => {
    sections.push(makeSection(`s${sections.length + 1}`, a, b, sections.length === 0 ? FIRST_LENGTH_M : NEXT_LENGTH_M, csaMm2));
  };
  const usual: PointKind = wish.shape === 'lights' ? 'lamp' : wish.shape === 'tree' ? 'fixed' : 'outlet';
  const trunk: Point[] = [points[0] as Point];
  // With a switch, "lights, 6, one switch" means six lights and a switch before light `switchAt`.
  for (let i = 1; i <= wish.points; i++) {
    if (wish.switchAt === i && wish.twoWay) {
      const [first, second] = makeTwoWay(`p${points.length}`, `p${points.length + 1}`, ['Switch 1', 'Switch 2']);
      join(trunk.at(-1) as Point, first);
      points.push(first, second);
      sections.push(makeCable(`s${sections.length + 1}`, first, second, NEXT_LENGTH_M, csaMm2, ['T1', 'T2', 'N', 'E']));
      trunk.push(second);
    }
    const kinds: PointKind[] = wish.switchAt === i && !wish.twoWay ? ['switch', usual] : [usual];
    for (const kind of kinds) {
      const point = add(kind);
      join(trunk.at(-1) as Point, point);
      trunk.push(point);
    }
  }
  if (wish.shape === 'ring') join(trunk.at(-1) as Point, points[0] as Point);
  const numbered = trunk.filter((p) => p.kind !== 'board' && p.kind !== 'switch');
  for (const branch of wish.branches) {
    let last = numbered[branch.at - 1] as Point;
    for (let i = 0; i < branch.points; i++) {
      const point = add(usual);
      join(last, point);
      last = point;
    }
  }
  return { name: '', shape: wish.shape, orderKnown: false, nominalVolt: 230, points, sections, nextId: points.length + sections.length + 1 };
}

const LIGHTING_MM2 = 1.5;
const DROP_M = 4;

/** Lights with the line looped through them and a switch at the end of a drop from each; one of them with a second switch. */
function buildLoopIn(wish: Wish): Installation {
  const points: Point[] = [makeBoard('p0')];
  const sections: Section[] = [];
  const id = (): string => `s${sections.length + 1}`;
  const add = (p: Point): Point => {
    points.push(p);
    return p;
  };
  const light = (n: number, from: Point): Point => {
    const lamp = add(loopIn(makePoint(`p${points.length}`, `Light ${n}`, 'lamp')));
    sections.push(makeSection(id(), from, lamp, sections.length ? NEXT_LENGTH_M : FIRST_LENGTH_M, LIGHTING_MM2));
    const two = wish.twoWay && wish.switchAt === n;
    const first = add(makeDropSwitch(`p${points.length}`, two ? `Switch ${n}, first` : `Switch ${n}`, two));
    sections.push(makeCable(id(), lamp, first, DROP_M, LIGHTING_MM2, ['L', 'SL', 'E']));
    if (!two) return lamp;
    const second = add(makeDropSwitch(`p${points.length}`, `Switch ${n}, second`, true));
    sections.push(makeCable(id(), first, second, NEXT_LENGTH_M, LIGHTING_MM2, ['L', 'SL', 'T1', 'E']));
    return lamp;
  };
  const trunk: Point[] = [points[0] as Point];
  for (let n = 1; n <= wish.points; n++) trunk.push(light(n, trunk.at(-1) as Point));
  let n = wish.points;
  for (const b of wish.branches) {
    let last = trunk[b.at] as Point;
    for (let i = 0; i < b.points; i++) last = light(++n, last);
  }
  return { name: '', shape: 'lights', orderKnown: false, nominalVolt: 230, points, sections, nextId: points.length + sections.length + 1 };
}
