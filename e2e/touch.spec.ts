import { expect, test, type CDPSession, type Page } from '@playwright/test';
import { draft, toTrace } from './helpers';

declare global {
  interface Window {
    /** Where clicks came through, by test id. */
    tapped?: string[];
  }
}

test.use({ hasTouch: true, isMobile: true });

/** A thumb that stays on a place for so long. */
async function thumb(page: Page, cdp: CDPSession, at: { x: number; y: number }, ms: number): Promise<void> {
  await cdp.send('Input.dispatchTouchEvent', { type: 'touchStart', touchPoints: [at] });
  await page.waitForTimeout(ms);
  await cdp.send('Input.dispatchTouchEvent', { type: 'touchEnd', touchPoints: [] });
  await page.waitForTimeout(300);
}

const tapped = (page: Page): Promise<string[]> => page.evaluate(() => window.tapped ?? []);

test('a thumb that holds does one thing: what comes to lie under it is not tapped when it lets go', async ({ page }) => {
  await draft(page, '4 ways, RCD on 1 to 4');
  await toTrace(page);
  await page.getByTestId('way-2').tap();
  const pull = page.getByTestId('pull-N');
  await pull.scrollIntoViewIfNeeded();
  await page.evaluate(() => {
    const tapped: string[] = [];
    window.tapped = tapped;
    document.body.addEventListener('click', (e) => tapped.push((e.target as HTMLElement).closest('[data-testid]')?.getAttribute('data-testid') ?? 'nothing'), true);
  });
  const box = await pull.boundingBox();
  if (!box) throw new Error('nothing to hold');
  const cdp = await page.context().newCDPSession(page);
  await thumb(page, cdp, { x: box.x + box.width / 2, y: box.y + box.height / 2 }, 900);
  // Its neutral is out; the sheet went with it, and nothing that lay below was pressed.
  await expect(page.getByTestId('way-sheet')).toHaveCount(0);
  expect((await tapped(page)).filter((x) => x !== 'pull-N')).toEqual([]);
  await expect(page.getByTestId('pad')).toHaveCount(0);
  await page.getByTestId('way-2').tap();
  await expect(page.getByTestId('pull-N')).toContainText('back in its bar');
  // A thumb that only brushes it does nothing.
  const again = await page.getByTestId('pull-N').boundingBox();
  if (again) await thumb(page, cdp, { x: again.x + again.width / 2, y: again.y + again.height / 2 }, 150);
  await expect(page.getByTestId('pull-N')).toContainText('back in its bar');
});
