import { storage } from './meta';

const keyOf = (job: string, photo: string): string => `photo:${job}:${photo}`;

/** Photos stand beside their job, one entry each, so that the job itself stays small: JPEG as a data URL. */
export const savePhoto = (job: string, photo: string, dataUrl: string): Promise<void> => storage.setItem(keyOf(job, photo), dataUrl);
export const loadPhoto = (job: string, photo: string): Promise<string | null> => storage.getItem(keyOf(job, photo));

/** All photos of a job by id. */
export async function photosOf(job: string): Promise<Record<string, string>> {
  const start = keyOf(job, '');
  const keys = (await storage.getAllKeys()).filter((k) => k.startsWith(start));
  const found = keys.length ? await storage.getMany(keys) : {};
  return Object.fromEntries(Object.entries(found).flatMap(([k, v]) => (v === null ? [] : [[k.slice(start.length), v]])));
}

const isPhoto = (x: unknown): x is string => typeof x === 'string' && /^data:image\/(jpeg|png|webp);base64,[A-Za-z0-9+/=]+$/.test(x);

/** Takes the photos of a job file in; what is no picture is left out. */
export async function takePhotos(job: string, photos: unknown): Promise<void> {
  if (typeof photos !== 'object' || photos === null) return;
  const entries = Object.entries(photos).flatMap(([id, url]) => (/^[\w-]{1,60}$/.test(id) && isPhoto(url) ? [[keyOf(job, id), url] as const] : []));
  if (entries.length) await storage.setMany(Object.fromEntries(entries));
}
