import { boardOf, endKeyOf, endsAtPoint, findPoint, landingOf, loadsOf, protectionsOf, terminalKey, type Section } from '../../core/installation';
import type { Complaint } from '../../core/job';
import { placeNames } from '../../core/planning';
import { isAbove, type TestFunction } from '../../core/tester';
import { elementKey, setEnds, setOff, untouched, type WorkState } from '../../core/workstate';
import { CAP_MIN } from './electrician';
import type { House, HouseWay, Wrong } from './house';
import type { Nature, Symptoms } from './nature';

/** What a baseline came to. */
export interface RoutineRun { readonly seed: number; readonly named: string; readonly right: boolean; /** Until something is named. */ readonly minutes: number }

interface Found { readonly place: string; readonly conductors: readonly string[] }

/** The minutes of the electrician who follows the app, for the same things. */
const MINUTES = { secure: 5, act: 1, prove: 1, reading: 0.4, live: 1, plug: 0.3 };
const PASSES_OHM = 1e6;
/** Line to neutral below it is no appliance. */
const SHORT_OHM = 4;
const OPEN_OHM = 5;
const STEP_OHM = 0.4;

/**
 * The trade's own routine, without the app, in the same house: unplug, reset, ways one by one, insulation by way, neutrals one by one,
 * then along the circuit: half-split, or one point after the other. It knows what eyes see, never what is wrong.
 */
export class Routine {
  private minutes = 0;
  private state: WorkState = untouched;
  private secured = false;
  private readonly opened = new Set<string>();
  private readonly board: string;

  constructor(private readonly house: House, private readonly nature: Nature, private readonly complaint: Complaint, private readonly halves: boolean) {
    this.board = boardOf(house.whole)?.id ?? '';
  }

  run(): RoutineRun {
    const symptoms = this.nature.symptoms();
    const found = this.find(symptoms);
    const minutes = Math.min(CAP_MIN, this.minutes);
    return { seed: this.house.seed, named: found?.place ?? 'nothing', minutes, right: minutes < CAP_MIN && (found ? this.nature.wrongs.some((w) => this.isIt(found, w)) : this.nature.wrongs.length === 0) };
  }

  private isIt(found: Found, w: Wrong): boolean {
    if (w.family === 'sensitive' || w.family === 'leakage') return w.places.includes(found.place);
    const name = placeNames(this.house.whole);
    return w.places.some((p) => name(p) === name(found.place)) && found.conductors.every((c) => w.conductors.map((x) => (x === 'SL' ? 'L' : x)).includes(c));
  }

  private find(s: Symptoms): Found | null {
    switch (this.complaint) {
      case 'rcd trips': case 'mcb trips': return this.trips(s);
      case 'dead': return this.along(s.dead[0], ['L', 'N'], OPEN_OHM) ?? this.appliances(this.house.ways.filter((w) => w.points.some((p) => s.dead.includes(p))));
      case 'flicker or heat': return this.along(s.hot, ['L', 'N'], STEP_OHM);
      case 'shock': return this.supply() ?? this.along(s.metal[0] ?? s.earths[0], ['E'], OPEN_OHM) ?? this.insulation(this.house.ways) ?? this.appliances(this.house.ways) ?? this.devices(this.house.ways);
      default: return this.inspection();
    }
  }

  // ── hands ──

  private spend(minutes: number): void {
    this.minutes += minutes;
  }

  private read(fn: TestFunction, a: string, b: string): number {
    this.makeDead();
    this.spend(MINUTES.reading);
    const shown = this.nature.read(this.state, { fn, from: [a], to: [b] });
    return isAbove(shown) ? Infinity : shown.ohm;
  }

  private makeDead(): void {
    if (this.secured) return;
    this.secured = true;
    this.spend(MINUTES.secure);
    for (const d of protectionsOf(this.house.whole)) if (d.kind !== 'main' && d.ways[0] === d.id) for (const p of d.poles) this.state = setOff(this.state, p, true);
  }

  private open(point: string): void {
    if (this.opened.has(point) || point === this.board) return;
    this.opened.add(point);
    this.spend(MINUTES.act + MINUTES.prove);
  }

  private takeOut(ends: readonly string[]): void {
    this.spend(MINUTES.act);
    this.state = setEnds(this.state, ends, true);
  }

  private unplugAll(ways: readonly HouseWay[]): string[] {
    const loads = this.loadsOf(ways, true).filter((k) => !this.state.loadsOut.includes(k));
    this.spend(MINUTES.plug * loads.length);
    this.state = { ...this.state, loadsOut: [...this.state.loadsOut, ...loads] };
    return loads;
  }

  private loadsOf(ways: readonly HouseWay[], byPlug: boolean): string[] {
    const own = new Set(ways.flatMap((w) => w.points));
    return this.house.whole.points.filter((p) => own.has(p.id)).flatMap((p) => loadsOf(p).filter((l) => l.unplugs === byPlug).map((l) => elementKey(p.id, l.id))).filter((k) => this.house.plugged.has(k));
  }

  private closes(device: string): boolean {
    this.spend(MINUTES.live);
    const t = this.nature.live(this.state, { kind: 'closed', device });
    return t.kind === 'closed' && t.result === 'holds';
  }

  private switchWays(ways: readonly string[], off: boolean): void {
    for (const d of protectionsOf(this.house.whole)) if (ways.includes(d.id)) for (const p of d.poles) this.state = setOff(this.state, p, off);
  }

  // ── the devices ──

  private trips(s: Symptoms): Found | null {
    const devices = protectionsOf(this.house.whole).filter((d) => (this.complaint === 'rcd trips' ? d.residualMa !== null : d.kind !== 'main' && d.kind !== 'rcd'));
    const behind = (x: (typeof devices)[number] | undefined): HouseWay[] => this.house.ways.filter((w) => x?.carries.includes(w.way) === true || x?.id === w.way);
    const d = devices.find((x) => s.tripped.includes(x.id)) ?? devices.find((x) => behind(x).length > 0);
    const ways = behind(d);
    if (!d || !ways.length) return null;
    let suspected = ways;
    const loads = this.unplugAll(ways);
    if (this.complaint === 'rcd trips') {
      if (this.closes(d.id)) {
        for (const k of loads) {
          this.spend(MINUTES.plug);
          this.state = { ...this.state, loadsOut: this.state.loadsOut.filter((x) => x !== k) };
          if (!this.closes(d.id)) return { place: k, conductors: [] };
        }
        this.unplugAll(ways);
      } else if (d.kind === 'rcd') {
        this.switchWays(d.ways, true);
        if (this.closes(d.id))
          for (const w of ways) {
            this.switchWays([w.way], false);
            if (this.closes(d.id)) continue;
            suspected = [w];
            break;
          }
      }
    }
    // Behind the way that it went with first, then behind all: a neutral on another shows there as well.
    return this.insulation(suspected) ?? (suspected.length < ways.length ? this.insulation(ways) : null) ?? this.appliances(ways) ?? (this.complaint === 'rcd trips' ? this.devices(ways) : null);
  }

  private devices(ways: readonly HouseWay[]): Found | null {
    for (const d of protectionsOf(this.house.whole).filter((x) => x.residualMa !== null && ways.some((w) => x.carries.includes(w.way)))) {
      this.spend(2 * MINUTES.live);
      const t = this.nature.live(untouched, { kind: 'ramp', device: d.id, outgoing: 'out' });
      if (t.kind === 'ramp' && t.mA !== null && t.mA < 0.5 * (d.residualMa ?? 30)) return { place: d.id, conductors: [] };
      this.spend(MINUTES.live);
      const c = this.nature.live(untouched, { kind: 'clamp', around: d.id, filtered: true, peak: false });
      if (c.kind === 'clamp' && c.mA > 0.55 * (d.residualMa ?? 30) && d.kind === 'rcd' && c.mA < (d.residualMa ?? 30)) return { place: d.id, conductors: [] };
    }
    for (const w of ways) {
      this.spend(MINUTES.live);
      const t = this.nature.live(untouched, { kind: 'clamp', around: w.way, filtered: true, peak: false });
      if (t.kind !== 'clamp' || t.mA < 15) continue;
      // Its current comes back elsewhere: one thing after another off until it does not.
      for (const k of this.loadsOf([w], true)) {
        this.spend(MINUTES.plug + MINUTES.live);
        const without = this.nature.live({ ...untouched, loadsOut: [k] }, { kind: 'clamp', around: w.way, filtered: true, peak: false });
        if (without.kind === 'clamp' && without.mA < 5) return { place: k.split('.')[0] ?? '', conductors: ['N'] };
      }
      return { place: w.sections[0] ?? '', conductors: ['N'] };
    }
    return null;
  }

  private supply(): Found | null {
    this.spend(MINUTES.live);
    const bare = protectionsOf(this.house.whole).filter((d) => d.kind !== 'main').flatMap((d) => d.poles).reduce((s, p) => setOff(s, p, true), untouched);
    const z = this.nature.live(bare, { kind: 'loop', from: `${this.board}:L`, to: `${this.board}:E`, noTrip: true });
    this.spend(MINUTES.live);
    const v = this.nature.live(bare, { kind: 'voltage', from: `${this.board}:L`, to: `${this.board}:N`, meter: 'low' });
    if (v.kind === 'voltage' && v.volt < 200) return { place: 'supply', conductors: ['N'] };
    return z.kind === 'loop' && z.ohm > 500 ? { place: 'supply', conductors: ['E'] } : null;
  }

  // ── dead, at the board ──

  private terminals(w: HouseWay): { L: string; N: string; E: string } {
    const { line, neutral } = landingOf(this.house.whole, w.sections[0] ?? '');
    return { L: terminalKey(this.board, line), N: terminalKey(this.board, neutral), E: terminalKey(this.board, 'E') };
  }

  private insulation(ways: readonly HouseWay[]): Found | null {
    this.unplugAll(ways);
    for (const bar of new Set(ways.map((w) => this.terminals(w).N))) {
      if (this.read('insulation', bar, this.terminals(ways[0] as HouseWay).E) >= PASSES_OHM) continue;
      for (const w of this.house.ways.filter((x) => this.terminals(x).N === bar)) {
        this.takeOut(this.endsAtBoard(w, ['N']));
        if (this.read('insulation', bar, this.terminals(w).E) >= PASSES_OHM) return this.into(w, 'N', 'E');
      }
    }
    for (const w of ways) {
      const at = this.terminals(w);
      if (this.read('insulation', at.L, at.E) < PASSES_OHM) return this.into(w, 'L', 'E');
      const low = this.read('insulation', at.L, at.N) < PASSES_OHM;
      if (low && this.read('continuity', at.L, at.N) < SHORT_OHM) return this.into(w, 'L', 'N');
    }
    return null;
  }

  /** One thing after another plugged in again, and read at its way. */
  private appliances(ways: readonly HouseWay[]): Found | null {
    for (const w of ways)
      for (const k of this.loadsOf([w], true)) {
        this.spend(MINUTES.plug);
        this.state = { ...this.state, loadsOut: this.state.loadsOut.filter((x) => x !== k) };
        const { L, N, E } = this.terminals(w);
        if (this.read('insulation', L, E) < PASSES_OHM || this.read('insulation', N, E) < PASSES_OHM || (this.complaint === 'mcb trips' && this.read('continuity', L, N) < SHORT_OHM)) return { place: k, conductors: [] };
      }
    return null;
  }

  private endsAtBoard(w: HouseWay, cores: readonly string[]): string[] {
    return endsAtPoint(this.house.whole, this.board).filter((e) => w.sections.includes(e.section.id) && cores.includes(e.core)).map((e) => e.key);
  }

  // ── into the circuit ──

  private sectionsOf(w: HouseWay): Section[] {
    return this.house.whole.sections.filter((s) => w.sections.includes(s.id));
  }

  private into(w: HouseWay, a: string, b: string): Found {
    this.takeOut(this.endsAtBoard(w, ['L', 'N', 'E']));
    const ends = this.endsAtBoard(w, [a, b]);
    const here = (core: string): string => ends.find((k) => k.endsWith(`:${core}`)) ?? '';
    for (const k of this.loadsOf([w], false)) {
      this.open(k.split('.')[0] ?? '');
      this.spend(MINUTES.act);
      this.state = { ...this.state, loadsOut: [...this.state.loadsOut, k] };
      if (this.read('insulation', here(a), here(b)) >= PASSES_OHM) return { place: k, conductors: [] };
    }
    let inside: { points: string[]; sections: string[] } = { points: w.points.filter((p) => findPoint(this.house.whole, p)?.kind !== 'undrawn'), sections: this.sectionsOf(w).map((s) => s.id) };
    for (let guard = 0; guard < 40 && this.minutes < CAP_MIN; guard++) {
      const cut = this.bestCut(inside);
      if (!cut) break;
      this.open(cut.point);
      this.takeOut(cut.ends);
      const far = (core: string): string => cut.ends.find((k) => k.endsWith(`:${core}`)) ?? '';
      const low = (x: string, y: string): boolean => x !== '' && y !== '' && this.read('insulation', x, y) < PASSES_OHM;
      const beyond = this.side(inside, cut.section, cut.point);
      const rest = { points: inside.points.filter((p) => !beyond.points.includes(p)), sections: inside.sections.filter((s) => !beyond.sections.includes(s)) };
      inside = low(far(a), far(b)) ? beyond : rest;
    }
    return { place: inside.sections[0] ?? inside.points[0] ?? '', conductors: [a, b] };
  }

  /** What hangs on a section once it is off at a point. */
  private side(inside: { points: readonly string[]; sections: readonly string[] }, section: string, from: string): { points: string[]; sections: string[] } {
    const found = { points: [] as string[], sections: [section] };
    const queue = [section];
    while (queue.length) {
      const next = queue.pop();
      const s = this.house.whole.sections.find((x) => x.id === next);
      for (const side of ['a', 'b'] as const) {
        const p = s?.[side] ?? '';
        if (!s || p === from || !inside.points.includes(p) || found.points.includes(p) || this.isOut(s, side)) continue;
        found.points.push(p);
        for (const e of endsAtPoint(this.house.whole, p)) if (inside.sections.includes(e.section.id) && !found.sections.includes(e.section.id) && !this.isOut(e.section, e.side)) {
          found.sections.push(e.section.id);
          queue.push(e.section.id);
        }
      }
    }
    return found;
  }

  private isOut = (s: Section, side: 'a' | 'b'): boolean => s.cores.every((c) => this.state.out.includes(endKeyOf(s, side, c.id)));

  /** The section taken off at a point that halves what is left; one point after the other where nobody halves. */
  private bestCut(inside: { points: readonly string[]; sections: readonly string[] }): { point: string; section: string; ends: string[] } | null {
    const total = inside.points.length + inside.sections.length;
    let best: { point: string; section: string; ends: string[]; size: number } | null = null;
    for (const p of inside.points) {
      if (findPoint(this.house.whole, p)?.reach === 'never') continue;
      for (const id of new Set(endsAtPoint(this.house.whole, p).map((e) => e.section.id))) {
        const s = this.house.whole.sections.find((x) => x.id === id);
        const side = s?.a === p ? 'a' : 'b';
        if (!s || !inside.sections.includes(id) || this.isOut(s, side)) continue;
        const beyond = this.side(inside, id, p);
        const part = beyond.points.length + beyond.sections.length;
        if (beyond.points.includes(p)) continue;
        const size = Math.min(part, total - part);
        if (!best || (this.halves && size > best.size)) best = { point: p, section: id, ends: s.cores.map((c) => endKeyOf(s, side, c.id)), size };
      }
    }
    return best;
  }

  /** Continuity from the board along the way to a point, and the place from which it is lost: `from` ohms more than at the point before. */
  private along(point: string | undefined, cores: readonly string[], from: number, off?: Section): Found | null {
    const w = this.house.ways.find((x) => point !== undefined && x.points.includes(point));
    const path = w && point !== undefined ? this.pathTo(w, point, off) : [];
    if (!w || !path.length) return null;
    const at = this.terminals(w);
    const ohms = (k: number, core: string): number => {
      const p = findPoint(this.house.whole, path[k]?.point ?? '');
      if (p?.reach !== 'face') this.open(p?.id ?? '');
      return this.read('continuity', at[core as 'L'], terminalKey(p?.id ?? '', p?.terminals.some((t) => t.id === core) ? core : (p?.terminals[0]?.id ?? core)));
    };
    for (const core of cores) {
      let [good, bad] = [-1, path.length - 1];
      let last = 0;
      const end = ohms(bad, core);
      if (end < from + (from < 1 ? 1 : 0)) continue;
      while (bad - good > 1) {
        const k = this.halves ? Math.floor((good + bad) / 2) : good + 1;
        const ohm = ohms(k, core);
        if (ohm < last + from || (from < 1 && ohm < 0.5 * end)) [good, last] = [k, ohm];
        else bad = k;
      }
      const s = path[bad]?.section as Section;
      for (const side of ['a', 'b'] as const) {
        const p = s[side];
        this.open(p);
        const c = s.cores.find((x) => x.id === core);
        if (c && this.read('continuity', terminalKey(p, c[side]), endKeyOf(s, side, core)) > STEP_OHM) return { place: p, conductors: [core] };
      }
      return { place: s.id, conductors: [core] };
    }
    return null;
  }

  private pathTo(w: HouseWay, point: string, off?: Section): { point: string; section: Section }[] {
    const before = new Map<string, { point: string; section: Section }>();
    const queue = [this.board];
    while (queue.length) {
      const here = queue.shift() as string;
      for (const s of this.sectionsOf(w).filter((x) => x !== off)) {
        const other = s.a === here ? s.b : s.b === here ? s.a : '';
        if (other === '' || other === this.board || before.has(other)) continue;
        before.set(other, { point: here, section: s });
        queue.push(other);
      }
    }
    const path: { point: string; section: Section }[] = [];
    for (let p = point; before.has(p); p = (before.get(p) as { point: string }).point) path.unshift({ point: p, section: (before.get(p) as { section: Section }).section });
    return path;
  }

  // ── everything ──

  private inspection(): Found | null {
    const found = this.insulation(this.house.ways);
    if (found) return found;
    for (const w of this.house.ways) {
      if (w.phrase.startsWith('ring')) {
        const legs = this.sectionsOf(w).filter((s) => s.a === this.board || s.b === this.board);
        this.takeOut(this.endsAtBoard(w, ['L', 'N', 'E']));
        for (const core of ['L', 'N', 'E']) {
          const [x, y] = legs.map((s) => endKeyOf(s, s.a === this.board ? 'a' : 'b', core));
          if (x === undefined || y === undefined || this.read('continuity', x, y) < OPEN_OHM) continue;
          // One leg stays off: then it is a chain, and the way along it is lost at the break.
          const leg = legs[1] as Section;
          this.state = setEnds(this.state, this.endsAtBoard(w, ['L', 'N', 'E']).filter((k) => !leg.cores.some((c) => k === endKeyOf(leg, leg.a === this.board ? 'a' : 'b', c.id))), false);
          return this.along(leg.a === this.board ? leg.b : leg.a, [core], OPEN_OHM, leg) ?? { place: leg.id, conductors: [core] };
        }
        this.state = setEnds(this.state, this.endsAtBoard(w, ['L', 'N', 'E']), false);
        this.spend(MINUTES.act);
      }
      for (const p of w.points.filter((x) => findPoint(this.house.whole, x)?.kind !== 'undrawn')) {
        const lost = this.along(p, ['E'], OPEN_OHM) ?? (w.phrase.startsWith('lights') ? null : this.along(p, ['L'], 2));
        if (lost) return lost;
      }
    }
    return this.devices(this.house.ways);
  }
}
