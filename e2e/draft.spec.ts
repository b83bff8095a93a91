import { expect, test } from '@playwright/test';
import { draft, Effort, hold } from './helpers';

test('a ring of nine is drafted in far less than 30 seconds', async ({ page }) => {
  await page.goto('/');
  const effort = new Effort(page);
  await effort.tap(page.getByTestId('new-job'));
  await effort.tap(page.getByRole('radio', { name: 'Ring' }));
  await effort.tap(page.getByTestId('count-9'));
  await effort.tap(page.getByTestId('start-job'));
  await page.getByTestId('complaint').waitFor();
  console.log(`ring, 9: ${effort.taps} taps, ${effort.characters} characters, ${effort.seconds.toFixed(1)} s`);
  expect(effort.seconds).toBeLessThan(30);
});

for (const phrase of ['radial, 5', 'lights, 6, one switch', 'lights, 6, two-way switch', 'lights, 4, loop-in', 'tree, 4, branch 2 at 3'])
  test(`“${phrase}” is drafted in less than 30 seconds`, async ({ page }) => {
    await page.goto('/');
    const effort = new Effort(page);
    await effort.tap(page.getByTestId('new-job'));
    await effort.type(page.getByTestId('phrase'), phrase);
    await effort.tap(page.getByTestId('start-job'));
    await page.getByTestId('complaint').waitFor();
    console.log(`${phrase}: ${effort.taps} taps, ${effort.characters} characters, ${effort.seconds.toFixed(1)} s`);
    expect(effort.seconds).toBeLessThan(30);
  });

test('the map takes better names and lengths, and says what cannot be', async ({ page }) => {
  await draft(page, 'radial, 4');
  await page.getByTestId('stage-map').click();
  await page.getByTestId('row-p1').click();
  await page.getByTestId('point-name').fill('Outlet 2');
  await page.getByRole('button', { name: 'Save name' }).click();
  await expect(page.getByTestId('problem')).toContainText('already a point called');
  await page.getByTestId('point-name').fill('Kettle');
  await page.getByRole('button', { name: 'Save name' }).click();
  await expect(page.getByTestId('row-p1')).toContainText('Kettle');
  await page.getByTestId('row-s2').click();
  for (const [length, words] of [['0', 'more than 0 m'], ['10000', 'longer than any circuit']] as const) {
    await page.getByTestId('length').fill(length);
    await page.getByTestId('save-length').click();
    await expect(page.getByTestId('problem')).toContainText(words);
  }
  await page.getByTestId('length').fill('6.4');
  await page.getByTestId('save-length').click();
  await expect(page.getByTestId('edit-section')).toHaveCount(0);
});

test('a ring of one point is refused with the way out', async ({ page }) => {
  await page.goto('/new');
  await page.getByTestId('phrase').fill('ring, 1');
  await expect(page.getByTestId('problem')).toContainText('Draft it as a radial');
  await expect(page.getByTestId('start-job')).toBeDisabled();
});

test('a job is renamed, deleted, and comes back with undo', async ({ page }) => {
  await draft(page, 'radial, 3', 'Yard lights');
  await page.goto('/');
  await page.getByRole('button', { name: 'More about Yard lights' }).click();
  await page.getByLabel('Name', { exact: true }).fill('Yard');
  await page.getByRole('button', { name: 'Save name' }).click();
  await page.getByRole('button', { name: 'More about Yard' }).click();
  await page.getByRole('button', { name: 'Delete' }).click();
  await expect(page.getByTestId('job-Yard')).toHaveCount(0);
  await page.getByTestId('undo').getByRole('button', { name: 'Undo' }).click();
  await expect(page.getByTestId('job-Yard')).toBeVisible();
});

test('a split is a real gap: it is drawn, listed, and taken back as “it never was”', async ({ page }) => {
  await draft(page, 'radial, 4');
  await page.getByTestId('stage-trace').click();
  await page.getByTestId('row-p2').click();
  await hold(page.getByRole('button', { name: /Split here.*Outlet 3/ }));
  await expect(page.getByTestId('row-p2')).toContainText('split here');
  await page.getByTestId('state-bar').click();
  await page.getByRole('button', { name: /It never was: out at Outlet 2/ }).click();
  await expect(page.getByTestId('row-p2')).not.toContainText('split here');
});
