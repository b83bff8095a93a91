import { mkdirSync, writeFileSync } from 'node:fs';
import { cpus } from 'node:os';
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import type { Task, TwoTask } from './job';
import { measureSpeed } from './speed';
import { printTable, printTwo, type Result, type Strategy } from './tables';
import type { TwoRun } from './two';
import { families, worldScatter, type Family } from './world';

/**
 * The benchmark: `npm run bench` for all of it, or with parts (hunts, proving, guessed, nolead, boards, two, speed, all), --seeds A-B, --workers N and --gutter-alone (no baselines).
 * Figures of the hunts are the same on every machine; the speeds are not.
 */
const WORKERS = Number(/--workers[= ](\d+)/.exec(process.argv.join(' '))?.[1] ?? Math.max(1, cpus().length));
const KNOWN = worldScatter.lengthSd;
const GUESSED = 0.4;

async function runTasks<T extends Task | TwoTask, R>(title: string, tasks: readonly T[]): Promise<R[]> {
  const results: R[] = [];
  const queue = [...tasks];
  const started = Date.now();
  const total = tasks.length;
  await Promise.all(Array.from({ length: WORKERS }, () => new Promise<void>((resolve, reject) => {
    const worker = new Worker(join(__dirname, 'job.cjs'));
    const next = (): void => {
      const task = queue.shift();
      if (task) worker.postMessage(task);
      else void worker.terminate().then(() => resolve());
    };
    worker.on('message', (r: R) => {
      results.push(r);
      if (results.length % 20 === 0) process.stderr.write(`${title}: ${results.length} of ${total}, ${((Date.now() - started) / 1000).toFixed(0)} s\n`);
      next();
    });
    worker.on('error', reject);
    next();
  })));
  return results;
}

const tasksFor = (strategies: readonly Strategy[], from: number, to: number, lengthSd: number, provingCharged: boolean, longLead = true, among: readonly Family[] = families): Task[] =>
  strategies.flatMap((strategy) => among.flatMap((family) => Array.from({ length: to - from + 1 }, (_, i) => ({ strategy, family, seed: from + i, lengthSd, provingCharged, longLead }))));

async function main(): Promise<void> {
  const args = process.argv.slice(2);
  const range = /--seeds[= ](\d+)-(\d+)/.exec(args.join(' '));
  const parts = new Set(args.filter((a) => /^[a-z]+$/.test(a)));
  const wants = (part: string): boolean => parts.size === 0 || parts.has('all') || parts.has(part);
  const spans: [number, number][] = range ? [[Number(range[1]), Number(range[2])]] : [[1, 60], [1001, 1060]];
  const all: Strategy[] = args.includes('--gutter-alone') ? ['gutter'] : ['gutter', 'halfSplitting', 'pointByPoint'];
  const out: Record<string, unknown> = { costs: 'core/planning/costs.ts', world: 'bench/world.ts', made: new Date().toISOString() };
  for (const [from, to] of spans) {
    const name = `seeds ${from}-${to}`;
    const section: Record<string, unknown> = {};
    if (wants('hunts')) section.hunts = printTable(`Hunts, ${name}`, await runTasks<Task, Result>(name, tasksFor(all, from, to, KNOWN, false)), all);
    if (wants('proving')) section.proving = printTable(`Proving dead charged, ${name}`, await runTasks<Task, Result>(`${name}, proving`, tasksFor(all, from, to, KNOWN, true)), all);
    if (wants('guessed')) section.guessed = printTable(`All lengths guessed (40 %), ${name}`, await runTasks<Task, Result>(`${name}, guessed`, tasksFor(['gutter'], from, to, GUESSED, false)), ['gutter']);
    if (wants('nolead')) section.noLead = printTable(`Without a long lead: links at the far end, ${name}`, await runTasks<Task, Result>(`${name}, no lead`, tasksFor(['gutter'], from, to, KNOWN, false, false)), ['gutter']);
    if (wants('boards')) section.boards = printTable(`Boards of 6 to 12 circuits, ${name}`, await runTasks<Task, Result>(`${name}, boards`, tasksFor(all, from, to, KNOWN, false, true, ['board'])), all);
    if (wants('two')) section.two = printTwo(name, await runTasks<TwoTask, { seed: number; two: TwoRun }>(`${name}, two faults`, Array.from({ length: to - from + 1 }, (_, i) => ({ two: from + i }))));
    out[name] = section;
  }
  if (wants('speed')) out.speed = measureSpeed();
  mkdirSync('bench/out', { recursive: true });
  writeFileSync('bench/out/bench.json', JSON.stringify(out, null, 1));
  console.log('\nwritten: bench/out/bench.json');
}

void main();
