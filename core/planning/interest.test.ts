import { circuitsOf, endsAtPoint } from '../installation';
import { draft } from '../installation/fixtures/drafted';
import { untouched } from '../workstate';
import { prune } from './interest';
import { stances, type Situation } from './stance';

test('between a neutral’s terminal at the board and its cable, the pull of that neutral is weighed, however many others there are', () => {
  const map = draft('12 ways, RCD on 1 to 6, RCD on 7 to 12');
  const state = { ...untouched, opened: ['p0'] };
  const situation: Situation = { state, at: ['p0'], proved: new Set(['p0']), unreachable: new Set(), longLead: true };
  const neutrals = endsAtPoint(map, 'p0').filter((e) => e.role === 'N');
  for (const end of neutrals) {
    const circuit = circuitsOf(map).get(end.section.id);
    const interest = new Map([[end.section.id, 0.6], ['at p0', 0.4], ['p0', 1], [`ends ${circuit} at p0`, 0.4]]);
    const all = stances(map, situation, (p) => interest.get(p) ?? 0);
    const kept = prune(all, map, interest, situation);
    expect(kept.length).toBeLessThan(all.length);
    expect(kept.some((actions) => actions.some((a) => a.do === 'takeOut' && a.ends.includes(end.key)))).toBe(true);
  }
});
