import { expect, test } from '@playwright/test';
import config from '../playwright.config';
import { draft, openPadAtBoard } from './helpers';

// A page from a machine in the same network comes by plain http: the browser then withholds its locks, its ids and its storage promises.
const { launchOptions } = config.use ?? {};
test.use({ launchOptions: { ...launchOptions, args: [...(launchOptions?.args ?? []), '--host-resolver-rules=MAP pottery.test 127.0.0.1'] }, baseURL: `http://pottery.test:${new URL(config.use?.baseURL ?? '').port}` });

test('by plain http a job is made, read and kept; a second tab reads; settings say what is missing', async ({ page, context }) => {
  await draft(page, 'radial, 3', 'By the yard');
  expect(await page.evaluate(() => window.isSecureContext)).toBe(false);
  await openPadAtBoard(page);
  for (const k of '0.3') await page.getByTestId(`key-${k}`).click();
  await page.getByTestId('keep').click();
  await expect(page.getByTestId('saving')).toHaveCount(0);
  const second = await context.newPage();
  await second.goto(page.url());
  await expect(second.getByTestId('reading-only')).toBeVisible();
  await second.close();
  await page.reload();
  await page.getByTestId('open-readings').click();
  await expect(page.getByTestId('readings')).toContainText('0.3 MΩ');
  await page.goto('/settings');
  await expect(page.getByTestId('plain-http')).toContainText('cannot be opened without it');
});
