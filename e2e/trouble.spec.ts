import { expect, test, type Page } from '@playwright/test';
import { draft, openPadAtBoard, prove, secure, settled, takeApart, walkPottery } from './helpers';

const key = async (page: Page, text: string): Promise<void> => {
  for (const c of text) await page.getByTestId(`key-${c}`).click();
};

test('a reading without proof is kept only as “taken before proof”, and the report says so', async ({ page }) => {
  await draft(page, 'radial, 3');
  await openPadAtBoard(page);
  await expect(page.getByTestId('before-proof')).toBeVisible();
  await key(page, '0.3');
  await page.getByTestId('keep').click();
  await page.getByTestId('stage-over').click();
  await expect(page.getByTestId('report')).toContainText('taken before proof');
});

test('nothing typed, and a doubtful unit, are answered; nothing is lost', async ({ page }) => {
  await draft(page, 'radial, 3');
  await openPadAtBoard(page);
  await page.getByTestId('keep').click();
  await expect(page.getByTestId('pad-problem')).toContainText('Type what the meter shows');
  await key(page, '9999');
  await page.getByTestId('keep').click();
  await expect(page.getByTestId('doubtful')).toBeVisible();
  await expect(page.getByTestId('pad-value')).toHaveText('9999');
  await page.getByTestId('keep').click();
  await expect(page.getByTestId('pad')).toHaveCount(0);
});

test('not dead: nothing goes on, and the way out is said', async ({ page }) => {
  await draft(page, 'radial, 3');
  await secure(page);
  await page.getByTestId('rod').fill('rod');
  await page.getByTestId('indicator-before').click();
  await page.getByTestId('above').click();
  await expect(page.getByTestId('not-dead')).toContainText('Touch nothing');
  await page.getByTestId('volt').fill('231');
  await page.getByTestId('record-not-dead').click();
  await expect(page.getByText(/was not dead: 231 V/)).toBeVisible();
  await page.getByTestId('stage-trace').click();
  await expect(page.getByTestId('state-bar')).toContainText('not made dead');
});

test('securing asks for each fact and records none by itself', async ({ page }) => {
  await draft(page, 'radial, 3');
  await page.getByTestId('stage-dead').click();
  await page.getByTestId('secure').click();
  await expect(page.getByTestId('secure-missing')).toContainText('permission, switched off, locked and tagged, who has the key');
});

test('“I left the place” closes the dead steps again', async ({ page }) => {
  await draft(page, 'radial, 3');
  await secure(page);
  await prove(page);
  await takeApart(page);
  await settled(page);
  await page.getByTestId('stage-dead').click();
  await page.getByTestId('i-left').click();
  await page.getByTestId('stage-trace').click();
  await expect(page.getByTestId('state-bar')).toContainText('not made dead');
  await settled(page);
  await page.getByTestId('do-step').click();
  await expect(page.getByTestId('make-dead')).toBeVisible();
});

test('a reload in the middle loses nothing that was kept', async ({ page }) => {
  await draft(page, 'radial, 3', 'Reload me');
  await openPadAtBoard(page);
  await key(page, '0.31');
  await page.getByTestId('keep').click();
  await expect(page.getByTestId('saving')).toHaveCount(0);
  await page.reload();
  await page.getByTestId('open-readings').click();
  await expect(page.getByTestId('readings')).toContainText('0.31 MΩ');
});

test('readings in contradiction are named, not averaged away', async ({ page }) => {
  await draft(page, 'radial, 3');
  for (const value of ['0.31', '500']) {
    await openPadAtBoard(page);
    await key(page, value);
    await page.getByTestId('keep').click();
    if (await page.getByTestId('doubtful').count()) await page.getByTestId('keep').click();
  }
  await settled(page);
  await page.getByTestId('open-readings').click();
  await expect(page.getByTestId('readings')).toContainText('Hardly any suspect foresaw this');
});

for (const [name, content, words] of [
  ['truncated', '{"format":"gutter-job","version":1,"id":"x","eve', 'cut short'],
  ['of a newer version', '{"format":"gutter-job","version":7,"id":"x","events":[]}', 'version 7'],
  ['not ours', '{"hello":1}', 'not a Gutter job file'],
  ['with a ring of one point', JSON.stringify({ format: 'gutter-job', version: 1, id: 'x', events: [{ id: 'e', at: 1, type: 'drafted', phrase: '', map: { name: '', shape: 'ring', orderKnown: true, nominalVolt: 230, nextId: 5, points: [], sections: [] } }] }), 'Nothing was changed'],
] as const)
  test(`a job file that is ${name} opens nothing and says so`, async ({ page }) => {
    await page.goto('/');
    const chooser = page.waitForEvent('filechooser');
    await page.getByTestId('open-file').click();
    await (await chooser).setFiles({ name: 'job.json', mimeType: 'application/json', buffer: Buffer.from(content) });
    if (name === 'with a ring of one point') await expect(page.getByTestId('problem')).toBeVisible();
    else await expect(page.getByTestId('problem')).toContainText(words);
    await expect(page.getByText('No jobs yet')).toBeVisible();
  });

test('when storage refuses, the entry stays on screen with “export now”', async ({ page }) => {
  await draft(page, 'radial, 3');
  await page.evaluate(() => {
    IDBObjectStore.prototype.put = () => {
      throw new DOMException('full', 'QuotaExceededError');
    };
  });
  await openPadAtBoard(page);
  await key(page, '0.2');
  await page.getByTestId('keep').click();
  await expect(page.getByTestId('refused')).toContainText('Export the job now');
  const download = page.waitForEvent('download');
  await page.getByTestId('refused').getByRole('button', { name: 'Export now' }).click();
  expect((await download).suggestedFilename()).toMatch(/gutter\.json$/);
  await page.getByTestId('open-readings').click();
  await expect(page.getByTestId('readings')).toContainText('0.2 MΩ');
});

test('two tabs on one job: the second reads, and may take over', async ({ page, context }) => {
  await draft(page, 'radial, 3');
  const url = page.url();
  const second = await context.newPage();
  await second.goto(url);
  await expect(second.getByTestId('reading-only')).toBeVisible();
  await second.getByRole('button', { name: 'Take over here' }).click();
  await expect(second.getByTestId('reading-only')).toHaveCount(0);
  await expect(page.getByTestId('reading-only')).toBeVisible();
});

test('what is entered in the tab that only reads waits, is said, and is in the job once that tab writes; the other shows it', async ({ page, context }) => {
  await draft(page, 'radial, 3');
  const second = await context.newPage();
  await second.goto(page.url());
  await expect(second.getByTestId('reading-only')).toBeVisible();
  await openPadAtBoard(page);
  await key(page, '0.2');
  await page.getByTestId('keep').click();
  await page.getByTestId('open-readings').click();
  await expect(page.getByTestId('readings')).toContainText('0.2 MΩ');
  await second.getByRole('button', { name: /^Rename/ }).click();
  await second.getByTestId('job-name').fill('Oil store');
  await second.getByRole('button', { name: 'Save name' }).click();
  await expect(second.getByTestId('waiting')).toContainText('One entry made here is not in the job yet');
  await second.getByRole('button', { name: 'Take over here and enter it' }).click();
  await expect(second.getByRole('heading', { name: 'Oil store' })).toBeVisible();
  await second.getByTestId('stage-trace').click();
  await second.getByTestId('open-readings').click();
  await expect(second.getByTestId('readings')).toContainText('0.2 MΩ');
  await expect(page.getByTestId('reading-only')).toBeVisible();
  await expect(page.getByRole('heading', { name: 'Oil store' })).toBeVisible();
});

test('a job that is not here says so and leads back', async ({ page }) => {
  await page.goto('/job/none/trace');
  await expect(page.getByTestId('problem')).toContainText('no such job');
  await page.getByRole('button', { name: 'All jobs' }).click();
  await expect(page.getByTestId('new-job')).toBeVisible();
});

test('a point that cannot be reached leaves the plan', async ({ page }) => {
  await walkPottery(page, 'Throwing room ring');
  await settled(page);
  await page.getByTestId('row-p4').click();
  await page.getByRole('button', { name: 'Can’t reach this point' }).click();
  await settled(page);
  await expect(page.getByTestId('row-p4')).toContainText('can’t reach', { timeout: 20_000 });
  await expect(page.getByTestId('row-p4')).not.toContainText('←');
});
