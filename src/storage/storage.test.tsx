import { JobMaker } from '@/testing/renderJob';
import { jobStore } from '.';
import { listJobs, parseMeta, recall, remember, storage } from './meta';

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
