import { chromium, type Page } from '@playwright/test';
import { seededRandom, type Random } from '../../core/numeric';
import { keptFile, newJob, pause, serve, FLAGS, CHROMIUM } from './app';

/** What becomes of an entry: it is in the job, or the screen said in words that it is not. */
interface Entry {
  readonly text: string;
  readonly tab: number;
  fate: 'acknowledged' | 'refused' | 'open';
}

/** One note typed and sent, as a person would; whatever the tab then says of it. */
async function note(page: Page, text: string, tab: number): Promise<Entry> {
  const entry: Entry = { text, tab, fate: 'open' };
  const field = page.getByLabel('What', { exact: true });
  await field.fill(text);
  await page.getByRole('button', { name: 'Add', exact: true }).click({ timeout: 5000 });
  for (let i = 0; i < 100; i++) {
    if (await page.getByTestId('waiting').count()) {
      entry.fate = 'refused';
      return entry;
    }
    const shown = (await page.getByTestId('report').getByText(`observation: ${text}`).count()) > 0;
    if (shown && (await page.getByTestId('saving').count()) === 0) {
      entry.fate = 'acknowledged';
      return entry;
    }
    await pause(30);
  }
  return entry;
}

/** One tab's turn: an entry, a take-over, or going away and coming back. */
async function turn(
  page: Page,
  tab: number,
  url: string,
  random: Random,
  run: number,
  step: number,
): Promise<Entry | null> {
  const what = random.next();
  if (what < 0.55) return note(page, `run ${run} tab ${tab} step ${step}.`, tab);
  if (what < 0.85) {
    const take = page.getByRole('button', { name: /^Take over here/ });
    if (await take.count())
      await take
        .first()
        .click({ timeout: 2000 })
        .catch(() => undefined);
    return null;
  }
  await page.goto(url);
  await page.getByTestId('report').waitFor();
  return null;
}

/** Two tabs on one job in random order, now and then at once. No entry may be lost without a word; and what one tab shows as kept is in the job. */
export async function tabs(runs: number, seed = 1): Promise<void> {
  const random = seededRandom(seed);
  const app = await serve(8162);
  const browser = await chromium.launch({ executablePath: CHROMIUM, args: [...FLAGS] });
  let [entries, refused, takenAfter, lostSilently, open] = [0, 0, 0, 0, 0];
  try {
    for (let run = 0; run < runs; run++) {
      const context = await browser.newContext({ viewport: { width: 390, height: 844 } });
      const first = await context.newPage();
      const job = await newJob(first, app.url, 'radial, 3', `Run ${run}`);
      const url = `${job}/over`;
      await first.goto(url);
      const second = await context.newPage();
      await second.goto(url);
      const pages = [first, second];
      await Promise.all(pages.map((p) => p.getByTestId('report').waitFor()));
      const made: Entry[] = [];
      for (let step = 0; step < 8; step++) {
        const both = random.chance(0.35);
        const one = random.integer(0, 1);
        const now = both ? [0, 1] : [one];
        const done = await Promise.all(
          now.map((tab) =>
            turn(pages[tab] as Page, tab, url, random, run, step).catch((error: unknown) => {
              process.stderr.write(`run ${run} step ${step} tab ${tab}: ${String(error).slice(0, 1500)}\n`);
              return null;
            }),
          ),
        );
        made.push(...done.flatMap((e) => e ?? []));
      }
      await pause(300);
      const { file, problem } = await keptFile(first, job.split('/').at(-1) ?? '');
      if (!file) process.stderr.write(`run ${run}: ${problem}\n`);
      const has = (text: string): boolean => file?.events.some((e) => e.type === 'noted' && e.text === text) ?? false;
      entries += made.length;
      refused += made.filter((e) => e.fate === 'refused').length;
      takenAfter += made.filter((e) => e.fate === 'refused' && has(e.text)).length;
      open += made.filter((e) => e.fate === 'open').length;
      const lost = made.filter((e) => e.fate !== 'refused' && !has(e.text));
      for (const e of lost)
        process.stderr.write(`run ${run}: “${e.text}” of tab ${e.tab} (${e.fate}) is not in the job\n`);
      lostSilently += lost.length;
      await context.close();
      if ((run + 1) % 20 === 0)
        process.stderr.write(`tabs: ${run + 1} of ${runs}, ${entries} entries, ${lostSilently} lost silently\n`);
    }
  } finally {
    await browser.close();
    app.stop();
  }
  console.log(
    `\nTwo tabs: ${runs} random interleavings, ${entries} entries, ${refused} held back in words (${takenAfter} of them entered after a take-over), ${open} of which the screen said nothing in 3 s, lost silently ${lostSilently}`,
  );
}
