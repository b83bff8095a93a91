import { expect, type Locator, type Page } from '@playwright/test';

/** Taps and typed characters of a stretch of work; seconds reckoned at 1.5 a tap and 0.4 a character. */
export class Effort {
  taps = 0;
  characters = 0;

  constructor(readonly page: Page) {}

  async tap(target: Locator): Promise<void> {
    this.taps++;
    await target.click();
  }

  async type(target: Locator, text: string): Promise<void> {
    this.taps++;
    this.characters += text.length;
    await target.fill(text);
  }

  get seconds(): number {
    return this.taps * 1.5 + this.characters * 0.4;
  }
}

/** Drafts a new job by phrase or by count and opens it at Ask. */
export async function draft(page: Page, phrase: string, name = ''): Promise<void> {
  await page.goto('/new');
  await page.getByTestId('phrase').fill(phrase);
  if (name) await page.getByTestId('name').fill(name);
  await page.getByTestId('start-job').click();
  await page.getByTestId('complaint').waitFor();
}

/** Waits until the last entry is kept: until then the screen says "saving". */
export async function kept(page: Page): Promise<void> {
  await expect(page.getByTestId('saving')).toHaveCount(0);
}

export async function walkPottery(page: Page, job: string): Promise<void> {
  await page.goto('/');
  await page.getByTestId('walk-pottery').click();
  await page.getByTestId(`job-${job}`).click();
}

export async function hold(target: Locator): Promise<void> {
  await target.scrollIntoViewIfNeeded();
  const box = await target.boundingBox();
  if (!box) throw new Error('nothing to hold');
  const { mouse } = target.page();
  await mouse.move(box.x + box.width / 2, box.y + box.height / 2);
  await mouse.down();
  await target.page().waitForTimeout(750);
  await mouse.up();
}

/** Holds until it is gone, as a person would: the next item moves up into its place, so one looks before holding again. */
async function holdAway(target: Locator): Promise<void> {
  for (let i = 0; i < 3 && (await target.count()); i++) {
    await hold(target);
    await expect(target).toHaveCount(0, { timeout: 4000 }).catch(() => undefined);
  }
  await expect(target).toHaveCount(0);
}

export async function secure(page: Page): Promise<void> {
  await page.getByTestId('stage-dead').click();
  for (const t of ['permission', 'off', 'locked']) await page.getByTestId(t).click();
  await page.getByTestId('key').fill('with me');
  await page.getByTestId('secure').click();
}

/** Prove, every pair at 0 V, prove again, at the point that the screen shows. */
export async function prove(page: Page): Promise<void> {
  await page.getByTestId('prove-title').waitFor();
  const rod = page.getByTestId('rod');
  if (await rod.count()) await rod.fill('rod in the yard');
  const on = page.getByRole('radio', { name: 'All on' });
  if (await on.count()) await on.click();
  await page.getByTestId('indicator-before').click();
  const zero = page.getByTestId('zero');
  await zero.waitFor();
  while (await zero.count()) await zero.click();
  await page.getByTestId('indicator-after').click();
}

/** Makes the job dead if it is not, and waits in Trace until the plan stands. */
export async function toTrace(page: Page): Promise<void> {
  await page.getByTestId('stage-dead').click();
  if (await page.getByTestId('permission').count()) {
    await secure(page);
    await prove(page);
  }
  await page.getByTestId('stage-trace').click();
  await settled(page);
}

/** Everything out at the board, loads out. */
export async function takeApart(page: Page): Promise<void> {
  await page.getByTestId('state-bar').click();
  await hold(page.getByTestId('board-out'));
  if (await page.getByTestId('loads-out').count()) await hold(page.getByTestId('loads-out'));
  await closeSheet(page);
}

export async function closeSheet(page: Page): Promise<void> {
  await page.getByRole('dialog').getByRole('button', { name: 'Close' }).last().click();
}

/** Waits until the plan stands still. */
export async function settled(page: Page): Promise<void> {
  await expect(page.getByTestId('next-step')).not.toContainText(/Working out|checking/, { timeout: 30_000 });
}

/** Follows the next step with the practice tester until a verdict; gives its words. */
export async function hunt(page: Page, mostSteps = 30): Promise<string> {
  for (let i = 0; i < mostSteps; i++) {
    await settled(page);
    const verdict = page.getByTestId('verdict');
    if (await verdict.count()) return (await verdict.textContent()) ?? '';
    await page.getByTestId('do-step').click();
    await doStep(page);
  }
  throw new Error('no verdict');
}

async function doStep(page: Page): Promise<void> {
  for (let k = 0; k < 24; k++) {
    await page.waitForTimeout(150);
    if (await page.getByTestId('pad').count()) {
      await readAndKeep(page);
      return;
    } else if (await page.getByTestId('prove-title').count()) {
      await prove(page);
      return;
    } else if (await page.getByTestId('make-dead').count()) await page.getByTestId('make-dead').click();
    else if (await page.getByTestId('do-action').count()) await hold(page.getByTestId('do-action').first());
    else if (await page.getByTestId('enter-reading').count()) await page.getByTestId('enter-reading').click();
    else return;
  }
}

/** Reads the open pad, and those that follow it, with the practice tester; a doubtful unit is said back once. */
async function readAndKeep(page: Page): Promise<void> {
  const pad = page.getByTestId('pad');
  const state = async (): Promise<string> => {
    if ((await pad.count()) === 0) return 'closed';
    if (await page.getByTestId('doubtful').count()) return 'doubtful';
    return (await page.getByTestId('pad-value').textContent({ timeout: 1000 }).catch(() => '')) ? 'filled' : 'next';
  };
  for (let i = 0; i < 12; i++) {
    await page.getByTestId('practice').click();
    await expect.poll(state).toBe('filled');
    await page.getByTestId('keep').click();
    await expect.poll(state).not.toBe('filled');
    if ((await state()) === 'doubtful') {
      await page.getByTestId('keep').click();
      await expect.poll(state).not.toBe('doubtful');
    }
    if ((await state()) === 'closed') return;
  }
}

/** Puts every end on the list back, hold after hold. */
export const putBackEnds = (page: Page): Promise<void> => holdAll(page, 'back-');

/** The covers, when what is read behind them has been read. */
export const coversOn = (page: Page): Promise<void> => holdAll(page, 'cover-');

async function holdAll(page: Page, prefix: string): Promise<void> {
  for (let i = 0; i < 30; i++) {
    const item = page.locator(`[data-testid^="${prefix}"]`).first();
    if ((await item.count()) === 0) return;
    await holdAway(page.getByTestId((await item.getAttribute('data-testid')) ?? ''));
  }
}

/** Reads with the practice tester every retest that the state of the work allows; takes covers off and proves points that it needs. */
export async function readRetests(page: Page): Promise<void> {
  const first = (selector: string): Locator => page.locator(selector).first();
  for (let i = 0; i < 60; i++) {
    if (await page.getByTestId('prove-title').count()) await prove(page);
    else if (await first('[data-testid^="read-"]:not([aria-disabled="true"])').count()) {
      await first('[data-testid^="read-"]:not([aria-disabled="true"])').click();
      await readAndKeep(page);
    } else if (await first('[data-testid^="uncover-"]').count()) await hold(first('[data-testid^="uncover-"]'));
    else if (await first('[data-testid^="make-dead-"]').count()) {
      await first('[data-testid^="make-dead-"]').click();
      await page.getByTestId('prove-title').waitFor();
    } else if (await page.getByTestId('proof').count()) return;
    else await page.waitForTimeout(200);
  }
}

/** Leads on two ends of the first cable at the board, and the pad open. */
export async function openPadAtBoard(page: Page, second = 'E'): Promise<void> {
  await page.getByTestId('stage-trace').click();
  await page.getByTestId('row-p0#1').click();
  await page.getByTestId('lead-s1@a:L').click();
  await page.getByTestId('row-p0#1').click();
  await page.getByTestId(`lead-s1@a:${second}`).click();
  await page.getByTestId('tray-enter').click();
  await page.getByTestId('pad').waitFor();
}
