import { readFileSync, writeFileSync } from 'node:fs';
import { expect, test, type Page } from '@playwright/test';
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

test('a photo is made small, kept with its note, goes out with the job file and comes back with it; one of 40 MB is refused', async ({ page }) => {
  await draft(page, 'radial, 3');
  await page.getByRole('radio', { name: 'RCD trips' }).click();
  const choose = async (file: string | { name: string; mimeType: string; buffer: Buffer }): Promise<void> => {
    const chooser = page.waitForEvent('filechooser');
    await page.getByTestId('add-photo').click();
    await (await chooser).setFiles(file);
  };
  await choose({ name: 'huge.jpg', mimeType: 'image/jpeg', buffer: Buffer.alloc(40_000_000, 1) });
  await expect(page.getByTestId('photo-problem')).toContainText('40 MB');
  await choose({ name: 'not.jpg', mimeType: 'image/jpeg', buffer: Buffer.from('no picture at all') });
  await expect(page.getByTestId('photo-problem')).toContainText('no picture');
  await choose('docs/screenshots/phone-trace.png');
  await expect(page.getByTestId('photo')).toHaveCount(1);
  await page.getByTestId('photo-note').fill('Shelf screws in line with the cable');
  await page.getByTestId('keep-note').click();
  await kept(page);
  await page.reload();
  await expect(page.getByTestId('photo-note')).toHaveValue('Shelf screws in line with the cable');
  await page.getByTestId('stage-over').click();
  const download = page.waitForEvent('download');
  await page.getByTestId('job-file').click();
  const path = await (await download).path();
  const file = JSON.parse(readFileSync(path, 'utf8')) as { photos: Record<string, string> };
  const [url = ''] = Object.values(file.photos);
  expect(url.startsWith('data:image/jpeg;base64,')).toBe(true);
  expect(url.length).toBeLessThan(200_001);
  expect(await picturesInPdf(page)).toBe(1);

  // One of two photos is spoilt on its way: the PDF is made all the same, and says which is missing.
  const [id = ''] = Object.keys(file.photos);
  const events = (file as unknown as { events: { type: string; photo?: string; id: string }[] }).events;
  const taken = events.find((e) => e.type === 'photo');
  events.push({ ...taken, type: 'photo', id: 'second', photo: 'spoilt' });
  const spoilt = test.info().outputPath('spoilt.json');
  writeFileSync(spoilt, JSON.stringify({ ...file, photos: { [id]: url, spoilt: 'data:image/jpeg;base64,AAAAAAAA' } }));
  await open(page, spoilt);
  await page.getByTestId('stage-over').click();
  await expect(page.getByTestId('report-photo')).toHaveCount(2);
  expect(await picturesInPdf(page)).toBe(1);

  await open(page, path);
  await page.getByTestId('stage-ask').click();
  await expect(page.getByTestId('photo')).toHaveCount(1);
  await expect(page.getByTestId('photo').getByRole('img')).toHaveCount(1);
});

async function open(page: Page, path: string): Promise<void> {
  await page.goto('/');
  const chooser = page.waitForEvent('filechooser');
  await page.getByTestId('open-file').click();
  await (await chooser).setFiles(path);
}

/** How many JPEG pictures the PDF of the report holds. */
async function picturesInPdf(page: Page): Promise<number> {
  const pdf = page.waitForEvent('download');
  await page.getByTestId('make-pdf').click();
  return readFileSync(await (await pdf).path(), 'latin1').split('/DCTDecode').length - 1;
}
