import { allEnds, boardOf, circuitOfWay, circuitsOf, endKeyOf, endsAtPoint, faceKey, findPoint, isSwitched, isTwoWay, landingOf, loadsOf, protectionsOf, terminalKey, waysOfBoard, type Installation, type PlaceKey } from '../installation';
import { elementKey, linkKey, type WorkState } from '../workstate';
import { boardSuspects } from './boardSuspects';
import type { Fault } from './schema';

export const suspectKinds = [
  'sound', 'unknown', 'openCore', 'looseEnd', 'resistiveEnd', 'contact', 'pointContact', 'loadFault', 'loadLeft', 'loadOpen', 'crossed',
  'terminal', 'face', 'notLanded', 'missingSection', 'openBridged', 'switchOpen', 'endNotOut', 'loadIn', 'switchOn', 'linkLeft', 'thrown', 'metalPath',
  'otherBar', 'borrowed', 'rcdSensitive', 'rcdBlind', 'standingLeak', 'overload', 'supplyLost',
] as const;
export type SuspectKind = (typeof suspectKinds)[number];

/** What is unknown about a suspect besides that it is there. */
export type Unknown =
  | { readonly of: 'nothing' }
  /** Ohms in series, or open, or both. */
  | { readonly of: 'series'; readonly open: boolean; readonly ohm: readonly [number, number] | null }
  /** Ohms across, and for a cable the place along it. */
  | { readonly of: 'shunt'; readonly ohm: readonly [number, number]; readonly alongCable: boolean; /** Between line and neutral: between some ohms and some kilohms it would burn itself out or off. */ readonly burns?: boolean };

/** No fault, but it changes readings: a record that is wrong, or metal that helps the protective conductor. Once it is plain it is taken as given, and the search goes on. */
export const isFact = (s: Pick<Suspect, 'kind' | 'place'>): boolean => s.kind === 'metalPath' || s.place.startsWith('state ');

/** Is it a fault at all? Not: nothing, such a fact, or what no map shows. */
export const isFault = (s: Pick<Suspect, 'kind' | 'place'>): boolean => s.kind !== 'sound' && s.kind !== 'unknown' && !isFact(s);

/** Is it a path between two conductors that should be apart? */
export const touches = ({ kind }: Pick<Suspect, 'kind'>): boolean => kind === 'contact' || kind === 'pointContact' || kind === 'loadFault' || kind === 'loadLeft';

/** Does it leave a conductor that is not whole? */
export const isBreak = ({ kind }: Pick<Suspect, 'kind'>): boolean => BREAKS.has(kind);
const BREAKS: ReadonlySet<SuspectKind> = new Set(['openCore', 'looseEnd', 'terminal', 'notLanded', 'missingSection', 'openBridged']);

/** What it comes to for whoever mends it: an end that is off is that with metal beyond it or without, a faulty appliance whether it was noticed or not. */
export const natureOf = ({ kind, id }: Pick<Suspect, 'kind' | 'id'>): SuspectKind => (kind === 'loadLeft' ? 'loadFault' : kind === 'openBridged' ? (id.includes('@') ? 'looseEnd' : 'openCore') : kind);

/** One thing that can be wrong at one place: a family of faults that differ only in size and position. */
export interface Suspect {
  readonly id: string;
  readonly kind: SuspectKind;
  /** The place a person would open or replace: a section, a point or `point.load`. */
  readonly place: string;
  /** Conductors concerned, by core or terminal id. */
  readonly conductors: readonly string[];
  readonly unknown: Unknown;
  /** Weight before any reading; all suspects together make 1. */
  readonly prior: number;
  /** How well so many ohms go with what was complained of, 0…1; absent: any size alike. */
  readonly felt?: (ohm: number) => number;
  /** The fault as data. `ohm` in ohms (Infinity: open), `fraction` along the cable from end a. */
  fault(ohm: number, fraction: number): Fault[];
  /** Switches that may keep it from the leads. */
  readonly beyond?: readonly Beyond[];
  /** Where this is another suspect with two-way switches on their other throws (of `asTheyStand` alone). */
  readonly thrown?: { readonly suspect: Suspect; readonly parts: readonly string[] };
  /**
   * Where this is another suspect behind a switch that may be off, on a way that nobody has drawn (of `asTheyStand` alone): no line reaches it
   * until all switches of that way are on. `plug`: it is a load that may be out (`way`: its `point.element`), and nothing reaches it until it is in for certain.
   */
  readonly behind?: { readonly suspect: Suspect; readonly way: string; readonly plug: boolean };
  /** Where it sits in the network, for the closed formulas. */
  readonly site: Site;
}

/**
 * How switches that nobody has recorded may keep a suspect from the leads: two-way switches, by part, on their other throws, each set of
 * them weighed like the record, for nobody can see which throw is made; or, with none named, a switch of a way that nobody has drawn,
 * by the point that stands for it, beyond which no line reaches, or (`plug`) a load that may be out, by `point.element`. `share`: how much of the suspect lies so.
 */
export interface Beyond { readonly share: number; readonly parts: readonly string[]; readonly way?: string; readonly plug?: boolean }

export type Site =
  | { readonly on: 'nothing' }
  | { readonly on: 'branch'; readonly part: string; readonly end: '' | 'a' | 'b'; readonly endKey: string }
  | { readonly on: 'cable'; readonly section: string; readonly cores: readonly [string, string] }
  | { readonly on: 'pair'; readonly a: string; readonly b: string; readonly only?: 'endOut' | 'loadOut' | 'loadIn' | 'switchOff' | 'linkOff'; readonly part?: string }
  /** A core that is open, at one of its ends or (`endKey` '') along it, and another way between two places in its stead. */
  | { readonly on: 'opened'; readonly part: string; readonly endKey: string; readonly a: string; readonly b: string }
  | { readonly on: 'face'; readonly face: string }
  | { readonly on: 'structure'; readonly structure: 'crossed' | 'terminal' | 'notLanded' | 'missingSection' | 'landed' | 'thrown'; readonly id: string; readonly cores: readonly string[] };

/** Two places that were joined for a test. */
export type LinkedPair = readonly [string, string];

/** Share of each kind before any reading. Kinds that the circuit cannot host are left out and the rest scaled up. */
export type KindPriors = Readonly<Partial<Record<SuspectKind, number>>>;

/** Appliances and terminations first, buried cable last (field guide, section 4). */
export const tradePriors: KindPriors = {
  sound: 0.03, unknown: 0.001, openCore: 0.06, looseEnd: 0.17, resistiveEnd: 0.18, contact: 0.13, pointContact: 0.16, loadFault: 0.22, loadLeft: 0.005, loadOpen: 0.04,
  crossed: 0.02, terminal: 0.02, face: 0.03, notLanded: 0.02, missingSection: 0.01, openBridged: 0.008, switchOpen: 0.02,
  endNotOut: 0.004, loadIn: 0.03, switchOn: 0.004, linkLeft: 0.002, thrown: 0.06, metalPath: 0.006,
  otherBar: 0.006, borrowed: 0.006, rcdSensitive: 0.008, rcdBlind: 0.003, standingLeak: 0.012, overload: 0.006, supplyLost: 0.004,
};

const CONTACT_OHM: readonly [number, number] = [0, 2e6];
const RESISTIVE_OHM: readonly [number, number] = [0.2, 50];
/** A short inside a load: what reads more is the load itself. */
const LOAD_LN_OHM: readonly [number, number] = [0, 2];
const LOAD_EARTH_OHM: readonly [number, number] = [0, 2e6];

/**
 * Every single fault that a dead test can see on this installation, with its prior, and doubts of the recorded state.
 * `linksMade`: pairs of places that the job has linked so far; any of them may still be in.
 */
export function suspectsOf(installation: Installation, priors: KindPriors = tradePriors, linksMade: readonly LinkedPair[] = []): Suspect[] {
  const drafts = [...general(), ...seriesSuspects(installation), ...contactSuspects(installation), ...structuralSuspects(installation), ...doubtSuspects(installation, linksMade), ...metalSuspects(installation), ...bridgedBreaks(installation), ...boardSuspects(installation)];
  const counts = new Map<SuspectKind, number>();
  for (const d of drafts) counts.set(d.kind, (counts.get(d.kind) ?? 0) + 1);
  const usable = drafts.filter((d) => (priors[d.kind] ?? 0) > 0);
  const total = [...new Set(usable.map((d) => d.kind))].reduce((sum, k) => sum + (priors[k] ?? 0), 0);
  const [twoWay, unseen] = [twoWayOf(installation), unseenOf(installation)];
  return usable.map((d) => ({ ...d, ...(twoWay(d) ?? unseen(d)), prior: (priors[d.kind] ?? 0) / total / (counts.get(d.kind) ?? 1) }));
}

/** The suspects, and once more those that switches may keep from the leads, with the switches so. */
export const asTheyStand = (suspects: readonly Suspect[]): Suspect[] =>
  [...suspects, ...suspects.flatMap((s) => (s.beyond ?? []).map(({ parts, way, plug = false }): Suspect => (way === undefined ? { ...s, thrown: { suspect: s, parts } } : { ...s, id: `${s.id} ${plug ? 'not in' : 'unseen'}`, site: { on: 'nothing' }, behind: { suspect: s, way, plug } })))];

/** What a suspect is in a state: the one behind a switch is that itself once all switches of its way are on. */
export const asIn = (s: Suspect, state: Pick<WorkState, 'on'>): Suspect => (s.behind && state.on?.includes(s.behind.way) ? s.behind.suspect : s);

/** Is it the variant of a suspect that no line reaches? */
export const isUnseen = (s: Suspect): boolean => s.behind !== undefined;

/** A line, a switched line or a strapper, by its core. */
const ofLine = (core: string): boolean => /^[LST]/.test(core);

/** Of what is wrong on the line side of a way that nobody has drawn, how much lies behind a switch that is off: a way for lights, and any other. */
const BEHIND_SWITCH = { lights: 0.3, other: 0.1 } as const;
const MOST_FOR_LIGHTS_AMP = 10;
const CALLED_LIGHTS = /\b(light|lamp)/i;

/** What is wrong on the line side of a way that nobody has drawn may lie behind a switch: lamps do, and the inside of most appliances. */
function unseenOf(installation: Installation): (d: Draft) => Pick<Suspect, 'beyond'> | null {
  const undrawn = new Set(installation.points.filter((p) => p.kind === 'undrawn').map((p) => p.id));
  const lights = new Set(protectionsOf(installation).flatMap((d) => (d.ratingA !== null && d.ratingA <= MOST_FOR_LIGHTS_AMP ? d.ways : [])));
  const shareOf = new Map<string, { share: number; way: string }>();
  for (const s of installation.sections) {
    if (!undrawn.has(s.b)) continue;
    const way = landingOf(installation, s.id).line.replace(/^W/, 'w');
    const name = findPoint(installation, s.b)?.name ?? '';
    for (const place of [s.id, s.b]) shareOf.set(place, { way: s.b, share: lights.has(way) || CALLED_LIGHTS.test(name) ? BEHIND_SWITCH.lights : BEHIND_SWITCH.other });
  }
  return (d) => {
    const here = shareOf.get(d.place.split('.')[0] ?? '');
    return here !== undefined && isFault(d) && d.conductors.some(ofLine) ? { beyond: [{ ...here, parts: [] }] } : null;
  };
}

/** For each suspect on the line side of a circuit with two-way switches, how these may stand. Of two that both stand otherwise nothing shows, but at the strappers themselves. */
function twoWayOf(installation: Installation): (d: Draft) => Pick<Suspect, 'beyond'> | null {
  const circuits = circuitsOf(installation);
  const switches = new Map<number | undefined, string[]>();
  for (const p of installation.points) for (const e of p.elements) if (isTwoWay(p, e) && e.kind === 'switch' && e.contrary === undefined) switches.set(circuits.get(p.id), [...(switches.get(circuits.get(p.id)) ?? []), elementKey(p.id, e.id)]);
  return (d) => {
    if (!switches.size || !isFault(d) || !d.conductors.some(ofLine)) return null;
    const end = d.site.on === 'branch' && d.site.endKey ? /^[a-z]+\d+/.exec(d.site.endKey)?.[0] : undefined;
    const [first, second] = switches.get(circuits.get(end ?? d.place.split('.')[0] ?? '')) ?? [];
    if (first === undefined) return null;
    const atStrappers = d.conductors.some((c) => c === 'T1' || c === 'T2');
    const sets = second !== undefined && atStrappers ? [[first], [second], [first, second]] : [[first]];
    return { beyond: sets.map((parts) => ({ share: 1 / (1 + sets.length), parts })) };
  };
}

export type Draft = Omit<Suspect, 'prior'>;
const nothing: Unknown = { of: 'nothing' };

const general = (): Draft[] =>
  (['sound', 'unknown'] as const).map((kind) => ({ id: kind, kind, place: kind, conductors: [], unknown: nothing, site: { on: 'nothing' }, fault: () => [] }));

const asSeries = (ohm: number): number | 'open' => (ohm === Infinity ? 'open' : ohm);

function seriesSuspects(installation: Installation): Draft[] {
  const drafts: Draft[] = [];
  for (const s of installation.sections)
    for (const c of s.cores)
      drafts.push({
        id: `open ${s.id}:${c.id}`, kind: 'openCore', place: s.id, conductors: [c.id], unknown: { of: 'series', open: true, ohm: null },
        site: { on: 'branch', part: `${s.id}:${c.id}`, end: '', endKey: '' }, fault: () => [{ kind: 'openCore', section: s.id, core: c.id }],
      });
  for (const end of allEnds(installation)) {
    const site: Site = { on: 'branch', part: `${end.section.id}:${end.core}`, end: end.side, endKey: end.key };
    const fault = (ohm: number): Fault[] => [{ kind: 'termination', end: end.key, ohm: asSeries(ohm) }];
    drafts.push({ id: `loose ${end.key}`, kind: 'looseEnd', place: end.point, conductors: [end.core], unknown: { of: 'series', open: true, ohm: null }, site, fault });
    drafts.push({ id: `resistive ${end.key}`, kind: 'resistiveEnd', place: end.point, conductors: [end.core], unknown: { of: 'series', open: false, ohm: RESISTIVE_OHM }, site, fault });
  }
  for (const p of installation.points) {
    for (const face of p.faces)
      for (const t of p.terminals) {
        const key = faceKey(p.id, face.id, t.id);
        drafts.push({
          id: `face ${key}`, kind: 'face', place: p.id, conductors: [t.id], unknown: { of: 'series', open: true, ohm: RESISTIVE_OHM },
          site: { on: 'face', face: key }, fault: (ohm) => [{ kind: 'face', point: p.id, face: face.id, terminal: t.id, ohm: asSeries(ohm) }],
        });
      }
    for (const e of p.elements)
      if (e.kind === 'switch')
        drafts.push({
          id: `switch ${elementKey(p.id, e.id)}`, kind: 'switchOpen', place: p.id, conductors: isTwoWay(p, e) ? [e.a, e.b] : [e.a], unknown: { of: 'series', open: true, ohm: null },
          site: { on: 'branch', part: elementKey(p.id, e.id), end: '', endKey: '' }, fault: (ohm) => [{ kind: 'element', point: p.id, element: e.id, ohm: asSeries(ohm) }],
        });
      else if (e.kind === 'load' && p.kind === 'fixed' && !e.guessed && e.loadClass === 'resistive')
        drafts.push({
          id: `open load ${elementKey(p.id, e.id)}`, kind: 'loadOpen', place: elementKey(p.id, e.id), conductors: [e.a], unknown: { of: 'series', open: true, ohm: null },
          site: { on: 'branch', part: elementKey(p.id, e.id), end: '', endKey: '' }, fault: (ohm) => [{ kind: 'element', point: p.id, element: e.id, ohm: asSeries(ohm) }],
        });
  }
  return drafts;
}

function contactSuspects(installation: Installation): Draft[] {
  const drafts: Draft[] = [];
  for (const s of installation.sections)
    for (const [c, d] of pairsOf(s.cores.map((x) => x.id)))
      drafts.push({
        id: `contact ${s.id}:${c}${d}`, kind: 'contact', place: s.id, conductors: [c, d], unknown: { of: 'shunt', ohm: CONTACT_OHM, alongCable: true, burns: !s.cores.some((x) => (x.id === c || x.id === d) && x.role === 'E') },
        site: { on: 'cable', section: s.id, cores: [c, d] }, fault: (ohm, fraction) => [{ kind: 'contact', section: s.id, cores: [c, d], fraction, ohm }],
      });
  for (const p of installation.points) {
    if (p.kind === 'board') {
      // A worn surge arrester leaks, or has failed to a short, between its own terminals.
      for (const load of loadsOf(p).filter((l) => l.loadClass === 'arrester'))
        drafts.push({
          id: `load ${elementKey(p.id, load.id)}:${load.a}${load.b}`, kind: 'loadFault', place: elementKey(p.id, load.id), conductors: [load.a, load.b], unknown: { of: 'shunt', ohm: CONTACT_OHM, alongCable: false },
          site: { on: 'pair', a: terminalKey(p.id, load.a), b: terminalKey(p.id, load.b), only: 'loadIn', part: elementKey(p.id, load.id) },
          fault: (ohm) => [{ kind: 'loadFault', point: p.id, load: load.id, terminals: [load.a, load.b], ohm }],
        });
      continue;
    }
    const landed = p.terminals.filter((t) => !isSwitched(t.role)).map((t) => t.id);
    const role = (id: string): string => p.terminals.find((t) => t.id === id)?.role ?? id;
    // In a sub-board two lines that touch join what its bar joins anyway.
    for (const [t, u] of pairsOf(landed).filter(([x, y]) => p.kind !== 'subboard' || role(x) !== role(y)))
      drafts.push({
        id: `contact ${p.id}:${t}${u}`, kind: 'pointContact', place: p.id, conductors: [t, u], unknown: { of: 'shunt', ohm: CONTACT_OHM, alongCable: false, burns: role(t) !== 'E' && role(u) !== 'E' },
        site: { on: 'pair', a: terminalKey(p.id, t), b: terminalKey(p.id, u) }, fault: (ohm) => [{ kind: 'pointContact', point: p.id, terminals: [t, u], ohm }],
      });
    for (const load of loadsOf(p))
      for (const [t, u] of pairsOf(landed)) {
        const own = [load.a, load.b].includes(t) && [load.a, load.b].includes(u);
        const [place, terminals] = [elementKey(p.id, load.id), [t, u] as [string, string]];
        const inside = {
          place, conductors: terminals, unknown: { of: 'shunt', ohm: own ? LOAD_LN_OHM : LOAD_EARTH_OHM, alongCable: false } as const,
          fault: (ohm: number): Fault[] => [{ kind: 'loadFault', point: p.id, load: load.id, terminals, ohm }],
        };
        const site = { on: 'pair', a: terminalKey(p.id, t), b: terminalKey(p.id, u), part: place } as const;
        drafts.push({ ...inside, id: `load ${place}:${t}${u}`, kind: 'loadFault', site: { ...site, only: 'loadIn' } });
        // One of many is overlooked when all are taken out, the faulty one as easily as another: it shows whatever the record says.
        if (load.unplugs) drafts.push({ ...inside, id: `left ${place}:${t}${u}`, kind: 'loadLeft', site, fault: (ohm) => [{ kind: 'joined', terminals: [site.a, site.b], ohm }] });
      }
  }
  return drafts;
}

function structuralSuspects(installation: Installation): Draft[] {
  const drafts: Draft[] = [];
  const circuits = circuitsOf(installation);
  const inRing = new Set(waysOfBoard(installation).filter((w) => w.drawn?.shape === 'ring').map((w) => circuits.get(circuitOfWay(installation, w.id).leaves[0]?.id ?? '')));
  for (const s of installation.sections) {
    // Strappers that change places do no harm: the switches work all the same.
    for (const [c, d] of pairsOf(s.cores.map((x) => x.id)).filter(([x, y]) => x !== 'T1' || y !== 'T2'))
      drafts.push({
        id: `crossed ${s.id}:${c}${d}`, kind: 'crossed', place: s.id, conductors: [c, d], unknown: nothing,
        site: { on: 'structure', structure: 'crossed', id: s.id, cores: [c, d] }, fault: () => [{ kind: 'crossed', section: s.id, cores: [c, d] }],
      });
    if (installation.shape === 'ring' || inRing.has(circuits.get(s.id) ?? -1))
      drafts.push({
        id: `missing ${s.id}`, kind: 'missingSection', place: s.id, conductors: s.cores.map((c) => c.id), unknown: nothing,
        site: { on: 'structure', structure: 'missingSection', id: s.id, cores: [] }, fault: () => [{ kind: 'missingSection', section: s.id }],
      });
  }
  for (const p of installation.points) {
    if (p.kind === 'board') continue;
    for (const t of p.terminals) {
      const ends = endsAtPoint(installation, p.id).filter((e) => e.terminal === t.id).length;
      const site = (structure: 'terminal' | 'notLanded'): Site => ({ on: 'structure', structure, id: p.id, cores: [t.id] });
      if (ends > 1)
        drafts.push({ id: `terminal ${p.id}:${t.id}`, kind: 'terminal', place: p.id, conductors: [t.id], unknown: nothing, site: site('terminal'), fault: () => [{ kind: 'terminal', point: p.id, terminal: t.id, ohm: 'open' }] });
      if (t.role === 'E' && ends > 0 && p.kind !== 'joint' && p.kind !== 'undrawn')
        drafts.push({ id: `notLanded ${p.id}:${t.id}`, kind: 'notLanded', place: p.id, conductors: [t.id], unknown: nothing, site: site('notLanded'), fault: () => [{ kind: 'notLanded', point: p.id, terminal: t.id }] });
    }
  }
  return drafts;
}

const METAL_OHM: readonly [number, number] = [0.02, 20];

/** The board's earth, as a place; null where no board is drawn. */
function earthBar(installation: Installation): PlaceKey | null {
  const board = boardOf(installation);
  const earth = board?.terminals.find((t) => t.role === 'E');
  return board && earth ? terminalKey(board.id, earth.id) : null;
}

/** Metal that a point touches may lead to earth beside its CPC: no fault, but it lowers readings and hides a broken CPC. */
function metalSuspects(installation: Installation): Draft[] {
  const b = earthBar(installation);
  if (b === null) return [];
  return installation.points.flatMap((p): Draft[] => {
    const own = p.terminals.find((t) => t.role === 'E');
    if (!own || p.metalOhm !== undefined || !TOUCHES_METAL.has(p.kind)) return [];
    const a = terminalKey(p.id, own.id);
    return [{
      id: `metal ${p.id}`, kind: 'metalPath', place: p.id, conductors: [own.id], unknown: { of: 'shunt', ohm: METAL_OHM, alongCable: false },
      site: { on: 'pair', a, b }, fault: (ohm) => [{ kind: 'joined', terminals: [a, b], ohm }],
    }];
  });
}

/** A protective conductor that is open where metal beyond it leads to earth all the same: by the readings it is a poor end, or a long cable. */
function bridgedBreaks(installation: Installation): Draft[] {
  const b = earthBar(installation);
  if (b === null) return [];
  return installation.sections.flatMap((s): Draft[] => {
    const core = s.cores.find((c) => c.role === 'E');
    const sides = (['b', 'a'] as const).filter((side) => TOUCHES_METAL.has(findPoint(installation, s[side])?.kind ?? ''));
    const own = findPoint(installation, s[sides[0] ?? 'b'])?.terminals.find((t) => t.role === 'E');
    if (!core || !sides[0] || !own) return [];
    const a = terminalKey(s[sides[0]], own.id);
    const part = `${s.id}:${core.id}`;
    const draft = (id: string, place: string, endKey: string, open: Fault): Draft => ({
      id: `bridged ${id}`, kind: 'openBridged', place, conductors: [core.id], unknown: { of: 'shunt', ohm: METAL_OHM, alongCable: false },
      site: { on: 'opened', part, endKey, a, b }, fault: (ohm) => [open, { kind: 'joined', terminals: [a, b], ohm }],
    });
    const atEnd = (side: 'a' | 'b'): Draft => draft(endKeyOf(s, side, core.id), s[side], endKeyOf(s, side, core.id), { kind: 'termination', end: endKeyOf(s, side, core.id), ohm: 'open' });
    return [draft(part, s.id, '', { kind: 'openCore', section: s.id, core: core.id }), atEnd('a'), atEnd('b')];
  });
}

const TOUCHES_METAL: ReadonlySet<string> = new Set(['outlet', 'lamp', 'fixed', 'switch']);

/** What a load that nobody stated may show a dead test: a heater's few ohms to the filter of a power supply. */
const ANY_LOAD_OHM: readonly [number, number] = [5, 3e6];

/** The recorded state may not be the real one: each doubt is a suspect that acts only where the record says otherwise. */
function doubtSuspects(installation: Installation, linksMade: readonly LinkedPair[]): Draft[] {
  const drafts: Draft[] = [];
  const pair = (kind: SuspectKind, id: string, place: string, conductors: string[], a: string, b: string, only: 'endOut' | 'loadOut' | 'switchOff' | 'linkOff' | null, part: string, ohm: readonly [number, number]): void => {
    drafts.push({ id, kind, place, conductors, unknown: { of: 'shunt', ohm, alongCable: false }, site: { on: 'pair', a, b, ...(only ? { only } : {}), part }, fault: (x) => [{ kind: 'joined', terminals: [a, b], ohm: x }] });
  };
  for (const end of allEnds(installation))
    pair('endNotOut', `in ${end.key}`, `state ${end.key}`, [end.core], end.key, terminalKey(end.point, end.terminal), 'endOut', end.key, [0.001, 0.02]);
  for (const p of installation.points)
    for (const e of p.elements) {
      const part = elementKey(p.id, e.id);
      if (e.kind === 'load' && e.loadClass === 'arrester') continue;
      // What shows of a load that nobody vouched for shows whatever the record says: it is the same load in and out; on a way that nobody has drawn it may be wired in.
      if (e.kind === 'load') pair('loadIn', `in ${part}`, `state ${part}`, [e.a, e.b], terminalKey(p.id, e.a), terminalKey(p.id, e.b), p.kind === 'undrawn' || e.guessed || e.loadClass !== 'resistive' ? null : 'loadOut', part, e.guessed ? ANY_LOAD_OHM : [e.ohm * 0.3, e.ohm * 3]);
      else if (e.kind === 'switch' && !isTwoWay(p, e)) pair('switchOn', `on ${part}`, `state ${part}`, [e.a], terminalKey(p.id, e.a), terminalKey(p.id, e.b), 'switchOff', part, [0.001, 0.1]);
    }
  // Which throw of a two-way switch is made nobody can see: it is as likely as not the one recorded.
  for (const p of installation.points)
    for (const e of p.elements)
      if (e.kind === 'switch' && isTwoWay(p, e) && e.contrary === undefined) {
        const part = elementKey(p.id, e.id);
        drafts.push({ id: `thrown ${part}`, kind: 'thrown', place: `state ${part}`, conductors: [e.a], unknown: nothing, site: { on: 'structure', structure: 'thrown', id: part, cores: [] }, fault: () => [{ kind: 'thrown', point: p.id, element: e.id }] });
      }
  for (const [a, b] of linksMade) pair('linkLeft', `link ${a}=${b}`, `state ${a}`, [], a, b, 'linkOff', linkKey(a, b), [0.001, 0.1]);
  return drafts;
}

/** Does what is suspected between two terminals act in this state? A doubt acts only where the record says otherwise. */
export function actsIn(site: Extract<Site, { on: 'pair' }>, state: WorkState): boolean {
  const part = site.part ?? '';
  switch (site.only) {
    case 'endOut': return state.out.includes(part);
    case 'loadOut': return state.loadsOut.includes(part);
    case 'loadIn': return !state.loadsOut.includes(part);
    case 'linkOff': return !state.links.some((l) => linkKey(l.a, l.b) === part);
    case 'switchOff': return state.off.includes(part);
    default: return true;
  }
}

/** All pairs of a list, each once, in the list's order. */
export function pairsOf<T>(items: readonly T[]): [T, T][] {
  return items.flatMap((x, i) => items.slice(i + 1).map((y): [T, T] => [x, y]));
}
