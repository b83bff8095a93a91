import type { Locator, Page } from '@playwright/test';
import { seededRandom } from '../../core/numeric';
import { deriveJob, type JobEvent } from '../../core/job';
import { Killable, keptFile, newJob, openStage, pause, saved, serve } from './app';

/** One entry that the screen has acknowledged: is it there after the kill? */
type Acknowledged = (events: readonly JobEvent[], photos: readonly string[]) => boolean;

/** What the work in hand has to go by. */
interface Hand {
  readonly page: Page;
  /** Address of the job, without a stage. */
  readonly url: string;
  readonly run: number;
  /** The work stands before its first entry: from now on the browser may die. */
  readonly ready: () => void;
  /** The screen shows that an entry is kept. */
  readonly kept: (is: Acknowledged) => void;
}

/** Each enters without end, until the browser dies under it. */
const works = {
  notes: async ({ page, url, run, ready, kept }: Hand): Promise<void> => {
    await openStage(page, url, 'over');
    ready();
    await notes(page, run, kept);
  },
  'take-over': async ({ page, url, run, ready, kept }: Hand): Promise<void> => {
    await openStage(page, url, 'over');
    const other = await page.context().newPage();
    await openStage(other, url, 'over');
    await other.getByTestId('reading-only').waitFor();
    ready();
    await other.getByRole('button', { name: 'Take over here' }).click();
    await other.getByTestId('reading-only').waitFor({ state: 'detached' });
    await notes(other, run, kept);
  },
  readings: async ({ page, url, run, ready, kept }: Hand): Promise<void> => {
    await openStage(page, url, 'trace');
    ready();
    for (let i = 0; ; i++) await reading(page, run, i, kept);
  },
  /** A figure that is typed and not kept may be lost, and may spoil nothing. */
  drafts: async ({ page, url, run, ready, kept }: Hand): Promise<void> => {
    await openStage(page, url, 'trace');
    ready();
    await reading(page, run, 0, kept);
    await typeReading(page, figureOf(run, 1));
  },
  photos: async ({ page, url, ready, kept }: Hand): Promise<void> => {
    await openStage(page, url, 'ask');
    ready();
    for (;;) {
      const before = await page.getByTestId('photo').count();
      const [chooser] = await Promise.all([page.waitForEvent('filechooser'), page.getByTestId('add-photo').click()]);
      await chooser.setFiles('docs/screenshots/phone-trace.png');
      await page.getByTestId('photo').nth(before).waitFor();
      await saved(page);
      kept((events, photos) => {
        const told = deriveJob(events, Date.now()).photos;
        return told.length > before && told.every((p) => photos.includes(p.id));
      });
    }
  },
  name: async ({ page, url, run, ready, kept }: Hand): Promise<void> => {
    await openStage(page, url, 'over');
    ready();
    for (let i = 0; ; i++) {
      const name = `Renamed ${run} ${i}`;
      await page
        .getByRole('button', { name: /^Rename/ })
        .first()
        .click();
      await page.getByTestId('job-name').fill(name);
      await page.getByRole('button', { name: 'Save name' }).click();
      await page.getByRole('button', { name: `Rename ${name}` }).waitFor();
      await saved(page);
      kept((events) => events.some((e) => e.type === 'renamed' && e.name === name));
    }
  },
  /** Readings struck out, one after another. */
  undo: async ({ page, url, ready, kept }: Hand): Promise<void> => {
    await openStage(page, url, 'trace');
    await page.getByTestId('open-readings').click();
    const strikes = page.getByRole('button', { name: 'Strike out', exact: true });
    await strikes
      .first()
      .waitFor({ timeout: 5000 })
      .catch(() => undefined);
    ready();
    for (let struck = 1; (await strikes.count()) > 0; struck++) {
      const left = (await strikes.count()) - 1;
      await strikes.first().click();
      await page.getByRole('button', { name: 'Strike it out' }).click();
      await fewerThan(strikes, left + 1);
      await saved(page);
      kept((events) => events.filter((e) => e.type === 'struck').length >= struck);
    }
  },
};

export type Work = keyof typeof works;
export const workNames = Object.keys(works) as Work[];

async function notes(page: Page, run: number, kept: Hand['kept']): Promise<void> {
  for (let i = 0; ; i++) {
    const text = `run ${run} note ${i}.`;
    await page.getByLabel('What', { exact: true }).fill(text);
    await page.getByRole('button', { name: 'Add', exact: true }).click();
    await page.getByTestId('report').getByText(`observation: ${text}`).waitFor();
    await saved(page);
    kept((events) => events.some((e) => e.type === 'noted' && e.text === text));
  }
}

/** Megohms, another figure for each reading of a run. */
const figureOf = (run: number, i: number): string => `${100 + run}.${i % 10}`;

async function typeReading(page: Page, figure: string): Promise<void> {
  for (const core of ['L', 'E']) {
    await page.getByTestId('row-p0#1').click();
    await page.getByTestId(`lead-s1@a:${core}`).click();
  }
  await page.getByTestId('tray-enter').click();
  for (const c of figure) await page.getByTestId(`key-${c}`).click();
}

async function reading(page: Page, run: number, i: number, kept: Hand['kept']): Promise<void> {
  const figure = figureOf(run, i);
  await typeReading(page, figure);
  await page.getByTestId('keep').click();
  await page.getByTestId('pad').waitFor({ state: 'detached' });
  await saved(page);
  const ohm = Number(figure) * 1e6;
  kept((events) =>
    events.some((e) => e.type === 'read' && 'ohm' in e.displayed && Math.abs(e.displayed.ohm - ohm) < 1),
  );
}

async function fewerThan(of: Locator, count: number): Promise<void> {
  while ((await of.count()) >= count) await pause(20);
}

/** Work may take so long to stand before its first entry, ms; and goes on for so long at the most. */
const BEGINS_MS = 30_000;
const MOST_MS = 6000;

/**
 * Kills the browser at random moments of work; after each kill all that was ever acknowledged must be there, and nothing
 * half-written. `only`: the kinds of work, in turn.
 */
export async function kills(count: number, only: readonly Work[] = workNames, seed = 1): Promise<void> {
  const random = seededRandom(seed);
  const app = await serve(8161);
  const browser = new Killable(9261);
  const acknowledged = new Map<Work, number>();
  let [lost, halfWritten] = [0, 0];
  const tell = (run: number, work: Work, what: string): unknown =>
    process.stderr.write(`run ${run} (${work}): ${what.slice(0, 300)}\n`);
  const sum = (): number => [...acknowledged.values()].reduce((a, b) => a + b, 0);
  try {
    let { page } = await browser.start();
    const url = await newJob(page, app.url, 'radial, 3', 'Kill me');
    const id = url.split('/').at(-1) ?? '';
    // Photos have their place once something was complained of.
    await page.getByRole('radio', { name: 'RCD trips' }).click();
    await saved(page);
    let all: Acknowledged[] = [];
    for (let run = 0; run < count; run++) {
      const work = only[run % only.length] as Work;
      const now: Acknowledged[] = [];
      let begun: () => void = () => undefined;
      const started = new Promise<void>((resolve) => (begun = resolve));
      const hand: Hand = { page, url, run, ready: begun, kept: (is) => void now.push(is) };
      const died = works[work](hand).catch((error: unknown) => String(error));
      const early = await Promise.race([started, died, pause(BEGINS_MS).then(() => 'did not begin')]);
      if (typeof early === 'string') tell(run, work, early);
      await pause(random.uniform(50, MOST_MS));
      await browser.kill();
      const why = await died;
      if (typeof why === 'string' && !/closed|crashed|disconnected/i.test(why)) tell(run, work, why);
      ({ page } = await browser.start());
      await page.goto(app.url);
      const { file, photos, problem } = await keptFile(page, id);
      if (!file) {
        halfWritten++;
        tell(run, work, problem ?? '');
        continue;
      }
      acknowledged.set(work, (acknowledged.get(work) ?? 0) + now.length);
      all.push(...now);
      const there = all.filter((is) => is(file.events, photos));
      if (there.length < all.length) tell(run, work, `${all.length - there.length} acknowledged entries are not there`);
      lost += all.length - there.length;
      all = there;
      if ((run + 1) % 20 === 0)
        process.stderr.write(`kills: ${run + 1} of ${count}, ${sum()} entries acknowledged, ${lost} lost\n`);
    }
  } finally {
    await browser.end();
    app.stop();
  }
  const byWork = [...acknowledged].map(([w, n]) => `${w} ${n}`).join(', ');
  console.log(
    `\nKills: ${count} at random moments, entries acknowledged ${sum()} (${byWork}), lost ${lost}, half-written ${halfWritten}`,
  );
}
