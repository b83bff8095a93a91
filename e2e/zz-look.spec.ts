import { test } from '@playwright/test';
import { draft, secure, walkPottery, settled, toTrace, prove, takeApart } from './helpers';
const shot = async (page: any, name: string) => { await page.waitForTimeout(600); await page.screenshot({ path: `/tmp/shots/${name}.png` }); };
test('ask', async ({ page }) => {
  await draft(page, '12 ways, RCD on 1 to 6, RCD on 7 to 12', 'Glaze store');
  await page.getByRole('radio', { name: /RCD/ }).first().click();
  await shot(page, 'ask1');
  await page.getByTestId('answer-went-G2').click();
  await shot(page, 'ask2');
  await secure(page);
  await page.getByTestId('prove-title').waitFor();
  await shot(page, 'prove1');
  await page.getByTestId('rod').fill('rod in the yard');
  await page.getByRole('radio', { name: 'All on' }).click();
  await shot(page, 'prove2');
  await page.getByTestId('indicator-before').click();
  for (let i = 0; i < 4; i++) await page.getByTestId('zero').click();
  await shot(page, 'prove3');
  const zero = page.getByTestId('zero');
  while (await zero.count()) await zero.click();
  await shot(page, 'prove4');
});
test('boards', async ({ page }) => {
  await walkPottery(page, 'Workshop board'); await settled(page).catch(() => undefined); await shot(page, 'phone-board');
  await walkPottery(page, 'Throwing room ring').catch(() => undefined); await settled(page).catch(() => undefined); await shot(page, 'phone-trace');
  await page.setViewportSize({ width: 1280, height: 800 });
  await walkPottery(page, 'Throwing room ring').catch(() => undefined); await settled(page).catch(() => undefined); await shot(page, 'wide-trace');
  await walkPottery(page, 'Workshop board'); await settled(page).catch(() => undefined); await shot(page, 'wide-board');
});
