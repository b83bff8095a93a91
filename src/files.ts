/** Hands a file to the person; the browser asks where to put it. */
export function saveFile(name: string, type: string, content: BlobPart): void {
  const url = URL.createObjectURL(new Blob([content], { type }));
  const link = document.createElement('a');
  link.href = url;
  link.download = name;
  document.body.appendChild(link);
  link.click();
  link.remove();
  setTimeout(() => URL.revokeObjectURL(url), 10000);
}

export const fileName = (jobName: string, extension: string): string => `${(jobName || 'job').toLowerCase().replace(/[^a-z0-9]+/g, '-').replace(/^-|-$/g, '') || 'job'}.${extension}`;

/** Opens the browser's file picker; null when nothing was chosen. */
function pick(accept: string, camera: boolean): Promise<File | null> {
  return new Promise((resolve) => {
    const input = document.createElement('input');
    input.type = 'file';
    input.accept = accept;
    if (camera) input.setAttribute('capture', 'environment');
    input.dataset.testid = 'file-picker';
    const done = (file: File | null): void => {
      input.remove();
      resolve(file);
    };
    input.onchange = () => done(input.files?.[0] ?? null);
    input.oncancel = () => done(null);
    document.body.appendChild(input);
    input.style.display = 'none';
    input.click();
  });
}

export async function pickFile(accept: string): Promise<{ name: string; text: string } | null> {
  const file = await pick(accept, false);
  return file ? { name: file.name, text: await file.text() } : null;
}

/** A picture, by the phone's camera where there is one. */
export const pickPicture = (): Promise<File | null> => pick('image/*', true);
