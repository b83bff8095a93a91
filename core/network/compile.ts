import type { Fault } from '../faults';
import { allEnds, endKeyOf, endsAtPoint, faceKey, isSwitched, metalPaths, terminalKey, type EndRef, type Installation, type PlaceKey, type Section } from '../installation';
import { elementKey, isClosed, type WorkState } from '../workstate';
import type { Physics } from './physics';

export interface Branch {
  readonly a: number;
  readonly b: number;
  readonly ohm: number;
  /** What the branch is, for the netlist and for messages. */
  readonly part: string;
}

/** Nodes and two-terminal elements of one installation in one state with the given faults. Never stored. */
export interface Network {
  readonly nodes: readonly PlaceKey[];
  readonly index: ReadonlyMap<PlaceKey, number>;
  readonly branches: readonly Branch[];
}

/**
 * Builds the exact resistive network: a node for every conductor end, terminal and face. Faults edit it;
 * any number may be given. Parts of no resistance join their nodes.
 */
export function compileNetwork(installation: Installation, state: WorkState, faults: readonly Fault[], physics: Physics): Network {
  const build = new Builder();
  const out = new Set(state.out);
  const off = offIn(state, faults);
  const loadsOut = new Set(state.loadsOut);
  const series = seriesFaults(installation, faults);
  const unlanded = new Set(faults.flatMap((f) => (f.kind === 'notLanded' ? [terminalKey(f.point, f.terminal)] : [])));

  for (const point of installation.points) {
    for (const t of point.terminals) build.node(terminalKey(point.id, t.id));
    for (const face of point.faces)
      for (const t of point.terminals) {
        const key = faceKey(point.id, face.id, t.id);
        build.series(terminalKey(point.id, t.id), key, physics.faceOhm, series.get(key), `face ${key}`);
      }
    for (const [i, t] of point.terminals.entries())
      for (const u of point.terminals.slice(0, i))
        if (point.kind !== 'board' && !isSwitched(t.role) && !isSwitched(u.role))
          build.branch(terminalKey(point.id, t.id), terminalKey(point.id, u.id), physics.pointInsulationOhm, `insulation ${point.id}`);
    for (const e of point.elements) {
      const key = elementKey(point.id, e.id);
      const a = terminalKey(point.id, e.a);
      const b = terminalKey(point.id, e.b);
      if (e.kind === 'load') {
        const added = series.get(key) ?? 0;
        // A surge arrester conducts above its voltage only; what may be plugged in is not there until somebody says so.
        if (!loadsOut.has(key) && added !== 'open' && e.loadClass !== 'arrester' && !e.implied) build.branch(a, b, e.ohm + added, `load ${key}`);
      } else if (isClosed(off, point.id, e)) build.series(a, b, e.kind === 'way' ? physics.wayOhm : physics.switchOhm, series.get(key), `${e.kind} ${key}`);
    }
  }

  const ends = allEnds(installation);
  const elsewhere = new Map(faults.flatMap((f) => (f.kind === 'landed' ? [[f.end, f.terminal] as const] : [])));
  for (const end of ends) {
    build.node(end.key);
    if (out.has(end.key) || unlanded.has(terminalKey(end.point, end.terminal))) continue;
    build.series(end.key, terminalKey(end.point, elsewhere.get(end.key) ?? end.terminal), physics.terminationOhm(end.key), series.get(end.key), `termination ${end.key}`);
  }
  for (const key of unlanded) joinUnlanded(build, ends, key, out, physics);
  const missing = new Set(faults.flatMap((f) => (f.kind === 'missingSection' ? [f.section] : [])));
  for (const section of installation.sections) if (!missing.has(section.id)) addSection(build, section, faults, physics);

  for (const m of metalPaths(installation)) build.branch(m.a, m.b, m.ohm, `metalwork ${m.point}`);
  for (const link of state.links) build.branch(link.a, link.b, physics.linkOhm, `link ${link.id}`);
  for (const [n, f] of faults.entries()) addShunt(build, f, n, loadsOut, physics);
  return build.finish();
}

/** What is off: as recorded, but for the switches that stand the other way. */
function offIn(state: WorkState, faults: readonly Fault[]): ReadonlySet<string> {
  const off = new Set(state.off);
  for (const f of faults)
    if (f.kind === 'thrown') {
      const part = elementKey(f.point, f.element);
      if (!off.delete(part)) off.add(part);
    }
  return off;
}

type SeriesOhm = number | 'open';

function seriesFaults(installation: Installation, faults: readonly Fault[]): Map<string, SeriesOhm> {
  const map = new Map<string, SeriesOhm>();
  const add = (key: string, ohm: SeriesOhm): void => {
    const before = map.get(key) ?? 0;
    map.set(key, ohm === 'open' || before === 'open' ? 'open' : before + ohm);
  };
  for (const f of faults) {
    if (f.kind === 'termination') add(f.end, f.ohm);
    else if (f.kind === 'face') add(faceKey(f.point, f.face, f.terminal), f.ohm);
    else if (f.kind === 'element') add(elementKey(f.point, f.element), f.ohm);
    else if (f.kind === 'terminal')
      for (const e of endsAtPoint(installation, f.point)) if (e.terminal === f.terminal) add(e.key, f.ohm);
  }
  return map;
}

function joinUnlanded(build: Builder, ends: readonly EndRef[], key: PlaceKey, out: ReadonlySet<string>, physics: Physics): void {
  const joined = ends.filter((e) => terminalKey(e.point, e.terminal) === key && !out.has(e.key));
  for (const [i, end] of joined.entries()) {
    const first = joined[0];
    if (i > 0 && first) build.branch(first.key, end.key, 2 * physics.terminationOhm(end.key), `twisted ${key}`);
  }
}

/** Cores with their cuts, and half of the insulation at each end. */
function addSection(build: Builder, section: Section, faults: readonly Fault[], physics: Physics): void {
  const crossed = faults.find((f) => f.kind === 'crossed' && f.section === section.id);
  const farCore = (core: string): string => {
    if (crossed?.kind !== 'crossed') return core;
    const [i, j] = crossed.cores;
    return core === i ? j : core === j ? i : core;
  };
  for (const core of section.cores) {
    const ohm = physics.ohmPerM(core.csaMm2, section.flexible ?? false) * section.lengthM;
    const open = faults.some((f) => f.kind === 'openCore' && f.section === section.id && f.core === core.id);
    const cuts = faults
      .flatMap((f, n) => (f.kind === 'contact' && f.section === section.id && f.cores.includes(core.id) ? [{ at: f.fraction, node: cutKey(section.id, core.id, n) }] : []))
      .sort((x, y) => x.at - y.at);
    const stops = [{ at: 0, node: endKeyOf(section, 'a', core.id) }, ...cuts, { at: 1, node: endKeyOf(section, 'b', farCore(core.id)) }];
    for (const [k, stop] of stops.entries()) {
      const next = stops[k + 1];
      if (!next) break;
      const holdsBreak = open && stop.at <= 0.5 && (next.at > 0.5 || k === stops.length - 2);
      if (!holdsBreak) build.branch(stop.node, next.node, ohm * (next.at - stop.at), `core ${section.id}:${core.id}`);
      else if (cuts.length) build.node(next.node);
    }
  }
  for (const [i, c] of section.cores.entries())
    for (const d of section.cores.slice(0, i))
      for (const side of ['a', 'b'] as const)
        build.branch(endKeyOf(section, side, c.id), endKeyOf(section, side, d.id), (2 * physics.insulationOhmM(section.id, c.id, d.id)) / section.lengthM, `insulation ${section.id}`);
}

const cutKey = (section: string, core: string, n: number): string => `${section}~${n}:${core}`;

function addShunt(build: Builder, fault: Fault, n: number, loadsOut: ReadonlySet<string>, physics: Physics): void {
  const shunt = (a: string, b: string, ohm: number, part = `fault ${fault.kind}`): void => build.branch(a, b, Math.max(ohm, physics.contactOhmMin), part);
  if (fault.kind === 'pointContact') shunt(terminalKey(fault.point, fault.terminals[0]), terminalKey(fault.point, fault.terminals[1]), fault.ohm);
  else if (fault.kind === 'joined') shunt(fault.terminals[0], fault.terminals[1], fault.ohm);
  else if (fault.kind === 'loadFault' && !loadsOut.has(elementKey(fault.point, fault.load)))
    shunt(terminalKey(fault.point, fault.terminals[0]), terminalKey(fault.point, fault.terminals[1]), fault.ohm, `fault ${elementKey(fault.point, fault.load)} ${fault.terminals.join('')}`);
  else if (fault.kind === 'contact') shunt(cutKey(fault.section, fault.cores[0], n), cutKey(fault.section, fault.cores[1], n), fault.ohm);
}

/** Collects nodes and branches; joins what has no resistance between. */
class Builder {
  private readonly parent: number[] = [];
  private readonly keys = new Map<PlaceKey, number>();
  private readonly raw: Branch[] = [];

  node(key: PlaceKey): number {
    const known = this.keys.get(key);
    if (known !== undefined) return known;
    const n = this.parent.length;
    this.parent.push(n);
    this.keys.set(key, n);
    return n;
  }

  branch(a: PlaceKey, b: PlaceKey, ohm: number, part: string): void {
    const i = this.node(a);
    const j = this.node(b);
    if (!(ohm >= 0) || !Number.isFinite(ohm)) throw new Error(`branch ${part} has ${ohm} ohm`);
    if (ohm === 0) this.parent[this.root(i)] = this.root(j);
    else this.raw.push({ a: i, b: j, ohm, part });
  }

  series(a: PlaceKey, b: PlaceKey, ohm: number, extra: SeriesOhm | undefined, part: string): void {
    this.node(a);
    this.node(b);
    if (extra !== 'open') this.branch(a, b, ohm + (extra ?? 0), part);
  }

  finish(): Network {
    const slot = new Map<number, number>();
    const nodes: PlaceKey[] = [];
    const index = new Map<PlaceKey, number>();
    for (const [key, n] of this.keys) {
      const root = this.root(n);
      let at = slot.get(root);
      if (at === undefined) {
        at = nodes.length;
        slot.set(root, at);
        nodes.push(key);
      }
      index.set(key, at);
    }
    const branches = this.raw
      .map((b) => ({ ...b, a: slot.get(this.root(b.a)) ?? 0, b: slot.get(this.root(b.b)) ?? 0 }))
      .filter((b) => b.a !== b.b);
    return { nodes, index, branches };
  }

  private root(n: number): number {
    let r = n;
    while (this.parent[r] !== r) r = this.parent[r] as number;
    this.parent[n] = r;
    return r;
  }
}
