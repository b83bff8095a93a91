import { endsAtPoint, terminalKey, type Installation } from '../installation';
import { draft } from '../installation/fixtures/drafted';
import type { Probe } from '../probes';
import { Play } from '../simulation';
import { Advisor, expectedAt, type Expected } from '.';

// Of sound insulation no figure can be foreseen: it reads anything from a few megohms up, and it may not be said that it reads more.

const dead = (map: Installation): Play => {
  const play = new Play({ id: 'e', name: 'E', agreedMin: 45, seed: 3, phrase: '', map, faults: [], cantReach: [], asked: { complaint: 'rcd trips', shock: false, notes: '', wet: false, works: false } }, 1e12);
  play.makeDead();
  return play;
};
const foreseen = (play: Play, probe: Probe): Expected => {
  const now = new Advisor().believe(play.view);
  const expected = now && expectedAt(now, play.view, probe);
  if (!expected) throw new Error('nothing foreseen');
  return expected;
};

test.each(['6 ways, RCD on 1 to 5', '12 ways, RCD on 1 to 12'])('%s: of sound insulation no more is foreseen than it usually shows at least', (phrase) => {
  const map = draft(phrase);
  const [board] = map.points;
  const bar = board?.terminals.find((t) => t.name === 'N bar of RCD 1')?.id ?? '';
  const { sound } = foreseen(dead(map), { fn: 'insulation', from: [terminalKey(board?.id ?? '', bar)], to: [terminalKey(board?.id ?? '', 'E')] });
  expect(sound.atLeast).toBe(true);
  expect(sound.ohm).toBeLessThanOrEqual(3e6);
  expect(sound.ohm).toBeGreaterThan(1e5);
});

test('ohms of a sound core are foreseen as a figure', () => {
  const map = draft('radial, 4');
  const play = dead(map);
  const [first, last] = [map.points[1]?.id ?? '', map.points[4]?.id ?? ''];
  const { sound } = foreseen(play, { fn: 'continuity', from: [terminalKey(first, 'E')], to: [terminalKey(last, 'E')] });
  expect(endsAtPoint(map, last)).toHaveLength(3);
  expect(sound.atLeast).toBe(false);
  expect(sound.ohm).toBeGreaterThan(0.02);
  expect(sound.ohm).toBeLessThan(2);
});
