import { expect, test } from '@playwright/test';
import { readFileSync } from 'node:fs';
import { deriveJob, parseJobFile } from '../core/job';
import { coversOn, hold, hunt, prove, putBackEnds, readRetests, secure, takeApart, toTrace, walkPottery } from './helpers';

/** Truths of the pottery with other seeds: the verdict must name the place that is really wrong. */
const hunts = [
  { job: 'Kiln hood', seed: 97, says: 'L touches E, Hood light 1 to Hood light 2', wide: false },
  { job: 'Kiln hood', seed: 5, says: 'L touches E, Hood light 1 to Hood light 2', wide: true },
  { job: 'Clay shed feeder', seed: 23, says: 'N end poor in Shed inlet, towards Yard joint', wide: false },
  { job: 'Clay shed feeder', seed: 77, says: 'N end poor in Shed inlet, towards Yard joint', wide: true },
  { job: 'Throwing room ring', seed: 12, says: 'N broken, Pug mill to Bench', wide: false },
];

for (const h of hunts)
  test(`${h.job}, seed ${h.seed}, ${h.wide ? 'wide' : 'phone'}: the verdict is the truth`, async ({ page }) => {
    if (h.wide) await page.setViewportSize({ width: 1280, height: 800 });
    await page.route('**/demo.json', async (route) => {
      const answer = await route.fetch();
      const demo = (await answer.json()) as { jobs: { practice: { seed: number } }[] };
      for (const j of demo.jobs) j.practice.seed = h.seed;
      await route.fulfill({ json: demo });
    });
    await walkPottery(page, h.job);
    await toTrace(page);
    if (h.job === 'Kiln hood') await takeApart(page);
    // Where the readings do not tell two ends of one place apart, neither is named.
    expect([h.says, h.says.replace(/, towards .*/, ', either cable')]).toContain(await hunt(page));
  });

test('from the verdict to the proven repair, the report and its files', async ({ page }) => {
  await walkPottery(page, 'Kiln hood');
  await secure(page);
  await prove(page);
  await takeApart(page);
  await hunt(page);
  await page.getByTestId('to-right').click();
  await expect(page.getByTestId('power-gate')).toBeVisible();
  await expect(page.getByTestId('close-job')).toBeDisabled();
  await page.locator('[data-testid^="mend-contact"]').first().click();
  await page.getByTestId('record-mend').click();
  await expect(page.getByTestId('proof')).toContainText('Not proved');
  await putBackEnds(page);
  await readRetests(page);
  await expect(page.getByTestId('retest-insulationLoadsBack L+N E')).toContainText('When the loads are back in');
  await hold(page.getByTestId('loads-in'));
  await readRetests(page);
  await expect(page.getByTestId('power-gate')).toHaveCount(1);
  await coversOn(page);
  await expect(page.getByTestId('power-gate')).toHaveCount(0);
  for (const live of ['loop', 'rcd', 'function']) {
    await page.getByTestId(`hand-live ${live}`).click();
    if (live === 'function') {
      await page.getByTestId('function-works').click();
      continue;
    }
    // Words are no figure.
    await page.getByTestId('live-result').fill('good');
    await page.getByTestId('keep-live').click();
    await expect(page.getByText('is no figure')).toBeVisible();
    await page.getByTestId('live-result').fill(live === 'loop' ? '0.62' : '28 ms');
    await page.getByTestId('keep-live').click();
  }
  await expect(page.getByTestId('proof')).toContainText('Proved');
  await hold(page.getByTestId('power-on'));
  await page.getByTestId('close-job').click();
  await page.getByTestId('to-over').click();
  await expect(page.getByTestId('report-proof')).toContainText('Proved');

  const pdf = page.waitForEvent('download');
  await page.getByTestId('make-pdf').click();
  const bytes = readFileSync(await (await pdf).path());
  expect(bytes.subarray(0, 5).toString()).toBe('%PDF-');
  expect(bytes.length).toBeGreaterThan(8000);

  const csv = page.waitForEvent('download');
  await page.getByTestId('csv').click();
  const rows = readFileSync(await (await csv).path(), 'utf8').split('\r\n');
  expect(rows[0]).toBe('\uFEFFnumber,time,where,function,reading,conditions,state,remark');

  const file = page.waitForEvent('download');
  await page.getByTestId('job-file').click();
  const parsed = parseJobFile(readFileSync(await (await file).path(), 'utf8'));
  expect(parsed.ok).toBe(true);
  if (parsed.ok) {
    const view = deriveJob(parsed.value.events, Date.now());
    expect(view.status).toBe('closed');
    expect(rows.length - 2).toBe(view.readings.length);
  }
});
