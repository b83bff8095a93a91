import { expect, test, type Page } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { settled, walkPottery } from './helpers';

const axe = readFileSync(require.resolve('axe-core/axe.min.js'), 'utf8');

interface Found { readonly id: string; readonly nodes: readonly { readonly html: string }[] }

/** What the checker finds wrong on the page as it stands; it goes in beside the page's own scripts. Its own check of names takes lines that stand under each other for one word. */
async function wrongOn(page: Page): Promise<string[]> {
  await page.evaluate(axe);
  const violations = await page.evaluate(() => (window as unknown as { axe: { run(options: object): Promise<{ violations: Found[] }> } }).axe.run({ rules: { 'label-content-name-mismatch': { enabled: false } } }).then((r) => r.violations));
  return [...violations.map((v) => `${v.id} ×${v.nodes.length}: ${v.nodes[0]?.html.slice(0, 160) ?? ''}`), ...(await namesAmiss(page))];
}

/** Things to press whose name leaves out a word that is seen on them: who says what they see must be understood. */
const namesAmiss = (page: Page): Promise<string[]> =>
  page.evaluate(() => {
    const words = (text: string): string[] => text.toLowerCase().match(/[\p{L}\p{N}.]+/gu) ?? [];
    return [...document.querySelectorAll<HTMLElement>('[role=button][aria-label], [role=tab][aria-label], [role=radio][aria-label], button[aria-label]')].flatMap((e) => {
      const hidden = new Set([...e.querySelectorAll<HTMLElement>('[aria-hidden=true]')].flatMap((h) => words(h.innerText)));
      const name = new Set(words(e.getAttribute('aria-label') ?? ''));
      const missing = words(e.innerText).filter((w) => !name.has(w) && !hidden.has(w));
      return missing.length ? [`“${e.getAttribute('aria-label')}” is seen as “${e.innerText.replace(/\s+/g, ' ')}”`] : [];
    });
  });

for (const [size, viewport] of [['phone', { width: 390, height: 844 }], ['wide', { width: 1280, height: 800 }]] as const)
  for (const light of ['Daylight', 'Loft (dark)'])
    test(`nothing is wrong for who reads the screen otherwise: ${size}, ${light}`, async ({ page }) => {
      await page.setViewportSize(viewport);
      await page.goto('/settings');
      await page.getByRole('radio', { name: light }).click();
      const wrong: Record<string, string[]> = {};
      const check = async (where: string): Promise<void> => {
        const found = await wrongOn(page);
        if (found.length) wrong[where] = found;
      };
      await check('settings');
      await page.goto('/');
      await page.getByTestId('walk-pottery').waitFor();
      await check('no jobs');
      await walkPottery(page, 'Throwing room ring');
      await page.getByTestId('stage-trace').waitFor();
      const job = page.url().replace(/\/[a-z]+$/, '');
      for (const stage of ['ask', 'map', 'live', 'dead', 'trace', 'right', 'over']) {
        await page.goto(`${job}/${stage}`);
        await page.getByTestId(`stage-${stage}`).waitFor();
        if (stage === 'trace') await settled(page);
        await page.waitForTimeout(500);
        await check(stage);
      }
      await page.goto(`${job}/trace`);
      await settled(page);
      await page.locator('[data-testid^="row-p"]').first().click();
      await check('a point');
      await page.goto('/');
      await page.getByTestId('job-Workshop board').click();
      await page.getByTestId('stage-trace').click();
      await settled(page);
      await check('board');
      await page.locator('[data-testid^="cell-"]').first().click();
      await page.getByTestId('pad').waitFor();
      await check('pad');
      await page.goto('/');
      await page.getByTestId('new-job').waitFor();
      await check('jobs');
      await page.goto('/new');
      await page.getByTestId('start-job').waitFor();
      await check('new job');
      expect(wrong).toEqual({});
    });
