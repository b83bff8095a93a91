import type { Locator, Page } from '@playwright/test';
import { seededRandom, type Random } from '../../core/numeric';
import { deriveJob, type JobEvent } from '../../core/job';
import { Killable, keptFile, newJob, pause, serve } from './app';

/** What was being entered when the browser was killed. */
export type Work = 'notes' | 'readings' | 'photos' | 'name' | 'drafts' | 'take-over' | 'undo';
export const works: readonly Work[] = ['notes', 'readings', 'photos', 'name', 'drafts', 'take-over', 'undo'];

/** One entry that the screen had acknowledged: what must be there after the kill. */
type Acknowledged = (events: readonly JobEvent[], photos: readonly string[]) => boolean;

const saved = async (page: Page): Promise<void> => {
  await page.getByTestId('saving').waitFor({ state: 'detached' });
};
const key = async (page: Page, text: string): Promise<void> => {
  for (const c of text) await page.getByTestId(`key-${c}`).click();
};

/** Makes entries until the browser dies under it; each is added once the screen shows that it is kept. */
async function enter(page: Page, url: string, work: Work, run: number, kept: Acknowledged[], ready: () => void): Promise<void> {
  const goTo = async (stage: string): Promise<void> => {
    await page.goto(`${url}/${stage}`);
    await page.getByTestId(`stage-${stage}`).waitFor();
  };
  if (work === 'notes' || work === 'take-over') {
    await goTo('over');
    if (work === 'take-over') {
      const other = await page.context().newPage();
      await other.goto(`${url}/over`);
      await other.getByTestId('reading-only').waitFor();
      ready();
      await other.getByRole('button', { name: 'Take over here' }).click();
      await other.getByTestId('reading-only').waitFor({ state: 'detached' });
      return enterNotes(other);
    }
    ready();
    return enterNotes(page);
  }
  async function enterNotes(at: Page): Promise<void> {
    for (let i = 0; ; i++) {
      const text = `run ${run} note ${i}.`;
      await at.getByLabel('What', { exact: true }).fill(text);
      await at.getByRole('button', { name: 'Add', exact: true }).click();
      await at.getByTestId('report').getByText(`observation: ${text}`).waitFor();
      await saved(at);
      kept.push((events) => events.some((e) => e.type === 'noted' && e.text === text));
    }
  }
  if (work === 'readings' || work === 'drafts') {
    await goTo('trace');
    ready();
    for (let i = 0; ; i++) {
      await page.getByTestId('row-p0#1').click();
      await page.getByTestId('lead-s1@a:L').click();
      await page.getByTestId('row-p0#1').click();
      await page.getByTestId('lead-s1@a:E').click();
      await page.getByTestId('tray-enter').click();
      const figure = `${100 + run}.${i % 10}`;
      await key(page, figure);
      // A draft is a figure that is typed and not kept: it may be lost, and may spoil nothing.
      if (work === 'drafts' && i > 0) return pause(5000);
      await page.getByTestId('keep').click();
      await page.getByTestId('pad').waitFor({ state: 'detached' });
      await saved(page);
      kept.push((events) => events.some((e) => e.type === 'read' && 'ohm' in e.displayed && Math.abs(e.displayed.ohm / 1e6 - Number(figure)) < 1e-6));
    }
  }
  if (work === 'photos') {
    await goTo('ask');
    ready();
    for (;;) {
      const before = await page.getByTestId('photo').count();
      const [chooser] = await Promise.all([page.waitForEvent('filechooser'), page.getByTestId('add-photo').click()]);
      await chooser.setFiles('docs/screenshots/phone-trace.png');
      await page.getByTestId('photo').nth(before).waitFor();
      await saved(page);
      kept.push((events, photos) => {
        const told = deriveJob(events, Date.now()).photos;
        return told.length > before && told.every((p) => photos.includes(p.id));
      });
    }
  }
  if (work === 'name') {
    await goTo('over');
    ready();
    for (let i = 0; ; i++) {
      const name = `Renamed ${run} ${i}`;
      await page.getByRole('button', { name: /^Rename/ }).first().click();
      await page.getByTestId('job-name').fill(name);
      await page.getByRole('button', { name: 'Save name' }).click();
      await page.getByRole('button', { name: `Rename ${name}` }).waitFor();
      await saved(page);
      kept.push((events) => events.some((e) => e.type === 'renamed' && e.name === name));
    }
  }
  // Undo: readings struck out, one after another.
  await goTo('trace');
  await page.getByTestId('open-readings').click();
  const strikes = page.getByRole('button', { name: 'Strike out', exact: true });
  await strikes.first().waitFor({ timeout: 5000 }).catch(() => undefined);
  ready();
  for (;;) {
    const left = await strikes.count();
    if (left === 0) return pause(5000);
    await strikes.first().click();
    await page.getByRole('button', { name: 'Strike it out' }).click();
    await expectCount(strikes, left - 1);
    await saved(page);
    const before = kept.length;
    kept.push((events) => events.filter((e) => e.type === 'struck').length > before);
  }
}

async function expectCount(of: Locator, count: number): Promise<void> {
  while ((await of.count()) > count) await pause(20);
}

/** Kills the browser at random moments of work; after each, all that was acknowledged must be there, and nothing half-written. */
export async function kills(count: number, { only = works, mostMs = 6000, seed = 1 }: { readonly only?: readonly Work[]; readonly mostMs?: number; readonly seed?: number } = {}): Promise<{ readonly kills: number; readonly acknowledged: number; readonly lost: number; readonly halfWritten: number }> {
  const random: Random = seededRandom(seed);
  const app = await serve(8161);
  const browser = new Killable(9261);
  let [acknowledged, lost, halfWritten] = [0, 0, 0];
  const byWork = new Map<Work, number>();
  let url = '';
  try {
    let { page } = await browser.start();
    url = await newJob(page, app.url, 'radial, 3', 'Kill me');
    const id = url.split('/').at(-1) ?? '';
    // Photos have their place once something was complained of.
    await page.getByRole('radio', { name: 'RCD trips' }).click();
    await saved(page);
    await pause(1000);
    const all: Acknowledged[] = [];
    for (let run = 0; run < count; run++) {
      const work = only[run % only.length] as Work;
      const now: Acknowledged[] = [];
      let begun: () => void = () => undefined;
      const started = new Promise<void>((resolve) => (begun = resolve));
      const died = enter(page, url, work, run, now, begun).catch((error: unknown) => error);
      const first = await Promise.race([started.then(() => null), died.then((e) => e ?? null), pause(30_000).then(() => new Error('not begun in 30 s'))]);
      if (first) process.stderr.write(`run ${run} (${work}): ${first instanceof Error ? first.message.slice(0, 300) : 'ended by itself'}\n`);
      await pause(random.uniform(50, mostMs));
      await browser.kill();
      const error = await died;
      if (error instanceof Error && !/closed|crashed|disconnected|Target/i.test(error.message)) process.stderr.write(`run ${run} (${work}): ${error.message.slice(0, 300)}\n`);
      ({ page } = await browser.start());
      await page.goto(app.url);
      const { file, photos, problem } = await keptFile(page, id);
      if (!file) {
        halfWritten++;
        process.stderr.write(`run ${run} (${work}): ${problem}\n`);
        continue;
      }
      all.push(...now);
      acknowledged += now.length;
      byWork.set(work, (byWork.get(work) ?? 0) + now.length);
      const missing = all.filter((is) => !is(file.events, photos)).length;
      if (missing) {
        lost += missing;
        process.stderr.write(`run ${run} (${work}): ${missing} acknowledged entries are not there\n`);
        all.splice(0);
      }
      if ((run + 1) % 20 === 0) process.stderr.write(`kills: ${run + 1} of ${count}, ${acknowledged} entries acknowledged, ${lost} lost\n`);
    }
  } finally {
    await browser.end();
    app.stop();
  }
  console.log(`\nKills: ${count} at random moments, entries acknowledged ${acknowledged} (${[...byWork].map(([w, n]) => `${w} ${n}`).join(', ')}), lost ${lost}, half-written ${halfWritten}`);
  return { kills: count, acknowledged, lost, halfWritten };
}
