import type { Fault } from '../../core/faults';
import { boardOf, circuitOfWay, draftCircuit, editMap, findPoint, isTwoWay, loadsOf, protectionsOf, terminalKey, type Installation, type Load, type Point } from '../../core/installation';
import { copperOhmPerM, type Physics } from '../../core/network';
import { seededRandom, type Random } from '../../core/numeric';
import { elementKey } from '../../core/workstate';

/** How life is here: lengths, ages, loads and metalwork that no plan shows. */
export interface House {
  readonly seed: number;
  /** What the electrician reads off the board, and the same with what nobody told. */
  readonly phrase: string;
  readonly told: string;
  /** Everything as it is: all circuits, true lengths and areas, all loads. */
  readonly whole: Installation;
  readonly ways: readonly HouseWay[];
  /** Every core of every pair by its own insulation, ohm-metres; loads by what a dead test meets in them. */
  readonly physics: Physics;
  readonly cold: ReadonlyMap<string, { readonly continuityOhm: number; readonly insulationOhm: number }>;
  /** Loads that are there and plugged in; of them those whose own switch is on. */
  readonly plugged: ReadonlySet<string>;
  readonly switchedOn: ReadonlySet<string>;
  /** Two-way switches that stand the other way than anybody would record. */
  readonly thrown: readonly Fault[];
  /** Other switches that stand off when the electrician comes, by part: half the lights are. */
  readonly off: readonly string[];
  /** The way that a label on the board says a circuit is on: one way in twenty has another's. */
  readonly labelOf: (way: string) => string;
  readonly random: Random;
}

/** A way with the phrase that draws it, and its points and sections in the order in which drawing makes them. */
export interface HouseWay { readonly way: string; readonly phrase: string; readonly points: readonly string[]; readonly sections: readonly string[] }

const pickBy = <T>(random: Random, list: readonly (readonly [T, number])[]): T => {
  let u = random.next() * list.reduce((s, [, w]) => s + w, 0);
  for (const [x, w] of list) if ((u -= w) < 0) return x;
  return (list[list.length - 1] as readonly [T, number])[0];
};

/** A house of 4 to 12 ways. */
export function drawHouse(seed: number): House {
  const random = seededRandom(seed * 6700417 + 11);
  const n = random.integer(4, 12);
  const scheme = pickBy(random, [['all', 25], ['two', 25], ['rcbos', 20], ['some', 15], ['none', 15]] as const);
  const half = Math.ceil(n / 2);
  const devices = { all: `RCD on 1 to ${n}`, two: `RCD on 1 to ${half}, RCD on ${half + 1} to ${n}`, rcbos: `RCBOs on 1 to ${n}`, some: `RCD on 1 to ${half}`, none: '' }[scheme];
  const earthing = pickBy(random, [['TN-C-S', 45], ['TN-S', 30], ['TT', scheme === 'none' ? 0 : 25]] as const);
  const said = random.chance(0.6);
  const phraseOf = (...parts: string[]): string => parts.filter(Boolean).join(', ');
  const phrase = phraseOf(`${n} ways`, devices, earthing);
  const told = phraseOf(`${n} ways`, devices, said ? earthing : '');
  let whole = drafted(phrase);
  const ways: HouseWay[] = [];
  let subBoards = 0;
  for (let i = 1; i <= n; i++) {
    const kind = pickBy(random, [['ring', 22], ['radial', 22], ['lights', 30], ['fixed', 20], ['sub', subBoards ? 0 : 4], ['spare', i > 3 ? 4 : 0]] as const);
    if (kind === 'spare') continue;
    if (kind === 'sub') subBoards++;
    const drawn = { ring: `ring, ${random.integer(4, 9)}`, radial: `radial, ${random.integer(2, 6)}`, lights: random.chance(0.4) ? `lights, ${random.integer(2, 6)}, one switch` : `lights, ${random.integer(2, 7)}`, fixed: `tree, ${random.integer(1, 2)}`, sub: `sub-board, ${random.integer(2, 3)}` }[kind];
    const text = kind === 'lights' && !drawn.endsWith('switch') && seededRandom(seed * 7919 + i).chance(0.4) ? `${drawn}, two-way switch` : drawn;
    const way = `w${i}`;
    const edited = editMap(whole, { edit: 'drawCircuit', way, phrase: text });
    if (!edited.ok) throw new Error(JSON.stringify(edited.issues));
    whole = edited.value;
    const { points, sections } = circuitOfWay(whole, way);
    ways.push({ way, phrase: text, points: points.map((p) => p.id), sections: sections.map((s) => s.id) });
  }
  whole = asItIs(whole, ways, random);
  const halfOf = (p: Point): boolean => seededRandom(seed * 104729 + Number(p.id.slice(1))).chance(0.5);
  const thrown = whole.points.flatMap((p) => p.elements.flatMap((e): Fault[] => (e.kind === 'switch' && e.contrary !== undefined && halfOf(p) ? [{ kind: 'thrown', point: p.id, element: e.contrary }] : [])));
  const off = whole.points.flatMap((p) => (p.kind === 'switch' && halfOf(p) ? p.elements.filter((e) => !isTwoWay(p, e) && e.kind === 'switch').map((e) => elementKey(p.id, e.id)) : []));
  return { seed, phrase, told, whole, ways, random, thrown, off, labelOf: labelsOf(seed, ways.map((w) => w.way)), ...loadsIn(whole, random), physics: physicsOf(whole, ways, random) };
}

const MISLABELLED = 0.05;

/** Two labels that changed places, for each way that has the wrong one. */
function labelsOf(seed: number, ways: readonly string[]): (way: string) => string {
  const random = seededRandom(seed * 15485863 + 7);
  const labels = new Map(ways.map((w) => [w, w]));
  for (const w of ways) {
    if (ways.length < 2 || !random.chance(MISLABELLED / 2)) continue;
    const other = random.pick(ways.filter((x) => x !== w));
    const [own, its] = [labels.get(w) ?? w, labels.get(other) ?? other];
    labels.set(w, its).set(other, own);
  }
  return (way) => labels.get(way) ?? way;
}

export function drafted(phrase: string): Installation {
  const r = draftCircuit(phrase);
  if (!r.ok) throw new Error(`${phrase}: ${JSON.stringify(r.issues)}`);
  return r.value;
}

/** True lengths, areas as the installer took them off the drum, loads and metalwork. */
function asItIs(map: Installation, ways: readonly HouseWay[], random: Random): Installation {
  const thin = new Set(ways.filter(() => random.chance(0.15)).map((w) => w.way));
  const wayOf = new Map(ways.flatMap((w) => [...w.points, ...w.sections].map((x) => [x, w.way] as const)));
  const board = boardOf(map)?.id;
  const points = map.points.map((p): Point => {
    if (p.kind === 'board' || p.kind === 'subboard' || !wayOf.has(p.id)) return { ...p, elements: p.kind === 'undrawn' ? p.elements.filter((e) => e.kind !== 'load') : p.elements };
    const metal = random.chance(p.kind === 'fixed' ? 0.25 : 0.06) ? { metalOhm: 0.3 * 10 ** random.uniform(0, 2.2) } : {};
    return { ...p, ...metal, elements: [...p.elements.filter((e) => e.kind !== 'load'), ...loadAt(p, random)] };
  });
  const sections = map.sections.map((s) => ({
    ...s,
    lengthM: s.a === board || s.b === board ? random.uniform(3, 22) : random.uniform(2, 12),
    cores: s.cores.map((c) => (c.role === 'E' && thin.has(wayOf.get(s.id) ?? '') ? { ...c, csaMm2: c.csaMm2 > 1 ? 1 : c.csaMm2 } : c)),
  }));
  return { ...map, points, sections };
}

function loadAt(p: Point, random: Random): Load[] {
  const load = (id: string, watt: number, loadClass: Load['loadClass'], unplugs: boolean): Load[] => [{ kind: 'load', id, name: id, a: p.terminals.some((t) => t.role === 'SL') && p.kind === 'lamp' ? 'SL' : 'L', b: 'N', loadClass, ohm: (230 * 230) / watt, unplugs, guessed: false }];
  if (p.kind === 'lamp') return random.chance(0.7) ? load('lamp', random.uniform(4, 20), 'electronic', true) : load('lamp', random.uniform(25, 100), 'resistive', true);
  if (p.kind === 'outlet') return random.chance(0.6) ? load('plug', 20 * 10 ** random.uniform(0, 2.1), pickBy(random, [['electronic', 5], ['resistive', 3], ['winding', 2]] as const), true) : [];
  if (p.kind === 'fixed') return load('load', 300 * 10 ** random.uniform(0, 1.2), pickBy(random, [['resistive', 6], ['winding', 4]] as const), false);
  if (p.kind === 'undrawn') return load('loads', 40 * 10 ** random.uniform(0, 1.5), 'resistive', true);
  return [];
}

function loadsIn(map: Installation, random: Random): Pick<House, 'cold' | 'plugged' | 'switchedOn'> {
  const cold = new Map<string, { continuityOhm: number; insulationOhm: number }>();
  const plugged = new Set<string>();
  const switchedOn = new Set<string>();
  for (const p of map.points)
    for (const l of loadsOf(p)) {
      const key = elementKey(p.id, l.id);
      // A power supply is no resistor to direct current: a few volts do not wake it, 500 V meet its filter.
      cold.set(key, l.loadClass === 'electronic' ? { continuityOhm: 10 ** random.uniform(5.5, 7.5), insulationOhm: 10 ** random.uniform(4.5, 6.5) } : { continuityOhm: l.ohm, insulationOhm: l.ohm });
      if (!l.unplugs || random.chance(0.75)) plugged.add(key);
      if (plugged.has(key) && random.chance(0.55)) switchedOn.add(key);
    }
  return { cold, plugged, switchedOn };
}

/** Insulation from a few megohms to beyond every range, by circuit and by pair; joints of a few milliohms. */
function physicsOf(map: Installation, ways: readonly HouseWay[], random: Random): Physics {
  const ofWay = new Map<string, number>();
  for (const w of ways) {
    const metres = map.sections.filter((s) => w.sections.includes(s.id)).reduce((sum, s) => sum + s.lengthM, 0);
    const wholeOhm = 1e6 * pickBy(random, [[10 ** random.uniform(0.7, 2), 25], [10 ** random.uniform(2, 3), 35], [10 ** random.uniform(3, 5.5), 40]]);
    for (const s of w.sections) ofWay.set(s, wholeOhm * metres * Math.exp(0.3 * random.normal()));
  }
  const seed = random.integer(1, 1e9);
  const pair = (key: string): number => Math.exp(0.7 * seededRandom(seed ^ hash(key)).normal());
  return {
    ohmPerM: copperOhmPerM, terminationOhm: (end) => seededRandom(seed ^ hash(end)).uniform(0.002, 0.006), faceOhm: 0.006,
    insulationOhmM: (id, c = '', d = '') => (ofWay.get(id) ?? 1e12) * pair(`${wayKey(ways, id)} ${[c, d].sort().join('')}`),
    pointInsulationOhm: 1e12, linkOhm: 0.015, wayOhm: 0.003, switchOhm: 0.02, contactOhmMin: 1e-4,
  };
}

const wayKey = (ways: readonly HouseWay[], section: string): string => ways.find((w) => w.sections.includes(section))?.way ?? section;

function hash(text: string): number {
  let h = 2166136261;
  for (let i = 0; i < text.length; i++) h = Math.imul(h ^ text.charCodeAt(i), 16777619);
  return h >>> 0;
}

// ── what is wrong ──

/** A fault of the house: as data, where a person would find it, and on which conductors. */
export interface Wrong { readonly family: string; readonly faults: readonly Fault[]; readonly places: readonly string[]; readonly conductors: readonly string[]; /** The load that it works through: unplugged, it is gone. */ readonly load?: string }

const families: readonly (readonly [string, number])[] = [
  ['none', 9], ['applianceEarth', 18], ['applianceShort', 5], ['contactNE', 13], ['contactLE', 13], ['contactLN', 6], ['open', 11], ['poor', 7], ['earthAndLeak', 4],
  ['borrowed', 3], ['otherBar', 3], ['sensitive', 4], ['leakage', 4], ['supply', 1.5], ['bridged', 2],
];

/** None, one or two faults in life's proportions. */
export function drawWrong(house: House): Wrong[] {
  const { random } = house;
  for (let tries = 0; tries < 60; tries++) {
    const first = draw(house, pickBy(random, families));
    if (!first) continue;
    if (first.family === 'none' || !random.chance(0.07)) return first.family === 'none' ? [] : [first];
    const second = draw(house, pickBy(random, families.filter(([f]) => f !== 'none')));
    if (second && second.places.every((p) => !first.places.includes(p))) return [first, second];
  }
  return [];
}

const leak = (random: Random): number => pickBy(random, [[0.1 * 10 ** random.uniform(0, 1.7), 45], [10 ** random.uniform(1, 3.3), 20], [10 ** random.uniform(3.3, 5), 35]]);

function draw(house: House, family: string): Wrong | null {
  const { random, whole, ways } = house;
  const wrong = (faults: Fault[], places: string[], conductors: string[]): Wrong => ({ family, faults, places, conductors });
  const inWays = new Set(ways.flatMap((w) => [...w.points, ...w.sections]));
  const sections = whole.sections.filter((s) => inWays.has(s.id));
  const points = whole.points.filter((p) => inWays.has(p.id) && p.kind !== 'subboard' && p.kind !== 'undrawn');
  const loads = points.flatMap((p) => loadsOf(p).filter((l) => house.plugged.has(elementKey(p.id, l.id))).map((l) => ({ p, l })));
  const load = loads.length ? random.pick(loads) : null;
  const lines = (p: Point): string[] => p.terminals.filter((t) => t.role.startsWith('L')).map((t) => t.id);
  const contact = (a: string, b: string): Wrong | null => {
    if (random.chance(0.55)) {
      const s = random.pick(sections.filter((x) => x.cores.some((c) => c.id === a) && x.cores.some((c) => c.id === b)));
      return wrong([{ kind: 'contact', section: s.id, cores: [a, b], fraction: random.uniform(0.05, 0.95), ohm: a === 'L' && b === 'N' ? random.uniform(0, 2) : leak(random) }], [s.id], [a, b]);
    }
    const p = random.pick(points.filter((x) => x.terminals.some((t) => t.id === a) && x.terminals.some((t) => t.id === b)));
    return wrong([{ kind: 'pointContact', point: p.id, terminals: [a, b], ohm: a === 'L' && b === 'N' ? random.uniform(0, 2) : leak(random) }], [p.id], [a, b]);
  };
  const end = (core?: string): { key: string; point: string; core: string } => {
    const s = random.pick(sections.filter((x) => core === undefined || x.cores.some((c) => c.id === core)));
    const side = random.chance(0.5) && s.a !== boardOf(whole)?.id ? 'a' : 'b';
    const c = core ?? random.pick(s.cores.filter((x) => ['L', 'N', 'E'].includes(x.role))).id;
    const named = s.ends?.[side] ?? `${s.id}@${side}`;
    return { key: `${named}:${c}`, point: s[side], core: c };
  };
  switch (family) {
    case 'none': return wrong([], [], []);
    case 'applianceEarth': {
      if (!load) return null;
      const t = random.chance(0.7) ? load.l.a : 'N';
      return wrong([{ kind: 'loadFault', point: load.p.id, load: load.l.id, terminals: [t, 'E'], ohm: leak(random) }], [elementKey(load.p.id, load.l.id)], [t, 'E']);
    }
    case 'applianceShort': return load && wrong([{ kind: 'loadFault', point: load.p.id, load: load.l.id, terminals: [load.l.a, 'N'], ohm: random.uniform(0, 1.5) }], [elementKey(load.p.id, load.l.id)], [load.l.a, 'N']);
    case 'contactNE': return contact('N', 'E');
    case 'contactLE': return contact('L', 'E');
    case 'contactLN': return contact('L', 'N');
    case 'open': {
      if (random.chance(0.35)) {
        const s = random.pick(sections);
        const c = random.pick(s.cores.map((x) => x.id).filter((x) => ['L', 'N', 'E'].includes(x)));
        return wrong([{ kind: 'openCore', section: s.id, core: c }], [s.id], [c]);
      }
      const e = end();
      return wrong([{ kind: 'termination', end: e.key, ohm: 'open' }], [e.point], [e.core]);
    }
    case 'poor': {
      const e = end(random.pick(['L', 'N']));
      return wrong([{ kind: 'termination', end: e.key, ohm: 0.5 * 10 ** random.uniform(0, 1.7) }], [e.point], [e.core]);
    }
    case 'earthAndLeak': {
      const w = random.pick(ways);
      const own = whole.sections.filter((s) => w.sections.includes(s.id));
      const s = own[0];
      if (!s || own.length < 2 || w.phrase.startsWith('ring')) return null;
      const p = findPoint(whole, w.points[w.points.length - 1] ?? '');
      if (!p || p.kind === 'undrawn' || p.kind === 'subboard') return null;
      const [line] = lines(p);
      return line === undefined ? null : wrong([{ kind: 'openCore', section: s.id, core: 'E' }, { kind: 'pointContact', point: p.id, terminals: [line, 'E'], ohm: leak(random) }], [s.id, p.id], ['E', line]);
    }
    case 'bridged': {
      const s = random.pick(sections);
      const b = boardOf(whole)?.id ?? '';
      return wrong([{ kind: 'openCore', section: s.id, core: 'E' }, { kind: 'joined', terminals: [terminalKey(s.b === b ? s.a : s.b, 'E'), terminalKey(b, 'E')], ohm: random.uniform(0.3, 8) }], [s.id], ['E']);
    }
    case 'borrowed': {
      const [x, y] = [load, random.pick(points)];
      if (!x || !x.l.unplugs || lineDevice(house, x.p.id) === lineDevice(house, y.id)) return null;
      // The lamp's own neutral was never joined: its load returns by the other's.
      return { ...wrong([{ kind: 'element', point: x.p.id, element: x.l.id, ohm: 'open' }, { kind: 'joined', terminals: [terminalKey(x.p.id, x.l.a), terminalKey(y.id, 'N')], ohm: x.l.ohm }], [x.p.id, y.id], ['N']), load: elementKey(x.p.id, x.l.id) };
    }
    case 'otherBar': {
      const board = boardOf(whole);
      const bars = board?.terminals.filter((t) => t.role === 'N' && /^NG\d/.test(t.id)).map((t) => t.id) ?? [];
      if (bars.length < 2 || !board) return null;
      const s = random.pick(sections.filter((x) => x.a === board.id));
      const own = s.cores.find((c) => c.role === 'N')?.a;
      const other = bars.find((b) => b !== own);
      if (own === undefined || other === undefined) return null;
      return wrong([{ kind: 'landed', end: `${s.ends?.a ?? `${s.id}@a`}:N`, terminal: other }], [s.id], ['N']);
    }
    case 'sensitive': {
      const rcds = protectionsOf(whole).filter((d) => d.residualMa !== null);
      return rcds.length ? (({ id }) => wrong([{ kind: 'device', device: id, sensitivity: random.uniform(0.25, 0.5), blind: false }], [id], []))(random.pick(rcds)) : null;
    }
    case 'leakage': {
      const group = protectionsOf(whole).find((d) => d.kind === 'rcd' && d.ways.length > 2);
      if (!group) return null;
      const behind = loads.filter(({ p }) => group.carries.includes(ways.find((w) => w.points.includes(p.id))?.way ?? ''));
      if (behind.length < 4) return null;
      const each = random.uniform(20, 30) / behind.length;
      return wrong(behind.map(({ p, l }): Fault => ({ kind: 'leaky', point: p.id, load: l.id, mA: each * random.uniform(0.7, 1.3) })), [group.id], []);
    }
    default: {
      const lost = random.chance(0.5) ? 'neutral' : 'earth';
      return wrong([{ kind: 'supply', lost }], ['supply'], [lost === 'neutral' ? 'N' : 'E']);
    }
  }
}

const lineDevice = (house: House, point: string): string => {
  const way = house.ways.find((w) => w.points.includes(point))?.way ?? '';
  return protectionsOf(house.whole).find((d) => d.residualMa !== null && d.carries.includes(way))?.id ?? way;
};
