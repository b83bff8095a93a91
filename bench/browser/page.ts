import { chromium, type Browser, type BrowserContext, type CDPSession, type Page } from '@playwright/test';
import { hold, prove, secure } from '../../e2e/helpers';
import { CHROMIUM, FLAGS, newJob, saved, serve } from './app';

/** A phone's network where it is poor: bytes per second, and milliseconds there and back. */
const SLOW_4G = { offline: false, latency: 150, downloadThroughput: 1.6e6 / 8, uploadThroughput: 0.75e6 / 8 };
const PHONE = { width: 390, height: 844 };
const JOBS = 300;

const sorted = (xs: readonly number[]): number[] => [...xs].sort((a, b) => a - b);
const median = (xs: readonly number[]): number => sorted(xs)[Math.floor(xs.length / 2)] ?? NaN;

/** One line: what was measured, its median and worst, and what is asked for; null where nothing is. */
function print(what: string, asked: number | null, unit: string, xs: readonly number[]): void {
  const [mid, worst] = [median(xs), Math.max(...xs)].map((x) => x.toFixed(0).padStart(6));
  console.log(`${what.padEnd(50)} ${mid} ${unit}, worst ${worst} of ${xs.length} (${asked === null ? 'not asked' : `asked ${asked}`})`);
}

/** Notes in the page when something first stands on the screen, ms since the page was asked for, and every long task. */
function watch(selector: string): void {
  const seen = window as unknown as { stoodAt?: number; longTasks: number[] };
  seen.longTasks = [];
  new PerformanceObserver((list) => seen.longTasks.push(...list.getEntries().map((e) => e.duration))).observe({
    type: 'longtask',
    buffered: true,
  });
  const look = (): void => {
    const found = document.querySelector(selector);
    if (found && found.getBoundingClientRect().height > 0) seen.stoodAt = performance.now();
    else requestAnimationFrame(look);
  };
  requestAnimationFrame(look);
}

const stoodAt = (page: Page): Promise<number> =>
  page
    .waitForFunction(() => (window as unknown as { stoodAt?: number }).stoodAt, null, { timeout: 60_000 })
    .then((h) => h.jsonValue() as Promise<number>);

/** Takes the long tasks noted so far. */
const longTasks = (page: Page): Promise<number[]> =>
  page.evaluate(() => (window as unknown as { longTasks: number[] }).longTasks.splice(0));

async function phone(browser: Browser): Promise<{ context: BrowserContext; page: Page; cdp: CDPSession }> {
  const context = await browser.newContext({ viewport: PHONE });
  const page = await context.newPage();
  return { context, page, cdp: await context.newCDPSession(page) };
}

/** From an empty browser to the main button, and what came over the wire until then. */
async function firstUse(browser: Browser, url: string, count: number, slow: boolean): Promise<void> {
  const [times, bytes]: [number[], number[]] = [[], []];
  for (let i = 0; i < count; i++) {
    const { context, page, cdp } = await phone(browser);
    await page.addInitScript(watch, '[data-testid="new-job"]');
    await cdp.send('Network.enable');
    if (slow) await cdp.send('Network.emulateNetworkConditions', SLOW_4G);
    await page.goto(url, { waitUntil: 'commit' });
    const at = await stoodAt(page);
    times.push(at);
    bytes.push(
      await page.evaluate((until) => {
        const parts = performance.getEntries().filter((e): e is PerformanceResourceTiming => 'transferSize' in e);
        return parts.filter((e) => e.responseEnd <= until).reduce((sum, e) => sum + e.transferSize, 0) / 1000;
      }, at),
    );
    await context.close();
  }
  const where = slow ? 'slow 4G, cold' : 'loopback, cold';
  print(`first use, ${where}`, slow ? 3500 : 1000, 'ms', times);
  print(`before it, ${where}`, 300, 'kB', bytes);
}

/** As many jobs as a working life leaves, each with the same log: the list after a reload, and scrolling through it. */
async function longList(browser: Browser, url: string, count: number, slowdown: number): Promise<void> {
  const { context, page, cdp } = await phone(browser);
  await newJob(page, url, 'ring, 9', 'Ring');
  await saved(page);
  await page.evaluate(copyJobs, JOBS);
  await page.addInitScript(watch, '[data-testid="job-Ring"]');
  await cdp.send('Emulation.setCPUThrottlingRate', { rate: slowdown });
  const times: number[] = [];
  for (let i = 0; i < count; i++) {
    await page.goto(url, { waitUntil: 'commit' });
    times.push(await stoodAt(page));
    await page.waitForLoadState('load');
  }
  // The rows below the first screen come after what stands on it.
  await page.waitForFunction(listToScroll, null, { timeout: 60_000 });
  await page.waitForTimeout(1500 * slowdown);
  const frames = await page.evaluate(scrollThrough);
  await context.close();
  print(`${JOBS} jobs, list after reload, ${slowdown}x`, slowdown === 1 ? 400 : 1200, 'ms', times);
  print(`${JOBS} jobs, frame while scrolling, ${slowdown}x`, 17, 'ms', frames);
}

/** Writes copies of the one job beside it, each under an id and a minute of its own. */
async function copyJobs(count: number): Promise<void> {
  for (const { name } of await indexedDB.databases()) {
    const db = await new Promise<IDBDatabase>((resolve, reject) => {
      const request = indexedDB.open(name ?? '');
      request.onsuccess = () => resolve(request.result);
      request.onerror = () => reject(request.error ?? new Error('no database'));
    });
    for (const store of db.objectStoreNames) {
      const at = db.transaction(store, 'readwrite').objectStore(store);
      const all = <T>(r: IDBRequest<T>): Promise<T> =>
        new Promise((resolve) => {
          r.onsuccess = () => resolve(r.result);
        });
      const keys = (await all(at.getAllKeys())).map((k) => (typeof k === 'string' ? k : ''));
      const values = await all(at.getAll());
      const id = keys.find((k) => k.startsWith('meta:'))?.slice(5);
      if (id === undefined) continue;
      for (let n = 1; n < count; n++)
        for (const [i, key] of keys.entries()) {
          if (!key.includes(id)) continue;
          const copy = `copy-${n}`;
          const value = JSON.parse(JSON.stringify(values[i]).replaceAll(id, copy)) as unknown;
          if (at.keyPath === null) at.put(value, key.replace(id, copy));
          else at.put(value);
        }
    }
    db.close();
  }
}

/** The list that scrolls, kept for `scrollThrough`; false until its rows stand. */
function listToScroll(): boolean {
  const list = [...document.querySelectorAll<HTMLElement>('div')].find(
    (d) => d.scrollHeight > 2 * d.clientHeight && getComputedStyle(d).overflowY !== 'visible' && d.clientHeight > 300,
  );
  (window as unknown as { list?: HTMLElement }).list = list;
  return list !== undefined;
}

/** From the first job to the last, a screen's height in a quarter of a second: ms of each frame. */
async function scrollThrough(): Promise<number[]> {
  const { list } = window as unknown as { list?: HTMLElement };
  if (!list) throw new Error('nothing to scroll');
  const frames: number[] = [];
  await new Promise<void>((done) => {
    let last = performance.now();
    const step = (now: number): void => {
      frames.push(now - last);
      list.scrollTop += ((now - last) / 250) * list.clientHeight;
      last = now;
      if (frames.length < 600 && list.scrollTop + list.clientHeight < list.scrollHeight - 1)
        requestAnimationFrame(step);
      else done();
    };
    requestAnimationFrame(step);
  });
  return frames.slice(1);
}

/** Demo jobs that are hunted with the practice tester. */
const HUNTS = ['Throwing room ring', 'Drying room board', 'Clay shed feeder', 'Shop sockets'];
const MOST_STEPS = 30;

interface Timed {
  readonly shown: number;
  readonly usable: number;
  readonly complete: number;
}

/** Hunts in the demo jobs by the app's own steps: how long until each reading is shown, until a step can be taken, until the plan stands, and how long the page was held up. */
async function work(browser: Browser, url: string, slowdown: number): Promise<void> {
  const timed: Timed[] = [];
  const tasks: number[] = [];
  for (const job of HUNTS) {
    const { context, page, cdp } = await phone(browser);
    await page.addInitScript(watch, '[data-testid="next-step"]');
    await page.goto(url);
    await page.getByTestId('walk-pottery').click();
    await page.getByTestId(`job-${job}`).waitFor();
    await page.reload();
    await cdp.send('Emulation.setCPUThrottlingRate', { rate: slowdown });
    await page.getByTestId(`job-${job}`).click();
    await makeDead(page);
    await page.waitForFunction(planStands, null, { timeout: 60_000 });
    // What the page did to begin is its first use, not work in it.
    await longTasks(page);
    for (let i = 0; i < MOST_STEPS; i++) {
      await page.waitForFunction(planStands, null, { timeout: 60_000 });
      if ((await page.getByTestId('do-step').count()) === 0 || (await page.getByTestId('verdict').count())) break;
      await page.getByTestId('do-step').click();
      if (!(await takeStep(page, timed))) break;
    }
    tasks.push(...(await longTasks(page)));
    await context.close();
  }
  const asked =
    slowdown === 1
      ? { shown: 50, usable: 500, complete: 1000, task: 50 }
      : { shown: 150, usable: 1200, complete: null, task: 200 };
  for (const of of ['shown', 'usable', 'complete'] as const)
    print(
      `reading to ${of}, ${slowdown}x`,
      asked[of],
      'ms',
      timed.map((t) => t[of]),
    );
  print(
    `long tasks of work, ${slowdown}x, ${tasks.filter((t) => t > asked.task).length} over ${asked.task}`,
    asked.task,
    'ms',
    tasks.length ? tasks : [0],
  );
}

async function makeDead(page: Page): Promise<void> {
  await page.getByTestId('stage-dead').click();
  if (await page.getByTestId('permission').count()) {
    await secure(page);
    await prove(page);
  }
  await page.getByTestId('stage-trace').click();
}

/** Does what the step asks for, by hand, and reads it; false where it cannot. */
async function takeStep(page: Page, timed: Timed[]): Promise<boolean> {
  for (let k = 0; k < 40; k++) {
    await page.waitForTimeout(150);
    const is = async (id: string): Promise<boolean> => (await page.getByTestId(id).count()) > 0;
    if (await is('pad')) return readAll(page, timed);
    if (await is('prove-title')) await prove(page);
    else if (await is('make-dead')) await page.getByTestId('make-dead').click();
    else if (await is('do-action')) await hold(page.getByTestId('do-action').first());
    else if (await is('enter-reading')) await page.getByTestId('enter-reading').click();
    else return is('next-step');
  }
  return false;
}

/** Reads the pad, and those that follow it. */
async function readAll(page: Page, timed: Timed[]): Promise<boolean> {
  for (let i = 0; i < 12; i++) {
    await page.getByTestId('practice').click();
    await page.waitForFunction(() => document.querySelector('[data-testid="pad-value"]')?.textContent);
    const found = await page.evaluate(keepAndWait);
    if (found) timed.push(found);
    if ((await page.getByTestId('pad').count()) === 0) return true;
  }
  return false;
}

/** Is there a step, and is nothing of it still worked out? */
const planStands = (): boolean => {
  const text = document.querySelector('[data-testid="next-step"]')?.textContent ?? '';
  return text !== '' && !/Working out|checking/.test(text);
};

/** Keeps what stands on the pad; ms until the pad gives way, until there is a step to take, and until nothing of it is worked out any more. Null where the pad asks again or stays for the next. */
async function keepAndWait(): Promise<Timed | null> {
  const one = (id: string): Element | null => document.querySelector(`[data-testid="${id}"]`);
  const until = (is: () => boolean): Promise<number> =>
    new Promise((resolve) => {
      const look = (): void => (is() ? resolve(performance.now()) : void requestAnimationFrame(look));
      look();
    });
  const start = performance.now();
  (one('keep') as HTMLElement).click();
  const shown = await until(() => one('pad') === null || one('doubtful') !== null || !one('pad-value')?.textContent);
  if (one('pad')) return null;
  const words = (): string => one('next-step')?.textContent ?? '';
  // The step before stays until the belief is there: what says so is looked for a frame later.
  await new Promise((resolve) => requestAnimationFrame(() => requestAnimationFrame(resolve)));
  const usable = await until(() => words() !== '' && !/Working out/.test(words()));
  const complete = await until(() => words() !== '' && !/Working out|checking/.test(words()));
  return { shown: shown - start, usable: usable - start, complete: complete - start };
}

/** What a page costs those who use it: first use, a long list, and work, at the machine's own speed and at a quarter of it. `count`: how often each is measured. */
export async function pageFigures(count: number): Promise<void> {
  const server = await serve(8131);
  const browser = await chromium.launch({ executablePath: CHROMIUM, args: FLAGS });
  try {
    for (const slow of [false, true]) await firstUse(browser, server.url, count, slow);
    for (const slowdown of [1, 4]) await longList(browser, server.url, count, slowdown);
    for (const slowdown of [1, 4]) await work(browser, server.url, slowdown);
  } finally {
    await browser.close();
    server.stop();
  }
}
