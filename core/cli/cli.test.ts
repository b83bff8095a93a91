import { mkdtempSync, readFileSync, writeFileSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { Play, potteryScenarios } from '../simulation';
import { run } from './main';

const folder = mkdtempSync(join(tmpdir(), 'gutter-cli-'));
const write = (name: string, text: string): string => {
  const path = join(folder, name);
  writeFileSync(path, text);
  return path;
};
const scenario = potteryScenarios().find((s) => s.id === 'pottery-shop-sockets');
if (!scenario) throw new Error('no scenario');
const play = new Play(scenario, 1e12);
play.makeDead();
play.hunt(2);
const job = write('job.json', JSON.stringify(play.file));
const call = (...args: string[]): { code: number; out: string; err: string } => {
  const out: string[] = [];
  const err: string[] = [];
  return { code: run(args, (s) => out.push(s), (s) => err.push(s)), out: out.join('\n'), err: err.join('\n') };
};

test('check, locate, predict and netlist answer in words and as JSON', () => {
  expect(call('check', job)).toMatchObject({ code: 0 });
  expect(call('check', job).out).toContain('Shop sockets');
  const located = JSON.parse(call('locate', job, '--json').out) as { suspects: unknown[] };
  expect(located.suspects.length).toBeGreaterThan(0);
  expect(call('predict', job, 'loose s3@b:L=open').out).toContain('no path');
  expect(call('netlist', job).out).toMatch(/^\* Shop sockets[\s\S]*\.end/);
});

const workshop = potteryScenarios().find((s) => s.id === 'pottery-workshop-board');
const atBoard = write('board.json', JSON.stringify(workshop ? new Play(workshop, 1e12).file : {}));

test('a board answers live as well: volts, residual currents and trips under a named fault, and a netlist for .ac', () => {
  const live = JSON.parse(call('predict', '--live', atBoard, 'contact s2:LE=900', '--json').out) as { points: { lineNeutral: number }[]; devices: { device: string; residualMa: number | null; atOnce: number }[] };
  expect(live.points[3]?.lineNeutral).toBeGreaterThan(215);
  const rcd = live.devices.find((d) => d.device === 'G1');
  // 230 V over 900 Ω: a quarter of an ampere.
  expect(rcd?.residualMa).toBeGreaterThan(240);
  expect(rcd?.atOnce).toBeGreaterThan(0.99);
  expect(live.devices.find((d) => d.device === 'w2')?.residualMa).toBeNull();
  expect(call('predict', '--live', atBoard).out).toMatch(/everything sound/);
  expect(call('netlist', '--live', atBoard).out).toMatch(/ac lin 1 50 50[\s\S]*\.end/);
  expect(call('locate', atBoard).out).toMatch(/With the supply on: .*RCD 1/);
});

test.each([
  [['check', 'nowhere.json'], 1, 'cannot be read'], [['check'], 1, 'Name a job file'], [['dance'], 2, 'gutter check'],
  [['predict', job, 'loose nothing'], 1, 'no fault'], [['netlist', job, 'x', 'y'], 1, 'not on the map'],
])('%j ends with %i and says why', (args, code, words) => {
  const r = call(...args);
  expect(r.code).toBe(code);
  expect(r.err).toContain(words);
});

test('the schema in docs/ is the one that is in force', () => {
  expect(JSON.parse(readFileSync('docs/job.schema.json', 'utf8'))).toEqual(JSON.parse(call('schema', '--json').out));
});

test('a broken file is a typed error for machines', () => {
  const r = call('check', write('bad.json', '{"format":"gutter-job","version":9}'), '--json');
  expect(r.code).toBe(1);
  expect(JSON.parse(r.out)).toMatchObject({ issues: [{ code: 'file.newer' }] });
});
