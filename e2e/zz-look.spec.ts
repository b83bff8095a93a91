import { test } from '@playwright/test';
import { hunt, walkPottery, toTrace } from './helpers';
test.describe('phone', () => {
  test.use({ viewport: { width: 390, height: 844 } });
  test('look', async ({ page }) => {
    test.setTimeout(240000);
    await page.goto('/');
    await page.getByTestId('walk-pottery').click();
    await page.getByTestId('job-Workshop board').waitFor();
    await page.screenshot({ path: '/tmp/phone-jobs.png' });
    await page.getByTestId('job-Shop sockets').click();
    await page.waitForTimeout(2000);
    await page.screenshot({ path: '/tmp/phone-over.png' });
    await page.goto('/');
    await page.getByTestId('job-Throwing room ring').click();
    await page.getByTestId('next-step').waitFor();
    await page.waitForTimeout(2500);
    await page.screenshot({ path: '/tmp/phone-trace.png' });
    await page.getByTestId('open-suspects').click();
    await page.waitForTimeout(600);
    await page.screenshot({ path: '/tmp/phone-suspects.png' });
    await page.goto('/');
    await page.getByTestId('job-Office board').click();
    await page.waitForTimeout(2500);
    await page.screenshot({ path: '/tmp/phone-office.png', fullPage: false });
    await page.goto('/');
    await page.getByTestId('job-Drying room board').click();
    await page.waitForTimeout(2500);
    await page.screenshot({ path: '/tmp/phone-drying.png' });
  });
  test('verdict', async ({ page }) => {
    test.setTimeout(240000);
    await walkPottery(page, 'Kiln hood');
    await toTrace(page);
    await hunt(page);
    await page.waitForTimeout(800);
    await page.screenshot({ path: '/tmp/phone-verdict.png' });
  });
});
test.describe('wide', () => {
  test.use({ viewport: { width: 1280, height: 800 } });
  test('look', async ({ page }) => {
    test.setTimeout(240000);
    await page.goto('/');
    await page.getByTestId('walk-pottery').click();
    await page.getByTestId('job-Workshop board').waitFor();
    await page.screenshot({ path: '/tmp/wide-jobs.png' });
    await page.getByTestId('job-Throwing room ring').click();
    await page.getByTestId('next-step').waitFor();
    await page.waitForTimeout(3000);
    await page.screenshot({ path: '/tmp/wide-trace.png' });
  });
});
