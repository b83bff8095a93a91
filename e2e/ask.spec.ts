import { expect, test } from '@playwright/test';
import { draft, Effort, kept } from './helpers';

/** From the first tap on Ask: taps to the first advice, and to the end of the interview with every question answered. */
for (const complaint of ['RCD trips', 'MCB trips or fuse blows', 'All or part is dead', 'Shock or tingle', 'Flicker or heat'])
  test(`“${complaint}”: first advice within 4 taps, the whole interview within 12 taps and 60 seconds`, async ({ page }) => {
    await draft(page, 'lights, 6, one switch');
    const effort = new Effort(page);
    await effort.tap(page.getByRole('radio', { name: complaint }));
    await expect(page.getByTestId('first-advice')).toBeVisible();
    const first = effort.taps;
    const question = page.getByTestId('question');
    for (let i = 0; i < 12 && (await question.count()); i++) {
      const words = await question.textContent();
      await effort.tap(question.getByRole('button').first());
      await expect(question.filter({ hasText: words ?? '' })).toHaveCount(0);
    }
    await expect(page.getByTestId('likely-now')).toContainText('%');
    await effort.tap(page.getByTestId('seen-screws'));
    await effort.tap(page.getByRole('dialog').getByRole('button', { name: 'Light 2' }));
    console.log(`${complaint}: first advice after ${first} taps; the interview with one thing seen ${effort.taps} taps, ${effort.seconds.toFixed(1)} s`);
    expect(first).toBeLessThanOrEqual(4);
    expect(effort.taps).toBeLessThanOrEqual(12);
    expect(effort.seconds).toBeLessThanOrEqual(60);
    await expect(page.getByTestId('where-screws')).toContainText('Light 2');
    await kept(page);
    await page.reload();
    await expect(page.getByTestId('where-screws')).toContainText('Light 2');
  });
