import type { Fault } from '../faults';
import { draftCircuit, editMap, endKeyOf, type Installation, type MapEdit, type PointKind } from '../installation';
import type { EventOf } from '../job';
import { potteryBoards } from './potteryBoards';

/** The demo world: jobs in a made-up village pottery. Figures are uneven, as found in life. */
export interface Scenario {
  readonly id: string;
  readonly name: string;
  readonly agreedMin: 45 | 90;
  readonly seed: number;
  readonly phrase: string;
  readonly map: Installation;
  readonly faults: readonly Fault[];
  readonly asked: Pick<EventOf<'asked'>, 'complaint' | 'shock' | 'notes' | 'wet' | 'works'>;
  readonly cantReach: readonly string[];
}

interface Sketch {
  readonly phrase: string;
  readonly names: readonly string[];
  readonly lengthsM: readonly number[];
  readonly kinds?: Readonly<Record<string, PointKind>>;
  readonly hidden?: readonly string[];
  readonly csaMm2?: number;
}

function drawMap(name: string, s: Sketch): Installation {
  const drafted = draftCircuit(s.phrase);
  if (!drafted.ok) throw new Error(`scenario ${name}: ${JSON.stringify(drafted.issues)}`);
  let map: Installation = { ...drafted.value, name, orderKnown: true };
  const apply = (edit: MapEdit): void => {
    const result = editMap(map, edit);
    if (!result.ok) throw new Error(`scenario ${name}: ${JSON.stringify(result.issues)}`);
    map = result.value;
  };
  const points = map.points.filter((p) => p.kind !== 'board').map((p) => p.id);
  for (const [i, id] of points.entries()) apply({ edit: 'renamePoint', point: id, name: `~${i}` });
  for (const [i, id] of points.entries()) apply({ edit: 'renamePoint', point: id, name: s.names[i] ?? `Point ${i + 1}` });
  for (const [pointName, kind] of Object.entries(s.kinds ?? {})) apply({ edit: 'setKind', point: idOf(map, pointName), kind });
  for (const pointName of s.hidden ?? []) apply({ edit: 'setReach', point: idOf(map, pointName), reach: 'never' });
  if (s.csaMm2 !== undefined) apply({ edit: 'setCsaAll', csaMm2: s.csaMm2 });
  for (const [i, lengthM] of s.lengthsM.entries()) {
    const section = map.sections[i];
    if (section) apply({ edit: 'setLength', section: section.id, lengthM, known: i % 3 !== 1 });
  }
  return map;
}

const idOf = (map: Installation, name: string): string => {
  const point = map.points.find((p) => p.name === name);
  if (!point) throw new Error(`no point ${name}`);
  return point.id;
};

/** Section between two named points. */
function between(map: Installation, a: string, b: string): Installation['sections'][number] {
  const [x, y] = [idOf(map, a), idOf(map, b)];
  const section = map.sections.find((s) => (s.a === x && s.b === y) || (s.a === y && s.b === x));
  if (!section) throw new Error(`no cable ${a} to ${b}`);
  return section;
}

export function potteryScenarios(): Scenario[] {
  const ring = drawMap('Throwing room ring', {
    phrase: 'ring, 8, spur at 5', names: ['Wheel 1', 'Wheel 2', 'Pug mill', 'Bench', 'Sink wall', 'Drying door', 'Clay bin', 'Window bench', 'Radio shelf'],
    lengthsM: [11.5, 4.2, 6.8, 7.4, 3.9, 9.3, 5.1, 8.2, 13.7, 4.6],
  });
  const hood = drawMap('Kiln hood', {
    phrase: 'tree, 3, branch 2 at 2', names: ['Hood switch', 'Roof joint', 'Hood fan', 'Hood light 1', 'Hood light 2'],
    kinds: { 'Hood switch': 'switch', 'Roof joint': 'joint', 'Hood fan': 'fixed', 'Hood light 1': 'lamp', 'Hood light 2': 'lamp' }, lengthsM: [9.4, 5.2, 3.1, 4.4, 2.7], csaMm2: 1.5,
  });
  const feeder = drawMap('Clay shed feeder', {
    phrase: 'radial, 4', names: ['Yard joint', 'Shed inlet', 'Shed bench', 'Clay mixer'], kinds: { 'Yard joint': 'joint', 'Shed inlet': 'joint' }, hidden: ['Yard joint'], lengthsM: [17.5, 14.2, 3.6, 6.1], csaMm2: 4,
  });
  const shop = drawMap('Shop sockets', {
    phrase: 'radial, 5', names: ['Till', 'Window left', 'Window right', 'Packing table', 'Kettle corner'], lengthsM: [8.7, 5.9, 4.3, 6.6, 3.8],
  });
  const board = drawMap('Workshop board', {
    phrase: '8 ways, RCD on 1 to 5, RCBOs on 6 to 8', names: ['Throwing room', 'Glaze booth', 'Drying cupboard', 'Yard lamps', 'Shop sockets', 'Kiln control', 'Office', 'Flat above'], lengthsM: [],
  });
  const boards = potteryBoards();
  return [
    {
      id: 'pottery-throwing-ring', name: 'Throwing room ring', agreedMin: 45, seed: 41, phrase: 'ring, 8, spur at 5', map: ring,
      faults: [{ kind: 'openCore', section: between(ring, 'Pug mill', 'Bench').id, core: 'N' }],
      asked: { complaint: 'inspection', shock: false, notes: 'Nothing noticed. Ring neutral open end to end at the last inspection.', wet: false, works: true }, cantReach: [idOf(ring, 'Clay bin')],
    },
    {
      id: 'pottery-kiln-hood', name: 'Kiln hood', agreedMin: 45, seed: 97, phrase: 'tree, 3, branch 2 at 2', map: hood,
      faults: [{ kind: 'contact', section: between(hood, 'Hood light 1', 'Hood light 2').id, cores: ['L', 'E'], fraction: 0.62, ohm: 31 }],
      asked: { complaint: 'rcd trips', shock: false, notes: 'Trips as soon as the hood goes on, since the last glaze firing.', wet: false, works: false }, cantReach: [],
    },
    {
      id: 'pottery-clay-shed', name: 'Clay shed feeder', agreedMin: 90, seed: 23, phrase: 'radial, 4', map: feeder,
      faults: [{ kind: 'termination', end: endKeyOf(between(feeder, 'Shed inlet', 'Yard joint'), 'b', 'N'), ohm: 2.4 }],
      asked: { complaint: 'flicker or heat', shock: false, notes: 'Lights in the shed dip when the mixer starts.', wet: true, works: false }, cantReach: [],
    },
    {
      id: 'pottery-workshop-board', name: 'Workshop board', agreedMin: 90, seed: 71, phrase: '8 ways, RCD on 1 to 5, RCBOs on 6 to 8', map: board,
      faults: [{ kind: 'contact', section: between(board, 'Board', 'Yard lamps').id, cores: ['N', 'E'], fraction: 0.4, ohm: 180 }],
      asked: { complaint: 'rcd trips', shock: false, notes: 'Trips at odd times, mostly when more is switched on. Every way tested bad.', wet: false, works: false }, cantReach: [],
    },
    {
      id: 'pottery-shop-sockets', name: 'Shop sockets', agreedMin: 45, seed: 58, phrase: 'radial, 5', map: shop,
      faults: [{ kind: 'termination', end: endKeyOf(between(shop, 'Window left', 'Window right'), 'b', 'L'), ohm: 'open' }],
      asked: { complaint: 'dead', shock: false, notes: 'Window right and everything after it is dead since the shelves went up.', wet: false, works: true }, cantReach: [],
    },
    ...boards,
  ];
}
