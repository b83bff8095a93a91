import { expect, test } from '@playwright/test';
import { spawn, type ChildProcess } from 'node:child_process';

const PORT = 8121;
const base = `http://127.0.0.1:${PORT}`;

async function startServer(): Promise<ChildProcess> {
  const server = spawn('node', ['server-dist/index.mjs'], { env: { ...process.env, PORT: String(PORT), WEB_ROOT: 'dist', DEMO: '1' }, stdio: 'ignore' });
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

test('the first page is usable within 2.5 s of navigation, and its JavaScript stays small', async ({ page, context }) => {
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
  expect(ms).toBeLessThan(2500);
});
