import { fail, issue, ok, type Issue, type Result } from '../issue';
import { cpcBesideMm2, lineRoles, makePoint, surgeArresters, threePhase } from './make';
import { arrangements, type Device, type InnerElement, type Installation, type Point, type Role, type Section, type Supply, type Terminal } from './schema';

export const MOST_WAYS = 24;
const USUAL_MA = 30;
/** Length and size of a circuit that nobody has drawn, metres and mm². */
const UNDRAWN_M = 25;
const UNDRAWN_MM2 = 2.5;

/** What a phrase says about the ways of a board. */
interface Wish {
  ways: number;
  /** Groups of ways behind one RCD each, and its rated residual current, mA. */
  rcds: number[][];
  /** Null where it was not said. */
  rcdMa: (number | null)[];
  device: Map<number, Device['kind']>;
  arrangement: Supply['arrangement'];
  phases: 1 | 3;
  /** Ways whose device opens all three lines. */
  threePole: Set<number>;
  /** Surge protection at the bars. */
  surge: boolean;
}

const kindOf: Readonly<Record<string, 'rcd' | Device['kind']>> = { rcd: 'rcd', rcbo: 'rcbo', fuse: 'fuse', mcb: 'mcb' };

export const isBoardPhrase = (phrase: string): boolean => /^\s*(?:an? )?(board\b|\d+[\s-]*ways?\b)/i.test(phrase);

/** "10 ways, RCD on 1 to 6, RCBOs on 7 to 10", "8 ways, TT, fuses on 1 to 8", "9 ways, three phase, 3-pole on 7", "10 ways, surge protection". Ways are undrawn circuits until someone draws them. */
export function draftBoard(phrase: string): Result<Installation> {
  const wish = parse(phrase);
  return wish.ok ? ok(build(wish.value)) : wish;
}

function parse(phrase: string): Result<Wish> {
  const parts = phrase.toLowerCase().split(/[,;]+|\band\b/).map((p) => p.trim()).filter(Boolean);
  const head = /^(?:an? )?(?:board)?(?: of| with)?\s*(\d+)?[\s-]*(?:ways?)?(?: board)?$/.exec(parts[0] ?? '');
  const second = head && head[1] === undefined ? /^(\d+)\s*(?:ways?)?$/.exec(parts[1] ?? '') : null;
  const ways = Number(head?.[1] ?? second?.[1] ?? NaN);
  if (!Number.isInteger(ways)) return fail(issue('board.count', [], { phrase }));
  if (ways < 2) return fail(issue('board.tooSmall', [], { ways }));
  if (ways > MOST_WAYS) return fail(issue('board.tooMany', [], { ways, most: MOST_WAYS }));
  const wish: Wish = { ways, rcds: [], rcdMa: [], device: new Map(), arrangement: null, phases: 1, threePole: new Set(), surge: false };
  const issues: Issue[] = [];
  let last: 'rcd' | Device['kind'] | null = null;
  for (const p of parts.slice(second ? 2 : 1)) {
    const supply = /^(tn-c-s|tn-s|tt|it)$/.exec(p);
    const poles = /^(?:3|three)[- ]poles?(?: on)? (.+)$/.exec(p);
    if (/^(?:3|three)[- ]?phases?$/.test(p)) {
      wish.phases = 3;
      continue;
    }
    if (/^surge(?: protection| arresters?)?$/.test(p)) {
      wish.surge = true;
      continue;
    }
    const kind = /^(?:\d+ ?ma )?(rcds?|rcbos?|fuses?|mcbs?)(?: on)? (?:ways? )?(.+)$/.exec(p);
    const rated = /^(\d+) ?ma /.exec(p);
    const bare = /^\d+(?:\s*(?:to|-|–)\s*\d+)?$/.test(p);
    if (supply) {
      wish.arrangement = arrangements.find((a) => a.toLowerCase() === supply[1]) ?? null;
      continue;
    }
    const range = kind ? rangeOf(kind[2] ?? '', ways) : poles ? rangeOf(poles[1] ?? '', ways) : bare && last ? rangeOf(p, ways) : null;
    if (!range) {
      issues.push(issue('board.part', [], { part: p }));
      continue;
    }
    if ('outside' in range) {
      issues.push(issue('board.noSuchWay', [], { way: range.outside, ways }));
      continue;
    }
    if (poles) {
      for (const w of range.ways) wish.threePole.add(w);
      wish.phases = 3;
      last = null;
      continue;
    }
    if (kind) last = kindOf[(kind[1] ?? '').replace(/s$/, '')] ?? null;
    if (last === 'rcd') {
      if (kind) {
        wish.rcds.push(range.ways);
        wish.rcdMa.push(rated ? Number(rated[1]) : null);
      }
      else wish.rcds.at(-1)?.push(...range.ways);
    } else for (const w of range.ways) wish.device.set(w, last ?? 'mcb');
  }
  const twice = wish.rcds.flat().find((w, i, all) => all.indexOf(w) !== i);
  if (twice !== undefined) issues.push(issue('board.twoRcds', [], { way: twice }));
  const both = wish.rcds.flat().find((w) => wish.device.get(w) === 'rcbo');
  if (both !== undefined) issues.push(issue('board.rcboBehindRcd', [], { way: both }));
  const rcbo = [...wish.threePole].find((w) => wish.device.get(w) === 'rcbo');
  if (rcbo !== undefined) issues.push(issue('board.threePoleRcbo', [], { way: rcbo }));
  return issues.length ? fail(...issues) : ok(wish);
}

function rangeOf(text: string, ways: number): { ways: number[] } | { outside: number } | null {
  if (/^(all|all ways|every way|each)$/.test(text)) return { ways: Array.from({ length: ways }, (_, i) => i + 1) };
  const m = /^(\d+)(?:\s*(?:to|-|–)\s*(\d+))?$/.exec(text.trim());
  if (!m) return null;
  const a = Number(m[1]);
  const b = Number(m[2] ?? m[1]);
  const outside = [a, b].find((x) => x < 1 || x > ways);
  if (outside !== undefined) return { outside };
  return { ways: Array.from({ length: Math.abs(b - a) + 1 }, (_, i) => Math.min(a, b) + i) };
}

/** What a terminal of a board is: a bar that ways share, the line of one way, or the neutral that a two-pole device keeps to itself. */
export function boardPart(terminal: Pick<Terminal, 'id' | 'role'>): 'line bar' | 'neutral bar' | 'earth bar' | 'way line' | 'way neutral' {
  if (terminal.role === 'E') return 'earth bar';
  if (terminal.role === 'N') return /^N\d/.test(terminal.id) ? 'way neutral' : 'neutral bar';
  return /^W/.test(terminal.id) ? 'way line' : 'line bar';
}

/** The device of most such ways, until somebody looks. */
export const defaultDevice = (kind: Device['kind']): Device => ({ kind, curve: kind === 'fuse' ? null : 'B', ratingA: kind === 'fuse' ? 30 : 32, opens: kind === 'rcbo' ? 'line and neutral' : 'line', residualMa: kind === 'rcbo' ? 30 : null, guessed: true });

/** Poles of a three-pole way beside the first, by the letter that their ids end in. */
const FURTHER_POLES = ['b', 'c'] as const;

function build(wish: Wish): Installation {
  const lines: readonly Role[] = wish.phases === 3 ? lineRoles : ['L'];
  const terminals: Terminal[] = [...lines.map((l): Terminal => ({ id: l, role: l, name: `${l} bar` })), { id: 'N', role: 'N', name: 'N bar' }, { id: 'E', role: 'E', name: 'E bar' }];
  const elements: InnerElement[] = [];
  const groupOf = new Map<number, string>();
  for (const [i, ways] of wish.rcds.entries()) {
    const g = `G${i + 1}`;
    const name = `RCD ${i + 1}`;
    for (const l of lines) {
      terminals.push({ id: `${l}${g}`, role: l, name: `${l} bar of ${name}` });
      elements.push({ kind: 'pole', id: `${g}${l}`, name: `${name}, ${l === 'L' ? 'line' : l}`, a: l, b: `${l}${g}`, residualMa: wish.rcdMa[i] ?? USUAL_MA, ...(wish.rcdMa[i] == null ? { guessed: true } : {}) });
    }
    terminals.push({ id: `N${g}`, role: 'N', name: `N bar of ${name}` });
    elements.push({ kind: 'pole', id: `${g}N`, name: `${name}, neutral`, a: 'N', b: `N${g}` });
    for (const w of ways) groupOf.set(w, g);
  }
  const points: Point[] = [];
  const sections: Section[] = [];
  for (let n = 1; n <= wish.ways; n++) {
    const group = groupOf.get(n) ?? '';
    const three = wish.threePole.has(n);
    const device = defaultDevice(wish.device.get(n) ?? 'mcb');
    // Ways of one pole follow each other round the phases.
    const bar = (l: Role | undefined): string => `${l ?? 'L'}${group}`;
    terminals.push({ id: `W${n}`, role: three ? 'L1' : 'L', name: `Way ${n}` });
    elements.push({ kind: 'way', id: `w${n}`, name: `Way ${n}`, a: bar(three ? 'L1' : lines[(n - 1) % lines.length]), b: `W${n}`, device, ...(group ? { group } : {}) });
    if (three)
      for (const [i, letter] of FURTHER_POLES.entries()) {
        const role = lineRoles[i + 1] as Role;
        terminals.push({ id: `W${n}${letter}`, role, name: `Way ${n}` });
        elements.push({ kind: 'pole', id: `w${n}${letter}`, name: `Way ${n}, ${role}`, a: bar(role), b: `W${n}${letter}` });
      }
    let neutral = `N${group}`;
    if (device.opens === 'line and neutral') {
      terminals.push({ id: `N${n}`, role: 'N', name: `Way ${n}` });
      elements.push({ kind: 'pole', id: `n${n}`, name: `Way ${n}, neutral`, a: neutral, b: `N${n}` });
      neutral = `N${n}`;
    }
    const lump = makePoint(`c${n}`, `Way ${n}`, 'undrawn');
    const circuit = three ? threePhase(lump) : lump;
    points.push(circuit);
    const lineCores = three ? lineRoles.map((role, i) => ({ id: role, role, a: `W${n}${i ? FURTHER_POLES[i - 1] : ''}`, b: role, csaMm2: UNDRAWN_MM2 })) : [{ id: 'L', role: 'L' as const, a: `W${n}`, b: 'L', csaMm2: UNDRAWN_MM2 }];
    sections.push({
      id: `s${n}`, a: 'p0', b: circuit.id, lengthM: UNDRAWN_M, lengthKnown: false,
      cores: [...lineCores, { id: 'N', role: 'N', a: neutral, b: 'N', csaMm2: UNDRAWN_MM2 }, { id: 'E', role: 'E', a: 'E', b: 'E', csaMm2: cpcBesideMm2(UNDRAWN_MM2) }],
    });
  }
  const bare: Point = { id: 'p0', name: 'Board', kind: 'board', reach: 'opened', faces: [], terminals, elements };
  const board = wish.surge ? { ...bare, elements: [...elements, ...surgeArresters(bare)] } : bare;
  return { name: '', shape: 'board', orderKnown: true, nominalVolt: 230, supply: { arrangement: wish.arrangement, phases: wish.phases }, points: [board, ...points], sections, nextId: wish.ways + 100 };
}
