import { Advisor } from '../advice';
import { draftCircuit, protectionsOf, type Installation } from '../installation';
import { deriveJob, type JobEvent } from '../job';
import { seededRandom, type Random } from '../numeric';
import { elementKey, linkKey, untouched, type WorkState } from '../workstate';
import { cautionsOf, liveNeeds, needsCoverOff, type LiveDo } from '.';

const maps = ['4 ways, RCD on 1 to 3', '6 ways, RCBOs on 1 to 6', 'ring, 5', 'lights, 4, one switch'].map((phrase): Installation => {
  const r = draftCircuit(phrase);
  if (!r.ok) throw new Error(phrase);
  return r.value;
});

function randomState(map: Installation, random: Random): WorkState {
  const some = <T>(list: readonly T[], chance: number): T[] => list.filter(() => random.chance(chance));
  const ends = map.sections.flatMap((s) => s.cores.map((c) => `${s.id}@${random.chance(0.5) ? 'a' : 'b'}:${c.id}`));
  const [a, b] = [`${map.points[0]?.id}:N`, `${map.points[0]?.id}:E`];
  return {
    ...untouched, out: random.chance(0.3) ? some(ends, 0.1) : [], opened: random.chance(0.3) ? some(map.points.map((p) => p.id), 0.3) : [], links: random.chance(0.2) ? [{ id: linkKey(a, b), a, b }] : [],
    off: some(map.points.flatMap((p) => p.elements.flatMap((e) => (e.kind === 'load' ? [] : [elementKey(p.id, e.id)]))), 0.3),
  };
}

function randomStep(map: Installation, random: Random): LiveDo {
  const pick = <T>(list: readonly T[]): T => list[random.integer(0, list.length - 1)] as T;
  const device = pick(protectionsOf(map)).id;
  const p = pick(map.points);
  const at = (): string => (random.chance(0.2) ? 'ground' : random.chance(0.1) ? 'metal:Handrail' : p.faces[0] && random.chance(0.7) ? `${p.id}/${p.faces[0].id}:${pick(p.terminals).id}` : `${p.id}:${pick(p.terminals).id}`);
  const someLoads = (): string[] => map.points.flatMap((x) => x.elements.flatMap((e) => (e.kind === 'load' && random.chance(0.3) ? [elementKey(x.id, e.id)] : [])));
  return pick<LiveDo>([{ do: 'close', device, first: [], out: someLoads() }, { do: 'plugIn', device, parts: someLoads() }, { do: 'turnOn', device, parts: [p.id] }, { do: 'ramp', device, first: [] }, { do: 'clamp', around: random.pick([device, ...map.points.flatMap((x) => x.elements.flatMap((e) => (e.kind === 'load' ? [`${x.id}.${e.id}`, `${x.id}.${e.id}/L`] : [])))]) }, { do: 'works', point: p.id }, { do: 'voltage', from: at(), to: at() }, { do: 'loop', from: at(), to: at() }]);
}

/** What the physical step needs, worked out anew from what hands meet: not from the code under test. */
function physical(map: Installation, secured: boolean, state: WorkState, step: LiveDo): { bare: number; lock: boolean; coverOff: boolean } {
  const board = map.points.find((p) => p.kind === 'board')?.id;
  // Earthed metal, against an earth of its own, is met anywhere.
  const metal = (place: string): boolean => place === 'metal:Handrail' || (step.do === 'voltage' && (step.from === 'ground' || step.to === 'ground') && place === `${board}:E`);
  // The lead of an appliance lies open.
  const onLead = step.do === 'clamp' && step.around.includes('.');
  const openPlaces = onLead ? [] : step.do === 'clamp' ? [board] : step.do === 'voltage' || step.do === 'loop' ? [step.from, step.to].filter((x) => x !== 'ground' && !metal(x)).map((x) => x.split(/[:/]/)[0]).filter((id) => map.points.find((p) => p.id === id)?.reach !== 'face') : [];
  const covers = state.opened.filter((p) => !(p === board && openPlaces.length > 0));
  return { bare: state.links.length + state.out.length + covers.length, lock: secured, coverOff: openPlaces.length > 0 };
}

test('over 12,000 random live steps: none is free while something is bare, linked or open or while it is locked off; none without its cautions', () => {
  const random = seededRandom(99);
  let open = 0;
  let closed = 0;
  for (let i = 0; i < 12_000; i++) {
    const map = maps[i % maps.length] as Installation;
    const state = randomState(map, random);
    const secured = random.chance(0.3);
    const step = randomStep(map, random);
    const needs = liveNeeds(map, { secured, state }, step).map((n) => n.need);
    const truth = physical(map, secured, state, step);
    if (truth.bare > 0 !== needs.includes('putBack')) throw new Error(`${i}: ${JSON.stringify([step, state, needs])}`);
    if (truth.lock !== needs.includes('lockOff')) throw new Error(`${i}: lock ${JSON.stringify([step, needs])}`);
    const cautions = cautionsOf(map, step);
    if (!cautions.includes(truth.coverOff ? 'coversOff' : 'coversOn')) throw new Error(`${i}: covers ${JSON.stringify([step, cautions])}`);
    if (needsCoverOff(map, step) !== truth.coverOff) throw new Error(`${i}: cover`);
    if ((step.do === 'voltage' || step.do === 'loop') && !cautions.includes('rightProbes')) throw new Error(`${i}: probes`);
    if ((step.do === 'close' || step.do === 'plugIn' || step.do === 'turnOn') && !cautions.includes('nobodyNear')) throw new Error(`${i}: people`);
    if (step.do === 'plugIn' && !cautions.includes('byThePlug')) throw new Error(`${i}: hands off`);
    // A lamp holder has live parts within a finger's reach.
    const lampMoved = (step.do === 'close' ? step.out : step.do === 'plugIn' ? step.parts : []).some((k) => map.points.find((x) => x.id === k.split('.')[0])?.kind === 'lamp');
    if (lampMoved && !cautions.includes('lampsOff')) throw new Error(`${i}: lamps`);
    if (needs.length) closed++;
    else open++;
  }
  expect(Math.min(open, closed)).toBeGreaterThan(2000);
});

test('what the planner proposes live has its needs and cautions, never asks for a cover off before covers-on steps are spent, and never closes on a suspected short', () => {
  const random = seededRandom(7);
  let steps = 0;
  for (let i = 0; i < 24; i++) {
    const map = maps[i % 2] as Installation;
    const at = (n: number, e: object): JobEvent => ({ ...e, id: `e${n}`, at: n }) as JobEvent;
    const off = protectionsOf(map).filter(() => random.chance(0.4)).flatMap((d) => d.poles);
    const events = [
      at(1, { type: 'created', name: 'x', agreedMin: 45 }), at(2, { type: 'drafted', phrase: '', map }), at(3, { type: 'asked', complaint: i % 3 === 0 ? 'mcb trips' : 'rcd trips', shock: false, notes: '' }),
      ...off.map((part, k) => at(10 + k, { type: 'switched', part, off: true })),
      ...(i % 4 === 0 ? [at(90, { type: 'liveRead', test: { kind: 'closed', device: 'w2', result: 'at once', tripped: 'w2' } })] : []),
    ];
    const advice = new Advisor().advise(deriveJob(events, 100));
    for (const s of advice?.liveSteps ?? []) {
      steps++;
      expect(s.cautions.length).toBeGreaterThan(0);
      expect(s.needs).toEqual([]);
      if (i % 4 === 0 && s.step.do === 'close') expect(s.step.device).not.toBe('w2');
    }
    const kinds = (advice?.liveSteps ?? []).map((s) => s.coversOff);
    // Covers come off only where neither covers-on steps nor dead ones tell much.
    if (kinds.includes(true)) expect(advice?.steps[0]?.bits ?? 0).toBeLessThan(0.15);
    if (kinds.includes(true)) expect(Math.max(0, ...(advice?.liveSteps ?? []).filter((s) => !s.coversOff).map((s) => s.bits))).toBeLessThan(0.15);
  }
  expect(steps).toBeGreaterThan(10);
}, 120_000);
