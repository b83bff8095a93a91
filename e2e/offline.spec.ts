import { expect, test } from '@playwright/test';
import { spawn, type ChildProcess } from 'node:child_process';
import { appendFileSync, cpSync, mkdtempSync, rmSync } from 'node:fs';
import { join, relative } from 'node:path';
import { tmpdir } from 'node:os';
import { draft, openPadAtBoard, secure } from './helpers';

const PORT = 8121;
const base = `http://127.0.0.1:${PORT}`;

async function startServer(root = 'dist'): Promise<ChildProcess> {
  const server = spawn('node', ['server-dist/index.mjs'], { env: { ...process.env, PORT: String(PORT), WEB_ROOT: root, DEMO: '1' }, stdio: 'ignore' });
  for (let i = 0; i < 50; i++) {
    const up = await fetch(`${base}/healthz`).then((r) => r.ok).catch(() => false);
    if (up) return server;
    await new Promise((r) => setTimeout(r, 100));
  }
  throw new Error('server did not start');
}

test('after one load the app, the worker and a deep link start with the server killed', async ({ page }) => {
  const server = await startServer();
  await page.goto(base);
  await page.getByTestId('job-Throwing room ring').waitFor();
  await page.evaluate(async () => {
    await navigator.serviceWorker.ready;
  });
  await page.waitForFunction(() => navigator.serviceWorker.controller !== null);
  server.kill();
  await new Promise((r) => server.once('exit', r));
  await page.reload();
  await page.getByTestId('job-Throwing room ring').click();
  await expect(page.getByTestId('step-title')).toBeVisible({ timeout: 30_000 });
  await page.goto(`${base}/job/pottery-clay-shed/map`);
  await expect(page.getByTestId('row-p2')).toContainText('Shed inlet');
});

test('the first page is usable soon after navigation, and its JavaScript stays small', async ({ page, context }) => {
  await context.clearCookies();
  let bytes = 0;
  const client = await context.newCDPSession(page);
  await client.send('Network.enable');
  const scripts = new Set<string>();
  client.on('Network.responseReceived', (e: { requestId: string; response: { url: string } }) => {
    if (e.response.url.endsWith('.js')) scripts.add(e.requestId);
  });
  client.on('Network.loadingFinished', (e: { requestId: string; encodedDataLength: number }) => {
    if (scripts.has(e.requestId)) bytes += e.encodedDataLength;
  });
  const began = Date.now();
  await page.goto('/', { waitUntil: 'commit' });
  await page.getByTestId('new-job').waitFor();
  const ms = Date.now() - began;
  console.log(`first page: usable after ${ms} ms, ${(bytes / 1000).toFixed(0)} kB of JavaScript over the wire (brotli)`);
  // The time is printed for the record; the weight is what the code decides.
  // 350 kB of gzip is about 300 of brotli.
  expect(bytes).toBeLessThan(300_000);
  expect(ms).toBeLessThan(15_000);
});

test('a newer version that waits is offered, never forced', async ({ page }) => {
  const root = mkdtempSync(join(tmpdir(), 'gutter-dist-'));
  cpSync('dist', root, { recursive: true });
  const server = await startServer(relative(process.cwd(), root));
  try {
    await page.goto(`${base}/new`);
    await page.waitForFunction(() => navigator.serviceWorker.controller !== null);
    await page.getByTestId('phrase').fill('ring, 4');
    appendFileSync(join(root, 'sw.js'), '\n// newer\n');
    for (const packed of ['sw.js.br', 'sw.js.gz']) rmSync(join(root, packed), { force: true });
    await page.evaluate(async () => {
      await (await navigator.serviceWorker.ready).update();
    });
    await expect(page.getByTestId('update-offer')).toBeVisible();
    await expect(page.getByTestId('phrase')).toHaveValue('ring, 4');
    const reloaded = page.waitForEvent('load');
    await page.getByRole('button', { name: 'Change now' }).click();
    await reloaded;
    await expect(page.getByTestId('phrase')).toBeVisible();
    await expect(page.getByTestId('update-offer')).toHaveCount(0);
  } finally {
    server.kill();
    rmSync(root, { recursive: true, force: true });
  }
});

test('a reading shows at once when kept, on a circuit of 30 points, while the plan is worked out', async ({ page }) => {
  test.setTimeout(300_000);
  await draft(page, 'ring, 30');
  await secure(page);
  await page.getByTestId('stage-trace').click();
  const times: number[] = [];
  for (let i = 0; i < 20; i++) {
    await openPadAtBoard(page, 'N');
    await page.getByTestId('key-7').click();
    times.push(await page.evaluate(async (n) => {
      const began = performance.now();
      const keep = (): void => document.querySelector<HTMLElement>('[data-testid=keep]')?.click();
      keep();
      if (document.querySelector('[data-testid=doubtful]')) keep();
      while (!(document.querySelector('[data-testid=open-readings]')?.textContent ?? '').includes(String(n))) {
        if (performance.now() - began > 2000) break;
        if (document.querySelector('[data-testid=doubtful]')) keep();
        await new Promise(requestAnimationFrame);
      }
      return performance.now() - began;
    }, i + 1));
  }
  times.sort((a, b) => a - b);
  console.log(`a reading is shown after ${(times[10] ?? 0).toFixed(0)} ms (median of 20)`);
  // The figure is printed; a busy machine must not turn it red. A blocked page would take seconds.
  expect(times[10]).toBeLessThan(1000);
});
