import type { Page } from '@playwright/test';
import { seededRandom, type Random } from '../../core/numeric';
import { deriveJob, type JobEvent } from '../../core/job';
import { Killable, keptFile, newJob, pause, serve } from './app';

/** What was being entered when the browser was killed. */
type Work = 'notes' | 'readings' | 'photos' | 'name' | 'drafts' | 'take-over' | 'undo';
const works: readonly Work[] = ['notes', 'readings', 'photos', 'name', 'drafts', 'take-over', 'undo'];

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
  const note = async (text: string): Promise<void> => {
    await page.getByLabel('What', { exact: true }).fill(text);
    await page.getByRole('button', { name: 'Add', exact: true }).click();
    await page.getByTestId('report').getByText(text).waitFor();
    await saved(page);
    kept.push((events) => events.some((e) => e.type === 'noted' && e.text === text));
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
      const chooser = page.waitForEvent('filechooser');
      await page.getByTestId('add-photo').click();
      await (await chooser).setFiles('docs/screenshots/phone-trace.png');
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
      await page.getByRole('dialog').getByRole('textbox').fill(name);
      await page.getByRole('dialog').getByRole('button', { name: /Keep|Rename/ }).first().click();
      await page.getByRole('dialog').waitFor({ state: 'detached' });
      await saved(page);
      kept.push((events) => events.some((e) => e.type === 'renamed' && e.name === name));
    }
  }
  // Undo: a reading struck out.
  await goTo('over');
  await note(`run ${run} before undo.`);
  await page.goto(`${url}/trace`);
  await page.getByTestId('open-readings').waitFor();
  ready();
  for (;;) {
    await page.getByTestId('open-readings').click();
    const strike = page.getByRole('dialog').getByRole('button', { name: /^Strike/ }).first();
    if ((await strike.count()) === 0) return pause(5000);
    await strike.click();
    const why = page.getByRole('dialog').last().getByRole('textbox');
    if (await why.count()) await why.first().fill(`run ${run}`);
    await page.getByRole('dialog').last().getByRole('button', { name: /^Strike/ }).last().click();
    await saved(page);
    await page.keyboard.press('Escape');
    kept.push((events) => events.some((e) => e.type === 'struck'));
  }
}

/** Kills the browser at random moments of work; after each, all that was acknowledged must be there, and nothing half-written. */
export async function kills(count: number, seed = 1): Promise<{ readonly kills: number; readonly acknowledged: number; readonly lost: number; readonly halfWritten: number }> {
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
    await saved(page);
    await pause(1000);
    const all: Acknowledged[] = [];
    for (let run = 0; run < count; run++) {
      // A job of hundreds of entries is slow to type into: begun anew now and then.
      const work = works[run % works.length] as Work;
      const now: Acknowledged[] = [];
      let begun: () => void = () => undefined;
      const started = new Promise<void>((resolve) => (begun = resolve));
      const died = enter(page, url, work, run, now, begun).catch((error: unknown) => error);
      const first = await Promise.race([started.then(() => null), died.then((e) => e ?? null), pause(30_000).then(() => new Error('not begun in 30 s'))]);
      if (first) process.stderr.write(`run ${run} (${work}): ${String(first).slice(0, 300)}\n`);
      await pause(random.uniform(50, 3000));
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
