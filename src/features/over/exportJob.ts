import { deriveJob, writeJobFile, type JobFile } from '@core/job';
import { fileName, saveFile } from '@/files';
import { jobStore, photosOf } from '@/storage';
import { noteExport } from '@/storage/meta';

/** The job as a file, with its photos in it. Where storage gives no photos the job itself still goes out. */
export async function exportJob(file: JobFile): Promise<void> {
  const view = deriveJob(file.events, Date.now());
  const all = view.photos.length ? await photosOf(file.id).catch(() => ({})) : {};
  const photos = Object.fromEntries(Object.entries(all).filter(([id]) => view.photos.some((p) => p.id === id)));
  handOut(fileName(view.name, 'gutter.json'), writeJobFile(Object.keys(photos).length ? { ...file, photos } : file));
}

/** The job just as it is kept, for where it cannot be shown: nothing is worked out of it. */
export async function exportAsKept(id: string): Promise<void> {
  const loaded = await jobStore().load(id);
  if (!loaded.ok) return;
  const photos = await photosOf(id).catch(() => ({}));
  handOut(fileName(id, 'gutter.json'), writeJobFile(Object.keys(photos).length ? { ...loaded.value, photos } : loaded.value));
}

function handOut(name: string, text: string): void {
  saveFile(name, 'application/json', text);
  void noteExport(name, text.length).catch(() => undefined);
}
