import { deriveJob, writeJobFile, type JobFile } from '@core/job';
import { fileName, saveFile } from '@/files';
import { photosOf } from '@/storage';

/** The job as a file, with its photos in it. Where storage gives no photos the job itself still goes out. */
export async function exportJob(file: JobFile): Promise<void> {
  const view = deriveJob(file.events, Date.now());
  const all = view.photos.length ? await photosOf(file.id).catch(() => ({})) : {};
  const photos = Object.fromEntries(Object.entries(all).filter(([id]) => view.photos.some((p) => p.id === id)));
  saveFile(fileName(view.name, 'gutter.json'), 'application/json', writeJobFile(Object.keys(photos).length ? { ...file, photos } : file));
}
