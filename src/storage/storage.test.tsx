import { JobMaker } from '@/testing/renderJob';
import { writeJobFile } from '@core/job';
import { jobStore } from '.';
import { listJobs, parseMeta, recall, remember, storage, type JobMeta } from './meta';

beforeEach(() => storage.clear());
const day = 24 * 3600 * 1000;

test('what was saved is what is loaded', async () => {
  const job = new JobMaker('radial, 3').dead().read('continuity', 's1@a:N', 'p1/f1:N', 0.1);
  expect((await jobStore().save(job.file)).ok).toBe(true);
  const loaded = await jobStore().load(job.id);
  expect(loaded.ok && loaded.value).toEqual(job.file);
});

test('the list says of each job what its row shows, the latest on top', async () => {
  const old = new JobMaker('radial, 3').dead().read('continuity', 's1@a:N', 'p1/f1:N', 0.1);
  const young = new JobMaker('ring, 4').add({ type: 'renamed', name: 'Kiln', at: 0 });
  await jobStore().save(old.file);
  await jobStore().save({ ...young.file, events: young.file.events.map((e) => ({ ...e, at: Date.now() + 60000 })) });
  const list = await listJobs();
  expect(list.map((m) => m.name)).toEqual(['Kiln', 'Throwing room']);
  expect(list[1]).toMatchObject({ readings: 1, agreedMin: 45, status: 'open', deletedAt: null });
});

test('a struck reading is not counted in the list', async () => {
  const job = new JobMaker('radial, 3').dead().read('continuity', 's1@a:N', 'p1/f1:N', 0.1);
  const id = job.file.events.find((e) => e.type === 'read')?.id;
  await jobStore().save(job.add({ type: 'struck', target: id, why: 'wrong' }).file);
  expect((await listJobs())[0]?.readings).toBe(0);
});

test('a job that is not here is told, not thrown', async () => {
  const r = await jobStore().load('nowhere');
  expect(r.ok ? '' : r.issues[0]?.code).toBe('job.missing');
});

test('a job spoilt in storage is told, and the list still opens', async () => {
  const job = new JobMaker('radial, 3');
  await jobStore().save(job.file);
  await storage.setItem(`job:${job.id}`, '{"format":"gutter-job"');
  await storage.setItem('meta:other', '{broken');
  await storage.setItem('meta:third', '{"id":"third"}');
  expect((await jobStore().load(job.id)).ok).toBe(false);
  expect((await listJobs()).map((m) => m.id)).toEqual([job.id]);
});

test('when the browser refuses, the save says so and the old job stays whole', async () => {
  const job = new JobMaker('radial, 3');
  await jobStore().save(job.file);
  const full = jest.spyOn(storage, 'setMany').mockRejectedValue(new Error('quota'));
  const r = await jobStore().save({ ...job.file, events: [] });
  full.mockRestore();
  expect(r.ok ? '' : r.issues[0]).toMatchObject({ code: 'storage.refused', figures: { why: 'quota' } });
  const loaded = await jobStore().load(job.id);
  expect(loaded.ok && loaded.value.events).toHaveLength(2);
});

test('deleted is a mark that a later save keeps; after 30 days it is purged, not before', async () => {
  const job = new JobMaker('radial, 3');
  await jobStore().save(job.file, { deletedAt: Date.now() - 29 * day });
  await jobStore().save(job.file);
  expect((await listJobs())[0]?.deletedAt).not.toBeNull();
  await jobStore().save(job.file, { deletedAt: Date.now() - 31 * day });
  expect(await listJobs()).toEqual([]);
  expect(await storage.getItem(`job:${job.id}`)).toBeNull();
});

test.each(['null', '[]', '1', '{"id":1}', '', '{"id":"a","name":"b","phrase":"","changedAt":"soon","minutes":0,"agreedMin":45,"readings":0,"status":"open","deletedAt":null,"demo":false}'])('a line of the list that reads “%s” is no job', (text) => {
  expect(parseMeta(text)).toBeNull();
});

test('small facts are remembered apart from the jobs', async () => {
  expect(await recall('seeded')).toBeNull();
  await remember('seeded', 'yes');
  expect(await recall('seeded')).toBe('yes');
  expect(await listJobs()).toEqual([]);
});

/** Storage as it stands, by what its keys begin with. */
const keysOf = async (start: string): Promise<string[]> => (await storage.getAllKeys()).filter((k) => k.startsWith(start));

test('a reading is added, the job is not written again; what is loaded is the whole', async () => {
  const job = new JobMaker('radial, 3').dead();
  await jobStore().save(job.file);
  const whole = await storage.getItem(`job:${job.id}`);
  for (let i = 0; i < 5; i++) await jobStore().save(job.read('continuity', 's1@a:N', 'p1/f1:N', 0.1 + i).file);
  expect(await storage.getItem(`job:${job.id}`)).toBe(whole);
  expect(await keysOf(`log:${job.id}`)).toHaveLength(5);
  const loaded = await jobStore().load(job.id);
  expect(loaded.ok && loaded.value).toEqual(job.file);
});

test('after many saves the whole is written anew, and no piece of before is left', async () => {
  const job = new JobMaker('radial, 3');
  for (let i = 0; i < 95; i++) await jobStore().save(job.add({ type: 'noted', text: `${i}`, severity: 'observation' }).file);
  expect((await keysOf(`log:${job.id}`)).length).toBeLessThan(41);
  const loaded = await jobStore().load(job.id);
  expect(loaded.ok && loaded.value).toEqual(job.file);
});

test('saves asked for all at once are kept in their order', async () => {
  const job = new JobMaker('radial, 3');
  await jobStore().save(job.file);
  await Promise.all(Array.from({ length: 20 }, (_, i) => jobStore().save(job.add({ type: 'noted', text: `${i}`, severity: 'observation' }).file)));
  const loaded = await jobStore().load(job.id);
  expect(loaded.ok && loaded.value).toEqual(job.file);
});

test('a save that breaks off leaves what was kept before, and the next one keeps everything', async () => {
  const job = new JobMaker('radial, 3').dead();
  await jobStore().save(job.file);
  await jobStore().save(job.read('continuity', 's1@a:N', 'p1/f1:N', 0.1).file);
  const before = job.file;
  const full = jest.spyOn(storage, 'setMany').mockRejectedValue(new Error('quota'));
  expect((await jobStore().save(job.read('continuity', 's1@a:N', 'p2/f1:N', 0.2).file)).ok).toBe(false);
  full.mockRestore();
  const then = await jobStore().load(job.id);
  expect(then.ok && then.value).toEqual(before);
  await jobStore().save(job.read('continuity', 's1@a:N', 'p3/f1:N', 0.3).file);
  const loaded = await jobStore().load(job.id);
  expect(loaded.ok && loaded.value).toEqual(job.file);
});

test('where the storage was emptied meanwhile, the next save keeps the whole job', async () => {
  const job = new JobMaker('radial, 3');
  await jobStore().save(job.file);
  await storage.clear();
  await jobStore().save(job.add({ type: 'noted', text: 'after', severity: 'observation' }).file);
  const loaded = await jobStore().load(job.id);
  expect(loaded.ok && loaded.value).toEqual(job.file);
});

test('a job that an earlier version kept opens, and goes on by adding to it', async () => {
  const job = new JobMaker('radial, 3');
  await jobStore().save(job.file);
  await storage.setItem(`job:${job.id}`, writeJobFile(job.file));
  const { writing: _, ...line } = (await listJobs())[0] as JobMeta;
  await storage.setItem(`meta:${job.id}`, JSON.stringify(line));
  expect((await jobStore().load(job.id)).ok).toBe(true);
  await jobStore().save(job.add({ type: 'noted', text: 'now', severity: 'observation' }).file);
  const loaded = await jobStore().load(job.id);
  expect(loaded.ok && loaded.value).toEqual(job.file);
});

test('a purged job takes its pieces with it', async () => {
  const job = new JobMaker('radial, 3');
  await jobStore().save(job.file);
  await jobStore().save(job.add({ type: 'noted', text: 'x', severity: 'observation' }).file, { deletedAt: Date.now() - 31 * day });
  await listJobs();
  expect((await storage.getAllKeys()).filter((k) => k.includes(job.id))).toEqual([]);
});
