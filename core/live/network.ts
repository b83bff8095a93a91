import type { Fault } from '../faults';
import { arrangements, boardOf, boardPart, endKeyOf, faceKey, loadsOf, STAR_OHM, supplyOhms, terminalKey, type Installation, type Load } from '../installation';
import { compileNetwork, planPhysics, type Physics } from '../network';
import { elementKey, type WorkState } from '../workstate';

/** Admittance re + j·im in siemens between two nodes, at supply frequency. */
export interface LiveBranch { readonly a: number; readonly b: number; readonly re: number; readonly im: number; readonly part: string }

/** A source in series with the branch of its part, as the current in amperes that it drives through itself from node `a` to node `b`. */
export interface LiveSource { readonly a: number; readonly b: number; readonly re: number; readonly im: number; readonly part: string }

/** The energised installation: complex admittances, the supply as current sources behind its own impedances. Node `ground` is true earth at 0 V. */
export interface LiveNetwork {
  readonly nodes: readonly string[];
  readonly index: ReadonlyMap<string, number>;
  readonly branches: readonly LiveBranch[];
  readonly sources: readonly LiveSource[];
  readonly ground: number;
  /** Parts of electronic loads, which draw and leak more than 50 Hz. */
  readonly distorting: ReadonlySet<string>;
}

/** What nobody reads off the board: how much runs, and what the neighbours' current leaves on the supply neutral. */
export interface Service {
  /** Factor on the current of loads whose size is only guessed; below 1 on that of all others too: nobody knows what runs. */
  readonly load: number;
  /** Volts on the supply neutral against its star point, from current outside this installation. */
  readonly neutralVolt: number;
  /** Factor on the leakage of loads where nobody measured it. */
  readonly leak: number;
  /** How earth comes in, where nobody said. */
  readonly arrangement?: (typeof arrangements)[number];
}

export const usualService: Service = { load: 1, neutralVolt: 0.8, leak: 1 };

export const GROUND = 'ground';
const STAR = 'supply:star';
/** Where a conductor that is neutral and earth in one parts into the two. */
export const CUT_OUT = 'supply:cut-out';
export const MAIN_SWITCH = 'main';
export const SUPPLY_LINE = 'supply line';
export const SUPPLY_NEUTRAL = 'supply neutral';
export const SUPPLY_EARTH = 'supply earth';

const FREQUENCY_HZ = 50;
/** Between each two cores of a cable, farads a metre. */
export const CAPACITANCE_F_PER_M = 100e-12;
/** Of an open contact or an island, so that an induced voltage has somewhere to come from: farads. */
const STRAY_F = 5e-12;
export const OMEGA = 2 * Math.PI * FREQUENCY_HZ;

/** Between the star point of an IT supply and earth, ohms. */
const ISOLATED_OHM = 1e5;

/** Milliamperes that a load loses to earth in service, where nobody measured them (field guide, section 5: 0.5 to 3.5 each). */
const USUAL_LEAK_MA: Readonly<Record<Load['loadClass'], number>> = { resistive: 0.1, electronic: 1, neon: 0, winding: 0.3, arrester: 0 };
const UNDRAWN_LEAK_MA = 0.6;

const phaseAngle: Readonly<Record<string, number>> = { L: 0, L1: 0, L2: -2.0943951023931953, L3: 2.0943951023931953 };

/** The installation energised in a state, with faults and with what the supply and the loads do. */
export function compileLive(installation: Installation, state: WorkState, faults: readonly Fault[], service: Service = usualService, physics: Physics = planPhysics): LiveNetwork {
  const dead = compileNetwork(installation, state, faults, physics);
  const nodes: string[] = [...dead.nodes];
  const index = new Map(dead.index);
  const branches: LiveBranch[] = [];
  const sources: LiveSource[] = [];
  const node = (key: string): number => {
    const known = index.get(key);
    if (known !== undefined) return known;
    index.set(key, nodes.length);
    nodes.push(key);
    return nodes.length - 1;
  };
  const branch = (a: number, b: number, re: number, im: number, part: string): void => {
    if (a !== b && (re !== 0 || im !== 0)) branches.push({ a, b, re, im, part });
  };
  const ground = node(GROUND);
  const loads = new Map(installation.points.flatMap((p) => loadsOf(p).map((l) => [`load ${elementKey(p.id, l.id)}`, l])));
  for (const b of dead.branches) {
    const load = loads.get(b.part);
    const [re, im] = load ? loadAdmittance(load, service) : [1 / b.ohm, 0];
    branch(b.a, b.b, re, im, b.part);
  }
  const loadsOut = new Set(state.loadsOut);
  // What may be plugged in runs as far as anything runs that nobody stated.
  for (const p of installation.points) for (const l of loadsOf(p)) if (l.implied && !loadsOut.has(elementKey(p.id, l.id))) branch(node(terminalKey(p.id, l.a)), node(terminalKey(p.id, l.b)), ...loadAdmittance(l, service), `load ${elementKey(p.id, l.id)}`);
  const leaky = new Map(faults.flatMap((f) => (f.kind === 'leaky' ? [[elementKey(f.point, f.load), f.mA] as const] : [])));
  for (const p of installation.points)
    for (const l of loadsOf(p)) {
      const earth = p.terminals.find((t) => t.role === 'E');
      if (earth && !loadsOut.has(elementKey(p.id, l.id))) branch(node(terminalKey(p.id, l.a)), node(terminalKey(p.id, earth.id)), 0, ((leaky.get(elementKey(p.id, l.id)) ?? leakMaOf(p.kind, l) * (l.leakMa === undefined ? service.leak : 1)) * 1e-3) / installation.nominalVolt, `leak ${elementKey(p.id, l.id)}`);
    }
  const missing = new Set(faults.flatMap((f) => (f.kind === 'missingSection' ? [f.section] : [])));
  for (const s of installation.sections) {
    if (missing.has(s.id)) continue;
    const half = (OMEGA * CAPACITANCE_F_PER_M * s.lengthM) / 2;
    for (const [i, c] of s.cores.entries())
      for (const d of s.cores.slice(0, i))
        for (const side of ['a', 'b'] as const) branch(node(endKeyOf(s, side, c.id)), node(endKeyOf(s, side, d.id)), 0, half, `capacitance ${s.id}`);
  }
  // Every open contact couples a little across itself; nothing in a building floats free of it.
  for (const p of installation.points) {
    for (const e of p.elements) if (e.kind !== 'load') branch(node(terminalKey(p.id, e.a)), node(terminalKey(p.id, e.b)), 0, OMEGA * STRAY_F, 'stray');
    for (const f of p.faces) for (const t of p.terminals) branch(node(terminalKey(p.id, t.id)), node(faceKey(p.id, f.id, t.id)), 0, OMEGA * STRAY_F, 'stray');
  }
  addSupply(installation, state, faults, service, node, branch, sources);
  const distorting = new Set([...loads].flatMap(([part, l]) => (l.loadClass === 'electronic' ? [part, part.replace(/^load /, 'leak ')] : [])));
  return { nodes, index, branches, sources, ground, distorting };
}

/** A load that is not running, siemens. */
const NOT_RUNNING = 1e-9;

function loadAdmittance(load: Load, service: Service): [number, number] {
  // A load of stated size draws that or nothing; one that nobody stated, any of it.
  const g = (1 / load.ohm) * (load.guessed ? service.load : Math.min(1, service.load));
  if (g === 0) return [NOT_RUNNING, 0];
  // A winding's running impedance is several times its copper.
  if (load.loadClass === 'winding') return [g * 0.12, -g * 0.2];
  return [g, 0];
}

export const leakMaOf = (kind: string, load: Load): number => load.leakMa ?? (kind === 'undrawn' ? UNDRAWN_LEAK_MA : USUAL_LEAK_MA[load.loadClass]);

/** Source, neutral and earth by arrangement. The main switch opens line and neutral of the board. */
function addSupply(
  installation: Installation, state: WorkState, faults: readonly Fault[], service: Service, node: (key: string) => number,
  branch: (a: number, b: number, re: number, im: number, part: string) => void, sources: LiveSource[],
): void {
  const board = boardOf(installation);
  if (!board) return;
  const { supply } = installation;
  const arrangement = supply?.arrangement ?? service.arrangement ?? 'TN-S';
  const ohms = supplyOhms(supply);
  const lost = new Set(faults.flatMap((f) => (f.kind === 'supply' ? [f.lost] : [])));
  const on = !state.off.includes(elementKey(board.id, MAIN_SWITCH));
  const [ground, star] = [node(GROUND), node(STAR)];
  branch(star, ground, 1 / (arrangement === 'IT' ? ISOLATED_OHM : STAR_OHM), 0, 'star to ground');
  const drive = (to: number, ohm: number, part: string, volt: number, angle: number): void => {
    branch(star, to, 1 / ohm, 0, part);
    sources.push({ a: star, b: to, re: (volt * Math.cos(angle)) / ohm, im: (volt * Math.sin(angle)) / ohm, part });
  };
  for (const t of board.terminals) {
    if (boardPart(t) !== 'line bar' || board.elements.some((e) => e.kind === 'pole' && e.b === t.id)) continue;
    if (!on || lost.has('line')) continue;
    drive(node(terminalKey(board.id, t.id)), ohms.line, SUPPLY_LINE, installation.nominalVolt, phaseAngle[t.role] ?? 0);
  }
  const met = terminalKey(board.id, board.terminals.find((t) => t.role === 'E')?.id ?? 'E');
  const neutral = node(terminalKey(board.id, board.terminals.find((t) => t.role === 'N')?.id ?? 'N'));
  if (arrangement === 'TN-C-S') {
    // One conductor comes in; neutral and earth part at the cut-out.
    const cutOut = node(CUT_OUT);
    if (!lost.has('neutral')) branch(cutOut, star, 1 / ohms.neutral, 0, 'combined neutral and earth');
    if (on) branch(cutOut, neutral, 200, 0, SUPPLY_NEUTRAL);
    if (!lost.has('earth')) branch(node(met), cutOut, 200, 0, SUPPLY_EARTH);
    return;
  }
  if (on && !lost.has('neutral')) drive(neutral, ohms.neutral, SUPPLY_NEUTRAL, service.neutralVolt, 0);
  if (lost.has('earth')) return;
  branch(node(met), arrangement === 'TN-S' ? star : ground, 1 / ohms.earth, 0, SUPPLY_EARTH);
}
