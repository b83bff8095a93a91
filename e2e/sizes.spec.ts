import { expect, test, type Locator, type Page } from '@playwright/test';
import { draft, openPadAtBoard, settled, walkPottery } from './helpers';

// The usual phone, a small one, a phone with the keyboard's strip of the browser, a phone on its side, and a page zoomed to twice its size.
const sizes = [[390, 844], [320, 568], [360, 560], [844, 390], [640, 400]] as const;

const whole = async (target: Locator, page: Page): Promise<boolean> => {
  const box = await target.boundingBox();
  const size = page.viewportSize();
  return box !== null && size !== null && box.x >= 0 && box.y >= 0 && box.x + box.width <= size.width + 0.5 && box.y + box.height <= size.height + 0.5;
};

/** Rows of the picture whose middle nothing covers. */
const rowsInSight = (page: Page, start: string): Promise<number> =>
  page.evaluate((id) => [...document.querySelectorAll(`[data-testid^="${id}"]`)].filter((row) => {
    const { left, top, width, height } = row.getBoundingClientRect();
    const [x, y] = [left + width / 2, top + height / 2];
    const at = y > 0 && y < window.innerHeight ? document.elementFromPoint(x, y) : null;
    return at !== null && (row === at || row.contains(at));
  }).length, start);

for (const [width, height] of sizes) {
  test(`at ${width} by ${height} the next step, two rows of the circuit, and the whole pad are in reach`, async ({ page }) => {
    await page.setViewportSize({ width, height });
    await draft(page, 'radial, 5');
    await page.getByTestId('stage-trace').click();
    await settled(page);
    await expect(page.getByTestId('do-step')).toBeVisible();
    expect(await whole(page.getByTestId('do-step'), page)).toBe(true);
    expect(await rowsInSight(page, 'row-p')).toBeGreaterThanOrEqual(2);
    for (const stage of ['ask', 'over']) expect(await whole(page.getByTestId(`stage-${stage}`), page)).toBe(true);
    await openPadAtBoard(page);
    for (const id of ['pad-value', 'key-7', 'key-0', 'key-⌫', 'key-climbing', 'unit-Ω', 'keep']) expect({ id, whole: await whole(page.getByTestId(id), page) }).toEqual({ id, whole: true });
    const small = await page.getByTestId('pad').getByRole('button').evaluateAll((all) => all.map((b) => b.getBoundingClientRect()).filter((r) => r.width < 43.5 || r.height < 43.5).length);
    expect(small).toBe(0);
  });

  test(`at ${width} by ${height} the circuit stays in sight with both leads in hand, and the reading can be entered`, async ({ page }) => {
    await page.setViewportSize({ width, height });
    await draft(page, 'radial, 5');
    await page.getByTestId('stage-trace').click();
    await settled(page);
    await page.getByTestId('row-p0#1').click();
    await page.getByTestId('lead-s1@a:L').click();
    await page.getByTestId('row-p0#1').click();
    await page.getByTestId('lead-s1@a:E').click();
    expect(await whole(page.getByTestId('tray-enter'), page)).toBe(true);
    expect(await rowsInSight(page, 'row-p')).toBeGreaterThanOrEqual(2);
    await page.getByRole('button', { name: 'Lay aside' }).click();
    await expect(page.getByTestId('tray-enter')).toHaveCount(0);
  });

  test(`at ${width} by ${height} the ways of a board and the next step are in sight together`, async ({ page }) => {
    await page.setViewportSize({ width, height });
    await draft(page, '8 ways, RCD on all');
    await page.getByTestId('stage-trace').click();
    await settled(page);
    expect(await rowsInSight(page, 'cell-')).toBeGreaterThanOrEqual(4);
    const main = page.getByTestId('next-step').getByRole('button').last();
    expect(await whole(main, page)).toBe(true);
  });
}

/** Controls that run out of the page to its right. */
const runOut = (page: Page, inside: string): Promise<string[]> =>
  page.evaluate((within) => [...document.querySelectorAll(within)].flatMap((part) => [...part.querySelectorAll('[role="button"], [role="radio"], [role="checkbox"]')]).filter((b) => b.getBoundingClientRect().right > window.innerWidth + 1).map((b) => b.textContent ?? ''), inside);

test('with words of twice the size the next step, two rows of the circuit or the board, and the whole pad are in reach, and nothing runs out of the page', async ({ page }) => {
  await page.addInitScript(() => localStorage.setItem('gutter-text', '200'));
  await draft(page, '8 ways, RCD on all');
  await page.getByTestId('stage-trace').click();
  await settled(page);
  expect(await rowsInSight(page, 'cell-')).toBeGreaterThanOrEqual(4);
  expect(await whole(page.getByTestId('next-step').getByRole('button').last(), page)).toBe(true);
  expect(await runOut(page, '[role="main"]')).toEqual([]);
  await draft(page, 'radial, 5');
  await page.getByTestId('stage-trace').click();
  await settled(page);
  expect(await page.getByTestId('step-title').evaluate((t) => parseFloat(getComputedStyle(t).fontSize))).toBeGreaterThanOrEqual(32);
  expect(await whole(page.getByTestId('do-step'), page)).toBe(true);
  expect(await rowsInSight(page, 'row-p')).toBeGreaterThanOrEqual(2);
  await openPadAtBoard(page);
  for (const id of ['pad-value', 'key-7', 'key-0', 'key-⌫', 'key-climbing', 'unit-Ω', 'fn-500', 'keep']) expect({ id, whole: await whole(page.getByTestId(id), page) }).toEqual({ id, whole: true });
  expect(await runOut(page, '[data-testid="pad"]')).toEqual([]);
  await page.keyboard.press('Escape');
  for (const stage of ['ask', 'live', 'dead', 'right', 'over', 'trace']) {
    const tab = page.getByTestId(`stage-${stage}`);
    await tab.click();
    await expect(tab).toHaveAttribute('aria-selected', 'true');
    await expect.poll(() => whole(tab, page)).toBe(true);
    expect({ stage, out: await runOut(page, '[role="main"]') }).toEqual({ stage, out: [] });
  }
});

test('on its side, with words of twice the size, what is to be done and the keys are in reach', async ({ page }) => {
  await page.setViewportSize({ width: 844, height: 390 });
  await page.addInitScript(() => localStorage.setItem('gutter-text', '200'));
  await draft(page, 'radial, 5');
  await page.getByTestId('stage-trace').click();
  await settled(page);
  expect(await whole(page.getByTestId('do-step'), page)).toBe(true);
  expect(await runOut(page, '[role="banner"], [role="main"]')).toEqual([]);
  await openPadAtBoard(page);
  for (const id of ['pad-value', 'key-7', 'key-0', 'key-⌫', 'unit-Ω', 'keep']) expect({ id, whole: await whole(page.getByTestId(id), page) }).toEqual({ id, whole: true });
  // The rest stands beside the keys, and scrolls.
  await page.getByTestId('key-climbing').click();
  expect(await whole(page.getByTestId('key-climbing'), page)).toBe(true);
});

for (const [width, height] of sizes)
  test(`at ${width} by ${height} the names of ways can be told apart`, async ({ page }) => {
    await page.setViewportSize({ width, height });
    await walkPottery(page, 'Shop board');
    await page.getByTestId('stage-trace').click();
    const ways = page.locator('[data-testid^="way-"]:not([data-testid^="way-row"])');
    await ways.first().waitFor();
    const cut = await ways.evaluateAll((all) => all.map((w) => w.firstElementChild).filter((name) => name !== null && (name.scrollWidth > name.clientWidth + 1 || name.scrollHeight > name.clientHeight + 1)).map((name) => name?.textContent));
    expect(cut).toEqual([]);
  });

test('the size of words is chosen in the settings, at once and for the next time; what the browser is set to counts as well', async ({ page }) => {
  await page.goto('/settings');
  const title = page.getByRole('heading', { name: 'Settings' });
  const px = (): Promise<number> => title.evaluate((t) => parseFloat(getComputedStyle(t).fontSize));
  const usual = await px();
  await page.getByRole('radio', { name: '150 %' }).click();
  expect(await px()).toBeCloseTo(1.5 * usual, 3);
  await page.reload();
  expect(await px()).toBeCloseTo(1.5 * usual, 3);
  await page.getByRole('radio', { name: '100 %' }).click();
  await page.addInitScript(() => document.addEventListener('readystatechange', () => void (document.documentElement.style.fontSize ||= '24px')));
  await page.reload();
  expect(await px()).toBeCloseTo(1.5 * usual, 3);
});
