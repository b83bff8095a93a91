import { expect, test, type Page } from '@playwright/test';
import { draft, openPadAtBoard } from './helpers';

const key = async (page: Page, text: string): Promise<void> => {
  for (const c of text) await page.getByTestId(`key-${c}`).click();
};

const refuseStorage = (page: Page): Promise<void> =>
  page.evaluate(() => {
    const put = IDBObjectStore.prototype.put;
    Object.assign(window, { allowAgain: () => { IDBObjectStore.prototype.put = put; } });
    IDBObjectStore.prototype.put = () => {
      throw new DOMException('full', 'QuotaExceededError');
    };
  });

test('an entry that storage refused stays with its job across screens, is told in the list, and the page asks before it is left', async ({ page }) => {
  await draft(page, 'radial, 3', 'Full phone');
  await refuseStorage(page);
  await openPadAtBoard(page);
  await key(page, '0.2');
  await page.getByTestId('keep').click();
  await expect(page.getByTestId('refused')).toBeVisible();
  await page.getByRole('button', { name: 'All jobs' }).click();
  await expect(page.getByTestId('unkept')).toContainText('“Full phone” are not kept');
  // The browser asks for itself; what matters is that it was told to.
  const asks = await page.evaluate(() => !window.dispatchEvent(new Event('beforeunload', { cancelable: true })));
  expect(asks).toBe(true);
  await page.getByTestId('job-Full phone').click();
  await page.getByTestId('stage-trace').click();
  await page.getByTestId('open-readings').click();
  await expect(page.getByTestId('readings')).toContainText('0.2 MΩ');
  await page.keyboard.press('Escape');
  await page.evaluate(() => (window as unknown as { allowAgain(): void }).allowAgain());
  await page.getByRole('button', { name: 'Try to keep it again' }).click();
  await expect(page.getByTestId('refused')).toHaveCount(0);
  expect(await page.evaluate(() => !window.dispatchEvent(new Event('beforeunload', { cancelable: true })))).toBe(false);
  await page.reload();
  await page.getByTestId('open-readings').click();
  await expect(page.getByTestId('readings')).toContainText('0.2 MΩ');
});

test('a job that another tab has in hand is neither renamed nor deleted from the list, and says why; then it is, and the other tab hears', async ({ page, context }) => {
  await draft(page, 'radial, 3', 'Two tabs');
  const list = await context.newPage();
  await list.goto('/');
  await list.getByRole('button', { name: 'More about Two tabs' }).click();
  await list.getByRole('button', { name: 'Delete' }).click();
  await expect(list.getByTestId('problem')).toContainText('open in another tab');
  await list.keyboard.press('Escape');
  await expect(list.getByTestId('job-Two tabs')).toBeVisible();
  // A third tab reads; the first goes to its list and deletes there.
  const reader = await context.newPage();
  await reader.goto(page.url());
  await expect(reader.getByTestId('reading-only')).toBeVisible();
  await page.getByRole('button', { name: 'All jobs' }).click();
  await page.getByRole('button', { name: 'More about Two tabs' }).click();
  await page.getByRole('button', { name: 'Delete' }).click();
  await expect(page.getByTestId('undo')).toBeVisible();
  await expect(reader.getByTestId('deleted-elsewhere')).toContainText('deleted in another tab');
  await expect(list.getByTestId('job-Two tabs')).toHaveCount(0);
});

test('what is half typed in a tab that reads stays there when the other one writes, and when this one takes over', async ({ page, context }) => {
  await draft(page, 'radial, 3');
  await page.getByTestId('stage-over').click();
  const reader = await context.newPage();
  await reader.goto(page.url());
  await expect(reader.getByTestId('reading-only')).toBeVisible();
  const typed = reader.getByLabel('What', { exact: true });
  await typed.fill('half a sentence');
  await page.getByLabel('What', { exact: true }).fill('of the other tab');
  await page.getByRole('button', { name: 'Add', exact: true }).click();
  await expect(reader.getByTestId('report')).toContainText('of the other tab');
  await expect(typed).toHaveValue('half a sentence');
  await reader.getByRole('button', { name: 'Take over here' }).click();
  await expect(reader.getByTestId('reading-only')).toHaveCount(0);
  await expect(typed).toHaveValue('half a sentence');
  await reader.getByRole('button', { name: 'Add', exact: true }).click();
  await expect(reader.getByTestId('report')).toContainText('half a sentence');
  await expect(page.getByTestId('report')).toContainText('half a sentence');
});

test('without the browser’s locks one tab writes all the same, the other reads and may take over', async ({ page, context }) => {
  await context.addInitScript(() => Object.defineProperty(Navigator.prototype, 'locks', { value: undefined }));
  await draft(page, 'radial, 3');
  const second = await context.newPage();
  await second.goto(page.url());
  await expect(second.getByTestId('reading-only')).toBeVisible();
  await second.getByRole('button', { name: 'Take over here' }).click();
  await expect(second.getByTestId('reading-only')).toHaveCount(0);
  await expect(page.getByTestId('reading-only')).toBeVisible();
  // Whoever goes leaves the job free.
  await second.close();
  const third = await context.newPage();
  await third.goto(page.url());
  await expect(third.getByTestId('reading-only')).toHaveCount(0);
});

test('settings say where the jobs are, whether they stay, and what was taken out last', async ({ page }) => {
  await page.goto('/settings');
  await expect(page.getByTestId('kept-here')).toContainText('on this device, in this browser, and nowhere else');
  await expect(page.getByTestId('kept-here')).toContainText('Nothing was exported from here yet');
});
