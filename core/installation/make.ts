import type { Core, Device, Face, InnerElement, Installation, Point, PointKind, Role, Section, Terminal } from './schema';

/** Protective conductor beside a line of the given size, in flat twin-and-earth cable (mm²). */
export function cpcBesideMm2(csaMm2: number): number {
  return { '1': 1, '1.5': 1, '2.5': 1.5, '4': 1.5, '6': 2.5, '10': 4, '16': 6 }[String(csaMm2)] ?? csaMm2;
}

export const LNE: Terminal[] = [{ id: 'L', role: 'L' }, { id: 'N', role: 'N' }, { id: 'E', role: 'E' }];

const coverOf: Readonly<Record<PointKind, Point['reach']>> = { board: 'opened', outlet: 'face', lamp: 'opened', switch: 'opened', joint: 'opened', fixed: 'opened', undrawn: 'never', subboard: 'opened' };

export const DEFAULT_LAMP_OHM = 500;
/** What hangs on an outlet, and on a connection of its own, where nobody said: some 100 W and 900 W. */
const DEFAULT_PLUG_OHM = 530;
const DEFAULT_FIXED_OHM = 60;

/** A load that nobody has stated: it may be there or not, and of any size. */
const guessedLoad = (id: string, name: string, ohm: number, unplugs: boolean): InnerElement => ({ kind: 'load', id, name, a: 'L', b: 'N', loadClass: 'resistive', ohm, unplugs, guessed: true });

export function makePoint(id: string, name: string, kind: PointKind): Point {
  const faces: Face[] = kind === 'outlet' ? [{ id: 'f1', name: 'face' }] : [];
  const elements: InnerElement[] =
    kind === 'lamp' ? [guessedLoad('lamp', 'lamp', DEFAULT_LAMP_OHM, true)]
    : kind === 'undrawn' ? [guessedLoad('loads', 'loads', 150, true)]
    : kind === 'outlet' ? [{ ...guessedLoad('plug', 'appliance', DEFAULT_PLUG_OHM, true), implied: true }]
    : kind === 'fixed' ? [{ ...guessedLoad('load', 'element', DEFAULT_FIXED_OHM, false), implied: true }]
    : kind === 'switch' ? [{ kind: 'switch', id: 'sw', name: 'switch', a: 'L', b: 'SL' }]
    : [];
  const terminals: Terminal[] = kind === 'switch' ? [...LNE, { id: 'SL', role: 'SL' }] : [...LNE];
  return { id, name, kind, reach: coverOf[kind], terminals, elements, faces };
}

export function makeBoard(id: string): Point {
  return {
    id, name: 'Board', kind: 'board', reach: 'opened', faces: [],
    terminals: [{ id: 'L', role: 'L' }, { id: 'W', role: 'L' }, { id: 'N', role: 'N' }, { id: 'E', role: 'E' }],
    elements: [{ kind: 'way', id: 'way', name: 'way', a: 'L', b: 'W' }],
  };
}

/** Surge arresters from each line and the neutral of a board to its earth bar, as they are pulled: cartridge by cartridge. */
export function surgeArresters(board: Point): InnerElement[] {
  const poles = board.terminals.filter((t) => /^(L[123]?|N)$/.test(t.id));
  return poles.map((t) => ({ kind: 'load', id: `spd${t.id}`, name: `surge arrester ${t.id}`, a: t.id, b: 'E', loadClass: 'arrester', ohm: ARRESTER_OHM, unplugs: true, guessed: true }));
}

/** Below its voltage; dead tests never see it. */
const ARRESTER_OHM = 1e9;

/** What is read on a residual device, milliamperes; `guessed` where nobody has. */
export type ResidualPlate = { readonly residualMa: number; readonly guessed?: boolean };

/**
 * A board at the end of a cable: incoming line, main switch, bar, and a device for each way. Terminal `B` is its line bar. With an
 * RCD for main switch (`rcd`) the incoming neutral has a terminal of its own, `NI`.
 */
export function makeSubBoard(id: string, ways: number, rcd: ResidualPlate | null = null): Point {
  const numbers = Array.from({ length: ways }, (_, i) => i + 1);
  return {
    id, name: 'Sub-board', kind: 'subboard', reach: 'opened', faces: [],
    terminals: [{ id: 'L', role: 'L', name: 'incoming L' }, { id: 'B', role: 'L', name: 'L bar' }, ...numbers.map((n) => subWay(n).terminal), { id: 'N', role: 'N', name: 'N bar' }, { id: 'E', role: 'E', name: 'E bar' }, ...(rcd === null ? [] : [{ id: 'NI', role: 'N' as const, name: 'incoming N' }])],
    elements: [
      ...(rcd === null ? [{ kind: 'switch' as const, id: 'main', name: 'main switch', a: 'L', b: 'B' }] : [{ kind: 'pole' as const, id: 'main', name: 'RCD, line', a: 'L', b: 'B', ...rcd }, { kind: 'pole' as const, id: 'mainN', name: 'RCD, neutral', a: 'NI', b: 'N', ...rcd }]),
      ...numbers.map((n) => subWay(n).element),
    ],
  };
}

/** Terminal and device of a way of a sub-board. */
export const subWay = (n: number): { readonly terminal: Terminal; readonly element: InnerElement } => ({
  terminal: { id: `W${n}`, role: 'L', name: `way ${n}` }, element: { kind: 'switch', id: `w${n}`, name: `way ${n}`, a: 'B', b: `W${n}`, device: SUB_WAY },
});

/** Until somebody looks. */
const SUB_WAY: Device = { kind: 'mcb', curve: 'B', ratingA: 16, opens: 'line', residualMa: null, guessed: true };

/** A cable of L, N and E; `lineA` is the terminal its line leaves from. */
export function makeSection(id: string, a: Point, b: Point, lengthM: number, csaMm2: number): Section {
  const landing = (p: Point, leaving: boolean): string => (p.kind === 'board' ? 'W' : leaving && p.kind === 'switch' && p.terminals.some((t) => t.id === 'SL') ? 'SL' : 'L');
  const core = (role: 'L' | 'N' | 'E', x: string, y: string, size: number): Core => ({ id: role, role, a: x, b: y, csaMm2: size });
  return {
    id, a: a.id, b: b.id, lengthM, lengthKnown: false,
    cores: [core('L', landing(a, true), landing(b, false), csaMm2), core('N', 'N', 'N', csaMm2), core('E', 'E', 'E', cpcBesideMm2(csaMm2))],
  };
}

const strapper = (n: 1 | 2): Terminal => ({ id: `T${n}`, role: `T${n}` });
const switchedLine: Terminal = { id: 'SL', role: 'SL' };

/** Both throws of a two-way switch, from its common to one of two lines. */
const throws = (common: string, first: string, second: string): InnerElement[] => [
  { kind: 'switch', id: 'sw', name: 'two-way switch', a: common, b: first },
  { kind: 'switch', id: 'sw2', name: 'two-way switch', a: common, b: second, contrary: 'sw' },
];

/** The two switches of a stair or a landing in the run of a line: the first parts it over two strappers, the second joins them again. */
export function makeTwoWay(first: string, second: string, names: readonly [string, string]): [Point, Point] {
  const strappers = [strapper(1), strapper(2)];
  const [line, ...others] = LNE;
  return [
    { ...makePoint(first, names[0], 'switch'), terminals: [...(line ? [line] : []), ...strappers, ...others], elements: throws('L', 'T1', 'T2') },
    { ...makePoint(second, names[1], 'switch'), terminals: [...strappers, switchedLine, ...others], elements: throws('SL', 'T1', 'T2') },
  ];
}

/** A light that the line loops through; its lamp hangs on the switched line that comes back from its switch. */
export function loopIn(light: Point): Point {
  return { ...light, terminals: light.terminals.flatMap((t) => (t.id === 'L' ? [t, switchedLine] : [t])), elements: light.elements.map((e) => (e.kind === 'load' ? { ...e, a: 'SL' } : e)) };
}

/** The switch at the end of a drop from a loop-in light; `twoWay`: one of two, which share a third core. */
export function makeDropSwitch(id: string, name: string, twoWay: boolean): Point {
  const [line, , earth] = LNE as [Terminal, Terminal, Terminal];
  const terminals = [line, switchedLine, ...(twoWay ? [strapper(1)] : []), earth];
  return { ...makePoint(id, name, 'switch'), terminals, elements: twoWay ? throws('T1', 'L', 'SL') : [{ kind: 'switch', id: 'sw', name: 'switch', a: 'L', b: 'SL' }] };
}

/** A cable with a core for each of the given terminals, which both of its points have. */
export function makeCable(id: string, a: Point, b: Point, lengthM: number, csaMm2: number, terminals: readonly Role[]): Section {
  return { id, a: a.id, b: b.id, lengthM, lengthKnown: false, cores: terminals.map((t) => ({ id: t, role: t, a: t, b: t, csaMm2: t === 'E' ? cpcBesideMm2(csaMm2) : csaMm2 })) };
}

export const lineRoles: readonly Role[] = ['L1', 'L2', 'L3'];

/** A point with three lines in the place of one: its loads lie between each line and neutral, its switches have three poles. */
export function threePhase(point: Point): Point {
  return {
    ...point,
    terminals: point.terminals.flatMap((t) => (t.role === 'L' ? lineRoles.map((role) => ({ ...t, id: role, role })) : [t])),
    elements: point.elements.flatMap((e) => (e.a === 'L' ? lineRoles.map((role, i) => ({ ...e, id: `${e.id}${i + 1}`, name: `${e.name} ${role}`, a: role })) : [e])),
  };
}

/** A cable with three lines in the place of one. */
export const threePhaseSection = (s: Section): Section => ({ ...s, cores: s.cores.flatMap((c) => (c.role === 'L' ? lineRoles.map((role) => ({ ...c, id: role, role, a: c.a === 'L' ? role : c.a, b: c.b === 'L' ? role : c.b })) : [c])) });

/** A fresh id, and the installation that will never give it again. */
export function freshId(installation: Installation, prefix: string): [string, Installation] {
  return [`${prefix}${installation.nextId}`, { ...installation, nextId: installation.nextId + 1 }];
}
