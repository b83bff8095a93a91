import { writeFileSync } from 'node:fs';
import { Play, potteryScenarios } from '../core/simulation';

/** Writes public/demo.json: the pottery's jobs in several states, each played by the app's own advice. */
const made = Date.UTC(2026, 0, 15, 10, 0);
const [ring, hood, shed, workshop, shop, ...boards] = potteryScenarios();
if (!ring || !hood || !shed || !workshop || !shop) throw new Error('scenarios are missing');

const inTrace = new Play(ring, made - 22 * 60000);
inTrace.makeDead();
inTrace.hunt(5);

const justAsked = new Play(hood, made - 6 * 60000);
justAsked.record({ type: 'clock', run: true });

const begun = new Play(shed, made - 3 * 3600000);
begun.makeDead();
begun.hunt(1);
begun.record({ type: 'clock', run: false }, { type: 'lapsed', why: 'left' });

const atBoard = new Play(workshop, made - 50 * 60000);
atBoard.makeDead();
atBoard.hunt(1);

const closed = new Play(shop, made - 26 * 3600000);
closed.makeDead();
if (!closed.hunt(25)) throw new Error('the shop hunt named no place');
closed.putRight('L end was clamped on its sheath; stripped, remade and tightened');
closed.record(
  { type: 'liveTest', test: 'loop', result: '0.71 Ω at Kettle corner', because: null }, { type: 'liveTest', test: 'rcd', result: '24 ms at 1×; button trips', because: null },
  { type: 'liveTest', test: 'function', result: 'every outlet works', because: null }, { type: 'noted', text: 'Shelf screws sit in the line of the cable drop at Window right.', severity: 'observation' },
  { type: 'energised' }, { type: 'closed', state: 'closed' },
);
/** Begun call-outs, each where it gets interesting; two are left for whoever wants to begin with the customer. */
const FROM_THE_START = ['Kiln room board', 'Firing room board'];
const callouts = boards.map((b, i) => {
  const play = new Play(b, made - (30 + 7 * i) * 3600000);
  if (FROM_THE_START.includes(b.name)) return play;
  play.record({ type: 'clock', run: true });
  play.wait(2);
  if (play.workDevices(4) < 2) {
    play.makeDead();
    play.hunt(2);
  }
  play.record({ type: 'clock', run: false }, ...(play.view.secured ? [{ type: 'lapsed' as const, why: 'left' }] : []));
  return play;
});
writeFileSync('public/demo.json', JSON.stringify({ made, jobs: [inTrace, justAsked, atBoard, begun, closed, ...callouts].map((p) => p.file) }));
for (const p of [inTrace, atBoard, begun, closed]) console.log(p.scenario.name, p.file.events.length, 'events', p.view.status, JSON.stringify(p.verdict()));
