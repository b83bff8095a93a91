import { reportPdf, type Report } from '@core/report';
import { settable } from './pictures';

interface PdfMake {
  addVirtualFileSystem(files: Record<string, string>): void;
  addFonts(fonts: Record<string, Record<string, string>>): void;
  createPdf(definition: unknown): { getBlob(): Promise<Blob> };
}

const base64 = (bytes: ArrayBuffer): string => {
  let text = '';
  const view = new Uint8Array(bytes);
  for (let i = 0; i < view.length; i += 0x8000) text += String.fromCharCode(...view.subarray(i, i + 0x8000));
  return btoa(text);
};

/**
 * The report as a PDF, made in the browser with the app's own fonts and the job's photos. Loaded only when asked for.
 * @param photos data URLs by id; one that cannot be read is left out, and the page says so.
 */
export async function makePdf(report: Report, photos: Readonly<Record<string, string>> = {}): Promise<Blob> {
  const module: unknown = await import('pdfmake/build/pdfmake');
  const pdfMake = ((module as { default?: unknown }).default ?? module) as PdfMake;
  const [regular = '', bold = ''] = await Promise.all(['ahn-400', 'ahn-700'].map(async (name) => base64(await (await fetch(`/fonts/${name}.ttf`)).arrayBuffer())));
  pdfMake.addVirtualFileSystem({ 'next-400.ttf': regular, 'next-700.ttf': bold });
  pdfMake.addFonts({ Next: { normal: 'next-400.ttf', bold: 'next-700.ttf', italics: 'next-400.ttf', bolditalics: 'next-700.ttf' } });
  return pdfMake.createPdf(reportPdf(report, await settable(photos))).getBlob();
}
