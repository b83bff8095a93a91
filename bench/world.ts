import { suspectsOf, type Fault, type KindPriors, type Suspect } from '../core/faults';
import { boardOf, circuitsOf, endsAtPoint, type Installation, type Point, type Section } from '../core/installation';
import { seededRandom, type Random } from '../core/numeric';
import { placeNames } from '../core/planning';
import { drawTruth, type Scatter, type Truth } from '../core/simulation';
import { elementKey, untouched, type WorkState } from '../core/workstate';

/** The bench world: circuits, truths and faults as laid down in the notes on what measurements taught us. */
export type Family = 'ring' | 'radial' | 'lighting' | 'outdoor' | 'board';
/** The families of one circuit. */
export const families: readonly Family[] = ['ring', 'radial', 'lighting', 'outdoor'];

export const worldScatter: Scatter = { lengthSd: 0.08, insulationMedianOhmM: 5e9, insulationSd: 0.5, sectionInsulationSd: 0.3, slipShare: 0.005 };

/** Faults of this world keep their ohms, and the tester its gain: what one reading differs from the next is digits alone. */
export const WORLD_STEADY_SD = 0.0015;

export const worldPriors: KindPriors = {
  sound: 0.01, unknown: 0.004, openCore: 0.12, looseEnd: 0.15, resistiveEnd: 0.2, contact: 0.22, pointContact: 0.18, loadFault: 0.05, crossed: 0.04,
};

export interface Case {
  readonly family: Family;
  readonly seed: number;
  readonly plan: Installation;
  readonly start: WorkState;
  readonly truth: Truth;
  readonly fault: Fault | null;
  /** The suspect that was drawn: its place is the right answer. */
  readonly answer: Suspect;
}

export function drawCase(family: Family, seed: number, lengthSd = worldScatter.lengthSd): Case {
  const random = seededRandom(seed * 7919 + [...families, 'board'].indexOf(family) * 104729);
  const plan = { ring, radial, lighting, outdoor, board }[family](random);
  const known = lengthSd <= 0.1;
  const installation: Installation = { ...plan, sections: plan.sections.map((s) => ({ ...s, lengthKnown: known })) };
  const start = family === 'board' ? boardStart(installation, random) : startState(installation);
  const { answer, fault } = drawFault(installation, start, random);
  const truth = drawTruth(installation, fault ? [fault] : [], { ...worldScatter, lengthSd }, random);
  return { family, seed, plan: installation, start, truth, fault, answer };
}

/** A board with two faults in different circuits; `answer` is the first, `second` the other. */
export interface TwoCase extends Case { readonly second: Suspect; readonly faults: readonly [Fault, Fault] }

export function drawTwo(seed: number): TwoCase {
  for (let again = 0; ; again++) {
    const random = seededRandom(seed * 15485863 + again * 7 + 5);
    const installation: Installation = board(random);
    const start = boardStart(installation, random);
    const [a, b] = [drawFault(installation, start, random), drawFault(installation, start, random)];
    const circuits = circuitsOf(installation);
    const at = (s: Suspect): number | undefined => circuits.get(s.place.split('.')[0] ?? '');
    if (!a.fault || !b.fault || at(a.answer) === undefined || at(a.answer) === at(b.answer) || at(b.answer) === undefined) continue;
    const faults = [a.fault, b.fault] as const;
    return { family: 'board', seed, plan: installation, start, truth: drawTruth(installation, faults, worldScatter, random), fault: a.fault, answer: a.answer, second: b.answer, faults };
  }
}

/** Way off, the circuit's conductors out at the board, loads that unplug out. */
function startState(plan: Installation): WorkState {
  const board = boardOf(plan) as Point;
  return {
    ...untouched,
    out: endsAtPoint(plan, board.id).map((e) => e.key),
    off: board.elements.map((e) => elementKey(board.id, e.id)),
    loadsOut: plan.points.flatMap((p) => p.elements.flatMap((e) => (e.kind === 'load' && e.unplugs ? [elementKey(p.id, e.id)] : []))),
    opened: [board.id],
  };
}

/** Ways off, neutrals and earths in their bars; each load that unplugs is out, or forgotten in one time of three. */
function boardStart(plan: Installation, random: Random): WorkState {
  const board = boardOf(plan) as Point;
  return {
    ...untouched, opened: [board.id], off: board.elements.map((e) => elementKey(board.id, e.id)),
    loadsOut: plan.points.flatMap((p) => p.elements.flatMap((e) => (e.kind === 'load' && e.unplugs && random.chance(2 / 3) ? [elementKey(p.id, e.id)] : []))),
  };
}

/** The kind by its share, then evenly over the places of that kind that the start does not hide. */
function drawFault(plan: Installation, start: WorkState, random: Random): { answer: Suspect; fault: Fault | null } {
  const suspects = worldSuspects(plan, start);
  const kinds = [...new Set(suspects.map((s) => s.kind))].filter((k) => k !== 'unknown' && (worldPriors[k] ?? 0) > 0);
  const total = kinds.reduce((sum, k) => sum + (worldPriors[k] ?? 0), 0);
  let u = random.next() * total;
  const kind = kinds.find((k) => (u -= worldPriors[k] ?? 0) < 0) ?? 'openCore';
  const answer = random.pick(suspects.filter((s) => s.kind === kind));
  if (kind === 'sound') return { answer, fault: null };
  return { answer, fault: answer.fault(drawOhm(answer, random), random.uniform(0.03, 0.97))[0] ?? null };
}

function drawOhm(s: Suspect, random: Random): number {
  if (s.kind === 'resistiveEnd') return 0.2 * 10 ** random.uniform(0, Math.log10(250));
  if (s.kind === 'loadFault') return s.conductors.includes('E') ? 10 ** random.uniform(3, 6.3) : 10 ** random.uniform(-1, 1);
  if (s.unknown.of === 'shunt') return Math.max(0, 10 ** random.uniform(-1, 6.3) - 0.1);
  return Infinity;
}

/** Suspects of the bench world: ends taken out at the start and crossings other than L with N are not among them. */
export function worldSuspects(plan: Installation, start: WorkState): Suspect[] {
  const out = new Set(start.out);
  const loadsOut = new Set(start.loadsOut);
  const possible = (s: Suspect): boolean => {
    if (s.site.on === 'branch' && out.has(s.site.endKey)) return false;
    if (s.kind === 'loadFault') return !loadsOut.has(s.place);
    return s.kind !== 'crossed' || (s.conductors.includes('L') && s.conductors.includes('N'));
  };
  const kept = suspectsOf(plan, worldPriors).filter(possible);
  const mass = new Map<string, number>();
  for (const s of kept) mass.set(s.kind, (mass.get(s.kind) ?? 0) + s.prior);
  const all = [...mass.keys()].reduce((sum, k) => sum + (worldPriors[k as keyof KindPriors] ?? 0), 0);
  return kept.map((s) => ({ ...s, prior: ((worldPriors[s.kind] ?? 0) / all) * (s.prior / (mass.get(s.kind) ?? 1)) }));
}

// ── circuits ──

const cpcMm2: Readonly<Record<string, number>> = { '2.5': 1.5, '1.5': 1 };

class Draft {
  csaMm2: number;
  /** Terminal of the board that the next circuit's line lands on. */
  way = 'W';
  readonly points: Point[] = [];
  readonly sections: Section[] = [];

  constructor(csaMm2: number, ways: readonly string[] = ['W']) {
    this.csaMm2 = csaMm2;
    this.points.push({
      id: 'p0', name: 'Board', kind: 'board', reach: 'opened', faces: [],
      terminals: [{ id: 'L', role: 'L' }, ...ways.map((w) => ({ id: w, role: 'L' as const })), { id: 'N', role: 'N' }, { id: 'E', role: 'E' }],
      elements: ways.map((w) => ({ kind: 'way', id: w === 'W' ? 'way' : w, name: 'way', a: 'L', b: w })),
    });
  }

  point(kind: Point['kind'], reach: Point['reach'], loadOhm?: number, unplugs = false): string {
    const id = `p${this.points.length}`;
    this.points.push({
      id, name: id, kind, reach, faces: [],
      terminals: [{ id: 'L', role: 'L' }, { id: 'N', role: 'N' }, { id: 'E', role: 'E' }],
      elements: loadOhm === undefined ? [] : [{ kind: 'load', id: 'load', name: 'lamp', a: 'L', b: 'N', loadClass: 'resistive', ohm: loadOhm, unplugs }],
    });
    return id;
  }

  section(a: string, b: string, lengthM: number, switched = false): void {
    const id = `s${this.sections.length}`;
    const landing = (point: string): string => (point === 'p0' ? this.way : 'L');
    let lineA = landing(a);
    if (switched) {
      const point = this.points.find((p) => p.id === a) as Point;
      lineA = `S${this.sections.length}`;
      point.terminals.push({ id: lineA, role: 'SL' });
      point.elements.push({ kind: 'switch', id: lineA, name: 'switch', a: 'L', b: lineA });
    }
    const cpc = cpcMm2[String(this.csaMm2)] ?? this.csaMm2;
    this.sections.push({
      id, a, b, lengthM, lengthKnown: true,
      cores: [
        { id: 'L', role: 'L', a: lineA, b: landing(b), csaMm2: this.csaMm2 },
        { id: 'N', role: 'N', a: 'N', b: 'N', csaMm2: this.csaMm2 },
        { id: 'E', role: 'E', a: 'E', b: 'E', csaMm2: cpc },
      ],
    });
  }

  finish(shape: Installation['shape']): Installation {
    return { name: shape, shape, orderKnown: true, nominalVolt: 230, points: this.points, sections: this.sections, nextId: 1000 };
  }
}

function ring(random: Random): Installation {
  const d = new Draft(2.5);
  const n = random.integer(8, 14);
  let last = 'p0';
  for (let i = 0; i < n; i++) {
    const p = d.point('outlet', 'face');
    d.section(last, p, i === 0 ? random.uniform(6, 18) : random.uniform(3, 14));
    last = p;
  }
  d.section(last, 'p0', random.uniform(6, 18));
  const spurs = random.integer(0, 2);
  for (let i = 0; i < spurs; i++) d.section(`p${random.integer(1, n)}`, d.point('outlet', 'face'), random.uniform(3, 14));
  return d.finish('ring');
}

function radial(random: Random): Installation {
  const d = new Draft(2.5);
  const n = random.integer(5, 12);
  let last = 'p0';
  for (let i = 0; i < n; i++) {
    const hidden = i > 0 && i < n - 1 && random.chance(0.08);
    const p = hidden ? d.point('joint', 'never') : d.point('outlet', 'face');
    d.section(last, p, i === 0 ? random.uniform(6, 18) : random.uniform(3, 14));
    last = p;
  }
  return d.finish('radial');
}

function lighting(random: Random): Installation {
  const d = new Draft(1.5);
  const n = random.integer(6, 12);
  const made: string[] = [];
  for (let i = 0; i < n; i++) {
    const u = random.next();
    const loadOhm = random.chance(0.25) ? random.uniform(200, 900) : undefined;
    const lamp = u >= 0.25;
    const p = u < 0.15 ? d.point('joint', 'opened') : u < 0.25 ? d.point('joint', 'never') : d.point('lamp', 'opened', loadOhm);
    const from = i === 0 ? 'p0' : i <= 1 ? (made[i - 1] as string) : random.pick(made.slice(-3));
    d.section(from, p, random.uniform(2, 9), lamp && i > 0 && random.chance(0.3));
    made.push(p);
  }
  return d.finish('lights');
}

function outdoor(random: Random): Installation {
  const d = new Draft(1.5);
  const joint = d.point('joint', 'opened');
  d.section('p0', joint, random.uniform(8, 25));
  for (let branch = 0; branch < 3; branch++) {
    let last = joint;
    const n = random.integer(2, 4);
    for (let i = 0; i < n; i++) {
      const outlet = random.chance(0.25);
      const p = outlet ? d.point('outlet', 'face') : d.point('lamp', 'opened', random.chance(0.2) ? random.uniform(300, 1500) : undefined);
      d.section(last, p, random.uniform(4, 20));
      last = p;
    }
  }
  return d.finish('tree');
}

/** Six to twelve circuits of two to four points on shared bars, 2.5 and 1.5 mm² by turns; some points with a load. */
const board = (random: Random): Installation => boardOfCircuits(random, random.integer(6, 12), () => random.integer(2, 4));

/** Circuits on shared bars; `points` says how many each has. */
export function boardOfCircuits(random: Random, circuits: number, points: () => number): Installation {
  const ways = Array.from({ length: circuits }, (_, i) => `W${i + 1}`);
  const d = new Draft(2.5, ways);
  for (const [i, way] of ways.entries()) {
    d.csaMm2 = i % 2 ? 1.5 : 2.5;
    d.way = way;
    let last = 'p0';
    for (let n = points(); n > 0; n--) {
      const outlet = i % 2 === 0;
      const p = outlet ? d.point('outlet', 'face', random.chance(0.3) ? random.uniform(25, 300) : undefined, true) : d.point('lamp', 'opened', random.chance(0.3) ? random.uniform(200, 900) : undefined);
      d.section(last, p, last === 'p0' ? random.uniform(6, 18) : random.uniform(3, 14));
      last = p;
    }
  }
  return d.finish('tree');
}

/** Is the truth in the place that was named? Hidden joints count with their sections. */
export function sameAnswer(plan: Installation, named: string, truth: string): boolean {
  const name = placeNames(plan);
  return name(named) === name(truth);
}
