export const MOST_PHOTO_MB = 30;
const MOST_SIDE_PX = 1280;
const MOST_CHARACTERS = 200_000;
const QUALITIES = [0.7, 0.5, 0.35, 0.2];

export type Shrunk = { readonly ok: true; readonly dataUrl: string } | { readonly ok: false; readonly problem: string };

/** A picture small enough to keep: at most 1280 pixels a side and about 150 kB. Whatever is no picture, or too large, is said. */
export async function shrinkPhoto(file: File): Promise<Shrunk> {
  const mb = file.size / 1e6;
  if (mb > MOST_PHOTO_MB) return { ok: false, problem: `This photo has ${Math.round(mb)} MB; ${MOST_PHOTO_MB} MB is the most. Take it again at a lower resolution, or choose another. Nothing else was changed.` };
  try {
    const picture = await createImageBitmap(file);
    const scale = Math.min(1, MOST_SIDE_PX / Math.max(picture.width, picture.height));
    const canvas = document.createElement('canvas');
    canvas.width = Math.round(picture.width * scale);
    canvas.height = Math.round(picture.height * scale);
    canvas.getContext('2d')?.drawImage(picture, 0, 0, canvas.width, canvas.height);
    picture.close();
    for (const quality of QUALITIES) {
      const dataUrl = canvas.toDataURL('image/jpeg', quality);
      if (dataUrl.length <= MOST_CHARACTERS) return { ok: true, dataUrl };
    }
    return { ok: false, problem: 'This photo stays too large even when it is made smaller. Take it from nearer, or crop it.' };
  } catch {
    return { ok: false, problem: 'This file is no picture that the browser can read. Choose a JPEG, PNG or WebP.' };
  }
}
