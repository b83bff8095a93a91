import { shrinkPhoto } from '@/features/ask/shrink';

/** The photos that a PDF can show: JPEG and PNG as they are, others made JPEG; what no browser can read is left out, or it would spoil the whole file. */
export async function settable(photos: Readonly<Record<string, string>>): Promise<Record<string, string>> {
  const all = await Promise.all(Object.entries(photos).map(async ([id, url]) => [id, await oneSettable(url)] as const));
  return Object.fromEntries(all.flatMap(([id, url]) => (url === null ? [] : [[id, url]])));
}

async function oneSettable(url: string): Promise<string | null> {
  try {
    const [head = '', body = ''] = url.split(',');
    const type = /^data:(image\/\w+);base64$/.exec(head)?.[1] ?? '';
    const bytes = Uint8Array.from(atob(body), (c) => c.charCodeAt(0));
    const file = new File([bytes], 'photo', { type });
    if (type === 'image/jpeg' || type === 'image/png') {
      (await createImageBitmap(file)).close();
      return url;
    }
    const made = await shrinkPhoto(file);
    return made.ok ? made.dataUrl : null;
  } catch {
    return null;
  }
}
