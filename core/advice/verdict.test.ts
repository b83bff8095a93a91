import { draftCircuit } from '../installation';
import { Play, type Scenario } from '../simulation';
import { Advisor } from '.';

const drafted = draftCircuit('radial, 5, 2.5/1.5, 7 5 6 5 6 m');
if (!drafted.ok) throw new Error('draft');
const scenario = (faults: Scenario['faults'], seed = 2): Scenario => ({
  id: 'v', name: 'V', agreedMin: 90, seed, phrase: 'radial, 5', map: drafted.value, faults, cantReach: [],
  asked: { complaint: 'rcd trips', shock: false, notes: '', wet: false, works: false },
});

test('an appliance is blamed only after it was out and the reading came right', () => {
  const play = new Play(scenario([{ kind: 'loadFault', point: 'p3', load: 'plug', terminals: ['L', 'E'], ohm: 600 }]), 1e12);
  play.makeDead();
  // Somebody left it plugged in.
  play.record({ type: 'loadsMoved', parts: drafted.value.points.flatMap((p) => p.elements.map((e) => `${p.id}.${e.id}`)), out: false });
  play.hunt(25);
  const advice = new Advisor().advise(play.view);
  expect(advice?.verdict).toMatchObject({ says: 'place', place: 'p3.plug' });
  expect(play.view.state.loadsOut).toContain('p3.plug');
});

test('a place is said with its conductors only where these are as sure: nothing that is not told is claimed', () => {
  for (const seed of [1, 2, 3, 4]) {
    const play = new Play(scenario([{ kind: 'pointContact', point: 'p4', terminals: ['N', 'E'], ohm: 900 }], seed), 1e12);
    play.makeDead();
    play.hunt(25);
    const advice = new Advisor().advise(play.view);
    if (advice?.verdict.says !== 'place') continue;
    const { surely } = advice.verdict;
    const here = advice.suspects.filter((s) => s.place === advice.verdict.place);
    const own = here.filter((s) => s.conductors.join() === surely?.conductors?.join()).reduce((sum, s) => sum + s.share, 0);
    if (surely?.conductors) expect(own / here.reduce((sum, s) => sum + s.share, 0)).toBeGreaterThan(0.9);
    else expect(surely?.open.length).toBeGreaterThan(1);
    if (surely?.conductors) expect([...surely.conductors].sort()).toEqual(['E', 'N']);
  }
});

test('rows of an outcome table are in order and side by side, at most four, and hold nearly all that may be read', () => {
  const play = new Play(scenario([{ kind: 'contact', section: 's3', cores: ['L', 'E'], fraction: 0.4, ohm: 4000 }]), 1e12);
  play.makeDead();
  let tables = 0;
  for (let i = 0; i < 8; i++) {
    const advice = new Advisor().advise(play.view);
    for (const step of advice?.steps ?? []) {
      const rows = step.outcomes.filter((o) => o.count > 0);
      if (!rows.length) continue;
      tables++;
      expect(rows.length).toBeLessThanOrEqual(3);
      for (const [k, row] of rows.entries()) {
        expect(row.high).toBeGreaterThanOrEqual(row.low);
        if (k > 0) expect(row.low).toBeGreaterThanOrEqual((rows[k - 1]?.high ?? 0) * 0.999);
        expect(row.count).toBeGreaterThan(0);
      }
      for (const [k, row] of rows.entries()) if (k > 0) expect(row.suspects.length > 0 && row.suspects.join() === rows[k - 1]?.suspects.join() && row.above === rows[k - 1]?.above).toBe(false);
      expect(rows.reduce((sum, o) => sum + o.share, 0)).toBeGreaterThan(0.95);
    }
    play.hunt(1);
  }
  expect(tables).toBeGreaterThan(2);
});

test('what explains is told over the sizes that are possible: sure once the size is, “may” while it is not', () => {
  const play = new Play(scenario([{ kind: 'pointContact', point: 'p4', terminals: ['L', 'E'], ohm: 700 }]), 1e12);
  play.makeDead();
  play.read({ fn: 'insulation', from: ['s1@a:L'], to: ['s1@a:E'] });
  const first = new Advisor().advise(play.view, false)?.suspects.find((s) => s.conductors.join() === 'L,E');
  expect(first?.span?.[1]).toBeGreaterThan(5 * Math.max(1, first?.span?.[0] ?? 1));
  play.read({ fn: 'continuity', from: ['s1@a:L'], to: ['s1@a:E'] });
  const then = new Advisor().advise(play.view, false)?.suspects.find((s) => s.conductors.join() === 'L,E');
  expect(then?.explains).toMatchObject({ says: 'yes' });
  expect((then?.span?.[1] ?? 0) / (then?.span?.[0] ?? 1)).toBeLessThan(1.5);
});

test('an appliance is not blamed because everything else is cleared: it goes in again, and must show', () => {
  const all = drafted.value.points.flatMap((p) => p.elements.map((e) => `${p.id}.${e.id}`));
  const play = new Play(scenario([]), 1e12);
  play.makeDead();
  play.record({ type: 'loadsMoved', parts: all, out: true });
  play.read({ fn: 'insulation', from: ['s1@a:L'], to: ['s1@a:E'] });
  play.read({ fn: 'insulation', from: ['s1@a:N'], to: ['s1@a:E'] });
  for (const part of all.filter((p) => p !== 'p4.plug')) {
    play.record({ type: 'loadsMoved', parts: [part], out: false });
    play.read({ fn: 'insulation', from: ['s1@a:L'], to: ['s1@a:E'] });
    play.read({ fn: 'insulation', from: ['s1@a:N'], to: ['s1@a:E'] });
    expect(new Advisor().advise(play.view, false)?.verdict.says).not.toBe('place');
  }
});

test('an earth that readings show to be broken is not "nothing found", though no breaker tripped for it', () => {
  const play = new Play(scenario([{ kind: 'openCore', section: 's4', core: 'E' }]), 1e12);
  play.makeDead();
  for (let i = 0; i < 2; i++) play.read({ fn: 'continuity', from: ['s1@a:E'], to: ['p5/f1:E'] });
  play.hunt(40);
  const advice = new Advisor().advise(play.view);
  expect(advice?.verdict).toMatchObject({ says: 'place', place: 's4' });
  expect(advice?.suspects[0]?.explains.says).toBe('no');
});
