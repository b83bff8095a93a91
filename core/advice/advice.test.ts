import { questions } from '../asking';
import { Play, potteryScenarios } from '../simulation';
import { describeReport, readingsCsv, reportHtml } from '../report';
import { deriveJob } from '../job';
import { proofOf, retestResults, retestsOwed } from '../retest';
import { putBackList, unmetNeeds } from '../safety';
import { Advisor, safetyOf } from '.';

const at = Date.UTC(2026, 2, 3, 8, 0);
const scenario = (id: string, seed?: number) => {
  const s = potteryScenarios().find((x) => x.id === id);
  if (!s) throw new Error(id);
  return seed === undefined ? s : { ...s, seed };
};
const begun = (id: string, seed?: number): Play => {
  const play = new Play(scenario(id, seed), at);
  play.makeDead();
  return play;
};

test.each([['pottery-throwing-ring', 3], ['pottery-kiln-hood', 4], ['pottery-clay-shed', 5], ['pottery-shop-sockets', 6], ['pottery-shop-sockets', 7]])('%s with seed %i: following the advice names the place that is really wrong', (id, seed) => {
  const play = begun(id, seed);
  expect(play.hunt(30)).toBe(true);
  const fault = play.scenario.faults[0];
  const truth = fault?.kind === 'termination' ? play.scenario.map.sections.find((s) => fault.end.startsWith(`${s.id}@`))?.[fault.end.includes('@a') ? 'a' : 'b'] : fault && 'section' in fault ? fault.section : '';
  expect(play.verdict().place).toBe(truth);
});

describe('the advice at each step of a hunt', () => {
  const play = begun('pottery-kiln-hood');
  const advisor = new Advisor();
  const seen = Array.from({ length: 5 }, () => {
    const { view } = play;
    const advice = advisor.advise(view);
    play.hunt(1);
    return { view, advice };
  }).filter((x) => x.advice !== null);

  test('chances of the outcomes of a step sum to one, “else” included', () => {
    for (const { advice } of seen) for (const s of advice?.steps ?? []) if (s.outcomes.length) expect(s.outcomes.reduce((sum, o) => sum + o.share, 0)).toBeCloseTo(1, 2);
  });
  test('shares of suspects, others and the unknown sum to one', () => {
    for (const { advice } of seen) if (advice?.hasReadings) expect(advice.suspects.reduce((sum, s) => sum + s.share, 0) + advice.others.share + advice.unknownShare).toBeCloseTo(1, 6);
  });
  test('no step is offered without the needs that it has', () => {
    for (const { view, advice } of seen) for (const s of advice?.steps ?? []) {
      if (!view.map) continue;
      expect(s.needs).toEqual(unmetNeeds(view.map, safetyOf(view), { actions: s.actions, probes: s.probes, earthDoubt: advice?.earthDoubt ?? true }));
    }
  });
  test('before any reading there are places, and no shares', () => {
    const first = seen[0]?.advice;
    expect(first?.suspects).toEqual([]);
    expect(first?.placesOpen).toBeGreaterThan(5);
  });
  test('no figure is NaN', () => {
    for (const { advice } of seen) expect(JSON.stringify(advice)).not.toMatch(/null,"plusMinus"|NaN/);
  });
});

test('a contact to earth explains a tripping RCD, and not a dead part', () => {
  const play = begun('pottery-kiln-hood');
  play.hunt(30);
  const explains = (complaint: string) => {
    play.record({ type: 'asked', ...play.scenario.asked, complaint });
    return new Advisor().advise(play.view, false)?.suspects[0]?.explains;
  };
  expect(explains('rcd trips')).toMatchObject({ says: 'yes', code: 'explains.rcdLine' });
  expect(explains('dead')).toMatchObject({ says: 'no' });
});

test('a loose line end makes dead what lies beyond it, computed point by point', () => {
  const play = begun('pottery-shop-sockets');
  play.hunt(30);
  const best = new Advisor().advise(play.view, false)?.suspects[0];
  const beyond = ['Window right', 'Packing table', 'Kettle corner'].map((n) => play.scenario.map.points.find((p) => p.name === n)?.id);
  expect(best?.explains).toMatchObject({ says: 'yes', points: beyond });
});

describe('the repair', () => {
  const play = begun('pottery-shop-sockets');
  play.hunt(30);
  const before = play.view;

  test('owes nothing before it is made', () => {
    expect(retestsOwed(before)).toEqual([]);
    expect(proofOf(before)).toBe('nothing mended');
  });
  test('of a loose end owes continuity there and at the furthest point, polarity, every insulation pair, the board’s terminals and live tests', () => {
    play.putRight('remade');
    const items = retestsOwed(play.view);
    expect(items.filter((i) => i.code === 'continuity').map((i) => i.id)).toEqual(['continuity L p3', 'continuity L p5']);
    expect(items.filter((i) => i.code === 'insulation')).toHaveLength(3);
    expect(items.filter((i) => i.code === 'boardTerminals')).toHaveLength(3);
    expect(items.filter((i) => i.code === 'polarity')).toHaveLength(1);
    expect(items.filter((i) => i.live)).toHaveLength(3);
    // 8.7 + 5.9 + 4.3 m of 2.5 mm² at 7.41 mΩ/m, and its terminations.
    const expected = items.find((i) => i.id === 'continuity L p3')?.expectedOhm ?? 0;
    expect(expected).toBeGreaterThan(18.9 * 0.00741);
    expect(expected).toBeLessThan(18.9 * 0.00741 + 0.05);
  });
  test('is proved only when every retest is met, the live ones too', () => {
    expect(retestResults(play.view).filter((r) => !r.item.live).map((r) => r.verdict)).not.toContain('not met');
    expect(proofOf(play.view)).toBe('not proved');
    for (const [t, result] of [['loop', '0.62 Ω'], ['rcd', '24 ms'], ['function', 'works as it should']] as const) play.record({ type: 'liveTest', test: t, result, because: null });
    expect(proofOf(play.view)).toBe('proved');
    play.record({ type: 'liveTest', test: 'rcd', result: null, because: 'no tester' });
    expect(proofOf(play.view)).toBe('not proved');
  });
  test('leaves nothing on the put-back list but the lock', () => {
    expect(putBackList(play.scenario.map, play.view.state, true).map((i) => i.kind)).toEqual(['lock']);
  });
  test('is told in the report, which says that it is no certificate, and shows no share to the customer', () => {
    const report = describeReport(play.view, at + 4 * 3600000);
    expect(report.found[0]?.what).toBe('L end loose in Window right, towards Window left');
    expect(report.customer.join(' ')).not.toMatch(/%/);
    const html = reportHtml({ ...report, title: '<b>&"' });
    expect(html).toContain('no certificate');
    expect(html).not.toContain('<b>&"');
    expect(readingsCsv(report).split('\r\n')).toHaveLength(report.readings.length + 2);
  });
});

test('a reading that was struck out no longer speaks', () => {
  const play = begun('pottery-clay-shed');
  play.hunt(2);
  const reading = play.file.events.find((e) => e.type === 'read');
  const without = deriveJob(play.file.events.filter((e) => e !== reading), at);
  const struck = deriveJob([...play.file.events, { id: 'x', at, type: 'struck', target: reading?.id ?? '', why: 'misread' }], at);
  const shares = (view: typeof without) => new Advisor().advise(view, false)?.suspects.map((s) => [s.id, Math.round(s.share * 1e4)]);
  expect(shares(struck)).toEqual(shares(without));
});

test('asking competes with reading: an open question leads while readings promise little for their minutes, and never once it was answered or enough was asked', () => {
  const play = new Play(scenario('pottery-early-device'), 1e12);
  const first = new Advisor().advise(play.view)?.ask;
  if (!first) throw new Error('nothing to ask');
  expect(first.bits).toBeGreaterThan(0.15);
  const question = questions.find((q) => q.id === first.question);
  expect(question?.complaints).toContain('rcd trips');
  play.record({ type: 'answered', question: first.question, answer: question?.answers[0]?.id ?? '' });
  expect(new Advisor().advise(play.view)?.ask?.question).not.toBe(first.question);
  for (const q of questions.filter((x) => x.complaints.includes('rcd trips'))) play.record({ type: 'answered', question: q.id, answer: 'unknown' });
  expect(new Advisor().advise(play.view)?.ask).toBeNull();
});

test('without a complaint nobody is asked in the middle of the work', () => {
  const told = scenario('pottery-early-device');
  const play = new Play({ ...told, asked: { ...told.asked, complaint: null } }, 1e12);
  play.makeDead();
  expect(new Advisor().advise(play.view)?.ask).toBeNull();
});
