import { expect, test, type Page } from '@playwright/test';
import { draft, Effort, kept, walkPottery } from './helpers';

async function planned(page: Page): Promise<void> {
  await expect(page.getByTestId('live-next')).not.toContainText(/Working out|checking/, { timeout: 30_000 });
}

test('reset routine on eight ways: all off, then one tap a way; the way that trips it stands out', async ({ page }) => {
  await draft(page, '8 ways, RCD on 1 to 8');
  await page.getByRole('radio', { name: 'RCD trips' }).click();
  await page.getByTestId('stage-live').click();
  const effort = new Effort(page);
  await effort.tap(page.getByTestId('all-off'));
  for (let w = 1; w <= 4; w++) await effort.tap(page.getByTestId(`holds-w${w}`));
  await effort.tap(page.getByTestId('at-once-w5'));
  await expect(page.getByTestId('device-w5')).toContainText(/\d\d(\.\d)? %/, { timeout: 15_000 });
  await expect(page.getByTestId('device-G1')).toContainText('tripped with Way 5');
  console.log(`reset routine to the way that trips: ${effort.taps} taps, ${effort.seconds.toFixed(1)} s`);
  expect(effort.taps).toBeLessThanOrEqual(8);
  await kept(page);
  await page.reload();
  await expect(page.getByTestId('device-w5')).toContainText('RCD 1 trips at once');
});

for (const size of [{ name: 'phone', width: 390, height: 844 }, { name: 'wide', width: 1280, height: 800 }])
  test(`kiln leakage, ${size.name}: the practice board is worked until leakage that adds up leads, and the budget shows it`, async ({ page }) => {
    await page.setViewportSize(size);
    await walkPottery(page, 'Kiln room board');
    await page.getByTestId('stage-live').click();
    const follow = async (steps: number): Promise<void> => {
      for (let i = 0; i < steps; i++) {
        await planned(page);
        if ((await page.getByTestId('live-do').count()) === 0) break;
        await page.getByTestId('live-do').click();
        await page.getByTestId('live-practice').click();
      }
    };
    // All off, and ways back one by one as long as the device carries them: what runs then is clamped.
    await follow(4);
    await page.getByRole('radio', { name: 'Leakage' }).click();
    for (const around of ['clamp-G1', 'clamp-w1', 'clamp-w2', 'clamp-w3']) {
      await page.getByTestId(around).click();
      await page.getByTestId('live-practice').click();
    }
    await expect(page.getByTestId('finding-G1-standingHigh')).toBeVisible();
    await page.getByRole('radio', { name: 'Reset' }).click();
    await follow(12);
    await page.getByTestId('stage-trace').click();
    if (size.name === 'phone') await page.getByTestId('open-suspects').click();
    await expect(page.getByTestId('suspects')).toContainText('adds up', { timeout: 20_000 });
  });

test('a circuit is drawn into its board and gone into; what was read at the board stays', async ({ page }) => {
  await draft(page, '4 ways');
  await page.getByTestId('stage-map').click();
  await page.getByTestId('map-way-w2').click();
  const effort = new Effort(page);
  await effort.type(page.getByTestId('circuit-phrase'), 'ring, 6');
  await effort.tap(page.getByTestId('draw-it'));
  await expect(page.getByTestId('map-way-w2')).toContainText('ring, 6');
  console.log(`a circuit drawn into its board: ${effort.taps} taps, ${effort.seconds.toFixed(1)} s`);
  await page.getByTestId('stage-trace').click();
  await page.getByTestId('way-2').click();
  await page.getByTestId('go-inside').click();
  await expect(page.getByTestId('strip')).toContainText('Way 2 outlet 6');
  await page.getByTestId('to-board').click();
  await expect(page.getByTestId('board-grid')).toBeVisible();
});
