import { expect, test } from '@playwright/test';

test('the parts of the first page are asked for together, not one after the other', async ({ page }) => {
  await page.goto('/');
  await page.getByRole('heading', { level: 1 }).waitFor();
  const parts = await page.evaluate(() => performance.getEntriesByType('resource')
    .filter((r) => /_expo\/static\/js/.test(r.name))
    .map((r) => ({ name: r.name.replace(/.*\//, ''), began: r.startTime })));
  const entry = parts.find((p) => p.name.startsWith('entry-'));
  const first = parts.filter((p) => /^(_layout|index)-/.test(p.name));
  expect(entry).toBeDefined();
  expect(first.length).toBeGreaterThan(1);
  // What is found out only once the entry has run begins a whole script later.
  const ran = await page.evaluate(() => performance.getEntriesByType('resource').find((r) => /\/entry-/.test(r.name))?.toJSON() as { responseEnd: number });
  for (const p of first) expect(p.began).toBeLessThanOrEqual(ran.responseEnd);
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
