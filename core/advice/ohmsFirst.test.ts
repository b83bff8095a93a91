import { terminalKey } from '../installation';
import { draft } from '../installation/fixtures/drafted';
import { Play } from '../simulation';
import { Advisor, type Advice } from '.';

// What is low on the insulation range is read in ohms at the same place before anything else (field guide, section 3): that this reading tells
// nothing of where it is does not make the board exhausted, and no circuit is drawn for it while pulling a neutral tells more.

const board = 'p0';

test.each([
  ['6 ways, RCD on 1 to 5', 2e4, 15200],
  ['8 ways, RCD on 1 to 8', 4e3, 3900],
])('%s: a low bar is read in ohms, then parted at the board; nothing is drawn on a guess', (phrase, megger, ohms) => {
  const map = draft(phrase);
  const play = new Play({ id: 'o', name: 'O', agreedMin: 45, seed: 3, phrase: '', map, faults: [], cantReach: [], asked: { complaint: 'rcd trips', shock: false, notes: '', wet: false, works: true } }, 1e12);
  play.makeDead();
  const bar = terminalKey(board, map.points[0]?.terminals.find((t) => t.name === 'N bar of RCD 1')?.id ?? '');
  const advisor = new Advisor();
  const read = (fn: 'insulation' | 'continuity', ohm: number): Advice => {
    play.record({ type: 'read', probe: { fn, from: [bar], to: [terminalKey(board, 'E')] }, displayed: { ohm }, unit: 'kΩ', conditions: [], testVolt: fn === 'insulation' ? 500 : null, unsteady: false, climbing: false, beforeProof: false, retest: null });
    const advice = advisor.advise(play.view);
    if (!advice) throw new Error('no advice');
    return advice;
  };
  const low = read('insulation', megger);
  expect(low.verdict.says).toBe('none');
  expect(low.steps[0]).toMatchObject({ actions: [], probes: [{ fn: 'continuity', from: [bar] }] });
  const said = read('continuity', ohms);
  expect(said.verdict.says).toBe('none');
  expect(said.steps[0]?.actions[0]).toMatchObject({ do: 'takeOut', point: board });
});
