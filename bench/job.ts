import { parentPort } from 'node:worker_threads';
import { benchCosts, tradeCosts } from '../core/planning';
import { gutter, halfSplitting, pointByPoint } from './strategies';
import type { Result, Strategy } from './tables';
import { huntTwo } from './two';
import { visit, type Visited } from './visits';
import { drawCase, drawTwo, type Family } from './world';

/** One hunt in a worker thread: the case, the strategy, its run back. */
export interface Task { readonly strategy: Strategy; readonly family: Family; readonly seed: number; readonly lengthSd: number; readonly provingCharged: boolean; readonly longLead: boolean }

const hunts = { halfSplitting, pointByPoint };

export interface TwoTask { readonly two: number }
export interface VisitTask { readonly visit: number }
/** A visit, and how long it took to work out. */
export type VisitDone = Visited & { readonly seconds: number };

parentPort?.on('message', (task: Task | TwoTask | VisitTask) => {
  if ('visit' in task) {
    const started = Date.now();
    const done: VisitDone = { ...visit(task.visit), seconds: (Date.now() - started) / 1000 };
    parentPort?.postMessage(done);
    return;
  }
  if ('two' in task) {
    parentPort?.postMessage({ seed: task.two, two: huntTwo(drawTwo(task.two)) });
    return;
  }
  const c = drawCase(task.family, task.seed, task.lengthSd);
  const costs = task.provingCharged ? { ...benchCosts, proveClosed: tradeCosts.proveClosed, proveOpened: tradeCosts.proveOpened } : benchCosts;
  const run = task.strategy === 'gutter' ? gutter(c, costs, task.longLead) : hunts[task.strategy](c, costs);
  const result: Result = { strategy: task.strategy, family: task.family, seed: task.seed, run };
  parentPort?.postMessage(result);
});
