import { chromium, type Browser, type BrowserContext, type Page } from '@playwright/test';
import { spawn, type ChildProcess } from 'node:child_process';
import { existsSync, mkdtempSync, rmSync } from 'node:fs';
import { tmpdir } from 'node:os';
import { join } from 'node:path';
import { parseJobFile, type JobFile } from '../../core/job';

export const FLAGS = [
  '--headless=new',
  '--no-sandbox',
  '--disable-gpu',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
];
export const CHROMIUM = '/usr/bin/chromium';

/** The built app, served as it is shipped. */
export async function serve(port: number): Promise<{ readonly url: string; stop(): void }> {
  if (!existsSync('server-dist/index.mjs')) throw new Error('The app is not built: npm run build');
  const server = spawn(process.execPath, ['server-dist/index.mjs'], {
    env: { ...process.env, PORT: String(port), WEB_ROOT: process.env.WEB_ROOT ?? 'dist', DEMO: '0' },
    stdio: 'ignore',
  });
  const url = `http://127.0.0.1:${port}`;
  for (let i = 0; i < 100; i++) {
    if (
      await fetch(`${url}/healthz`).then(
        (r) => r.ok,
        () => false,
      )
    )
      return { url, stop: () => void server.kill() };
    await pause(100);
  }
  server.kill();
  throw new Error(`no answer at ${url}`);
}

export const pause = (ms: number): Promise<void> => new Promise((resolve) => setTimeout(resolve, ms));

/** A browser whose process can be killed as a phone kills it, over one profile that outlives it. */
export class Killable {
  private readonly profile = mkdtempSync(join(tmpdir(), 'gutter-profile-'));
  private process: ChildProcess | null = null;
  private browser: Browser | null = null;

  constructor(private readonly port: number) {}

  async start(): Promise<{ context: BrowserContext; page: Page }> {
    // Of its own process group, so that all of it goes at once.
    const child = spawn(
      CHROMIUM,
      [
        ...FLAGS,
        `--user-data-dir=${this.profile}`,
        `--remote-debugging-port=${this.port}`,
        '--window-size=390,844',
        'about:blank',
      ],
      { detached: true, stdio: 'ignore' },
    );
    this.process = child;
    for (let i = 0; ; i++) {
      try {
        this.browser = await chromium.connectOverCDP(`http://127.0.0.1:${this.port}`);
        break;
      } catch (error) {
        if (i > 150) throw error;
        await pause(100);
      }
    }
    const [context] = this.browser.contexts();
    if (!context) throw new Error('no context');
    return { context, page: context.pages()[0] ?? (await context.newPage()) };
  }

  async kill(): Promise<void> {
    const child = this.process;
    this.process = null;
    if (!child?.pid) return;
    const gone = new Promise((resolve) => child.once('exit', resolve));
    process.kill(-child.pid, 'SIGKILL');
    await gone;
    await this.browser?.close().catch(() => undefined);
  }

  async end(): Promise<void> {
    await this.kill();
    rmSync(this.profile, { recursive: true, force: true, maxRetries: 5 });
  }
}

/** Opens a new job of a phrase; gives its address. */
export async function newJob(page: Page, url: string, phrase: string, name: string): Promise<string> {
  await page.goto(`${url}/new`);
  await page.getByTestId('phrase').fill(phrase);
  await page.getByTestId('name').fill(name);
  await page.getByTestId('start-job').click();
  await page.getByTestId('complaint').waitFor();
  return page.url().replace(/\/[^/]*$/, '');
}

/** Opens a job at a stage. `url`: its address without one. */
export async function openStage(page: Page, url: string, stage: string): Promise<void> {
  await page.goto(`${url}/${stage}`);
  await page.getByTestId(`stage-${stage}`).waitFor();
}

/** Waits until the screen no longer says that it is saving. */
export const saved = (page: Page): Promise<void> => page.getByTestId('saving').waitFor({ state: 'detached' });

/** What the browser keeps of a job, as its file would be: the whole and the pieces after it, read from storage itself. */
export async function keptFile(
  page: Page,
  id: string,
): Promise<{ readonly file: JobFile | null; readonly photos: readonly string[]; readonly problem: string | null }> {
  const all = await page.evaluate(async () => {
    const names = (await indexedDB.databases()).flatMap((d) => d.name ?? []);
    const found: Record<string, string> = {};
    for (const name of names) {
      const db = await new Promise<IDBDatabase>((resolve, reject) => {
        const request = indexedDB.open(name);
        request.onsuccess = () => resolve(request.result);
        request.onerror = () => reject(request.error ?? new Error('no database'));
      });
      for (const store of db.objectStoreNames) {
        const at = db.transaction(store).objectStore(store);
        const [keys, values] = await Promise.all(
          [at.getAllKeys(), at.getAll()].map(
            (r) =>
              new Promise<unknown[]>((resolve) => {
                r.onsuccess = () => resolve(r.result);
              }),
          ),
        );
        for (const [i, k] of (keys ?? []).entries()) {
          const value = values?.[i];
          found[String(k)] =
            typeof value === 'string'
              ? value
              : JSON.stringify((value as { value?: unknown } | undefined)?.value ?? value);
        }
      }
      db.close();
    }
    return found;
  });
  const photos = Object.keys(all)
    .filter((k) => k.startsWith(`photo:${id}:`))
    .map((k) => k.split(':')[2] ?? '');
  const first = all[`job:${id}`];
  if (first === undefined) return { file: null, photos, problem: 'no job' };
  const [, writing = '', whole = first] = /^#([^\n]*)\n([^]*)$/.exec(first) ?? [];
  const pieces = Object.keys(all)
    .filter((k) => k.startsWith(`log:${id}:${writing}:`))
    .sort();
  try {
    const job = JSON.parse(whole) as { events: unknown[] };
    const parsed = parseJobFile(
      JSON.stringify({
        ...job,
        events: [...job.events, ...pieces.flatMap((k) => JSON.parse(all[k] ?? '[]') as unknown[])],
      }),
    );
    return parsed.ok
      ? { file: parsed.value, photos, problem: null }
      : { file: null, photos, problem: JSON.stringify(parsed.issues).slice(0, 200) };
  } catch (error) {
    return { file: null, photos, problem: `half-written: ${String(error)}` };
  }
}
