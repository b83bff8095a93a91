import { fail, issue, ok, type Result } from '../issue';
import { Ampere, LEAST_M, MOST_M, ResidualMa, SomeOhm, Watt } from '../units';
import { checkInstallation, tooLarge } from './check';
import { circuitOfWay, drawCircuit, drawLump } from './circuits';
import { endName } from './keys';
import { protectionsOf } from './devices';
import { boardOf, endsAtPoint, findPoint, findSection, isSwitched, loadsOf } from './lookup';
import { cpcBesideMm2, freshId, makePoint, makeSection, surgeArresters, threePhase, threePhaseSection, subWay } from './make';
import { checkSupply } from './supply';
import type { Device, InnerElement, Installation, Load, Point, PointKind, ResidualType, Section, Supply } from './schema';

/**
 * Edits of the map. Each gives a new installation and keeps every id, so that readings stay where they were taken:
 * a reading whose terminal is gone is parked by the job, and comes back with the terminal.
 */
export type MapEdit =
  | { readonly edit: 'renamePoint'; readonly point: string; readonly name: string }
  | { readonly edit: 'setReach'; readonly point: string; readonly reach: Point['reach'] }
  | { readonly edit: 'setExtra'; readonly point: string; readonly minutes: number }
  | { readonly edit: 'setMetal'; readonly point: string; readonly ohm: number | null }
  | { readonly edit: 'setKind'; readonly point: string; readonly kind: PointKind }
  | { readonly edit: 'setLength'; readonly section: string; readonly lengthM: number; readonly known: boolean }
  | { readonly edit: 'setCsa'; readonly section: string; readonly csaMm2: number }
  | { readonly edit: 'setCsaAll'; readonly csaMm2: number }
  | { readonly edit: 'orderKnown'; readonly known: boolean }
  | { readonly edit: 'insertPoint'; readonly section: string; readonly kind: PointKind; readonly name: string }
  | { readonly edit: 'addBranch'; readonly point: string; readonly kind: PointKind; readonly name: string }
  | { readonly edit: 'removePoint'; readonly point: string }
  | { readonly edit: 'swapPoints'; readonly first: string; readonly second: string }
  | { readonly edit: 'setLoad'; readonly point: string; readonly watt: number; readonly loadClass: Load['loadClass'] }
  | { readonly edit: 'setDevice'; readonly way: string; readonly device: Device }
  | { readonly edit: 'setResidual'; readonly device: string; readonly residualMa: number; readonly type: ResidualType | null }
  | { readonly edit: 'setSupply'; readonly supply: Supply }
  | { readonly edit: 'setSurge'; readonly fitted: boolean }
  | { readonly edit: 'drawCircuit'; readonly way: string; readonly phrase: string }
  | { readonly edit: 'drawLump'; readonly point: string; readonly phrase: string }
  | { readonly edit: 'setLabel'; readonly way: string; readonly label: string };

export function editMap(map: Installation, e: MapEdit): Result<Installation> {
  const edited = apply(map, e);
  // Switches and the cables between them belong together: an edit that would leave a conductor without its terminal is none.
  if (edited.ok && checkInstallation(edited.value).some((i) => i.code === 'map.noTerminal')) return fail(issue('map.wiring', 'point' in e ? ['points', e.point] : []));
  if (edited.ok && edited.value.points.length > map.points.length) {
    const [more] = tooLarge(edited.value);
    if (more) return fail(more);
  }
  return edited;
}

function apply(map: Installation, e: MapEdit): Result<Installation> {
  switch (e.edit) {
    case 'renamePoint': return renamePoint(map, e.point, e.name);
    case 'setReach': return onPoint(map, e.point, (p) => ({ ...p, reach: e.reach }));
    case 'setExtra': return setExtra(map, e.point, e.minutes);
    case 'setMetal': return setMetal(map, e.point, e.ohm);
    case 'setKind': return setKind(map, e.point, e.kind);
    case 'setLength': return setLength(map, e.section, e.lengthM, e.known);
    case 'setCsa': return onSection(map, e.section, (s) => withCsa(s, e.csaMm2));
    case 'setCsaAll': return ok({ ...map, sections: map.sections.map((s) => withCsa(s, e.csaMm2)) });
    case 'orderKnown': return ok({ ...map, orderKnown: e.known });
    case 'insertPoint': return insertPoint(map, e.section, e.kind, e.name);
    case 'addBranch': return addBranch(map, e.point, e.kind, e.name);
    case 'removePoint': return removePoint(map, e.point);
    case 'swapPoints': return swapPoints(map, e.first, e.second);
    case 'setLoad': return setLoad(map, e.point, e.watt, e.loadClass);
    case 'setDevice': return setDevice(map, e.way, e.device);
    case 'setResidual': return setResidual(map, e.device, e.residualMa, e.type);
    case 'setSurge': return setSurge(map, e.fitted);
    case 'setSupply': return setSupply(map, e.supply);
    case 'drawCircuit': return drawCircuit(map, e.way, e.phrase);
    case 'drawLump': return drawLump(map, e.point, e.phrase);
    case 'setLabel': return setLabel(map, e.way, e.label);
  }
}

function onPoint(map: Installation, id: string, change: (p: Point) => Point): Result<Installation> {
  if (!findPoint(map, id)) return fail(issue('map.noPoint', ['points', id]));
  return ok({ ...map, points: map.points.map((p) => (p.id === id ? change(p) : p)) });
}

function onSection(map: Installation, id: string, change: (s: Section) => Section): Result<Installation> {
  if (!findSection(map, id)) return fail(issue('map.noSection', ['sections', id]));
  return ok({ ...map, sections: map.sections.map((s) => (s.id === id ? change(s) : s)) });
}

const withCsa = (s: Section, csaMm2: number): Section => ({ ...s, cores: s.cores.map((c) => ({ ...c, csaMm2: c.role === 'E' ? cpcBesideMm2(csaMm2) : csaMm2 })) });

function renamePoint(map: Installation, id: string, raw: string): Result<Installation> {
  const name = raw.trim();
  if (!name) return fail(issue('map.emptyName', ['points', id]));
  if (map.points.some((p) => p.id !== id && p.name.toLowerCase() === name.toLowerCase())) return fail(issue('map.sameName', ['points', id], { name }));
  return onPoint(map, id, (p) => ({ ...p, name: name.slice(0, 80) }));
}

/** A new point beside one of three lines has three lines too. */
const alike = (beside: Point, point: Point): Point => (beside.terminals.some((t) => t.role === 'L1') ? threePhase(point) : point);

export const MOST_EXTRA_MIN = 120;

/** Minutes more than usual to get to a point. */
function setExtra(map: Installation, id: string, minutes: number): Result<Installation> {
  if (!Number.isFinite(minutes) || minutes < 0 || minutes > MOST_EXTRA_MIN) return fail(issue('map.extra', ['points', id], { minutes: Number.isFinite(minutes) ? minutes : 'nothing', most: MOST_EXTRA_MIN }));
  return onPoint(map, id, (p) => ({ ...p, extraMin: minutes }));
}

export const MOST_METAL_OHM = 1000;

/** Metalwork that leads to earth beside the CPC, in ohms; null where there is none. */
function setMetal(map: Installation, id: string, ohm: number | null): Result<Installation> {
  if (ohm !== null && !(SomeOhm.safeParse(ohm).success && ohm <= MOST_METAL_OHM)) return fail(issue('map.metal', ['points', id], { ohm: Number.isFinite(ohm) ? ohm : 'nothing', most: MOST_METAL_OHM }));
  return onPoint(map, id, ({ metalOhm: _, ...p }) => (ohm === null ? (p) : { ...p, metalOhm: ohm }));
}

export const MOST_WATT = 100_000;

/** What a point uses, in watts as its plate says: U² ÷ P ohms, shared between the lines where there are three. */
function setLoad(map: Installation, id: string, watt: number, loadClass: Load['loadClass']): Result<Installation> {
  if (!Watt.safeParse(watt).success || watt > MOST_WATT) return fail(issue('map.watt', ['points', id], { watt: Number.isFinite(watt) ? watt : 'nothing', most: MOST_WATT }));
  return onPoint(map, id, (p) => {
    const there = loadsOf(p).length > 0;
    const fresh: Point = { ...p, elements: [...p.elements, { kind: 'load', id: 'load', name: p.kind === 'fixed' ? 'element' : 'load', a: 'L', b: 'N', loadClass, ohm: 1, unplugs: p.kind !== 'fixed' }] };
    const added = there ? p : p.terminals.some((t) => t.role === 'L1') ? { ...p, elements: [...p.elements, ...threePhase(fresh).elements.filter((e) => e.kind === 'load')] } : fresh;
    const share = watt / loadsOf(added).length;
    return { ...added, elements: added.elements.map((e) => (e.kind === 'load' ? { ...e, loadClass, ohm: (map.nominalVolt * map.nominalVolt) / share, guessed: false, implied: undefined } : e)) };
  });
}

/** The terminals stay (readings hang on them); faces, switch and load follow the kind. */
function setKind(map: Installation, id: string, kind: PointKind): Result<Installation> {
  return onPoint(map, id, (p) => {
    const fresh = alike(p, makePoint(p.id, p.name, kind));
    const kept = p.terminals.filter((t) => !fresh.terminals.some((f) => f.id === t.id) && map.sections.some((s) => s.cores.some((c) => (s.a === id && c.a === t.id) || (s.b === id && c.b === t.id))));
    return { ...p, kind, reach: fresh.reach, faces: fresh.faces, elements: [...fresh.elements, ...p.elements.filter((e) => e.kind === 'switch' && kind !== 'switch' && kept.some((t) => t.id === e.b))], terminals: [...fresh.terminals, ...kept] };
  });
}

function setLength(map: Installation, id: string, lengthM: number, known: boolean): Result<Installation> {
  if (!Number.isFinite(lengthM) || lengthM < LEAST_M) return fail(issue('map.lengthZero', ['sections', id], { lengthM: Number.isFinite(lengthM) ? lengthM : 'nothing' }));
  if (lengthM > MOST_M) return fail(issue('map.lengthHuge', ['sections', id], { lengthM, most: MOST_M }));
  return onSection(map, id, (s) => ({ ...s, lengthM, lengthKnown: known }));
}

function setSupply(map: Installation, supply: Supply): Result<Installation> {
  const checked = checkSupply(supply);
  return checked.ok ? ok({ ...map, supply }) : checked;
}

/** Surge protection at the bars of the board, fitted or not. */
function setSurge(map: Installation, fitted: boolean): Result<Installation> {
  const board = boardOf(map);
  if (!board) return fail(issue('map.noPoint', ['points']));
  return onPoint(map, board.id, (p) => ({ ...p, elements: [...p.elements.filter((x) => x.kind !== 'load' || x.loadClass !== 'arrester'), ...(fitted ? surgeArresters(p) : [])] }));
}

/** The device of a way. What it opens is wiring: an RCBO's neutral was drafted with it, so only devices that open the same may take its place. */
function setDevice(map: Installation, way: string, device: Device): Result<Installation> {
  if (!Ampere.safeParse(device.ratingA).success) return fail(issue('board.noRating', ['points', way]));
  if (device.kind === 'rcbo' && device.residualMa === null) return fail(issue('board.noResidual', ['points', way]));
  const [hub, id] = way.includes('.') ? (way.split('.') as [string, string]) : [boardOf(map)?.id ?? '', way];
  const takes = (x: InnerElement): x is Extract<InnerElement, { kind: 'way' | 'switch' }> => x.id === id && (x.kind === 'way' || (x.kind === 'switch' && id !== 'main'));
  const point = findPoint(map, hub);
  const old = point?.elements.find(takes);
  if (!old || (point?.kind !== 'board' && point?.kind !== 'subboard')) return fail(issue('map.noPoint', ['points', way]));
  if ((old.device?.opens ?? 'line') !== device.opens || (old.kind === 'switch' && device.kind === 'rcbo')) return fail(issue('board.otherPoles', ['points', way], { name: old.name }));
  return onPoint(map, hub, (p) => ({ ...p, elements: p.elements.map((x) => (takes(x) ? { ...x, device } : x)) }));
}

/** Rated residual current and type of a device that has one: all its poles, the RCBO of a way, or the main switch. */
function setResidual(map: Installation, id: string, residualMa: number, type: ResidualType | null): Result<Installation> {
  if (!ResidualMa.safeParse(residualMa).success) return fail(issue('board.noResidual', ['points', id]));
  const device = protectionsOf(map).find((d) => d.id === id && d.residualMa !== null);
  if (!device) return fail(issue('map.noPoint', ['points', id]));
  const figures = { residualMa, residualType: type ?? undefined, guessed: undefined };
  const main = map.supply?.main;
  if (device.kind === 'main' && map.supply && main) return ok({ ...map, supply: { ...map.supply, main: { ...main, residualMa, residualType: figures.residualType } } });
  return onPoint(map, device.at, (p) => ({ ...p, elements: p.elements.map((x) => (!device.poles.includes(`${p.id}.${x.id}`) ? x : x.kind === 'pole' ? { ...x, ...(x.residualMa === undefined ? {} : figures) } : x.kind === 'way' && x.device ? { ...x, device: { ...x.device, ...figures } } : x)) }));
}

/** That a device is what it was guessed to be; null where nothing of it is a guess. */
export function asGuessed(map: Installation, id: string): MapEdit | null {
  const d = protectionsOf(map).find((x) => x.id === id && x.guessed);
  if (!d) return null;
  if (d.kind === 'rcd' && d.residualMa !== null) return { edit: 'setResidual', device: id, residualMa: d.residualMa, type: d.residualType };
  const element = findPoint(map, d.at)?.elements.find((x) => `${d.at}.${x.id}` === d.poles[0]);
  return (element?.kind === 'way' || element?.kind === 'switch') && element.device ? { edit: 'setDevice', way: id, device: { ...element.device, guessed: undefined } } : null;
}

/** The label of a way: of the lump while its circuit is not drawn, then of the way itself. */
function setLabel(map: Installation, way: string, raw: string): Result<Installation> {
  const [first] = circuitOfWay(map, way).points;
  if (first?.kind === 'undrawn') return renamePoint(map, first.id, raw);
  const label = raw.trim().slice(0, 80);
  const board = boardOf(map);
  if (!label) return fail(issue('map.emptyName', ['points', way]));
  if (!board) return fail(issue('map.noPoint', ['points', way]));
  return onPoint(map, board.id, (p) => ({ ...p, elements: p.elements.map((x) => (x.kind === 'way' && x.id === way && x.drawn ? { ...x, drawn: { ...x.drawn, label } } : x)) }));
}

/** Cuts a section in two: outer ends keep their ids' terminations, the length is shared. */
function insertPoint(map: Installation, sectionId: string, kind: PointKind, rawName: string): Result<Installation> {
  const section = findSection(map, sectionId);
  if (!section) return fail(issue('map.noSection', ['sections', sectionId]));
  const [pointId, withPoint] = freshId(map, 'p');
  const [newId, base] = freshId(withPoint, 's');
  const name = uniqueName(map, rawName.trim() || 'New point');
  const three = section.cores.some((c) => c.role === 'L1');
  const bare = three ? threePhase(makePoint(pointId, name, kind)) : makePoint(pointId, name, kind);
  // In a run of switched lines or strappers the point passes them through.
  const passing = section.cores.filter((c) => isSwitched(c.role) && !bare.terminals.some((t) => t.id === c.id)).map((c) => ({ id: c.id, role: c.role }));
  const point = { ...bare, terminals: [...bare.terminals, ...passing] };
  const half = section.lengthM / 2;
  const leaving = kind === 'switch' ? 'SL' : 'L';
  const near: Section = { ...section, b: pointId, lengthM: half, ends: { a: endName(section, 'a'), b: `${newId}@b` }, cores: section.cores.map((c) => ({ ...c, b: c.id })) };
  const far: Section = { ...section, id: newId, a: pointId, lengthM: half, ends: { a: `${newId}@a`, b: endName(section, 'b') }, cores: section.cores.map((c) => ({ ...c, a: c.id === 'L' ? leaving : c.id })) };
  const at = map.sections.indexOf(section);
  const order = map.points.findIndex((p) => p.id === section.a);
  return ok({
    ...base,
    points: [...map.points.slice(0, order + 1), point, ...map.points.slice(order + 1)],
    sections: [...map.sections.slice(0, at), near, far, ...map.sections.slice(at + 1)],
  });
}

function addBranch(map: Installation, at: string, kind: PointKind, rawName: string): Result<Installation> {
  const from = findPoint(map, at);
  if (!from) return fail(issue('map.noPoint', ['points', at]));
  const [pointId, withPoint] = freshId(map, 'p');
  const [sectionId, base] = freshId(withPoint, 's');
  if (from.kind === 'subboard') {
    // What leaves a sub-board leaves by a way of its own.
    const way = 1 + Math.max(0, ...from.elements.map((e) => Number(/^w(\d+)$/.exec(e.id)?.[1] ?? 0)));
    const { terminal, element } = subWay(way);
    const lump = makePoint(pointId, uniqueName(map, rawName.trim() || `${from.name} way ${way}`), 'undrawn');
    const leg = makeSection(sectionId, from, lump, 7, 2.5);
    const wider = { ...from, terminals: [...from.terminals, terminal], elements: [...from.elements, element] };
    return ok({ ...base, points: [...map.points.map((p) => (p.id === at ? wider : p)), lump], sections: [...map.sections, { ...leg, cores: leg.cores.map((c) => (c.role === 'L' ? { ...c, a: terminal.id } : c)) }] });
  }
  const point = alike(from, makePoint(pointId, uniqueName(map, rawName.trim() || 'New point'), kind));
  const csa = map.sections.find((s) => s.a === at || s.b === at)?.cores[0]?.csaMm2 ?? 2.5;
  return ok({ ...base, points: [...map.points, point], sections: [...map.sections, point.terminals.some((t) => t.role === 'L1') ? threePhaseSection(makeSection(sectionId, from, point, 7, csa)) : makeSection(sectionId, from, point, 7, csa)] });
}

/** A point with two sections leaves one behind of both lengths; one at the end goes with its section; a junction of three stays. */
function removePoint(map: Installation, id: string): Result<Installation> {
  const point = findPoint(map, id);
  if (!point) return fail(issue('map.noPoint', ['points', id]));
  if (point.kind === 'board') return fail(issue('map.boardStays', ['points', id]));
  const sections = map.sections.filter((s) => s.a === id || s.b === id);
  const points = map.points.filter((p) => p.id !== id);
  if (points.length < (map.shape === 'ring' ? 3 : 2)) return fail(issue('map.tooFew', ['points', id], { shape: map.shape }));
  if (sections.length > 2) return fail(issue('map.junction', ['points', id], { name: point.name, sections: sections.length }));
  const [first, second] = sections;
  if (!first || !second) return ok({ ...map, points, sections: map.sections.filter((s) => s !== first) });
  const outer = (s: Section): { point: string; side: 'a' | 'b' } => (s.a === id ? { point: s.b, side: 'b' } : { point: s.a, side: 'a' });
  const [x, y] = [outer(first), outer(second)];
  const merged: Section = {
    ...first, a: x.point, b: y.point, lengthM: first.lengthM + second.lengthM, lengthKnown: first.lengthKnown && second.lengthKnown,
    ends: { a: endName(first, x.side), b: endName(second, y.side) },
    cores: first.cores.map((c) => ({ ...c, a: c[x.side], b: second.cores.find((d) => d.id === c.id)?.[y.side] ?? c.id })),
  };
  return ok({ ...map, points, sections: map.sections.flatMap((s) => (s === first ? [merged] : s === second ? [] : [s])) });
}

/** Two points change places along the cable. Ids go with the points: what was read at one stays with it. */
function swapPoints(map: Installation, first: string, second: string): Result<Installation> {
  const [p, q] = [findPoint(map, first), findPoint(map, second)];
  if (!p || !q) return fail(issue('map.noPoint', ['points', p ? second : first]));
  if ([p.kind, q.kind].some((k) => k === 'board' || k === 'subboard')) return fail(issue('map.boardStays', ['points', first]));
  const swap = (id: string): string => (id === first ? second : id === second ? first : id);
  const landing = (id: string, terminal: string): string => (findPoint(map, swap(id))?.terminals.some((t) => t.id === terminal) ? terminal : 'L');
  const sections = map.sections.map((s) => ({
    ...s, a: swap(s.a), b: swap(s.b),
    cores: s.cores.map((c) => ({ ...c, a: s.a === swap(s.a) ? c.a : landing(s.a, c.a), b: s.b === swap(s.b) ? c.b : landing(s.b, c.b) })),
  }));
  const points = map.points.map((x) => (x.id === first ? q : x.id === second ? p : x));
  return ok({ ...map, points, sections });
}

function uniqueName(map: Installation, name: string): string {
  const taken = new Set(map.points.map((p) => p.name.toLowerCase()));
  if (!taken.has(name.toLowerCase())) return name;
  for (let n = 2; ; n++) if (!taken.has(`${name} ${n}`.toLowerCase())) return `${name} ${n}`;
}

/** Points that a section order walks through, for reordering by hand. */
export const sectionsAt = (map: Installation, point: string): string[] => [...new Set(endsAtPoint(map, point).map((e) => e.section.id))];
