import { Advisor } from '../advice';
import { draft, edited } from '../installation/fixtures/drafted';
import { Play, type Scenario } from '.';

/** A shed with a board of its own; damp in the cable of its second way, 40 kΩ from line to earth. */
const map = edited(draft('6 ways, RCD on 1 to 6'), { edit: 'setLabel', way: 'w5', label: 'Clay shed' }, { edit: 'drawCircuit', way: 'w5', phrase: 'sub-board, 3' });
const damp = map.points.find((p) => p.name === 'Clay shed way 2')?.id ?? '';
const cable = map.sections.find((s) => s.b === damp)?.id ?? '';
const scenario = (ohm: number): Scenario => ({ id: 'shed', name: 'Shed', agreedMin: 45, seed: 3, phrase: 'board', map, faults: [{ kind: 'contact', section: cable, cores: ['L', 'E'], fraction: 0.5, ohm }], cantReach: [], asked: { complaint: 'rcd trips', shock: false, notes: '', wet: false, works: false } });

test('dead: way 2 of the shed is found from the board by the shed’s own breakers, before anything there is taken apart', () => {
  const play = new Play(scenario(40e3), 1e12);
  play.makeDead();
  play.hunt(20);
  const advice = new Advisor().advise(play.view);
  expect(advice?.verdict.says).toBe('place');
  expect([damp, cable]).toContain(advice?.suspects[0]?.place);
  // A breaker there was worked before the first conductor came out.
  const types = play.file.events.map((e) => (e.type === 'switched' && e.part.startsWith('c5.w') ? 'breaker' : e.type));
  expect(types.indexOf('breaker')).toBeGreaterThan(0);
  expect(types.indexOf('breaker')).toBeLessThan(types.includes('tookOut') ? types.indexOf('tookOut') : Infinity);
}, 60000);

test('live: the reset routine goes into the shed’s board and ends at its second way', () => {
  const play = new Play(scenario(3e3), 1e12);
  play.workDevices(25);
  const advice = new Advisor().advise(play.view);
  const closed = play.view.liveReadings.flatMap((r) => (r.event.test.kind === 'closed' ? [`${r.event.test.device} ${r.event.test.result}`] : []));
  expect(closed.some((c) => c.startsWith('c5.w'))).toBe(true);
  // What is left is the shed's second way: its cable, what hangs on it, or its own terminal.
  expect([damp, `${damp}.loads`, cable, 'c5']).toContain(advice?.suspects[0]?.place);
  const shed = (advice?.places ?? []).filter((p) => [damp, `${damp}.loads`, cable, 'c5'].includes(p.place)).reduce((s, p) => s + p.share, 0);
  expect(shed).toBeGreaterThan(0.8);
}, 60000);
