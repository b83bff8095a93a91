import { mkdirSync, writeFileSync } from 'node:fs';
import { cpus } from 'node:os';
import { join } from 'node:path';
import { Worker } from 'node:worker_threads';
import type { Task, TwoTask, VisitDone, VisitTask } from './job';
import { VisitRecord, type Recorded } from './record';
import { measureSpeed } from './speed';
import { printCalibration, printTable, printTwo, type Result, type Strategy } from './tables';
import type { TwoRun } from './two';
import { printVisits } from './visits/table';
import { families, worldScatter, type Family } from './world';

/**
 * The benchmark: `npm run bench` for all of it, or with parts (hunts, proving, guessed, nolead, boards, two, visits, speed, all), --seeds A-B, --workers N and --gutter-alone (no baselines).
 * Visits go on from those that `bench/record` has of the same engine; --minutes M: none is begun later than that.
 * Figures of the hunts are the same on every machine; the speeds are not.
 */
const WORKERS = Number(/--workers[= ](\d+)/.exec(process.argv.join(' '))?.[1] ?? Math.max(1, cpus().length));
const UNTIL = Date.now() + 60_000 * Number(/--minutes[= ](\d+)/.exec(process.argv.join(' '))?.[1] ?? Infinity);
const ENGINE = /--engine[= ](\w+)/.exec(process.argv.join(' '))?.[1] ?? 'unnamed';
/** Of one worker: a house of twelve ways with a hundred readings holds gigabytes. */
const WORKER_LIMITS = { maxOldGenerationSizeMb: 9000, maxYoungGenerationSizeMb: 256 };
const KNOWN = worldScatter.lengthSd;
const GUESSED = 0.4;

async function runTasks<T extends Task | TwoTask | VisitTask, R>(title: string, tasks: readonly T[], each?: (r: R) => void): Promise<R[]> {
  const results: R[] = [];
  const queue = [...tasks];
  const started = Date.now();
  const total = tasks.length;
  await Promise.all(Array.from({ length: WORKERS }, () => new Promise<void>((resolve, reject) => {
    const worker = new Worker(join(__dirname, 'job.cjs'), { resourceLimits: WORKER_LIMITS });
    const next = (): void => {
      const task = Date.now() < UNTIL ? queue.shift() : undefined;
      if (task) worker.postMessage(task);
      else void worker.terminate().then(() => resolve());
    };
    worker.on('message', (r: R) => {
      results.push(r);
      each?.(r);
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

/** What was done and read in one visit, step by step, for whoever asks why it ended so. */
function keepLog(v: VisitDone): void {
  mkdirSync('bench/out/visits', { recursive: true });
  const head = `seed ${v.seed}: ${v.families.join('+') || 'nothing'}, ${v.complaint} → ${v.named} ${(100 * v.share).toFixed(1)} %, ${v.right ? 'right' : v.wrongSure ? 'SURE AND WRONG' : 'not right'}, ${v.minutes.toFixed(0)} min, ${v.seconds.toFixed(0)} s`;
  writeFileSync(`bench/out/visits/${v.seed}.txt`, [head, v.truth, ...v.log].join('\n'));
  process.stderr.write(`${head}\n`);
}

async function main(): Promise<void> {
  const args = process.argv.slice(2);
  const range = /--seeds[= ](\d+)-(\d+)/.exec(args.join(' '));
  const parts = new Set(args.filter((a) => /^[a-z]+$/.test(a)));
  const wants = (part: string): boolean => parts.size === 0 || parts.has('all') || parts.has(part);
  const spans: [number, number][] = range ? [[Number(range[1]), Number(range[2])]] : [[1, 60], [1001, 1060]];
  const houses: [number, number][] = range ? spans : [[1, 100], [3001, 3100]];
  const all: Strategy[] = args.includes('--gutter-alone') ? ['gutter'] : ['gutter', 'halfSplitting', 'pointByPoint'];
  const out: Record<string, unknown> = { costs: 'core/planning/costs.ts', world: 'bench/world.ts', made: new Date().toISOString() };
  const every: Pick<Result['run'], 'nearlySure'>[] = [];
  /** One table of hunts; every run of Gutter's counts for the calibration of the whole. */
  const table = async (title: string, progress: string, strategies: readonly Strategy[], tasks: Task[]): Promise<ReturnType<typeof printTable>> => {
    const results = await runTasks<Task, Result>(progress, tasks);
    every.push(...results.filter((r) => r.strategy === 'gutter').map((r) => r.run));
    return printTable(title, results, strategies);
  };
  for (const [from, to] of spans) {
    const name = `seeds ${from}-${to}`;
    const section: Record<string, unknown> = {};
    if (wants('hunts')) section.hunts = await table(`Hunts, ${name}`, name, all, tasksFor(all, from, to, KNOWN, false));
    if (wants('proving')) section.proving = await table(`Proving dead charged, ${name}`, `${name}, proving`, all, tasksFor(all, from, to, KNOWN, true));
    if (wants('guessed')) section.guessed = await table(`All lengths guessed (40 %), ${name}`, `${name}, guessed`, ['gutter'], tasksFor(['gutter'], from, to, GUESSED, false));
    if (wants('nolead')) section.noLead = await table(`Without a long lead: links at the far end, ${name}`, `${name}, no lead`, ['gutter'], tasksFor(['gutter'], from, to, KNOWN, false, false));
    if (wants('boards')) section.boards = await table(`Boards of 6 to 12 circuits, ${name}`, `${name}, boards`, all, tasksFor(all, from, to, KNOWN, false, true, ['board']));
    if (wants('two')) {
      const results = await runTasks<TwoTask, { seed: number; two: TwoRun }>(`${name}, two faults`, Array.from({ length: to - from + 1 }, (_, i) => ({ two: from + i })));
      every.push(...results.map((r) => r.two));
      section.two = printTwo(name, results);
    }
    out[name] = section;
  }
  if (wants('visits')) {
    const record = new VisitRecord(ENGINE);
    const all: Recorded[] = [];
    for (const [from, to] of houses) {
      const seeds = Array.from({ length: to - from + 1 }, (_, i) => from + i);
      await runTasks<VisitTask, VisitDone>(`${from}-${to}, visits`, record.missing(seeds).map((s) => ({ visit: s })), (v) => {
        keepLog(v);
        record.keep(v);
      });
      const made = record.of(seeds);
      all.push(...made);
      out[`visits ${from}-${to}`] = printVisits(`seeds ${from}-${to}, ${made.length} of ${seeds.length} made`, made);
    }
    if (houses.length > 1) out.visits = printVisits('all', all);
    console.log(`record: ${record.file}`);
  }
  console.log('\nAll hunts');
  out.calibration = printCalibration(', all hunts together', every);
  if (wants('speed')) out.speed = measureSpeed();
  mkdirSync('bench/out', { recursive: true });
  writeFileSync('bench/out/bench.json', JSON.stringify(out, null, 1));
  console.log('\nwritten: bench/out/bench.json');
}

void main();
