import type { Fault } from '../faults';
import { draftCircuit, editMap, type Installation, type Load, type MapEdit, type PointKind } from '../installation';
import type { Scenario } from './pottery';

type Loads = Readonly<Record<string, Partial<Pick<Load, 'ohm' | 'loadClass' | 'guessed'>>>>;

/** A board of the pottery: labels in the order of the ways, and what is known of the loads. */
function board(name: string, phrase: string, names: readonly string[], loads: Loads = {}): Installation {
  const drafted = draftCircuit(phrase);
  if (!drafted.ok) throw new Error(`board ${name}: ${JSON.stringify(drafted.issues)}`);
  const map = drafted.value;
  return {
    ...map, name,
    points: map.points.map((p) => {
      const n = p.kind === 'board' ? -1 : Number(p.id.slice(1)) - 1;
      const label = names[n];
      const known = label === undefined ? undefined : loads[label];
      return { ...p, name: label ?? p.name, elements: known ? p.elements.map((e) => (e.kind === 'load' ? { ...e, ...known } : e)) : p.elements };
    }),
  };
}

/** A circuit drawn into its board: its points by name, kind and plate. */
function drawn(map: Installation, way: string, phrase: string, points: readonly { name: string; kind: PointKind; watt?: number; loadClass?: Load['loadClass'] }[]): Installation {
  const edit = (m: Installation, e: MapEdit): Installation => {
    const r = editMap(m, e);
    if (!r.ok) throw new Error(`${way}: ${JSON.stringify(r.issues)}`);
    return r.value;
  };
  const before = new Set(map.points.filter((p) => p.kind !== 'undrawn').map((p) => p.id));
  const circuit = edit(map, { edit: 'drawCircuit', way, phrase });
  return circuit.points.filter((p) => !before.has(p.id) && p.kind !== 'undrawn').reduce((m, p, i) => {
    const say = points[i];
    if (!say) throw new Error(`${way}: more points than names`);
    const named = edit(p.kind === say.kind ? m : edit(m, { edit: 'setKind', point: p.id, kind: say.kind }), { edit: 'renamePoint', point: p.id, name: say.name });
    return say.watt === undefined ? named : edit(named, { edit: 'setLoad', point: p.id, watt: say.watt, loadClass: say.loadClass ?? 'resistive' });
  }, circuit);
}

const asked = (complaint: Scenario['asked']['complaint'], notes: string, more: Partial<Scenario['asked']> = {}): Scenario['asked'] => ({ complaint, shock: false, notes, wet: false, works: false, ...more });

/** Boards with what misleads people at boards: loads that lend faults, neutrals that go astray, leakage that adds up, a device that goes early. */
export function potteryBoards(): Scenario[] {
  const jobs: (Pick<Scenario, 'id' | 'name' | 'seed' | 'phrase' | 'map' | 'asked'> & { faults: readonly Fault[]; agreedMin?: 45 | 90 })[] = [];
  const kilnRoom = drawn(board('Firing room board', '6 ways, three phase, 3-pole on 4', ['Wedging bench', 'Firing room lights', 'Kiln fan', 'Kiln', 'Clay store', 'Spare']), 'w4', 'tree, 2', [{ name: 'Kiln isolator', kind: 'joint' }, { name: 'Kiln', kind: 'fixed', watt: 11_400 }]);
  const hood = drawn(board('Glaze kiln board', '5 ways, RCD on 1 to 5', ['Kiln control', 'Glaze lights', 'Hood', 'Spray booth', 'Bench']), 'w3', 'tree, 3', [{ name: 'Hood switch box', kind: 'joint' }, { name: 'Hood fan motor', kind: 'fixed', watt: 180, loadClass: 'winding' }, { name: 'Hood lamp', kind: 'lamp' }]);
  const add = (id: string, name: string, seed: number, phrase: string, names: readonly string[], faults: readonly Fault[], told: Scenario['asked'], loads: Loads = {}): void => {
    jobs.push({ id, name, seed, phrase, map: board(name, phrase, names, loads), faults, asked: told });
  };
  add(
    'pottery-drying-heater', 'Drying room board', 31, '6 ways, RCD on 1 to 6', ['Drying heater', 'Drying lights', 'Sink wall', 'Rack fan', 'Passage', 'Bench sockets'],
    [{ kind: 'contact', section: 's5', cores: ['N', 'E'], fraction: 0.3, ohm: 2.4 }], asked('rcd trips', 'The drying heater was never unplugged: it hangs on the wall. Every way tested bad.'),
    { 'Drying heater': { ohm: 26.5, guessed: false } },
  );
  add(
    'pottery-two-at-once', 'Upper studio board', 77, '8 ways, RCD on 1 to 4, RCD on 5 to 8', ['Studio sockets', 'North lights', 'Slab roller', 'Loft', 'Photo corner', 'Stairs', 'Packing', 'Sprinkler pump'],
    [{ kind: 'landed', end: 's3@a:N', terminal: 'NG2' }, { kind: 'contact', section: 's8', cores: ['L', 'E'], fraction: 0.7, ohm: 41000 }], asked('rcd trips', 'Since the board was changed. Worse after rain.', { wet: true, works: true }),
  );
  add(
    'pottery-shop-sign', 'Shop board', 19, '6 ways, RCBOs on 1 to 6', ['Shop sockets', 'Shop lights', 'Sign', 'Store room', 'Till', 'Porch'],
    [{ kind: 'joined', terminals: ['c3:L', 'c2:N'], ohm: 180 }], asked('rcd trips', 'The sign trips its device since RCBOs were put in.', { works: true }),
  );
  add(
    'pottery-kiln-leakage', 'Kiln room board', 52, '6 ways, RCD on 1 to 5', ['Kiln control', 'Kiln drive', 'Exhaust fan', 'Glaze mixer', 'Test sockets', 'Spare'],
    [{ kind: 'leaky', point: 'c1', load: 'loads', mA: 5.2 }, { kind: 'leaky', point: 'c2', load: 'loads', mA: 7.4 }, { kind: 'leaky', point: 'c3', load: 'loads', mA: 6.1 }, { kind: 'leaky', point: 'c4', load: 'loads', mA: 2.3 }],
    asked('rcd trips', 'Trips at odd times in a firing. Insulation was tested good twice.'), { 'Kiln drive': { loadClass: 'electronic' }, 'Exhaust fan': { loadClass: 'winding', ohm: 40 } },
  );
  add(
    'pottery-early-device', 'Office board', 8, '5 ways, RCD on 1 to 5', ['Office sockets', 'Office lights', 'Copier', 'Server shelf', 'Heater'],
    [{ kind: 'device', device: 'G1', sensitivity: 0.38, blind: false }], asked('rcd trips', 'Trips twice a week, with nothing in particular on.'),
  );
  add(
    'pottery-wrong-label', 'Flat board', 66, '6 ways, RCD on 1 to 3', ['Flat sockets', 'Flat lights', 'Bathroom', 'Cooker', 'Hall', 'Stair lights'],
    [{ kind: 'contact', section: 's6', cores: ['L', 'N'], fraction: 0.5, ohm: 0.3 }], asked('mcb trips', 'The way called Stair lights trips at once. The stairs are lit all the same.'),
  );
  const named = (map: Installation, name: string): string => map.points.find((p) => p.name === name)?.id ?? '';
  jobs.push({
    id: 'pottery-kiln-element', name: 'Firing room board', seed: 45, phrase: '6 ways, three phase, 3-pole on 4', map: kilnRoom,
    faults: [{ kind: 'element', point: named(kilnRoom, 'Kiln'), element: 'load2', ohm: 'open' }], asked: asked('dead', 'The kiln takes two hours longer to come up than last year, and stalls at 900 °C. No device trips.', { works: true }),
  });
  jobs.push({
    id: 'pottery-steam', name: 'Glaze kiln board', seed: 23, phrase: '5 ways, RCD on 1 to 5', map: hood,
    faults: [{ kind: 'pointContact', point: named(hood, 'Hood lamp'), terminals: ['L', 'E'], ohm: 8400 }], asked: asked('rcd trips', 'Trips an hour into a firing, when the hood steams. Dry again by the morning.', { wet: true, works: true }),
  });
  return jobs.map((j) => ({ ...j, agreedMin: j.agreedMin ?? 90, cantReach: [] }));
}
