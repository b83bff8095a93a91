import { expect, test } from '@playwright/test';

test('the first page waits for no part that is asked for only once another has run', async ({ page }) => {
  await page.goto('/');
  await page.getByTestId('new-job').waitFor();
  const parts = await page.evaluate(() => performance.getEntriesByType('resource')
    .filter((r) => /_expo\/static\/js/.test(r.name))
    .map((r) => ({ name: r.name.replace(/.*\//, ''), began: r.startTime, came: (r as PerformanceResourceTiming).responseEnd })));
  const entry = parts.find((p) => p.name.startsWith('entry-'));
  expect(entry).toBeDefined();
  // What is found out only once the entry has run begins a whole script later.
  for (const p of parts) expect(p.began, p.name).toBeLessThanOrEqual(entry?.came ?? 0);
});

test('the licences of what ships can be read from the settings, without a network too', async ({ page, context }) => {
  await page.goto('/settings');
  await page.evaluate(() => navigator.serviceWorker.ready);
  await context.setOffline(true);
  const opened = context.waitForEvent('page');
  await page.getByTestId('licences').click();
  const text = (await (await opened).locator('body').textContent()) ?? '';
  for (const name of ['react ', 'react-native-web ', 'zod ', 'pdfkit ', 'atkinson-hyperlegible-next ', 'workbox-precaching ']) expect(text).toContain(name);
  expect(text).toContain('SIL Open Font License');
  expect(text).not.toMatch(/no licence stated/);
});
