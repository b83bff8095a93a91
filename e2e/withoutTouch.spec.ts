import { expect, test, type Locator, type Page } from '@playwright/test';
import { settled, walkPottery } from './helpers';

// One whole hunt by the keyboard alone, and one by clicks and focus alone, as a screen reader makes them: no pointer anywhere.

interface Way { press(target: Locator): Promise<void>; hold(target: Locator): Promise<void>; type(target: Locator, text: string): Promise<void> }

/** Goes on with Tab until the target has the focus, as long as a page may take. */
async function tabTo(page: Page, target: Locator): Promise<void> {
  for (let i = 0; i < 160; i++) {
    if (await target.evaluate((e) => e === document.activeElement)) return;
    await page.keyboard.press('Tab');
  }
  throw new Error('Tab does not lead there');
}

const byKeyboard = (page: Page): Way => ({
  press: async (target) => {
    await tabTo(page, target);
    await page.keyboard.press('Enter');
  },
  hold: async (target) => {
    await tabTo(page, target);
    await page.keyboard.press('Enter');
  },
  type: async (target, text) => {
    await tabTo(page, target);
    await page.keyboard.type(text);
  },
});

const byClicks = (): Way => ({
  press: (target) => target.evaluate((e: HTMLElement) => { e.focus(); e.click(); }),
  hold: async (target) => {
    await target.evaluate((e: HTMLElement) => { e.focus(); e.click(); });
    await expect(target).toHaveAttribute('aria-label', /sure\?/);
    await target.evaluate((e: HTMLElement) => e.click());
  },
  type: async (target, text) => {
    await target.focus();
    await target.fill(text);
  },
});

async function makeDead(page: Page, way: Way): Promise<void> {
  for (const t of ['permission', 'off', 'locked']) if (await page.getByTestId(t).count()) await way.press(page.getByTestId(t));
  if (await page.getByTestId('key').count()) await way.type(page.getByTestId('key'), 'with me');
  if (await page.getByTestId('secure').count()) await way.press(page.getByTestId('secure'));
}

async function proveDead(page: Page, way: Way): Promise<void> {
  await page.getByTestId('prove-title').waitFor();
  const rod = page.getByTestId('rod');
  if ((await rod.count()) && (await rod.inputValue()) === '') await way.type(rod, 'rod in the yard');
  const on = page.getByRole('radio', { name: 'All on' });
  if (await on.count()) await way.press(on);
  await way.press(page.getByTestId('indicator-before'));
  const zero = page.getByTestId('zero');
  while (await zero.count()) await way.press(zero);
  await way.press(page.getByTestId('indicator-after'));
}

async function follow(page: Page, way: Way): Promise<string> {
  for (let i = 0; i < 60; i++) {
    await page.waitForTimeout(200);
    if (await page.getByTestId('pad').count()) {
      await way.press(page.getByTestId('practice'));
      await way.press(page.getByTestId('keep'));
      if (await page.getByTestId('doubtful').count()) await way.press(page.getByTestId('keep'));
      await expect(page.getByTestId('pad')).toHaveCount(0);
    } else if (await page.getByTestId('prove-title').count()) await proveDead(page, way);
    else if (await page.getByTestId('permission').count()) await makeDead(page, way);
    else if (await page.getByTestId('make-dead').count()) await way.press(page.getByTestId('make-dead'));
    else if (await page.getByTestId('do-action').count()) await way.hold(page.getByTestId('do-action').first());
    else if (await page.getByTestId('enter-reading').count()) await way.press(page.getByTestId('enter-reading'));
    else if (await page.getByTestId('next-step').count()) {
      await settled(page);
      const verdict = page.getByTestId('verdict');
      if (await verdict.count()) return (await verdict.textContent()) ?? '';
      await way.press(page.getByTestId('do-step'));
    } else await way.press(page.getByTestId('stage-trace'));
  }
  throw new Error('no verdict');
}

for (const [name, way] of [['the keyboard alone', byKeyboard], ['clicks and focus alone', byClicks]] as const)
  test(`a hunt by ${name}`, async ({ page }) => {
    test.setTimeout(240_000);
    await page.setViewportSize({ width: 1280, height: 800 });
    await walkPottery(page, 'Throwing room ring');
    await page.getByTestId('stage-trace').waitFor();
    await way(page).press(page.getByTestId('stage-trace'));
    await page.getByTestId('next-step').waitFor();
    expect(await follow(page, way(page))).toMatch(/N (end loose|broken).*Pug mill/);
  });

test('the focus goes into what opens and comes back to where it was', async ({ page }) => {
  await page.setViewportSize({ width: 1280, height: 800 });
  await walkPottery(page, 'Throwing room ring');
  await page.getByTestId('stage-trace').waitFor();
  await page.getByTestId('stage-trace').focus();
  await page.keyboard.press('Enter');
  await settled(page);
  for (const [opens, inside] of [['state-bar', '[role=dialog]'], ['row-p3', '[role=dialog]']] as const) {
    await page.getByTestId(opens).first().focus();
    await page.keyboard.press('Enter');
    await expect(page.getByRole('dialog')).toBeVisible();
    await expect.poll(() => page.evaluate((within) => document.activeElement?.closest(within) !== null, inside)).toBe(true);
    await page.keyboard.press('Escape');
    await expect(page.getByRole('dialog')).toHaveCount(0);
    await expect.poll(() => page.evaluate(() => document.activeElement?.getAttribute('data-testid'))).toBe(opens);
  }
});
