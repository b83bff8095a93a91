import { suspectsOf } from '../faults';
import { draft } from '../installation/fixtures/drafted';
import { BeliefEngine, type Observation } from '../belief';
import { elementKey, setSwitchesOn, stateSignature, untouched, type WorkState } from '../workstate';
import { Play } from '../simulation';
import { Advisor, type Advice } from '.';

const map = draft('4 ways, RCD on 1 to 4');
const loads = map.points.flatMap((p) => p.elements.flatMap((e) => (e.kind === 'load' ? [elementKey(p.id, e.id)] : [])));
const dead: WorkState = { ...untouched, off: map.points.flatMap((p) => p.elements.flatMap((e) => (e.kind === 'way' ? [elementKey(p.id, e.id)] : []))), loadsOut: loads, opened: ['p0'] };
const engine = new BeliefEngine(map, suspectsOf(map));
const sound = (n: number, state: WorkState): Observation => ({ probe: { fn: 'insulation', from: [`p0:W${n}`], to: ['p0:E'] }, state, displayed: { above: 999e6 } });
const lineToEarth = (n: number, observations: readonly Observation[]): number => {
  const belief = engine.believe(observations);
  return engine.suspects.reduce((sum, s, i) => (s.site.on === 'cable' && s.place === `s${n}` && s.conductors.join() === 'L,E' ? sum + (belief.suspectShare[i] as number) : sum), 0);
};

test('what lies behind switches of a way that nobody has drawn is reached once they are all on: sound insulation then speaks against it, and not before', () => {
  const before = lineToEarth(2, []);
  const off = lineToEarth(2, [sound(2, dead)]);
  const on = lineToEarth(2, [sound(2, setSwitchesOn(dead, ['c2'], true))]);
  // One part in ten, or in three where it is for lights, is behind a switch.
  expect(off / before).toBeGreaterThan(0.05);
  expect(on / before).toBeLessThan(0.01);
  // The switches of another way say nothing about this one.
  expect(lineToEarth(2, [sound(2, setSwitchesOn(dead, ['c3'], true))])).toBeCloseTo(off, 6);
});

test('what lies behind a switch on the line is met from the neutral, through what hangs there: some hundred ohms from neutral to earth may be either', () => {
  const plugged = { ...dead, loadsOut: loads.filter((k) => k !== 'c2.loads') };
  const low: Observation = { probe: { fn: 'continuity', from: ['p0:NG1'], to: ['p0:E'] }, state: plugged, displayed: { ohm: 330 } };
  const above: Observation = { ...sound(2, plugged), displayed: { above: 999e6 } };
  const inside = (pair: string): number => {
    const belief = engine.believe([above, low]);
    return engine.suspects.reduce((sum, s, i) => (s.kind === 'loadFault' && s.place === 'c2.loads' && s.conductors.join() === pair ? sum + (belief.suspectShare[i] as number) : sum), 0);
  };
  // One way in ten has a switch there that is off, and what hangs there conducts more often than not.
  expect(inside('L,E')).toBeGreaterThan(0.03 * inside('N,E'));
  expect(inside('N,E')).toBeGreaterThan(inside('L,E'));
});

test('a state with switches on is another state; nobody knowing any more is the first one again', () => {
  const on = setSwitchesOn(dead, ['c2'], true);
  expect(stateSignature(on)).not.toBe(stateSignature(dead));
  expect(stateSignature(setSwitchesOn(on, ['c2'], false))).toBe(stateSignature(dead));
});

test('a leak that hides behind a switch is gone for: told that one thing trips it, with everything else read, somebody walks round and turns the switches on before a circuit is drawn', () => {
  const p = new Play({ id: 'behind', name: 'Behind', agreedMin: 90, seed: 3, phrase: '', map, faults: [], cantReach: [], asked: { complaint: 'rcd trips', shock: false, notes: '', wet: false, works: false } }, 1e12);
  p.record({ type: 'answered', question: 'tripsWhen', answer: 'oneThing' });
  p.makeDead();
  const advisor = new Advisor();
  let turned = 0;
  let advice = advisor.advise(p.view, true) as Advice;
  for (let i = 0; i < 40 && advice.steps[0] && advice.verdict.says === 'none'; i++) {
    if (advice.steps[0].actions.some((a) => a.do === 'switchesOn')) turned++;
    p.make(advice.steps[0]);
    advice = advisor.advise(p.view, true) as Advice;
  }
  expect(turned).toBeGreaterThan(0);
  expect(p.view.state.on?.length).toBeGreaterThan(0);
});
