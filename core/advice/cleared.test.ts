import { draft } from '../installation/fixtures/drafted';
import { Play } from '../simulation';
import { clearedWords } from '../wording';
import { Advisor, type Advice } from '.';

const map = draft('radial, 3');
const [near, far] = map.sections.map((s) => s.id) as [string, string];
const middle = map.sections[1]?.b ?? '';

/** A circuit with nothing wrong, in the board, its second cable parted at both ends; read so. */
function proved(...ends: readonly (readonly [string, string])[]): Advice {
  const play = new Play({ id: 'whole', name: 'Whole', agreedMin: 90, seed: 7, phrase: '', map, faults: [], cantReach: [], asked: { complaint: 'inspection', shock: false, notes: '', wet: false, works: false } }, 1e12);
  play.makeDead(false);
  for (const p of map.points.slice(1)) play.record({ type: 'opened', point: p.id });
  play.record({ type: 'tookOut', point: middle, ends: ['L', 'N', 'E'].map((c) => `${far}@b:${c}`) });
  play.record({ type: 'tookOut', point: map.sections[1]?.a ?? '', ends: ['L', 'N', 'E'].map((c) => `${far}@a:${c}`) });
  for (const [from, to] of ends) play.read({ fn: 'continuity', from: [from], to: [to] });
  return new Advisor().advise(play.view) as Advice;
}
const claim = (a: Advice, place: string, conductors: string): Advice['cleared'][number] | undefined => a.cleared.find((c) => c.place === place && c.conductors === conductors);

test('a protective conductor that reads as drawn is whole, or metal beside it carries: no more is said of it where metal may', () => {
  const a = proved([`${near}@a:E`, `${map.sections[0]?.b}:E`], [`${near}@a:N`, `${map.sections[0]?.b}:N`]);
  for (const c of a.cleared) if (c.conductors === 'E') expect(c.asFar).not.toBe('all');
  const said = claim(a, near, 'E');
  expect(said?.asFar).toBe('metal beside');
  expect(said && clearedWords(map, said)).toMatch(/E whole, or metal beside it/);
  expect(claim(a, near, 'N')?.asFar).toBe('all');
});

test('with both its ends out no metal carries for it: it is whole', () => {
  const a = proved([`${far}@a:E`, `${far}@b:E`]);
  expect(claim(a, far, 'E')?.asFar).toBe('all');
});
