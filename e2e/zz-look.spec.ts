import { test } from '@playwright/test';
import { draft, settled, walkPottery, toTrace, takeApart, hunt } from './helpers';

test('flicker', async ({ page }) => {
  await draft(page, '12 ways, RCBOs on 1 to 12');
  await page.getByRole('radio', { name: /flicker/i }).click();
  await page.getByTestId('stage-trace').click();
  await settled(page);
  await page.waitForTimeout(1500);
  await page.screenshot({ path: '/tmp/a1.png' });
});
test('verdict', async ({ page }) => {
  await walkPottery(page, 'Glaze shelf');
  await toTrace(page);
  await takeApart(page);
  console.log(await hunt(page));
  await page.screenshot({ path: '/tmp/a2.png' });
});
